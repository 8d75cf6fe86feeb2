//! An indexed triangle mesh: shared vertices, counter-clockwise seen from outside.

use glam::DVec3;
use serde::{Deserialize, Serialize};

#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Mesh {
    /// mm, part coordinates.
    pub vertices: Vec<DVec3>,
    pub triangles: Vec<[u32; 3]>,
}

impl Mesh {
    #[must_use]
    pub fn corners(&self, triangle: usize) -> [DVec3; 3] {
        self.triangles[triangle].map(|v| self.vertices[v as usize])
    }

    /// Twice the area times the outward normal of a triangle, mm².
    #[must_use]
    pub fn cross(&self, triangle: usize) -> DVec3 {
        let [a, b, c] = self.corners(triangle);
        (b - a).cross(c - a)
    }

    /// Outward unit normal; zero for a triangle without area.
    #[must_use]
    pub fn normal(&self, triangle: usize) -> DVec3 {
        self.cross(triangle).normalize_or_zero()
    }

    #[must_use]
    pub fn area(&self, triangle: usize) -> f64 {
        self.cross(triangle).length() / 2.0
    }

    #[must_use]
    pub fn centroid(&self, triangle: usize) -> DVec3 {
        let [a, b, c] = self.corners(triangle);
        (a + b + c) / 3.0
    }

    /// Enclosed volume, mm³, by the divergence theorem; negative when inside out. Taken about the
    /// middle of the box, so that a part far from the origin loses no digits.
    #[must_use]
    pub fn volume(&self) -> f64 {
        let (low, high) = self.bounds();
        let middle = (low + high) / 2.0;
        self.triangles
            .iter()
            .map(|t| {
                let [a, b, c] = t.map(|v| self.vertices[v as usize] - middle);
                a.dot(b.cross(c)) / 6.0
            })
            .sum()
    }

    /// Least and greatest corner of the box around the mesh; zeros for an empty mesh.
    #[must_use]
    pub fn bounds(&self) -> (DVec3, DVec3) {
        let mut vertices = self.vertices.iter();
        let Some(&first) = vertices.next() else { return (DVec3::ZERO, DVec3::ZERO) };
        vertices.fold((first, first), |(low, high), &v| (low.min(v), high.max(v)))
    }

    #[must_use]
    pub fn diagonal(&self) -> f64 {
        let (low, high) = self.bounds();
        (high - low).length()
    }

    /// Some of its facets with vertices of their own, and which of the mesh's these were.
    #[must_use]
    pub fn piece(&self, facets: &[u32]) -> (Self, Vec<u32>) {
        let mut numbers = vec![u32::MAX; self.vertices.len()];
        let (mut own, mut were) = (Self::default(), Vec::new());
        for &t in facets {
            own.triangles.push(self.triangles[t as usize].map(|v| {
                let number = &mut numbers[v as usize];
                if *number == u32::MAX {
                    *number = own.vertices.len() as u32;
                    own.vertices.push(self.vertices[v as usize]);
                    were.push(v);
                }
                *number
            }));
        }
        (own, were)
    }

    /// Takes in other facets, joined to none of its own.
    pub fn append(&mut self, other: &Self) {
        let before = self.vertices.len() as u32;
        self.vertices.extend(&other.vertices);
        self.triangles.extend(other.triangles.iter().map(|t| t.map(|v| v + before)));
    }

    /// How much memory it takes, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        size_of_val(&self.vertices[..]) + size_of_val(&self.triangles[..])
    }

    /// Turned inside out.
    pub fn turn(&mut self) {
        for t in &mut self.triangles {
            t.swap(1, 2);
        }
    }
}
