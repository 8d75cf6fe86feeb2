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

/// Segments in boxes within boxes.
struct Boxes {
    around: (DVec3, DVec3),
    inside: Inside,
}

enum Inside {
    Few(Vec<Segment>),
    Halves(Box<[Boxes; 2]>),
}

impl Boxes {
    fn of(mut segments: Vec<Segment>) -> Self {
        /// So many are looked at one by one.
        const FEW: usize = 6;
        let around = bounds(&segments);
        if segments.len() <= FEW {
            return Self { around, inside: Inside::Few(segments) };
        }
        let size = around.1 - around.0;
        let long = (0..3).max_by(|&a, &b| size[a].total_cmp(&size[b])).unwrap_or_default();
        let middle = |s: &Segment| s[0][long] + s[1][long];
        let half = segments.len() / 2;
        segments.select_nth_unstable_by(half, |a, b| middle(a).total_cmp(&middle(b)));
        let rest = segments.split_off(half);
        Self { around, inside: Inside::Halves(Box::new([Self::of(segments), Self::of(rest)])) }
    }

    /// Looks for a pair nearer than the best, in the nearer halves first.
    fn nearer(&self, other: &Self, best: &mut Option<(f64, DVec3, DVec3)>) {
        if best.is_some_and(|(d, _, _)| apart(self.around, other.around) >= d) {
            return;
        }
        let size = |b: &Self| (b.around.1 - b.around.0).max_element();
        match (&self.inside, &other.inside) {
            (Inside::Few(ones), Inside::Few(others)) => {
                for found in ones.iter().flat_map(|one| others.iter().map(move |other| nearest(one, other))) {
                    if best.is_none_or(|(d, _, _)| found.0 < d) {
                        *best = Some(found);
                    }
                }
            }
            (Inside::Halves(halves), inside) if matches!(inside, Inside::Few(_)) || size(self) >= size(other) => {
                let near = apart(halves[0].around, other.around) <= apart(halves[1].around, other.around);
                let order = if near { [0, 1] } else { [1, 0] };
                order.iter().for_each(|&k| halves[k].nearer(other, best));
            }
            (_, Inside::Halves(halves)) => {
                let near = apart(self.around, halves[0].around) <= apart(self.around, halves[1].around);
                let order = if near { [0, 1] } else { [1, 0] };
                order.iter().for_each(|&k| self.nearer(&halves[k], best));
            }
            (Inside::Halves(_), Inside::Few(_)) => unreachable!("the second arm takes it"),
        }
    }
}

/// The nearest pair of points between two sets of segments.
#[must_use]
pub fn least(ones: &[Segment], others: &[Segment]) -> Option<(f64, DVec3, DVec3)> {
    let mut best = None;
    Boxes::of(ones.to_vec()).nearer(&Boxes::of(others.to_vec()), &mut best);
    best
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn of_many_segments_the_nearest_pair_is_found(
            ones in prop::collection::vec(prop::array::uniform6(-3.0..3.0f64), 0..40),
            others in prop::collection::vec(prop::array::uniform6(-3.0..3.0f64), 0..40),
        ) {
            let segments = |all: &[[f64; 6]]| -> Vec<Segment> {
                all.iter().map(|c| [DVec3::new(c[0], c[1], c[2]), DVec3::new(c[3], c[4], c[5])]).collect()
            };
            let (ones, others) = (segments(&ones), segments(&others));
            let each = ones.iter().flat_map(|one| others.iter().map(move |other| nearest(one, other).0));
            let plain = each.min_by(f64::total_cmp);
            prop_assert_eq!(least(&ones, &others).map(|found| found.0), plain);
        }

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
