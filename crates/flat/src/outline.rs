//! Closed contours as edges in a tree.

use crate::{contour::edges, segment::foot};
use glam::DVec2;
use rstar::{AABB, PointDistance, RTree, RTreeObject};

/// Points in the middle of almost straight runs dropped; what is left lies within a tenth of a
/// micrometre.
fn thinned(contour: &[DVec2]) -> Vec<DVec2> {
    let mut out: Vec<DVec2> = Vec::with_capacity(contour.len());
    let n = contour.len();
    for k in 0..n {
        let (a, b, c) = (*out.last().unwrap_or(&contour[(k + n - 1) % n]), contour[k], contour[(k + 1) % n]);
        let along = (c - a).normalize_or_zero();
        if along.perp_dot(b - a).abs() > 1e-4 || along.dot(b - a) <= 0.0 {
            out.push(b);
        }
    }
    if out.len() < 3 { contour.to_vec() } else { out }
}

/// A straight piece of an outline, and the directions in which the outline comes to it and goes on from it.
pub(crate) struct Edge {
    pub ends: [DVec2; 2],
    before: DVec2,
    along: DVec2,
    after: DVec2,
}

impl Edge {
    /// How the outline runs into a place of the edge and on from it.
    pub fn through(&self, at: DVec2) -> [DVec2; 2] {
        const END: f64 = 1e-18;
        if at.distance_squared(self.ends[0]) < END {
            [self.before, self.along]
        } else if at.distance_squared(self.ends[1]) < END {
            [self.along, self.after]
        } else {
            [self.along; 2]
        }
    }
}

impl RTreeObject for Edge {
    type Envelope = AABB<[f64; 2]>;

    fn envelope(&self) -> Self::Envelope {
        AABB::from_corners(self.ends[0].to_array(), self.ends[1].to_array())
    }
}

impl PointDistance for Edge {
    fn distance_2(&self, p: &[f64; 2]) -> f64 {
        let p = DVec2::from_array(*p);
        foot(p, self.ends).distance_squared(p)
    }
}

/// Closed contours as edges in a tree.
pub(crate) struct Outline {
    pub tree: RTree<Edge>,
    /// Diagonal of the box round it.
    pub size: f64,
}

impl Outline {
    pub fn new(contours: &[Vec<DVec2>]) -> Self {
        let mut all = Vec::new();
        let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
        for contour in contours {
            let ends: Vec<[DVec2; 2]> =
                edges(&thinned(contour)).filter(|[a, b]| a.distance_squared(*b) > 1e-14).collect();
            let along: Vec<DVec2> = ends.iter().map(|[a, b]| (*b - *a).normalize()).collect();
            let n = ends.len();
            for (k, &ends) in ends.iter().enumerate() {
                (low, high) = (low.min(ends[0]), high.max(ends[0]));
                let (before, after) = (along[(k + n - 1) % n], along[(k + 1) % n]);
                all.push(Edge { ends, before, along: along[k], after });
            }
        }
        Self { tree: RTree::bulk_load(all), size: if low.is_finite() { (high - low).length() } else { 0.0 } }
    }

    /// Distance from `p` to the nearest edge, mm.
    pub fn distance(&self, p: DVec2) -> f64 {
        let nearest = self.tree.nearest_neighbor(p.to_array());
        nearest.map_or(f64::INFINITY, |e| foot(p, e.ends).distance(p))
    }
}
