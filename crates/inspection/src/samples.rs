//! Places of facets that stand for what lies round them.

use glam::DVec3;
use solid::{Mesh, segment::height};
use tool::divided::divide;

/// No place of a facet lies farther from its sample, mm: as far as the middle of a triangle may be from its corners.
pub const NEAREST: f64 = 0.25;
/// The longest edge of a piece: its middle lies within 1/√3 of that of each corner.
pub const PIECE: f64 = NEAREST * 1.73;
/// Facets thinner than this say nothing by their normal, mm.
pub const THINNEST: f64 = 1e-5;

/// The middle of a piece of a facet.
#[derive(Clone, Copy, Debug)]
pub struct Sample {
    pub at: DVec3,
    /// The facet's outward unit normal.
    pub normal: DVec3,
    pub corners: [DVec3; 3],
}

impl Sample {
    fn of(corners: [DVec3; 3], normal: DVec3) -> Self {
        Self { at: (corners[0] + corners[1] + corners[2]) / 3.0, normal, corners }
    }

    /// The four quarters of its piece.
    #[must_use]
    pub fn quarters(&self) -> [Self; 4] {
        let [a, b, c] = self.corners;
        let (ab, bc, ca) = ((a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0);
        [[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]].map(|corners| Self::of(corners, self.normal))
    }
}

/// Facets in pieces; those too thin to have a direction are left out.
#[must_use]
pub fn samples(mesh: &Mesh, facets: &[u32]) -> Vec<Sample> {
    let mut out = Vec::with_capacity(facets.len());
    for &t in facets {
        let corners = mesh.corners(t as usize);
        if height(&corners) > THINNEST {
            let normal = mesh.normal(t as usize);
            divide(corners, PIECE, &mut |corners| out.push(Sample::of(corners, normal)));
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_place_of_a_facet_is_far_from_a_sample() {
        let v = |x: f64, y: f64| DVec3::new(x, y, 0.3 * x);
        let mesh = Mesh { vertices: vec![v(0.0, 0.0), v(7.0, 0.0), v(1.0, 3.0)], triangles: vec![[0, 1, 2]] };
        let found = samples(&mesh, &[0]);
        let [a, b, c] = mesh.corners(0);
        for i in 0..=40 {
            for j in 0..=(40 - i) {
                let p = a + (b - a) * (f64::from(i) / 40.0) + (c - a) * (f64::from(j) / 40.0);
                let near = found.iter().map(|s| s.at.distance(p)).fold(f64::MAX, f64::min);
                assert!(near <= NEAREST, "{p} {near}");
            }
        }
        let quarter = found[0].quarters();
        let area = |s: &Sample| (s.corners[1] - s.corners[0]).cross(s.corners[2] - s.corners[0]).length();
        assert!((quarter.iter().map(area).sum::<f64>() - area(&found[0])).abs() < 1e-12);
    }
}
