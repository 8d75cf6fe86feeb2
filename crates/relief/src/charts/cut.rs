//! A freeform face laid flat once more about one mark: the facets round it, as rigidly as they allow, so that lengths are
//! nearest to true where the lettering is. The strip of the whole face stays its grid: ties and edges are where they were.

use super::{
    coarse::{self, VERY_MANY},
    freeform::FreeformChart,
};
use crate::{
    chart::Chart,
    flatten::{as_rigid_as_possible, beside, stretches, unfolded},
};
use glam::{DVec2, DVec3};
use rayon::prelude::*;
use solid::{Mesh, queries::Queries, topology::neighbours};
use std::sync::Arc;

/// Facets this far round a mark are laid with it: a share of its extents, and mm.
const ROUND: (f64, f64) = (0.1, 1.0);
/// Lengths that are off by less are left as they are.
const TRUE: f64 = 2e-4;
/// Cuts that are kept for the marks of a face, each with the facets that it is made of.
const KEPT: usize = 8;

/// What of a face is laid flat about a mark, before it is turned and shifted to lie where the face's strip has it.
pub(super) struct Cut {
    /// Facets of the face's own mesh, ascending.
    facets: Vec<u32>,
    /// Their corners in the cut's own plane, and on the face's strip.
    own: Vec<[DVec2; 3]>,
    face: Vec<[DVec2; 3]>,
    in_own: Queries,
    in_face: Queries,
}

/// The cuts of a face that were made last.
#[derive(Default)]
pub(super) struct Cuts(std::sync::Mutex<Vec<Arc<Cut>>>);

impl Cuts {
    fn of(&self, facets: Vec<u32>, make: impl FnOnce(Vec<u32>) -> Option<Cut>) -> Option<Arc<Cut>> {
        let kept = || self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if let Some(cut) = kept().iter().find(|c| c.facets == facets) {
            return Some(cut.clone());
        }
        let cut = Arc::new(make(facets)?);
        let mut kept = kept();
        if kept.len() >= KEPT {
            kept.remove(0);
        }
        kept.push(cut.clone());
        Some(cut)
    }
}

pub struct CutChart {
    whole: Arc<FreeformChart>,
    cut: Arc<Cut>,
    /// From the cut's own plane to its strip: turned, then shifted.
    turn: DVec2,
    shift: DVec2,
}

impl CutChart {
    /// The chart about a mark that lies between two corners of the face's strip, `middle` its middle; `None` where it has
    /// nothing to mend, or where the facets can't be laid flat by themselves.
    pub(super) fn new(whole: Arc<FreeformChart>, low: DVec2, high: DVec2, middle: DVec2) -> Option<Self> {
        let round = (high - low).max_element() * ROUND.0 + ROUND.1;
        // by whole mm: a cut serves while its mark grows a little
        let (low, high) = ((low - round).floor(), (high + round).ceil());
        let facets = whole.between(low, high);
        let off = |t: &u32| {
            let [least, most] = stretches(&whole.mesh, &whole.flat, *t as usize);
            least < 1.0 - TRUE || most > 1.0 + TRUE
        };
        if !facets.iter().any(off) {
            return None;
        }
        let cut = whole.cuts.of(facets, |facets| laid(&whole, facets))?;
        // the strip's directions under the mark's middle stay what they are
        let (k, on) = nearest(&cut.in_face, middle);
        let there = at(cut.own[k], shares(cut.face[k], on));
        let near = 0.25 * (high - low).min_element();
        let corners = cut.own.as_flattened().iter().zip(cut.face.as_flattened());
        let (cos, sin) = corners.fold((0.0, 0.0), |(cos, sin), (own, face)| {
            let (own, face) = (*own - there, *face - middle);
            let weight = (-face.length_squared() / (near * near)).exp();
            (cos + weight * own.dot(face), sin + weight * own.perp_dot(face))
        });
        let turn = DVec2::new(cos, sin).normalize_or(DVec2::X);
        let shift = middle - turn.rotate(there);
        Some(Self { whole, cut, turn, shift })
    }

    /// Facet of the cut under a place of its strip, the shares of its corners, and how far beyond the rim the place lies.
    fn under(&self, place: DVec2) -> (usize, DVec3, DVec2) {
        let own = conjugate(self.turn).rotate(place - self.shift);
        let (k, on) = nearest(&self.cut.in_own, own);
        (k, shares(self.cut.own[k], on), self.turn.rotate(own - on))
    }

    /// The place of the face's strip under one of the cut, and back. Beyond its rim the two run alike.
    fn on_whole(&self, place: DVec2) -> DVec2 {
        let (k, shares, beyond) = self.under(place);
        at(self.cut.face[k], shares) + beyond
    }

    fn on_cut(&self, place: DVec2) -> DVec2 {
        let (k, on) = nearest(&self.cut.in_face, place);
        self.turn.rotate(at(self.cut.own[k], shares(self.cut.face[k], on))) + self.shift + place - on
    }

    /// The place of the strip under a place of one of the face's facets.
    fn on_strip(&self, t: usize, shares: DVec3) -> DVec2 {
        if let Ok(k) = self.cut.facets.binary_search(&(t as u32)) {
            return self.turn.rotate(at(self.cut.own[k], shares)) + self.shift;
        }
        let on_face = self.whole.mesh.triangles[t].map(|v| self.whole.flat[v as usize]);
        self.on_cut(at(on_face, shares))
    }

    /// The corners on the face's strip of a box about two corners of the cut's.
    fn box_on_whole(&self, low: DVec2, high: DVec2) -> (DVec2, DVec2) {
        let corners = [low, high, DVec2::new(low.x, high.y), DVec2::new(high.x, low.y)].map(|p| self.on_whole(p));
        let [a, b, c, d] = corners;
        (a.min(b).min(c.min(d)), a.max(b).max(c.max(d)))
    }
}

impl Chart for CutChart {
    fn point(&self, place: DVec2, height: f64) -> DVec3 {
        let (k, shares, beyond) = self.under(place);
        if beyond.length_squared() > 1e-18 {
            return self.whole.point(at(self.cut.face[k], shares) + beyond, height);
        }
        self.whole.raised(self.cut.facets[k] as usize, shares, height)
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let (t, shares, height) = self.whole.lies_over(p);
        (self.on_strip(t, shares), height)
    }

    fn lies(&self, p: DVec3) -> (DVec2, DVec3, f64) {
        let (t, shares, height) = self.whole.lies_over(p);
        (self.on_strip(t, shares), self.whole.looks(t, shares), height)
    }

    fn above(&self, p: DVec3) -> (DVec3, f64) {
        self.whole.above(p)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        self.whole.normal(self.on_whole(at))
    }

    fn rises(&self, at: DVec2) -> DVec3 {
        self.whole.rises(self.on_whole(at))
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        self.whole.step(self.on_whole(near), height, sag)
    }

    fn step_over(&self, low: DVec2, high: DVec2, height: f64, sag: f64) -> DVec2 {
        let (low, high) = self.box_on_whole(low, high);
        self.whole.step_over(low, high, height, sag)
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        self.whole.twist_step(self.on_whole(near), twist_rad)
    }

    fn period(&self) -> DVec2 {
        DVec2::INFINITY
    }

    fn off_grid(&self, grid: DVec2) -> DVec2 {
        self.on_cut(grid)
    }

    fn grid(&self, at: DVec2) -> DVec2 {
        self.on_whole(at)
    }

    fn patch(&self) -> Option<&[u32]> {
        self.whole.patch()
    }

    fn creases(&self, low: DVec2, high: DVec2) -> Vec<[DVec2; 2]> {
        let (low, high) = self.box_on_whole(low, high);
        let round = 0.1 * (high - low);
        self.whole.creases(low - round, high + round).into_iter().map(|edge| edge.map(|p| self.on_cut(p))).collect()
    }

    fn beside_creases(self: Arc<Self>) -> Option<(Arc<dyn Chart>, f64)> {
        let (whole, lean) = self.whole.clone().plain()?;
        Some((Arc::new(Self { whole, cut: self.cut.clone(), ..*self }), lean))
    }

    fn bridges(&self) -> f64 {
        self.whole.bridges()
    }
}

/// The triangle nearest to a place of a plane, and its nearest place.
fn nearest(among: &Queries, place: DVec2) -> (usize, DVec2) {
    let hit = among.nearest(place.extend(0.0), f64::MAX);
    hit.map_or((0, place), |hit| (hit.triangle as usize, hit.point.truncate()))
}

fn at([a, b, c]: [DVec2; 3], shares: DVec3) -> DVec2 {
    a * shares.x + b * shares.y + c * shares.z
}

/// Shares of a flat triangle's corners at a place.
fn shares([a, b, c]: [DVec2; 3], place: DVec2) -> DVec3 {
    let (ab, ac, ap) = (b - a, c - a, place - a);
    let whole = ab.perp_dot(ac);
    let (second, third) = (ap.perp_dot(ac) / whole, ab.perp_dot(ap) / whole);
    DVec3::new(1.0 - second - third, second, third)
}

fn conjugate(turn: DVec2) -> DVec2 {
    DVec2::new(turn.x, -turn.y)
}

/// The facets flat by themselves, begun as the face has them; `None` where one is turned over.
fn laid(whole: &FreeformChart, facets: Vec<u32>) -> Option<Cut> {
    let (mesh, from) = whole.mesh.piece(&facets);
    let beside = beside(&mesh, &neighbours(&mesh));
    let begun: Vec<DVec2> = from.iter().map(|&v| whole.flat[v as usize]).collect();
    let is_sound =
        |flat: &Vec<DVec2>| (0..mesh.triangles.len()).into_par_iter().all(|t| stretches(&mesh, flat, t)[0] > 0.0);
    let many = mesh.triangles.len() > VERY_MANY;
    let coarse = || if many { coarse::laid(&mesh, &begun).filter(is_sound) } else { None };
    let rigid = || Some(as_rigid_as_possible(&mesh, begun.clone())).filter(is_sound);
    let flat = unfolded(&mesh, &beside).or_else(coarse).or_else(rigid)?;
    let corners =
        |of: &[DVec2]| -> Vec<[DVec2; 3]> { mesh.triangles.iter().map(|t| t.map(|v| of[v as usize])).collect() };
    let plane = |of: &[DVec2]| {
        let vertices = of.iter().map(|p| p.extend(0.0)).collect();
        Queries::new(Mesh { vertices, triangles: mesh.triangles.clone() })
    };
    let (in_own, in_face) = (plane(&flat), plane(&begun));
    Some(Cut { facets, own: corners(&flat), face: corners(&begun), in_own, in_face })
}
