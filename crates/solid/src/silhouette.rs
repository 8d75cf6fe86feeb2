//! The silhouette of the part under a pull: where its surface turns from one half to the other.
//!
//! On a cylinder the line is where the true surface's normal is square to the pull, computed from
//! the fitted surface and not from the facets, which would put it up to half a facet off. On
//! creases and freeform faces it is the edge between a facet that leaves with the fixed half
//! (draft > 0) and one that doesn't; walls that stand parallel to the pull count with the second.

use crate::{part::Part, surface::Surface, topology::neighbours};
use glam::DVec3;

/// Sine of the draft below which a facet counts as parallel to the pull: the rounding of
/// single-precision files.
const PARALLEL: f64 = 1e-6;

/// Segments of the silhouette of `part` under the unit vector `pull`, mm.
#[must_use]
pub fn silhouette(part: &Part, pull: DVec3) -> Vec<[DVec3; 2]> {
    let mut segments = Vec::new();
    let mesh = &part.mesh;
    let surface_of = |t: u32| &part.faces[part.face_of[t as usize] as usize].surface;
    for pair in neighbours(mesh) {
        let [a, b] = pair.triangles;
        let same_cylinder =
            part.face_of[a as usize] == part.face_of[b as usize] && matches!(surface_of(a), Surface::Cylinder { .. });
        // At the end of a cylinder its own true normal decides, not its facet's.
        let ends = pair.edge.map(|v| mesh.vertices[v as usize]);
        let middle = (ends[0] + ends[1]) / 2.0;
        let leaves = |t: u32| {
            let normal = match surface_of(t) {
                cylinder @ Surface::Cylinder { .. } => {
                    cylinder.normal(middle).unwrap_or_else(|| mesh.normal(t as usize))
                }
                _ => mesh.normal(t as usize),
            };
            normal.dot(pull) > PARALLEL
        };
        if !same_cylinder && leaves(a) != leaves(b) {
            segments.push(ends);
        }
    }
    for t in 0..mesh.triangles.len() as u32 {
        if let Surface::Cylinder { origin, axis, radius, .. } = *surface_of(t) {
            segments.extend(on_cylinder(mesh.corners(t as usize), origin, axis, radius, pull));
        }
    }
    segments
}

/// The piece of a cylinder's silhouette that runs over one facet, put on the true surface.
fn on_cylinder(corners: [DVec3; 3], origin: DVec3, axis: DVec3, radius: f64, pull: DVec3) -> Option<[DVec3; 2]> {
    let across = pull.reject_from_normalized(axis).try_normalize()?;
    let side = axis.cross(across);
    // the two lines where the normal is square to the pull lie at ± side
    let flat = corners.map(|c| {
        let d = c - origin;
        (d.dot(across), d.dot(side), d.dot(axis))
    });
    let sign = (flat[0].1 + flat[1].1 + flat[2].1).signum();
    let mut along = Vec::with_capacity(2);
    for k in 0..3 {
        let (a, b) = (flat[k], flat[(k + 1) % 3]);
        if (a.0 >= 0.0) != (b.0 >= 0.0) {
            along.push(a.2 + (b.2 - a.2) * (a.0 / (a.0 - b.0)));
        }
    }
    let [from, to] = along.as_slice() else { return None };
    let on = |t: f64| origin + axis * t + side * (sign * radius);
    Some([on(*from), on(*to)])
}
