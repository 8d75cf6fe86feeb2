//! Rays and boxes against a mesh, by a tree built once.

use crate::mesh::Mesh;
use glam::DVec3;
use parry3d_f64::{
    bounding_volume::Aabb,
    partitioning::{Bvh, BvhBuildStrategy},
    query::{PointProjection, PointQuery, Ray},
    shape::Triangle,
};

/// A tree over the boxes of the triangles.
#[must_use]
pub fn box_tree(mesh: &Mesh) -> Bvh {
    Bvh::from_iter(BvhBuildStrategy::Binned, (0..mesh.triangles.len()).map(|t| (t, Aabb::from_points(mesh.corners(t)))))
}

/// Where a ray meets a triangle, or the place of it that is nearest to a point.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Hit {
    pub triangle: u32,
    /// mm along the (unit) direction, or straight from the point that was asked about.
    pub distance: f64,
    pub point: DVec3,
}

/// The place of a triangle that is nearest to `p`.
#[must_use]
pub fn nearest_on([a, b, c]: [DVec3; 3], p: DVec3) -> DVec3 {
    Triangle::new(a, b, c).project_local_point(p, false).point
}

/// A mesh with its tree.
pub struct Queries {
    mesh: Mesh,
    tree: Bvh,
}

impl Queries {
    #[must_use]
    pub fn new(mesh: Mesh) -> Self {
        let tree = box_tree(&mesh);
        Self { mesh, tree }
    }

    #[must_use]
    pub fn mesh(&self) -> &Mesh {
        &self.mesh
    }

    /// The nearest triangle that the ray meets between `near` and `far` mm from `origin` and that
    /// `wanted` accepts. `direction` is a unit vector.
    #[must_use]
    pub fn first_hit(
        &self,
        origin: DVec3,
        direction: DVec3,
        near: f64,
        far: f64,
        wanted: impl Fn(u32) -> bool,
    ) -> Option<Hit> {
        let ray = Ray::new(origin, direction);
        self.tree
            .cast_ray(&ray, far, |leaf, _best| {
                let hit = self.meets(leaf, origin, direction)?;
                (hit >= near && hit <= far && wanted(leaf)).then_some(hit)
            })
            .map(|(triangle, distance)| Hit { triangle, distance, point: origin + direction * distance })
    }

    /// The nearest place of the mesh no farther than `most` mm from `p`.
    #[must_use]
    pub fn nearest(&self, p: DVec3, most: f64) -> Option<Hit> {
        self.tree
            .project_point(p, most, |leaf, _best| Some(self.triangle(leaf).project_local_point(p, false)))
            .map(|(triangle, (distance, found))| Hit { triangle, distance, point: found.point })
    }

    /// The nearest place no farther than `most` mm from `p` that `wanted` accepts, of those that each triangle has
    /// nearest to `p`.
    #[must_use]
    pub fn nearest_of(&self, p: DVec3, most: f64, wanted: impl Fn(u32, DVec3) -> bool) -> Option<Hit> {
        self.tree
            .project_point(p, most, |leaf, _best| {
                let found = self.triangle(leaf).project_local_point(p, false);
                wanted(leaf, found.point).then_some(found)
            })
            .map(|(triangle, (distance, found))| Hit { triangle, distance, point: found.point })
    }

    /// The nearest of the places, no farther than `most` mm from `p`, that `place` has on each triangle.
    #[must_use]
    pub fn nearest_place(&self, p: DVec3, most: f64, place: impl Fn(u32) -> Option<DVec3>) -> Option<Hit> {
        self.tree
            .project_point(p, most, |leaf, _best| Some(PointProjection::new(false, place(leaf)?)))
            .map(|(triangle, (distance, found))| Hit { triangle, distance, point: found.point })
    }

    /// Distance along the ray to a triangle (Möller and Trumbore 1997), either side.
    fn meets(&self, triangle: u32, origin: DVec3, direction: DVec3) -> Option<f64> {
        let [a, b, c] = self.mesh.corners(triangle as usize);
        let (ab, ac) = (b - a, c - a);
        let p = direction.cross(ac);
        let det = ab.dot(p);
        if det.abs() < 1e-14 * ab.length() * ac.length() {
            return None;
        }
        let s = origin - a;
        let u = s.dot(p) / det;
        let q = s.cross(ab);
        let v = direction.dot(q) / det;
        const EDGE: f64 = 1e-12; // a ray along an edge must meet one of its triangles
        (u >= -EDGE && v >= -EDGE && u + v <= 1.0 + EDGE).then(|| ac.dot(q) / det)
    }

    /// Triangles whose boxes meet the box from `low` to `high`.
    #[must_use]
    pub fn in_box(&self, low: DVec3, high: DVec3) -> Vec<u32> {
        self.tree.intersect_aabb(&Aabb::new(low, high)).collect()
    }

    #[must_use]
    pub fn triangle(&self, t: u32) -> Triangle {
        let [a, b, c] = self.mesh.corners(t as usize);
        Triangle::new(a, b, c)
    }
}
