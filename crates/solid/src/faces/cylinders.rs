//! Cylinders grown from a chain of flats round one axis.

use super::Found;
use super::flats::Flat;
use super::grow::{shared_vertices, sorted, spread, vertices_of};
use crate::{
    fit::{self, Cylinder},
    mesh::Mesh,
    surface::{Surface, leading},
};
use glam::DVec3;

/// Facets from which a cylinder is first fitted.
const CHAIN: usize = 6;

/// A facet's middle lies inside its cylinder by at most this much of the radius: 16 facets a turn.
const MOST_SAG: f64 = 0.02;

/// A cylinder needs facets in at least this many directions.
const LEAST_FACETS: usize = 4;

/// The seed and neighbours in other directions square to `axis`, up to [`CHAIN`] of them.
pub(super) fn chain(flats: &[Flat], taken: &[bool], seed: u32, second: u32, axis: DVec3) -> Vec<u32> {
    let mut chain = vec![seed, second];
    let mut at = 0;
    while at < chain.len() && chain.len() < CHAIN {
        for &next in &flats[chain[at] as usize].soft {
            let normal = flats[next as usize].normal;
            let fits = !taken[next as usize]
                && normal.dot(axis).abs() < 2e-3
                && chain.iter().all(|&o| normal.dot(flats[o as usize].normal) < 1.0 - 1e-9);
            if fits && chain.len() < CHAIN {
                chain.push(next);
            }
        }
        at += 1;
    }
    chain
}

pub(super) struct Grown {
    pub(super) members: Vec<u32>,
    pub(super) cylinder: Cylinder,
    /// Flats that the cylinder came near to at last, whether or not it could be fitted to them.
    pub(super) reach: Vec<u32>,
}

/// A cylinder through the seed and its soft neighbours, grown as far as it fits.
pub(super) fn grow_cylinder(mesh: &Mesh, flats: &[Flat], taken: &[bool], seed: u32, tolerance: f64) -> Option<Grown> {
    let seed_flat = &flats[seed as usize];
    for &second in seed_flat.soft.iter().filter(|&&f| !taken[f as usize]) {
        let Some(axis) = seed_flat.normal.cross(flats[second as usize].normal).try_normalize() else { continue };
        let mut members = chain(flats, taken, seed, second, axis);
        // three edges in a row prove a circle only together with a fourth facet beyond
        if members.len() < LEAST_FACETS {
            continue;
        }
        let points = shared_vertices(mesh, flats, &members);
        let Some(first) = fit::cylinder_along(axis, &points) else { continue };
        let mut cylinder = fit::refine_cylinder(first, &points);
        if cylinder.residual(&points) > tolerance || !turns_like(&flats[seed as usize], &cylinder) {
            continue;
        }
        // The first facets fix the axis only roughly: grow, fit again, grow again.
        let mut reach = Vec::new();
        for _ in 0..4 {
            let grown = spread(flats, taken, seed, |flat| is_on(mesh, flat, &cylinder, tolerance));
            let points = shared_vertices(mesh, flats, &grown);
            let better = fit::refine_cylinder(cylinder, &points);
            let same = grown.len() == members.len();
            let fits = points.len() >= 3 && better.residual(&points) <= tolerance && grown.len() >= members.len();
            if fits {
                (cylinder, members) = (better, grown);
            } else {
                reach = grown;
            }
            // without a better cylinder it would grow to the same again
            if same || !fits {
                break;
            }
        }
        if members.len() >= LEAST_FACETS {
            return Some(Grown { members, cylinder, reach });
        }
    }
    None
}

/// The facet's normal points along the cylinder's radius, in or out, at its middle.
fn turns_like(flat: &Flat, cylinder: &Cylinder) -> bool {
    let out = (flat.middle - cylinder.origin).reject_from_normalized(cylinder.axis).normalize_or_zero();
    out.dot(flat.normal).abs() > 5.0_f64.to_radians().cos()
}

/// Does a flat lie on the cylinder as a facet of it does?
fn is_on(mesh: &Mesh, flat: &Flat, cylinder: &Cylinder, tolerance: f64) -> bool {
    if !turns_like(flat, cylinder) {
        return false;
    }
    let corners = || flat.triangles.iter().flat_map(|&t| mesh.corners(t as usize));
    // a facet's own plane lies inside the surface by its sag; no vertex may lie deeper
    let sag = corners().map(|p| {
        let from_axis = (p - cylinder.origin).reject_from_normalized(cylinder.axis).dot(flat.normal).abs();
        cylinder.radius - from_axis
    });
    let sag = sag.fold(0.0, f64::max).min(MOST_SAG * cylinder.radius);
    corners().all(|p| (-sag - tolerance..=tolerance).contains(&cylinder.miss(p)))
}

pub(super) fn cylinder_face(mesh: &Mesh, flats: &[Flat], members: &[u32], cylinder: Cylinder) -> Found {
    let shared = shared_vertices(mesh, flats, members);
    let points = vertices_of(mesh, flats, members.iter().copied());
    let along: Vec<f64> = points.iter().map(|p| (*p - cylinder.origin).dot(cylinder.axis)).collect();
    let low = along.iter().copied().fold(f64::INFINITY, f64::min);
    let high = along.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let axis = leading(cylinder.axis);
    let origin = cylinder.origin + cylinder.axis * ((low + high) / 2.0);
    let first = &flats[members[0] as usize];
    let out = (mesh.centroid(first.triangles[0] as usize) - origin).reject_from_normalized(axis);
    let triangles: Vec<u32> = members.iter().flat_map(|&m| flats[m as usize].triangles.iter().copied()).collect();
    Found {
        surface: Surface::Cylinder { origin, axis, radius: cylinder.radius, inside: out.dot(first.normal) < 0.0 },
        residual: cylinder.residual(&shared),
        triangles: sorted(&triangles),
    }
}
