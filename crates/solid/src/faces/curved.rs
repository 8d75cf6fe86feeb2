//! Spheres, cones and tori grown from a patch of flats.

use super::Found;
use super::flats::Flat;
use super::grow::{FastSet, samples, sorted, spread};
use crate::{
    kinds,
    mesh::Mesh,
    surface::{Surface, leading},
};

const LEAST_CURVED: usize = 9;

/// Flats just outside a curved surface miss it by more than so many tolerances; where a third of them
/// miss by less, the surface was only a stretch of something freeform.
const NARROW: f64 = 5.0;

/// A facet's normal lies within this of its curved surface's, degrees.
const CURVED_DEG: f64 = 25.0;

/// A sphere, cone or torus through the seed's patch, grown as far as it fits.
pub(super) fn grow_curved(
    mesh: &Mesh,
    flats: &[Flat],
    taken: &[bool],
    seed: u32,
    patch: &[u32],
    tolerance: f64,
) -> Option<(Vec<u32>, Surface)> {
    if patch.len() < LEAST_CURVED {
        return None;
    }
    // a patch that runs over onto a neighbouring surface fits nothing: then a smaller one
    let sizes = [patch.len(), LEAST_CURVED.max(patch.len() / 3)];
    let (mut surface, mut count) = sizes.into_iter().find_map(|n| {
        let points = samples(mesh, flats, &patch[..n]);
        Some((kinds::recognise_curved(&points, tolerance)?, n))
    })?;
    let mut members = Vec::new();
    for _ in 0..5 {
        members = spread(flats, taken, seed, |flat| is_on(mesh, flat, &surface, tolerance));
        let points = samples(mesh, flats, &members);
        let better = kinds::again(&surface, &points).facing_most(&points);
        if better.residual(points.iter().map(|s| s.0)) <= tolerance {
            surface = better;
        }
        if members.len() == count {
            break;
        }
        count = members.len();
    }
    (members.len() >= LEAST_CURVED).then_some((members, surface))
}

/// Does a flat lie on the surface and look its way?
fn is_on(mesh: &Mesh, flat: &Flat, surface: &Surface, tolerance: f64) -> bool {
    let least = CURVED_DEG.to_radians().cos();
    surface.normal(flat.middle).is_none_or(|n| n.dot(flat.normal) > least)
        && flat.triangles.iter().all(|&t| {
            let corners = mesh.corners(t as usize);
            corners.iter().all(|&p| surface.height(p).is_some_and(|h| h.abs() <= tolerance))
        })
}

/// Does the surface end where another one begins, rather than where a freeform one drifts away?
pub(super) fn ends_sharply(
    mesh: &Mesh,
    flats: &[Flat],
    taken: &[bool],
    members: &[u32],
    surface: &Surface,
    tolerance: f64,
) -> bool {
    let inside: FastSet = members.iter().copied().collect();
    let mut outside: Vec<u32> = members
        .iter()
        .flat_map(|&m| flats[m as usize].soft.iter().copied())
        .filter(|n| !inside.contains(n) && !taken[*n as usize])
        .collect();
    outside.sort_unstable();
    outside.dedup();
    let narrow = |flat: &&u32| {
        let corners = flats[**flat as usize].triangles.iter().flat_map(|&t| mesh.corners(t as usize));
        surface.residual(corners) <= NARROW * tolerance
    };
    3 * outside.iter().filter(narrow).count() < outside.len().max(1)
}

pub(super) fn curved_face(mesh: &Mesh, flats: &[Flat], members: &[u32], surface: Surface) -> Found {
    let triangles: Vec<u32> = members.iter().flat_map(|&m| flats[m as usize].triangles.iter().copied()).collect();
    let residual = surface.residual(triangles.iter().flat_map(|&t| mesh.corners(t as usize)));
    let surface = match surface {
        Surface::Torus { centre, axis, major, minor, inside } => {
            Surface::Torus { centre, axis: leading(axis), major, minor, inside }
        }
        other => other,
    };
    Found { surface, residual, triangles: sorted(&triangles) }
}
