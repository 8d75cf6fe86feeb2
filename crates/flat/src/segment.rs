//! Straight pieces: from one point to another, mm.

use glam::DVec2;

/// How far along a segment the place nearest to `p` lies: 0 at its start, 1 at its end.
#[must_use]
pub fn share(p: DVec2, [a, b]: [DVec2; 2]) -> f64 {
    let way = b - a;
    ((p - a).dot(way) / way.length_squared().max(f64::MIN_POSITIVE)).clamp(0.0, 1.0)
}

/// The place of a segment that is nearest to `p`.
#[must_use]
pub fn foot(p: DVec2, ends: [DVec2; 2]) -> DVec2 {
    ends[0] + (ends[1] - ends[0]) * share(p, ends)
}

/// The distance from `p` to a segment, mm.
#[must_use]
pub fn distance(p: DVec2, ends: [DVec2; 2]) -> f64 {
    p.distance(foot(p, ends))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn no_place_of_the_segment_is_nearer(c in prop::array::uniform6(-3.0..3.0f64), t in 0.0..1.0f64) {
            let (p, a, b) = (DVec2::new(c[0], c[1]), DVec2::new(c[2], c[3]), DVec2::new(c[4], c[5]));
            prop_assert!(distance(p, [a, b]) <= p.distance(a.lerp(b, t)) + 1e-12);
            // a segment without length is its point
            prop_assert_eq!(foot(p, [a, a]), a);
        }
    }
}
