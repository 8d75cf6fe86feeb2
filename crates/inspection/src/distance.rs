//! Least distance between segments in space, with the two points.

use glam::DVec3;
use parry3d_f64::{
    bounding_volume::Aabb,
    partitioning::{Bvh, BvhBuildStrategy},
};
use solid::segment::Segment;
use std::{ops::Deref, sync::OnceLock};

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

/// Segments that distances are measured to, with a tree over their boxes that is built when first asked.
#[derive(Clone, Default)]
pub struct Lines {
    pieces: Vec<Segment>,
    tree: OnceLock<Bvh>,
}

impl Lines {
    #[must_use]
    pub fn new(pieces: Vec<Segment>) -> Self {
        Self { pieces, tree: OnceLock::new() }
    }

    fn tree(&self) -> &Bvh {
        let boxes = || self.pieces.iter().enumerate().map(|(k, s)| (k, Aabb::from_points(*s)));
        self.tree.get_or_init(|| Bvh::from_iter(BvhBuildStrategy::Binned, boxes()))
    }

    /// How far the nearest of them lies from a place, mm, and where.
    #[must_use]
    pub fn nearest(&self, p: DVec3) -> Option<(f64, DVec3)> {
        let at = |leaf: u32| nearest(&[p, p], &self.pieces[leaf as usize]);
        let far = |low: DVec3, high: DVec3| (low - p).max(p - high).max(DVec3::ZERO).length();
        let found =
            self.tree().find_best(f64::MAX, |node, _| far(node.mins(), node.maxs()), |leaf, _| Some(at(leaf).0));
        found.map(|(leaf, far)| (far, at(leaf).2))
    }
}

impl Deref for Lines {
    type Target = [Segment];

    fn deref(&self) -> &[Segment] {
        &self.pieces
    }
}

/// The nearest pair of points between two sets of segments: for each of the one set the nearest of the other,
/// looked for no farther away than the best so far.
#[must_use]
pub fn least(ones: &Lines, others: &Lines) -> Option<(f64, DVec3, DVec3)> {
    let swapped = ones.len() > others.len();
    let (few, many) = if swapped { (others, ones) } else { (ones, others) };
    let tree = many.tree();
    // rounding may depend on the order
    let pair = |one: &Segment, leaf: u32| {
        let other = &many[leaf as usize];
        if swapped { nearest(other, one) } else { nearest(one, other) }
    };
    let mut best: Option<(f64, DVec3, DVec3)> = None;
    for one in few.iter() {
        let near = Aabb::from_points(*one);
        let most = best.map_or(f64::MAX, |(d, _, _)| d);
        let found = tree.find_best(
            most,
            |node, _| (node.mins() - near.maxs).max(near.mins - node.maxs()).max(DVec3::ZERO).length(),
            |leaf, _| Some(pair(one, leaf).0),
        );
        if let Some((leaf, distance)) = found
            && best.is_none_or(|(d, _, _)| distance < d)
        {
            best = Some(pair(one, leaf));
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
        fn of_many_segments_the_nearest_pair_is_found(
            ones in prop::collection::vec(prop::array::uniform6(-3.0..3.0f64), 0..40),
            others in prop::collection::vec(prop::array::uniform6(-3.0..3.0f64), 0..40),
        ) {
            let segments = |all: &[[f64; 6]]| {
                Lines::new(all.iter().map(|c| [DVec3::new(c[0], c[1], c[2]), DVec3::new(c[3], c[4], c[5])]).collect())
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
