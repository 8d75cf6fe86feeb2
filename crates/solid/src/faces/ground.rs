//! The mesh that faces are looked for in, and what its corners tell: which of them lie on the true surface, and which on
//! chords of it.

use super::flats::{Flat, Flats};
use super::profiled::{Corner, profiled};
use crate::{kinds::Sample, mesh::Mesh, surface::Surface};
use glam::DVec3;

/// Points inside the face from which those at its rim, which booleans may have put on chords, aren't asked.
const ENOUGH: usize = 24;
/// The finer tolerance, as a share of the tolerance.
pub(super) const FINER: f64 = 0.125;
/// Facets lie off the surface in their middles by at most this much more than those it was fitted to.
const MORE: f64 = 1.5;
/// They lean from it in their middles by at most so much more than those at their corners, degrees.
const LEAN_DEG: f64 = 1.0;

/// The mesh and what its corners tell.
pub(super) struct Ground<'a> {
    pub(super) mesh: &'a Mesh,
    pub(super) all: &'a Flats,
    /// Vertices where three flats meet, or two at an open edge: the others lie on chords.
    pub(super) crowded: Vec<bool>,
    /// At each vertex the mean of the normals round it, by their angles there; not of unit length.
    normals: Vec<DVec3>,
    pub(super) tolerance: f64,
    pub(super) finer: f64,
}

/// How far flats lie off a surface in their middles, mm, and the cosine of what they lean from it at their corners.
#[derive(Clone, Copy)]
pub(super) struct Slack {
    pub(super) sag: f64,
    pub(super) lean: f64,
    /// Corners at the rim may have been put on chords.
    pub(super) cut: bool,
}

impl<'a> Ground<'a> {
    pub(super) fn new(mesh: &'a Mesh, all: &'a Flats, tolerance: f64) -> Self {
        // what lies beyond an open edge counts as a flat
        let outside = |open: &bool| if *open { [u32::MAX - 1, u32::MAX] } else { [u32::MAX; 2] };
        let mut seen: Vec<[u32; 2]> = all.open.iter().map(outside).collect();
        let mut crowded = vec![false; mesh.vertices.len()];
        for (triangle, &flat) in mesh.triangles.iter().zip(&all.flat_of) {
            for &v in triangle {
                let own = &mut seen[v as usize];
                if own.contains(&flat) {
                    continue;
                }
                match own.iter_mut().find(|s| **s == u32::MAX) {
                    Some(slot) => *slot = flat,
                    None => crowded[v as usize] = true,
                }
            }
        }
        let mut normals = vec![DVec3::ZERO; mesh.vertices.len()];
        for (t, triangle) in mesh.triangles.iter().enumerate() {
            let (corners, normal) = (mesh.corners(t), mesh.normal(t));
            for k in 0..3 {
                let [ahead, back] = [1, 2].map(|by| corners[(k + by) % 3] - corners[k]);
                let angle = ahead.cross(back).length().atan2(ahead.dot(back));
                normals[triangle[k] as usize] += normal * angle;
            }
        }
        let finer = (FINER * tolerance).max(written_to(mesh));
        Self { mesh, all, crowded, normals, tolerance, finer: finer.min(tolerance) }
    }

    pub(super) fn flats(&self) -> &[Flat] {
        &self.all.flats
    }

    /// Corners that lie on the true surface: those inside the face, and those at its rim that smooth edges of its
    /// facets run to. Each with its vertex' number and the mean normal of the members' facets round it.
    pub(super) fn numbered(&self, members: &[u32]) -> [Vec<Corner>; 2] {
        let mut at: Vec<(u32, DVec3, bool)> = Vec::new();
        for &t in members.iter().flat_map(|&m| &self.flats()[m as usize].triangles) {
            let (corners, cross) = (self.mesh.triangles[t as usize], self.mesh.cross(t as usize));
            for k in (0..3).filter(|&k| self.crowded[corners[k] as usize]) {
                at.push((corners[k], cross, self.is_exact(t, k)));
            }
        }
        at.sort_by_key(|(v, ..)| *v);
        let mut out = [Vec::new(), Vec::new()];
        for own in at.chunk_by(|a, b| a.0 == b.0) {
            let v = own[0].0 as usize;
            // inside a face what lies round the members counts as well
            let round = if self.all.creased[v] { own.iter().map(|o| o.1).sum() } else { self.normals[v] };
            let Some(normal) = round.try_normalize() else { continue };
            if own.iter().any(|o| o.2) {
                out[usize::from(self.all.creased[v])].push((own[0].0, (self.mesh.vertices[v], normal)));
            }
        }
        out
    }

    /// Of such corners those inside, and where they are few those at the rim too.
    pub(super) fn corners(&self, members: &[u32]) -> Vec<Sample> {
        let [mut inner, mut rim] = self.numbered(members);
        if inner.len() < ENOUGH {
            inner.append(&mut rim);
        }
        inner.into_iter().map(|c| c.1).collect()
    }

    /// The surface of revolution or of extrusion that all of some flats lie on.
    pub(super) fn profiled(&self, members: &[u32]) -> Option<Surface> {
        let corners = self.numbered(members).concat();
        let of = members.iter().flat_map(|&m| &self.flats()[m as usize].triangles);
        let edges: Vec<[u32; 2]> = of
            .flat_map(|&t| {
                let [a, b, c] = self.mesh.triangles[t as usize];
                [[a, b], [b, c], [c, a]]
            })
            .collect();
        let surface = profiled(&corners, &edges, &self.mesh.vertices, self.tolerance, self.finer)?;
        let slack = Slack { cut: true, ..self.slack(members, &surface) };
        let on = |&m: &u32| self.is_on(&self.flats()[m as usize], &surface, self.tolerance, slack);
        members.iter().all(on).then_some(surface)
    }

    /// Does corner `k` of a triangle lie on the true surface: inside the face, or at its rim where a smooth edge ends?
    pub(super) fn is_exact(&self, t: u32, k: usize) -> bool {
        let (v, smooth) = (self.mesh.triangles[t as usize][k] as usize, self.all.smooth[t as usize]);
        self.crowded[v] && (!self.all.creased[v] || smooth[k] || smooth[(k + 2) % 3])
    }

    /// Does a flat lie on the surface as its facets do?
    pub(super) fn is_on(&self, flat: &Flat, surface: &Surface, tolerance: f64, slack: Slack) -> bool {
        let leans = surface.normal(flat.middle).is_some_and(|n| n.dot(flat.normal) < slack.lean);
        let off = |p: DVec3| surface.height(p).map_or(f64::INFINITY, f64::abs);
        if leans || off(flat.middle) > slack.sag + tolerance {
            return false;
        }
        flat.triangles.iter().all(|&t| {
            let corners = self.mesh.triangles[t as usize];
            (0..3).all(|k| {
                let v = corners[k] as usize;
                let exact = self.is_exact(t, k) && !(slack.cut && self.all.creased[v]);
                off(self.mesh.vertices[v]) <= tolerance + if exact { 0.0 } else { slack.sag }
            })
        })
    }

    pub(super) fn slack(&self, members: &[u32], surface: &Surface) -> Slack {
        let off = |p: DVec3| surface.height(p).map_or(f64::INFINITY, f64::abs);
        let mut most = Slack { sag: 0.0, lean: 1.0, cut: false };
        for flat in members.iter().map(|&m| &self.flats()[m as usize]) {
            let exact =
                |t: u32| (0..3).filter(move |&k| self.is_exact(t, k)).map(move |k| self.mesh.corners(t as usize)[k]);
            let corners = || flat.triangles.iter().flat_map(|&t| exact(t));
            // what only borders on the surface says nothing of its facets
            if corners().all(|p| off(p) <= self.tolerance) {
                most.sag = most.sag.max(off(flat.middle));
                let leans = corners().filter_map(|p| Some(surface.normal(p)?.dot(flat.normal)));
                most.lean = leans.fold(most.lean, f64::min);
            }
        }
        let lean = (most.lean.clamp(0.0, 1.0).acos() + LEAN_DEG.to_radians()).cos();
        Slack { sag: MORE * most.sag, lean, cut: false }
    }

    pub(super) fn area(&self, members: &[u32]) -> f64 {
        members.iter().map(|&m| self.flats()[m as usize].area).sum()
    }

    /// The middle and the direction of the line between a flat and another.
    pub(super) fn line(&self, flat: &Flat, other: u32) -> Option<(DVec3, DVec3)> {
        let mut sum = (DVec3::ZERO, DVec3::ZERO, 0.0);
        for &t in &flat.triangles {
            for k in (0..3).filter(|&k| self.all.smooth[t as usize][k]) {
                let corners = self.mesh.triangles[t as usize];
                let across = self.all.beside[t as usize][k].triangle;
                if across != u32::MAX && self.all.flat_of[across as usize] == other {
                    let [a, b] = [corners[k], corners[(k + 1) % 3]].map(|v| self.mesh.vertices[v as usize]);
                    let length = a.distance(b);
                    sum = (sum.0 + (a + b) / 2.0 * length, sum.1 + (b - a), sum.2 + length);
                }
            }
        }
        Some((sum.0 / sum.2, sum.1.try_normalize()?))
    }
}

/// How far single precision, or the decimals that a file is written to, put corners off, mm.
pub(super) fn written_to(mesh: &Mesh) -> f64 {
    /// Corners that are looked at.
    const FEW: usize = 600;
    let (low, high) = mesh.bounds();
    let single = low.abs().max(high.abs()).max_element() * f64::from(f32::EPSILON);
    let every = mesh.vertices.len().div_ceil(FEW).max(1);
    let on_grid = |step: f64| {
        let whole = |x: f64| (x / step - (x / step).round()).abs() * step <= single.max(1e-9);
        mesh.vertices.iter().step_by(every).all(|p| p.to_array().into_iter().all(whole))
    };
    let grid = [1e-2, 1e-3, 1e-4].into_iter().find(|step| on_grid(*step)).unwrap_or(0.0);
    4.0 * single + grid
}
