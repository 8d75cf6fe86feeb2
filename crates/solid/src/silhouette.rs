//! The silhouette of the part under a pull: where its surface turns from one half to the other.
//!
//! On cylinders, cones, spheres and tori the line is where the true surface's normal is square to the pull, computed from
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
        let within = part.face_of[a as usize] == part.face_of[b as usize] && is_round(surface_of(a));
        if within {
            continue;
        }
        let [from, to] = pair.edge.map(|v| mesh.vertices[v as usize]);
        // where a round face ends, its line may end within an edge: there the other face's goes on
        let mut stops = vec![from];
        stops.extend(
            [a, b]
                .into_iter()
                .filter(|&t| is_round(surface_of(t)))
                .filter_map(|t| turns(from, to, surface_of(t), pull)),
        );
        stops.push(to);
        stops.sort_by(|p, q| p.distance_squared(from).total_cmp(&q.distance_squared(from)));
        for pair in stops.windows(2) {
            let middle = (pair[0] + pair[1]) / 2.0;
            // at the end of a round face its own true normal decides, not its facet's
            let leaves = |t: u32| {
                let normal = surface_of(t).normal(middle).unwrap_or_else(|| mesh.normal(t as usize));
                normal.dot(pull) > PARALLEL
            };
            if leaves(a) != leaves(b) && pair[0] != pair[1] {
                segments.push([pair[0], pair[1]]);
            }
        }
    }
    for t in 0..mesh.triangles.len() as u32 {
        if is_round(surface_of(t)) {
            segments.extend(on_round(mesh.corners(t as usize), surface_of(t), pull));
        }
    }
    segments
}

/// Its normal turns from place to place and is known.
fn is_round(surface: &Surface) -> bool {
    !matches!(surface, Surface::Plane { .. } | Surface::Freeform)
}

/// The piece of a round surface's silhouette that runs over one facet, its ends put on the true surface.
fn on_round(corners: [DVec3; 3], surface: &Surface, pull: DVec3) -> Option<[DVec3; 2]> {
    let ends: Vec<DVec3> = (0..3).filter_map(|k| turns(corners[k], corners[(k + 1) % 3], surface, pull)).collect();
    <[DVec3; 2]>::try_from(ends).ok()
}

/// Where between two places of a round surface it turns from one half to the other, put on the true surface.
fn turns(from: DVec3, to: DVec3, surface: &Surface, pull: DVec3) -> Option<DVec3> {
    let sine = |p: DVec3| surface.normal(p).map_or(0.0, |n| n.dot(pull));
    let leaves = [from, to].map(|p| sine(p) > PARALLEL);
    if leaves[0] == leaves[1] {
        return None;
    }
    // to the last digits, whichever facet of an edge asks
    let (mut before, mut after) = if leaves[0] { (to, from) } else { (from, to) };
    for _ in 0..48 {
        let middle = (before + after) / 2.0;
        if sine(middle) > 0.0 {
            after = middle;
        } else {
            before = middle;
        }
    }
    // the tip of a cone looks no way, and lies on it
    let Some(normal) = surface.normal(before) else { return Some(before) };
    Some(before - normal * surface.height(before)?)
}
