//! Faces found in a bare triangle mesh: planes, cylinders, spheres, cones and tori fitted with their
//! residual, the rest freeform.
//!
//! 1. Neighbouring triangles that lie in one plane become *flats* (a facet of a cylinder is one, the
//!    whole top of a block is one).
//! 2. From the largest flat down: if it and its neighbours over soft edges stand round one axis
//!    with the edges between them on one circle, a cylinder grows from them over soft edges.
//! 3. A flat that no cylinder takes is a plane if it stands out from its soft neighbours by its
//!    size, or has none.
//! 4. From what is left, again from the largest flat down, a sphere, a cone or a torus is fitted to the
//!    seed and its surroundings, and grown as the cylinder was. It also takes the place of a cylinder
//!    that turns little and covers less: fine facets of a sphere look like one for a short way.
//! 5. What is left over is joined over soft edges into freeform faces.

mod curved;
mod cylinders;
mod flats;
mod freeform;
mod grow;
mod planes;

use crate::{
    kinds::{self},
    mesh::Mesh,
    surface::Surface,
    watch::{Stage, Stopped, Watch},
};
use curved::{curved_face, ends_sharply, grow_curved};
use cylinders::{Grown, cylinder_face, grow_cylinder};
use flats::{Flat, flats};
use freeform::freeform;
use glam::DVec3;
use grow::{lies_amid, patch, samples, sorted, turns_little};
use planes::{plane_face, stands_out};
use rayon::prelude::*;

/// Seeds from which a curved surface is looked for; on a freeform part each try is in vain.
const MOST_TRIES: usize = 600;

/// After so many seeds in a row without a cylinder one in so many is tried, after as many again half
/// as many, and so on. A strip that is not believed counts for more: it was grown in vain.
const MOST_MISSES: usize = 20_000;

const STRIP: usize = 100;

const SOME: usize = 256;

/// After so many seeds whoever watches is told.
const TOLD: usize = 64;

pub struct Found {
    pub surface: Surface,
    /// Greatest distance of a vertex from the surface, mm; 0 for freeform.
    pub residual: f64,
    pub triangles: Vec<u32>,
}

/// How far a vertex may lie off a plane or cylinder, mm: a micrometre for parts of everyday size,
/// and what single-precision files lose for large ones.
#[must_use]
pub fn tolerance(mesh: &Mesh) -> f64 {
    let (low, high) = mesh.bounds();
    (low.abs().max(high.abs()).max_element() * 4.0 * f64::from(f32::EPSILON)).max(1e-3)
}

/// All faces of `mesh`, largest seeds first; each triangle is in exactly one.
///
/// # Errors
/// [`Stopped`] by whoever watches.
pub fn find(mesh: &Mesh, watch: &dyn Watch) -> Result<Vec<Found>, Stopped> {
    watch.reached(Stage::Faces, 0.0)?;
    let tolerance = tolerance(mesh);
    let (flats, _) = flats(mesh, tolerance);
    let mut order: Vec<u32> = (0..flats.len() as u32).collect();
    order.par_sort_by(|&a, &b| flats[b as usize].area.total_cmp(&flats[a as usize].area).then(a.cmp(&b)));
    let mut taken = vec![false; flats.len()];
    // flats of curved surfaces and of strips of cylinder that turned out to be freeform
    let mut tried = vec![false; flats.len()];
    let mut strips = vec![false; flats.len()];
    let mut tries = MOST_TRIES;
    let mut found = Vec::new();
    let mut misses = 0;
    for (rank, &seed) in order.iter().enumerate() {
        if rank % TOLD == 0 {
            watch.reached(Stage::Faces, rank as f64 / order.len() as f64)?;
        }
        if taken[seed as usize] {
            continue;
        }
        // on a finely divided freeform part nearly every facet is tried in vain: then only some are
        let patient = match misses / MOST_MISSES {
            0 => true,
            times => rank % (SOME << (times - 1).min(6)) == 0,
        };
        let grown =
            if strips[seed as usize] || !patient { None } else { grow_cylinder(mesh, &flats, &taken, seed, tolerance) };
        misses += usize::from(patient && grown.is_none());
        let little = grown.as_ref().is_none_or(|g| turns_little(&flats, &g.members));
        let cylinder = match grown {
            Some(grown) if little && lies_amid(&flats, &taken, &grown.members) => {
                for m in grown.members.into_iter().chain(grown.reach) {
                    strips[m as usize] = true;
                }
                misses += STRIP;
                None
            }
            Some(found) => {
                misses = 0;
                Some(found)
            }
            None => None,
        };
        if cylinder.is_none() && stands_out(&flats, &taken, seed) {
            taken[seed as usize] = true;
            found.push(plane_face(mesh, &flats[seed as usize]));
            continue;
        }
        let mut curved = None;
        if little && !tried[seed as usize] && tries > 0 {
            tries -= 1;
            let patch = patch(&flats, &taken, seed);
            let grown = grow_curved(mesh, &flats, &taken, seed, &patch, tolerance);
            let ends = grown.as_ref().is_some_and(|(m, s)| ends_sharply(mesh, &flats, &taken, m, s, tolerance));
            // its surroundings would fail the same way
            let surroundings = grown.as_ref().map_or(&patch, |(members, _)| members);
            if !ends {
                for &m in surroundings {
                    tried[m as usize] = true;
                }
            }
            curved = grown.filter(|_| ends);
        }
        let area = |members: &[u32]| members.iter().map(|&m| flats[m as usize].area).sum::<f64>();
        if let Some((members, surface)) = curved
            && cylinder.as_ref().is_none_or(|c| area(&members) > 1.2 * area(&c.members))
        {
            for &m in &members {
                taken[m as usize] = true;
            }
            found.push(curved_face(mesh, &flats, &members, surface));
        } else if let Some(Grown { members, cylinder, .. }) = cylinder {
            for &m in &members {
                taken[m as usize] = true;
            }
            found.push(cylinder_face(mesh, &flats, &members, cylinder));
        }
    }
    found.extend(freeform(&flats, &taken));
    Ok(found)
}

/// Some facets as one face, whatever they border on: on the simplest surface within `tolerance` mm of
/// them, else freeform.
#[must_use]
pub fn as_one(mesh: &Mesh, triangles: &[u32], tolerance: f64) -> Found {
    let own = Mesh {
        vertices: mesh.vertices.clone(),
        triangles: triangles.iter().map(|&t| mesh.triangles[t as usize]).collect(),
    };
    let found = |surface, residual| Found { surface, residual, triangles: sorted(triangles) };
    let all = Flat {
        triangles: (0..own.triangles.len() as u32).collect(),
        area: (0..own.triangles.len()).map(|t| own.area(t)).sum(),
        normal: own.normal(0),
        middle: DVec3::ZERO,
        soft: Vec::new(),
        shared: Vec::new(),
        rim: 0.0,
    };
    let plane = plane_face(&own, &all);
    if plane.residual <= tolerance {
        return found(plane.surface, plane.residual);
    }
    let (flats, _) = flats(&own, tolerance);
    let members: Vec<u32> = (0..flats.len() as u32).collect();
    let samples = samples(&own, &flats, &members);
    match kinds::recognise_facets(&samples, tolerance) {
        Some(surface) => found(surface, surface.residual(samples.iter().map(|s| s.0))),
        None => found(Surface::Freeform, 0.0),
    }
}
