//! A freeform face: its facets laid flat as rigidly as they allow.
//!
//! As-rigid-as-possible parametrisation with free edges (Liu, Zhang, Xu, Gotsman and Gortler 2008:
//! a local/global iteration over rotations of facets and a cotangent system), begun from the view
//! square-on. Only what looks the seat's way is laid out: a handle goes once round, its strip
//! doesn't. Heights are measured square to facets: each vertex carries the vector to which all
//! facets round it rise by 1, so that facets moved along by h lie h off, over creases too.

use super::{
    coarse::{self, VERY_MANY},
    cut::{CutChart, Cuts},
    rises::Rises,
};
use crate::{
    chart::{Chart, Upright},
    crease::{Creased, narrow_creases},
    flatten::{as_rigid_as_possible, beside, stretches, unfolded, upright_turn},
};
use glam::{DMat3, DVec2, DVec3};
use rayon::prelude::*;
use solid::{
    Mesh,
    queries::Queries,
    topology::{Groups, for_each_edge},
};
use std::{
    ops::Deref,
    sync::{Arc, OnceLock},
};

/// Facets that lean away more than this are not laid out, degrees; less where they would fold.
const LEANING_DEG: [f64; 4] = [80.0, 65.0, 50.0, 35.0];
/// Strips on which lengths come out beyond these are tried with less of the face.
const LENGTHS: std::ops::Range<f64> = 0.5..2.0;

/// Steps of outlines and caps are no shorter than this, mm.
const SHORTEST_STEP: f64 = 0.03;

/// Creases are taken for no sharper than this, radians either side.
const SHARPEST: f64 = 1.2;

pub struct FreeformChart {
    laid: Arc<Laid>,
    rises: Rises,
    /// The same with creases that nothing turns over.
    beside_creases: OnceLock<Arc<FreeformChart>>,
}

/// A face laid flat.
pub struct Laid {
    pub(super) mesh: Mesh,
    /// Laid flat.
    pub(super) flat: Vec<DVec2>,
    /// Facets across the edges from each corner to the next; `u32::MAX` at the rim.
    beside: Vec<[u32; 3]>,
    creased: Creased,
    /// Edges over which normals jump, on the strip.
    creases: Vec<[DVec2; 2]>,
    in_space: Queries,
    on_strip: Queries,
    bridges: f64,
    /// Facets of the part that it is made of.
    facets: Vec<u32>,
    /// What was laid flat once more about marks.
    pub(super) cuts: Cuts,
}

impl Deref for FreeformChart {
    type Target = Laid;

    fn deref(&self) -> &Laid {
        &self.laid
    }
}

impl FreeformChart {
    /// The strip of `triangles` of `mesh`; `None` where no part of them can be laid flat.
    #[must_use]
    pub fn new(mesh: &Mesh, triangles: &[u32], upright: Upright) -> Option<Self> {
        let normals: Vec<DVec3> = triangles.par_iter().map(|&t| mesh.normal(t as usize)).collect();
        let (sum, area) = triangles.iter().zip(&normals).fold((DVec3::ZERO, 0.0), |(sum, area), (&t, normal)| {
            let own = mesh.area(t as usize);
            (sum + normal * own, area + own)
        });
        let looks = if sum.length() > 0.3 * area { sum.normalize() } else { upright.pull.unwrap_or(DVec3::Z) };
        let mut before = 0;
        for lean in LEANING_DEG {
            let least = lean.to_radians().cos();
            let facing = triangles.iter().zip(&normals).filter(|(_, n)| n.dot(looks) > least).map(|(t, _)| *t);
            let facets = largest_piece(mesh, facing.collect());
            if facets.is_empty() || facets.len() == before {
                continue;
            }
            before = facets.len();
            if let Some(chart) = Self::laid(mesh, facets, looks, upright) {
                return Some(chart);
            }
        }
        None
    }

    fn laid(mesh: &Mesh, facets: Vec<u32>, looks: DVec3, upright: Upright) -> Option<Self> {
        let mut own = mesh.piece(&facets).0;
        let creased = narrow_creases(&mut own);
        let beside = beside(&own, &creased.pairs);
        let up = upright.up(looks);
        let along = up.cross(looks);
        let seen = || own.vertices.iter().map(|p| DVec2::new(p.dot(along), p.dot(up))).collect();
        // how the face bends is worked out while it is laid flat
        let (flat, bending) =
            rayon::join(|| laid_flat(&own, &beside, seen), || (Queries::new(own.clone()), Rises::over(&own, &creased)));
        let (in_space, rises) = bending;
        let mut flat = flat?;
        // the facet in the middle stands upright
        let middle = own.vertices.iter().sum::<DVec3>() / own.vertices.len() as f64;
        let t = in_space.nearest(middle, f64::MAX)?.triangle as usize;
        let turn = upright_turn(&own, &flat, t, upright);
        for p in &mut flat {
            *p = turn.rotate(*p);
        }
        let low = flat.iter().copied().fold(DVec2::INFINITY, DVec2::min);
        for p in &mut flat {
            *p -= low;
        }
        let on_strip = Queries::new(Mesh {
            vertices: flat.iter().map(|p| p.extend(0.0)).collect(),
            triangles: own.triangles.clone(),
        });
        let creases = creased.edges().map(|edge| edge.map(|v| flat[v as usize])).collect();
        // a chord of a cap's facet over a crease that turns by δ lies half its length · tan(δ/2) / 2 off it
        let turn = creased.turns.iter().fold(0.0, |most: f64, turn| most.max(*turn));
        let bridges = SHORTEST_STEP * (turn / 2.0).min(SHARPEST).tan() / 2.0;
        let cuts = Cuts::default();
        let laid = Laid { mesh: own, flat, beside, creased, creases, in_space, on_strip, bridges, facets, cuts };
        Some(Self { laid: Arc::new(laid), rises, beside_creases: OnceLock::new() })
    }

    /// As [`Chart::beside_creases`].
    pub(super) fn plain(&self) -> Option<(Arc<Self>, f64)> {
        let sharpest = self.creased.sharpest()?;
        let plain = self.beside_creases.get_or_init(|| {
            let rises = Rises::beside(&self.mesh, &self.creased);
            Arc::new(Self { laid: self.laid.clone(), rises, beside_creases: OnceLock::new() })
        });
        Some((plain.clone(), (sharpest / 2.0).min(SHARPEST).tan()))
    }

    /// Facet under a place of the strip, and the shares of its corners; beyond the rim the nearest facet
    /// goes on.
    fn under(&self, at: DVec2) -> (usize, DVec3) {
        let t = self.on_strip.nearest(at.extend(0.0), f64::MAX).map_or(0, |hit| hit.triangle as usize);
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.flat[v as usize]);
        let (ab, ac, ap) = (b - a, c - a, at - a);
        let whole = ab.perp_dot(ac);
        let (second, third) = (ap.perp_dot(ac) / whole, ab.perp_dot(ap) / whole);
        (t, DVec3::new(1.0 - second - third, second, third))
    }

    /// The point `height` mm over a place of a facet.
    pub(super) fn raised(&self, t: usize, shares: DVec3, height: f64) -> DVec3 {
        let [a, b, c] = self.mesh.corners(t);
        a * shares.x + b * shares.y + c * shares.z + self.mitre_at(t, shares) * height
    }

    /// Facets between two corners of the strip that hang together, ascending.
    pub(super) fn between(&self, low: DVec2, high: DVec2) -> Vec<u32> {
        largest_piece(&self.mesh, self.on_strip.in_box(low.extend(-1.0), high.extend(1.0)))
    }

    fn mitre_at(&self, t: usize, shares: DVec3) -> DVec3 {
        let [a, b, c] = self.rises.corners[t].map(|v| self.rises.mitre[v as usize]);
        a * shares.x + b * shares.y + c * shares.z
    }

    /// The outward unit normal at a place of a facet.
    pub(super) fn looks(&self, t: usize, shares: DVec3) -> DVec3 {
        self.mitre_at(t, shares).normalize_or(DVec3::Z)
    }

    fn on_strip(&self, t: usize, shares: DVec3) -> DVec2 {
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.flat[v as usize]);
        a * shares.x + b * shares.y + c * shares.z
    }

    /// The facet that a point of space lies over, the shares of its corners, and how far outward the point lies.
    pub(super) fn lies_over(&self, p: DVec3) -> (usize, DVec3, f64) {
        let mut t = self.in_space.nearest(p, f64::MAX).map_or(0, |hit| hit.triangle as usize);
        let mut found = (f64::NEG_INFINITY, t, DVec3::new(1.0, 0.0, 0.0), 0.0);
        let mut came = usize::MAX;
        // from facet to facet until the point lies over one
        for _ in 0..64 {
            let Some((shares, height)) = self.over(t, p) else { break };
            let least = shares.min_element();
            if least > found.0 {
                found = (least, t, shares, height);
            }
            if least >= -1e-9 {
                break;
            }
            // across the edge that lies opposite the corner with the least share
            let mut order = [0, 1, 2];
            order.sort_by(|&i, &j| shares[i].total_cmp(&shares[j]));
            let across = order.into_iter().take_while(|&k| shares[k] < -1e-9).map(|k| self.beside[t][(k + 1) % 3]);
            let Some(next) = across.map(|n| n as usize).find(|&n| n != u32::MAX as usize && n != came) else { break };
            (came, t) = (t, next);
        }
        let (_, t, shares, height) = found;
        (t, shares, height)
    }

    /// Shares of the facet's corners and height at which a point of space lies over it (Newton).
    fn over(&self, t: usize, p: DVec3) -> Option<(DVec3, f64)> {
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.mesh.vertices[v as usize]);
        let [na, nb, nc] = self.rises.corners[t].map(|v| self.rises.mitre[v as usize]);
        let (ab, ac, nab, nac) = (b - a, c - a, nb - na, nc - na);
        let normal = ab.cross(ac).normalize_or_zero();
        let mut x = DVec3::new(1.0 / 3.0, 1.0 / 3.0, (p - a).dot(normal));
        for _ in 0..12 {
            let miss = p - (a + ab * x.x + ac * x.y + (na + nab * x.x + nac * x.y) * x.z);
            let slope = DMat3::from_cols(ab + nab * x.z, ac + nac * x.z, na + nab * x.x + nac * x.y);
            if slope.determinant().abs() < 1e-18 {
                return None;
            }
            let by = slope.inverse() * miss;
            x += by;
            if miss.length_squared() < 1e-26 {
                break;
            }
        }
        x.is_finite().then(|| (DVec3::new(1.0 - x.x - x.y, x.x, x.y), x.z))
    }
}

impl Chart for FreeformChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        let (t, shares) = self.under(at);
        self.raised(t, shares, height)
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let (t, shares, height) = self.lies_over(p);
        (self.on_strip(t, shares), height)
    }

    fn lies(&self, p: DVec3) -> (DVec2, DVec3, f64) {
        let (t, shares, height) = self.lies_over(p);
        (self.on_strip(t, shares), self.looks(t, shares), height)
    }

    fn above(&self, p: DVec3) -> (DVec3, f64) {
        let (t, shares, height) = self.lies_over(p);
        (self.looks(t, shares), height)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        let (t, shares) = self.under(at);
        self.looks(t, shares)
    }

    fn rises(&self, at: DVec2) -> DVec3 {
        // corners rise by 1 for each mm square to the facet
        self.mesh.normal(self.under(at).0)
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        self.step_over(near - DVec2::ONE, near + DVec2::ONE, height, sag)
    }

    fn step_over(&self, low: DVec2, high: DVec2, _: f64, sag: f64) -> DVec2 {
        // chords within the sag where facets turn alike all over; over a facet that is moved along they are straight
        DVec2::splat((8.0 * sag / self.fastest(&self.rises.turns, low, high)).sqrt().clamp(SHORTEST_STEP, 50.0))
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        // frames turn about a line by no more than normals turn
        (2.0 * twist_rad / self.fastest(&self.rises.bends, near, near)).max(0.03)
    }

    fn period(&self) -> DVec2 {
        DVec2::INFINITY
    }

    fn patch(&self) -> Option<&[u32]> {
        Some(&self.facets)
    }

    fn creases(&self, low: DVec2, high: DVec2) -> Vec<[DVec2; 2]> {
        let meets = |[a, b]: &&[DVec2; 2]| a.min(*b).cmple(high).all() && a.max(*b).cmpge(low).all();
        self.creases.iter().filter(meets).copied().collect()
    }

    fn bridges(&self) -> f64 {
        self.bridges
    }

    fn beside_creases(self: Arc<Self>) -> Option<(Arc<dyn Chart>, f64)> {
        self.plain().map(|(plain, lean)| (plain as Arc<dyn Chart>, lean))
    }

    fn cut_about(self: Arc<Self>, low: DVec2, high: DVec2, middle: DVec2) -> Option<Arc<dyn Chart>> {
        CutChart::new(self, low, high, middle).map(|cut| Arc::new(cut) as Arc<dyn Chart>)
    }
}

impl FreeformChart {
    /// The fastest of the turns that facets have, 1/mm, between two corners of the strip.
    fn fastest(&self, of: &[f64], low: DVec2, high: DVec2) -> f64 {
        let under = self.on_strip.in_box(low.extend(-1.0), high.extend(1.0));
        under.into_iter().map(|t| of[t as usize]).fold(1e-4, f64::max)
    }
}

/// The largest set of `facets` that are connected over edges, in ascending order.
fn largest_piece(mesh: &Mesh, mut facets: Vec<u32>) -> Vec<u32> {
    let own = Mesh { vertices: Vec::new(), triangles: facets.iter().map(|&t| mesh.triangles[t as usize]).collect() };
    let mut groups = Groups::new(facets.len());
    for_each_edge(&own, |edge| edge.iter().for_each(|half| groups.join(edge[0].triangle, half.triangle)));
    let roots: Vec<u32> = (0..facets.len() as u32).map(|at| groups.root(at)).collect();
    let mut areas = vec![0.0; facets.len()];
    for (&t, &root) in facets.iter().zip(&roots) {
        areas[root as usize] += mesh.area(t as usize);
    }
    // of equals the first
    let largest = (0..areas.len()).rev().filter(|&at| areas[at] > 0.0).max_by(|&a, &b| areas[a].total_cmp(&areas[b]));
    let mut roots = roots.iter();
    facets.retain(|_| roots.next().map(|root| *root as usize) == largest);
    facets.sort_unstable();
    facets
}

/// The patch flat, begun where it is `seen`; `None` where lengths come out too far off.
fn laid_flat(mesh: &Mesh, beside: &[[u32; 3]], seen: impl FnOnce() -> Vec<DVec2>) -> Option<Vec<DVec2>> {
    if let Some(exact) = unfolded(mesh, beside) {
        return Some(exact);
    }
    let fits = |flat: &Vec<DVec2>| {
        (0..mesh.triangles.len()).into_par_iter().all(|t| {
            let [least, most] = stretches(mesh, flat, t);
            LENGTHS.contains(&least) && LENGTHS.contains(&most)
        })
    };
    let seen = seen();
    let coarse = if mesh.triangles.len() > VERY_MANY { coarse::laid(mesh, &seen).filter(&fits) } else { None };
    coarse.or_else(|| Some(as_rigid_as_possible(mesh, seen)).filter(&fits))
}
