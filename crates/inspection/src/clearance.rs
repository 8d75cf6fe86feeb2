//! Least distance between segments in space, with the two points.

use glam::DVec3;

pub use tool::parting::Segment;

/// The nearest points of two segments (Ericson, Real-Time Collision Detection, 5.1.9).
#[must_use]
pub fn nearest(one: &Segment, other: &Segment) -> (f64, DVec3, DVec3) {
    let (d1, d2, r) = (one[1] - one[0], other[1] - other[0], one[0] - other[0]);
    let (a, e, f) = (d1.length_squared(), d2.length_squared(), d2.dot(r));
    let tiny = 1e-24;
    let (s, t) = if a <= tiny && e <= tiny {
        (0.0, 0.0)
    } else if a <= tiny {
        (0.0, (f / e).clamp(0.0, 1.0))
    } else {
        let c = d1.dot(r);
        if e <= tiny {
            ((-c / a).clamp(0.0, 1.0), 0.0)
        } else {
            let b = d1.dot(d2);
            let det = a * e - b * b;
            let s = if det > tiny { ((b * f - c * e) / det).clamp(0.0, 1.0) } else { 0.0 };
            let t = (b * s + f) / e;
            if t < 0.0 {
                ((-c / a).clamp(0.0, 1.0), 0.0)
            } else if t > 1.0 {
                (((b - c) / a).clamp(0.0, 1.0), 1.0)
            } else {
                (s, t)
            }
        }
    };
    let (p, q) = (one[0] + d1 * s, other[0] + d2 * t);
    (p.distance(q), p, q)
}

/// Box around a set of segments.
fn bounds<'a>(segments: impl IntoIterator<Item = &'a Segment>) -> (DVec3, DVec3) {
    segments.into_iter().flatten().fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(l, h), p| (l.min(*p), h.max(*p)))
}

fn apart(one: (DVec3, DVec3), other: (DVec3, DVec3)) -> f64 {
    (one.0 - other.1).max(other.0 - one.1).max(DVec3::ZERO).length()
}

/// The nearest pair of points between two sets of segments. Segments of `others` are taken in the
/// order of the distance of their boxes, until none can be nearer.
#[must_use]
pub fn least(ones: &[Segment], others: &[Segment]) -> Option<(f64, DVec3, DVec3)> {
    let around = bounds(ones);
    let mut order: Vec<(f64, &Segment)> = others.iter().map(|o| (apart(around, bounds([o])), o)).collect();
    order.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut best: Option<(f64, DVec3, DVec3)> = None;
    for (at_least, other) in order {
        if best.is_some_and(|(d, _, _)| at_least > d) {
            break;
        }
        for one in ones {
            let found = nearest(one, other);
            if best.is_none_or(|(d, _, _)| found.0 < d) {
                best = Some(found);
            }
        }
    }
    best
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn no_pair_of_points_is_nearer(c in prop::array::uniform12(-3.0..3.0f64), s in 0.0..1.0f64, t in 0.0..1.0f64) {
            let v = |k: usize| DVec3::new(c[k], c[k + 1], c[k + 2]);
            let (one, other) = ([v(0), v(3)], [v(6), v(9)]);
            let (d, p, q) = nearest(&one, &other);
            prop_assert!((p.distance(q) - d).abs() < 1e-12);
            prop_assert!(d <= one[0].lerp(one[1], s).distance(other[0].lerp(other[1], t)) + 1e-9);
        }
    }
}
