//! Cylinders, cones, spheres and tori grown from a seed over smooth edges. A stretch of some other smooth surface fills the
//! tolerance from one side to the other: with an eighth of the tolerance there is much less of it.

use super::Found;
use super::flats::Flat;
use super::ground::Ground;
use super::grow::{FastSet, patch, sorted, spread};
use crate::{
    fit,
    kinds::{self, Sample},
    surface::{Surface, leading},
};
use glam::DVec3;

/// Flats round a seed that a surface is first fitted to: fewer where it borders on others.
const PATCHES: [usize; 3] = [48, 20, 10];
/// Facets round an axis from which a cylinder is first fitted.
const CHAIN: usize = 6;
const LEAST_CHAIN: usize = 4;
/// A facet of a cylinder is at most so many times as large as the one it is grown from.
const MUCH_LARGER: f64 = 5.0;
/// Rounds in which a surface is fitted and grown again.
const ROUNDS: usize = 6;
/// A later kind must cover so many times the area of an earlier, simpler one.
const BETTER: f64 = 1.05;

/// A surface and the flats on it.
pub(super) struct Grown {
    pub(super) members: Vec<u32>,
    pub(super) surface: Surface,
    pub(super) area: f64,
}

/// Flats of surfaces that were grown and not believed, and how many such surfaces there were.
pub(super) struct Refused {
    pub(super) flats: Vec<bool>,
    pub(super) count: usize,
}

impl Ground<'_> {
    /// A cylinder from a chain of facets round one axis through the seed.
    /// Flats of such that were not believed are marked in `refused`, which counts them.
    pub(super) fn cylinder(&self, taken: &[bool], seed: u32, refused: &mut Refused) -> Option<Grown> {
        let flats = self.flats();
        let own = &flats[seed as usize];
        own.soft.iter().filter(|&&f| !taken[f as usize]).find_map(|&second| {
            let axis = own.normal.cross(flats[second as usize].normal).try_normalize()?;
            let chain = chain(flats, taken, seed, second, axis);
            if chain.len() < LEAST_CHAIN {
                return None;
            }
            let points = self.corners(&chain);
            let first = fit::cylinder_along(axis, &points.iter().map(|s| s.0).collect::<Vec<_>>())?;
            let (origin, axis, radius) = (first.origin, first.axis, first.radius);
            let surface = kinds::again(&Surface::Cylinder { origin, axis, radius, inside: false }, &points);
            let surface = surface.facing_most(&points);
            let fits = points.len() > 5 && kinds::fits_facets(&surface, &points, self.tolerance);
            if fits { self.grown(taken, seed, &chain, surface, refused) } else { None }
        })
    }

    /// The largest of the curved surfaces through the seed's surroundings, the simplest of those about as large.
    /// Flats of such that were not believed are marked in `refused`.
    pub(super) fn curved(&self, taken: &[bool], seed: u32, refused: &mut Refused) -> Option<Grown> {
        let whole = patch(self.flats(), taken, seed, PATCHES[0]);
        let mut best: Option<Grown> = None;
        for kind in 0..kinds::CURVED.len() {
            let grown = PATCHES.into_iter().filter(|&n| n == PATCHES[0] || n < whole.len()).find_map(|n| {
                let patch = &whole[..n.min(whole.len())];
                let points = self.corners(patch);
                let surface = kinds::curved_facets(kind, &points, self.tolerance)?;
                self.grown(taken, seed, patch, surface, refused)
            });
            if let Some(grown) = grown
                && best.as_ref().is_none_or(|b| grown.area > BETTER * b.area)
            {
                best = Some(grown);
            }
        }
        best
    }

    /// The surface fitted to a patch, grown over all that lies on it and fitted again, if it is believed then.
    fn grown(
        &self,
        taken: &[bool],
        seed: u32,
        first: &[u32],
        surface: Surface,
        refused: &mut Refused,
    ) -> Option<Grown> {
        let flats = self.flats();
        let mut grown = Grown { members: first.to_vec(), surface, area: 0.0 };
        for _ in 0..ROUNDS {
            let slack = self.slack(&grown.members, &grown.surface);
            let on = |flat: &Flat| self.is_on(flat, &grown.surface, self.tolerance, slack);
            if !on(&flats[seed as usize]) {
                return None;
            }
            let members = spread(flats, taken, seed, on);
            let points = self.corners(&members);
            let better = self.refitted(&grown.surface, &points).facing_most(&points);
            if better.residual(points.iter().map(|s| s.0)) <= self.tolerance {
                grown.surface = better;
            }
            let same = members.len() == grown.members.len();
            grown.members = members;
            if same {
                break;
            }
        }
        let area = self.area(&grown.members);
        // what runs on into it tangentially lies on it by the tolerance for a while
        let slack = self.slack(&grown.members, &grown.surface);
        let on = |flat: &Flat| self.is_on(flat, &grown.surface, self.finer, slack);
        grown.members = spread(flats, taken, seed, on);
        grown.area = self.area(&grown.members);
        if !self.is_believed(taken, &grown, area) {
            for &m in &grown.members {
                refused.flats[m as usize] = true;
            }
            refused.count += 1;
            return None;
        }
        Some(grown)
    }

    /// The surface fitted to points again, and once more without those that lie farther off than most: a few corners
    /// that only seem to be exact.
    fn refitted(&self, surface: &Surface, points: &[Sample]) -> Surface {
        let better = kinds::again(surface, points);
        let off = |p: DVec3| better.height(p).map_or(f64::INFINITY, f64::abs);
        let mut all: Vec<f64> = points.iter().map(|s| off(s.0)).collect();
        all.sort_by(f64::total_cmp);
        let most = all.get(all.len() / 2).map_or(self.finer, |middle| (3.0 * middle).max(self.finer));
        let near: Vec<Sample> = points.iter().copied().filter(|s| off(s.0) <= most).collect();
        if near.len() == points.len() { better } else { kinds::again(&better, &near) }
    }

    pub(super) fn face(&self, grown: &Grown) -> Found {
        let own = grown.members.iter().flat_map(|&m| self.flats()[m as usize].triangles.iter().copied());
        let triangles = sorted(&own.collect::<Vec<_>>());
        let surface = match grown.surface.clone() {
            Surface::Torus { centre, axis, major, minor, inside } => {
                Surface::Torus { centre, axis: leading(axis), major, minor, inside }
            }
            other => other.centred(|| triangles.iter().flat_map(|&t| self.mesh.corners(t as usize))),
        };
        let residual = surface.residual(self.corners(&grown.members).iter().map(|s| s.0));
        Found { surface, residual, triangles }
    }
}

/// The seed and neighbours in other directions square to `axis`, up to [`CHAIN`] of them.
fn chain(flats: &[Flat], taken: &[bool], seed: u32, second: u32, axis: DVec3) -> Vec<u32> {
    let mut chain = vec![seed, second];
    let mut seen = FastSet::from_iter([seed, second]);
    let mut at = 0;
    while at < chain.len() && chain.len() < CHAIN {
        for &next in &flats[chain[at] as usize].soft {
            let normal = flats[next as usize].normal;
            // what is much larger only borders on them
            let alike = flats[next as usize].area < MUCH_LARGER * flats[seed as usize].area;
            let fits = !taken[next as usize] && alike && normal.dot(axis).abs() < 2e-3;
            if fits && chain.len() < CHAIN && seen.insert(next) {
                chain.push(next);
            }
        }
        at += 1;
    }
    chain
}
