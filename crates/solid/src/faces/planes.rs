//! Planes: flats that stand out from what they border on softly.

use super::Found;
use super::adopt::FEW;
use super::flats::Flat;
use super::grow::sorted;
use crate::{mesh::Mesh, surface::Surface};
use glam::DVec3;

/// A plane stands out from a soft neighbour that is at most this much of its area.
const STANDS_OUT: f64 = 0.1;

pub(super) fn stands_out(flats: &[Flat], taken: &[bool], seed: u32) -> bool {
    let flat = &flats[seed as usize];
    flat.soft.iter().filter(|&&n| !taken[n as usize]).all(|&n| flats[n as usize].area < STANDS_OUT * flat.area)
}

/// A flat like this one is a plane only if none of the surfaces round it turns out to go over it as well: it runs on
/// smoothly from facets of theirs that aren't much smaller.
pub(super) fn may_be_adopted(flats: &[Flat], taken: &[bool], seed: u32) -> bool {
    let flat = &flats[seed as usize];
    flat.soft.iter().any(|&n| taken[n as usize] && flat.area < FEW * flats[n as usize].area)
}

/// One no larger than the facets of a surface that it runs on smoothly from is none: it is one of them that didn't fit.
pub(super) fn is_a_facet(flats: &[Flat], taken: &[bool], seed: u32) -> bool {
    const AS_LARGE: f64 = 1.2;
    let flat = &flats[seed as usize];
    flat.soft.iter().any(|&n| taken[n as usize] && flat.area < AS_LARGE * flats[n as usize].area)
}

pub(super) fn plane_face(mesh: &Mesh, flat: &Flat) -> Found {
    // Normal and place from all of the area, so that a rounding in one facet doesn't tilt it.
    let cross: DVec3 = flat.triangles.iter().map(|&t| mesh.cross(t as usize)).sum();
    let normal = cross.normalize_or(flat.normal);
    let origin = flat.triangles.iter().map(|&t| mesh.centroid(t as usize) * mesh.area(t as usize)).sum::<DVec3>()
        / flat.area.max(f64::MIN_POSITIVE);
    let residual = flat
        .triangles
        .iter()
        .flat_map(|&t| mesh.corners(t as usize))
        .map(|p| (p - origin).dot(normal).abs())
        .fold(0.0, f64::max);
    Found { surface: Surface::Plane { origin, normal }, residual, triangles: sorted(&flat.triangles) }
}
