//! Where a character stands: the surface under all of it, as it was before the mark.

use crate::distance;
use crate::samples::THINNEST;
use glam::DVec3;
use parry3d_f64::{
    bounding_volume::Aabb,
    partitioning::{Bvh, BvhBuildStrategy},
    query::PointQuery,
    shape::Triangle,
};
use solid::segment::{Segment, height};
use std::sync::OnceLock;

/// Triangles on the seat's surface that cover the footprint of a character, mm in part coordinates.
#[derive(Default)]
pub struct Footprint {
    pub triangles: Vec<[DVec3; 3]>,
    tree: OnceLock<Bvh>,
}

impl Footprint {
    #[must_use]
    pub fn new(triangles: Vec<[DVec3; 3]>) -> Self {
        Self { triangles, tree: OnceLock::new() }
    }

    /// Least and greatest corner of the box round it; `None` where there is nothing of it.
    #[must_use]
    pub fn bounds(&self) -> Option<(DVec3, DVec3)> {
        let mut corners = self.triangles.iter().flatten();
        let &first = corners.next()?;
        Some(corners.fold((first, first), |(low, high), &p| (low.min(p), high.max(p))))
    }

    /// Does a straight piece lie on it, no farther off the surface than `off` mm? The place of the piece where it does.
    #[must_use]
    pub fn carries(&self, piece: &Segment, off: f64) -> Option<DVec3> {
        let tree = self.tree.get_or_init(|| {
            let boxes = self.triangles.iter().enumerate().map(|(k, t)| (k, Aabb::from_points(*t)));
            Bvh::from_iter(BvhBuildStrategy::Binned, boxes)
        });
        let mut round = Aabb::from_points(*piece);
        round.mins -= off;
        round.maxs += off;
        tree.intersect_aabb(&round).find_map(|k| touches(&self.triangles[k as usize], piece, off))
    }
}

/// A place of a straight piece that lies no farther than `off` from a triangle.
fn touches(triangle: &[DVec3; 3], piece: &Segment, off: f64) -> Option<DVec3> {
    let [a, b, c] = *triangle;
    let flat = Triangle::new(a, b, c);
    // walls that stand upright have no more under them than a line
    let broad = height(triangle) > THINNEST;
    if let Some(end) = piece.iter().filter(|_| broad).find(|p| flat.distance_to_local_point(**p, false) <= off) {
        return Some(*end);
    }
    let edges = [[a, b], [b, c], [c, a]];
    if let Some((_, at, _)) = edges.iter().map(|e| distance::nearest(piece, e)).find(|(d, ..)| *d <= off) {
        return Some(at);
    }
    // through its middle
    let normal = (b - a).cross(c - a);
    let [from, to] = piece.map(|p| (p - a).dot(normal));
    let at = piece[0].lerp(piece[1], from / (from - to));
    (broad && from * to < 0.0 && flat.distance_to_local_point(at, false) <= off).then_some(at)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_piece_lies_on_it_across_it_or_beside_it() {
        let v = DVec3::new;
        let field = [
            [v(0.0, 0.0, 0.0), v(4.0, 0.0, 0.0), v(4.0, 4.0, 0.0)],
            [v(0.0, 0.0, 0.0), v(4.0, 4.0, 0.0), v(0.0, 4.0, 0.0)],
        ];
        let footprint = Footprint::new(field.to_vec());
        let on = |a: DVec3, b: DVec3| footprint.carries(&[a, b], 0.01).is_some();
        // inside a facet, a hair above it; across all of it; through it; past it; above it
        assert!(on(v(2.5, 1.0, 0.005), v(2.6, 1.0, 0.005)));
        assert!(on(v(-3.0, 1.0, 0.0), v(9.0, 2.0, 0.0)));
        assert!(on(v(2.5, 1.0, -3.0), v(2.5, 1.0, 3.0)));
        assert!(!on(v(-3.0, -1.0, 0.0), v(9.0, -1.0, 0.0)));
        assert!(!on(v(-3.0, 1.0, 0.1), v(9.0, 2.0, 0.1)));
    }
}
