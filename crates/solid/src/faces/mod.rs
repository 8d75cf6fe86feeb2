//! Faces found in a bare triangle mesh: planes, cylinders, spheres, cones and tori fitted with their
//! residual, the rest freeform.
//!
//! 1. Neighbouring triangles that lie in one plane become *flats* (a facet of a cylinder is one, the
//!    whole top of a block is one); edges between flats are smooth or creases.
//! 2. From the largest flat down a cylinder is grown over smooth edges from a chain of facets round one axis.
//! 3. A flat that no cylinder takes is a plane if it stands out from its smooth neighbours by its
//!    size, or has none.
//! 4. From what is left, again from the largest flat down, a cone, a sphere or a torus is fitted to the
//!    seed and its surroundings, and grown as the cylinder was. It also takes the place of a cylinder
//!    that turns little and covers less: fine facets of a sphere look like one for a short way.
//! 5. Where that leaves facets that meet at slight bends, those bends count as smooth, and what is left is tried again.
//! 6. What is left over and smooth with what was found is added to it where it lies on it; the rest is joined over
//!    smooth edges into freeform faces, those that are a single flat are planes.

mod adopt;
mod belief;
mod bends;
mod flats;
mod freeform;
mod ground;
mod grow;
mod grown;
mod planes;
mod profiled;

use crate::{
    kinds::{self},
    mesh::Mesh,
    surface::Surface,
    topology::Groups,
    watch::{Stage, Stopped, Watch},
};
use flats::{Flat, flats};
use freeform::freeform;
use glam::DVec3;
use ground::Ground;
use grow::{patch, samples, sorted, turns_little};
use grown::{Grown, Refused};
use planes::{may_be_adopted, plane_face, stands_out};
use rayon::prelude::*;

/// Seeds from which a curved surface is looked for; on a freeform part each try is in vain.
const MOST_TRIES: usize = 600;

/// After so many seeds in a row without a cylinder one in so many is tried, after as many again half
/// as many, and so on. A strip that is not believed counts for more: it was grown in vain.
const MOST_MISSES: usize = 20_000;

const STRIP: usize = 100;

const SOME: usize = 256;

/// Flats round a seed in which no curved surface was found, and none is looked for again.
const SURROUNDINGS: usize = 36;

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
    let all = flats(mesh, tolerance);
    let ground = Ground::new(mesh, &all, tolerance);
    let flats = &all.flats;
    let mut order: Vec<u32> = (0..flats.len() as u32).collect();
    order.par_sort_by(|&a, &b| flats[b as usize].area.total_cmp(&flats[a as usize].area).then(a.cmp(&b)));
    let mut taken = vec![false; flats.len()];
    let (mut found, mut surfaces) = (Vec::new(), Vec::new());
    // what was taken at first no longer stands in the way of what borders on it
    for again in [false, true] {
        if again {
            order = beside_taken(flats, &taken, &order);
        }
        let tries = if again { MOST_TRIES / 4 } else { MOST_TRIES };
        let mut search = Search { ground: &ground, taken: &mut taken, found: &mut surfaces, tries, watch };
        search.over(&order, Some(&mut found))?;
    }
    ground.adopt(&mut taken, &mut surfaces);
    ground.give_back(&mut taken, &mut surfaces);
    found.extend(surfaces.iter().map(|grown| ground.face(grown)));
    // and bends that show no other that they go on with, such as those between triangles that lie this way and that
    if let Some(softened) = all.softened(mesh, &taken) {
        let ground = Ground::new(mesh, &softened, tolerance);
        let (mut more, tries) = (Vec::new(), MOST_TRIES / 4);
        Search { ground: &ground, taken: &mut taken, found: &mut more, tries, watch }.over(&order, None)?;
        found.extend(more.iter().map(|grown| ground.face(grown)));
        surfaces.extend(more);
    }
    found.extend(freeform(&ground, &taken, &surfaces));
    Ok(found)
}

/// The search for round faces from one seed after another.
struct Search<'a> {
    ground: &'a Ground<'a>,
    taken: &'a mut Vec<bool>,
    found: &'a mut Vec<Grown>,
    /// Seeds from which a curved surface is still looked for.
    tries: usize,
    watch: &'a dyn Watch,
}

impl Search<'_> {
    /// From the seeds in this order; planes that stand out go to `planes`.
    fn over(&mut self, order: &[u32], mut planes: Option<&mut Vec<Found>>) -> Result<(), Stopped> {
        let (ground, flats) = (self.ground, self.ground.flats());
        // flats of strips of cylinder that were not believed, and of surroundings in which no curved surface was found
        let none = || Refused { flats: vec![false; flats.len()], count: 0 };
        let (mut strips, mut tried, mut misses) = (none(), none(), 0);
        let loose = ground.all.loose();
        for (rank, &seed) in order.iter().enumerate() {
            if rank % TOLD == 0 {
                self.watch.reached(Stage::Faces, rank as f64 / order.len() as f64)?;
            }
            if self.taken[seed as usize] {
                continue;
            }
            // on a finely divided freeform part nearly every facet is tried in vain: then only some are
            let patient = match misses / MOST_MISSES {
                0 => true,
                times => rank % (SOME << (times - 1).min(6)) == 0,
            };
            let before = strips.count;
            let cylinder = if patient && !strips.flats[seed as usize] {
                ground.cylinder(self.taken, seed, &mut strips)
            } else {
                None
            };
            misses =
                if cylinder.is_some() { 0 } else { misses + usize::from(patient) + STRIP * (strips.count - before) };
            if let Some(planes) = planes.as_mut()
                && cylinder.is_none()
                && !loose[seed as usize]
                && stands_out(flats, self.taken, seed)
                && !may_be_adopted(flats, self.taken, seed)
            {
                self.taken[seed as usize] = true;
                planes.push(plane_face(ground.mesh, &flats[seed as usize]));
                continue;
            }
            let little = cylinder.as_ref().is_none_or(|g| turns_little(flats, &g.members));
            let mut curved = None;
            if little && !tried.flats[seed as usize] && self.tries > 0 {
                self.tries -= 1;
                curved = ground.curved(self.taken, seed, &mut tried);
                if curved.is_none() {
                    // its surroundings would fail the same way
                    for m in patch(flats, self.taken, seed, SURROUNDINGS) {
                        tried.flats[m as usize] = true;
                    }
                }
            }
            let curved = curved.filter(|c| cylinder.as_ref().is_none_or(|y| c.area > 1.2 * y.area));
            if let Some(grown) = curved.or(cylinder) {
                for &m in &grown.members {
                    self.taken[m as usize] = true;
                }
                self.found.push(grown);
            }
        }
        Ok(())
    }
}

/// Those of the flats in `order` that nothing has taken and that hang together with one beside a flat that was taken.
fn beside_taken(flats: &[Flat], taken: &[bool], order: &[u32]) -> Vec<u32> {
    let mut groups = Groups::new(flats.len());
    let mut borders = vec![false; flats.len()];
    for &flat in order.iter().filter(|&&f| !taken[f as usize]) {
        for &next in &flats[flat as usize].soft {
            if taken[next as usize] {
                borders[flat as usize] = true;
            } else {
                groups.join(flat, next);
            }
        }
    }
    let beside: grow::FastSet = order.iter().filter(|&&f| borders[f as usize]).map(|&f| groups.root(f)).collect();
    order.iter().copied().filter(|&f| !taken[f as usize] && beside.contains(&groups.root(f))).collect()
}

/// The surface of revolution or of extrusion that all vertices of a mesh lie on, where it is one; `samples` are its vertices in
/// their order, with normals of the surface.
#[must_use]
pub fn turned_or_extruded(mesh: &Mesh, samples: &[kinds::Sample], tolerance: f64) -> Option<Surface> {
    if samples.len() != mesh.vertices.len() {
        return None;
    }
    let corners: Vec<profiled::Corner> = samples.iter().enumerate().map(|(v, s)| (v as u32, *s)).collect();
    let edges: Vec<[u32; 2]> = mesh.triangles.iter().flat_map(|&[a, b, c]| [[a, b], [b, c], [c, a]]).collect();
    profiled::profiled(&corners, &edges, &mesh.vertices, tolerance, ground::FINER * tolerance)
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
    let flats = flats(&own, tolerance).flats;
    let members: Vec<u32> = (0..flats.len() as u32).collect();
    let samples = samples(&own, &flats, &members);
    match kinds::recognise_facets(&samples, tolerance) {
        Some(surface) => {
            let residual = surface.residual(samples.iter().map(|s| s.0));
            found(surface, residual)
        }
        None => found(Surface::Freeform, 0.0),
    }
}
