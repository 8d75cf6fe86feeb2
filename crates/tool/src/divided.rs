//! The part's surface in pieces: facets, the large ones divided by their longest edges, so that one
//! point of a piece speaks for it.

use glam::DVec3;
use solid::{Part, segment::longest_edge};

/// Pieces are about this share of the part's diagonal long, if that does not make too many.
const SHARE: f64 = 0.01;
/// Pieces beyond the part's own facets.
const MOST_MORE: usize = 150_000;

/// A piece of a facet.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Piece {
    /// The part's triangle it is a piece of.
    pub of: u32,
    /// It is not the whole triangle.
    pub divided: bool,
    /// mm, counter-clockwise from outside.
    pub corners: [DVec3; 3],
}

impl Piece {
    #[must_use]
    pub fn centroid(&self) -> DVec3 {
        (self.corners[0] + self.corners[1] + self.corners[2]) / 3.0
    }

    /// mm².
    #[must_use]
    pub fn area(&self) -> f64 {
        let [a, b, c] = self.corners;
        (b - a).cross(c - a).length() / 2.0
    }
}

pub struct Divided {
    pub pieces: Vec<Piece>,
}

impl Divided {
    #[must_use]
    pub fn of(part: &Part) -> Self {
        let mesh = &part.mesh;
        let longest: Vec<f64> = (0..mesh.triangles.len()).map(|t| longest_edge(&mesh.corners(t)).1).collect();
        let mut cell = SHARE * mesh.diagonal();
        let fits = |cell: f64| {
            let mut left = MOST_MORE;
            (0..longest.len()).filter(|&t| longest[t] > cell).all(|t| count(mesh.corners(t), cell, &mut left))
        };
        while !fits(cell) {
            cell *= 1.5;
        }
        let mut pieces = Vec::with_capacity(mesh.triangles.len());
        for (t, &long) in longest.iter().enumerate() {
            let divided = long > cell;
            divide(mesh.corners(t), cell, &mut |corners| pieces.push(Piece { of: t as u32, divided, corners }));
        }
        Self { pieces }
    }
}

/// Halves the triangle at its longest edge until no edge is longer than `cell`.
pub fn divide(corners: [DVec3; 3], cell: f64, take: &mut impl FnMut([DVec3; 3])) {
    let (k, long) = longest_edge(&corners);
    if long <= cell {
        take(corners);
        return;
    }
    let (a, b, c) = (corners[k], corners[(k + 1) % 3], corners[(k + 2) % 3]);
    let middle = (a + b) / 2.0;
    divide([a, middle, c], cell, take);
    divide([middle, b, c], cell, take);
}

/// Counts the pieces of a divided triangle down from `left`; false when there are more.
fn count(corners: [DVec3; 3], cell: f64, left: &mut usize) -> bool {
    let (k, long) = longest_edge(&corners);
    if long <= cell {
        *left = left.saturating_sub(1);
        return *left > 0;
    }
    let (a, b, c) = (corners[k], corners[(k + 1) % 3], corners[(k + 2) % 3]);
    let middle = (a + b) / 2.0;
    count([a, middle, c], cell, left) && count([middle, b, c], cell, left)
}

/// Outward unit normal of the part at a point of one of its triangles: the true surface's where it
/// is known, the file's own between its corners, else the facet's.
#[must_use]
pub fn normal(part: &Part, triangle: u32, p: DVec3) -> DVec3 {
    let t = triangle as usize;
    let surface = &part.faces[part.face_of[t] as usize].surface;
    if let Some(normal) = surface.normal(p) {
        return normal;
    }
    let flat = part.mesh.normal(t);
    let Some(known) = part.normals.as_ref().map(|n| n[t].map(|c| c.as_dvec3())) else { return flat };
    let [a, b, c] = part.mesh.corners(t);
    let whole = (b - a).cross(c - a);
    let share = |u: DVec3, v: DVec3| (u - p).cross(v - p).dot(whole) / whole.length_squared().max(f64::MIN_POSITIVE);
    let mixed = known[0] * share(b, c) + known[1] * share(c, a) + known[2] * share(a, b);
    mixed.try_normalize().filter(|m| m.dot(flat) > 0.5).unwrap_or(flat)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn pieces_make_up_the_surface_and_know_their_facets() {
        let part = Part::from_mesh(&demo::parts::valve_body()).unwrap();
        let surface = Divided::of(&part);
        let mut area = vec![0.0; part.mesh.triangles.len()];
        for piece in &surface.pieces {
            area[piece.of as usize] += piece.area();
        }
        for (t, area) in area.iter().enumerate() {
            assert!((area - part.mesh.area(t)).abs() < 1e-9 * (1.0 + area));
        }
        let cell = SHARE * part.mesh.diagonal();
        assert!(surface.pieces.len() < part.mesh.triangles.len() + MOST_MORE);
        assert!(surface.pieces.iter().all(|p| longest_edge(&p.corners).1 < 6.0 * cell));
    }

    #[test]
    fn a_barrels_normal_is_the_true_ones_between_its_facets_corners() {
        let part = Part::from_mesh(&demo::shapes::cylinder_of(DVec3::ZERO, DVec3::X * 20.0, 15.0, 32)).unwrap();
        for t in 0..part.mesh.triangles.len() as u32 {
            let p = part.mesh.corners(t as usize)[0].lerp(part.mesh.centroid(t as usize), 0.3);
            let n = normal(&part, t, p);
            if n.x.abs() < 0.5 {
                let away = DVec3::new(0.0, p.y, p.z).normalize();
                assert!(n.distance(away) < 1e-9);
            }
        }
    }
}
