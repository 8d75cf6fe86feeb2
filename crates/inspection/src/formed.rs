//! Which parts of the tool form a character.

use crate::{footprint::Footprint, scene::Scene};
use glam::DVec3;
use relief::Seat;
use solid::segment::Segment;

/// A part of the tool that forms a character.
#[derive(Clone, Copy, Debug)]
pub struct Formed {
    /// Its place in [`crate::Forms::steels`].
    pub steel: usize,
    /// Unit vector along which it leaves.
    pub pull: DVec3,
    /// A place that it forms.
    pub at: DVec3,
    places: usize,
}

/// Which parts of the tool form the surface under a character: asked along its whole outline, where a boundary that
/// crosses it must pass, and under its facets.
pub(crate) fn formed(scene: &Scene<'_>, outline: &[Segment], footprint: &Footprint, seat: &Seat) -> Vec<Formed> {
    let mut found: Vec<Formed> = Vec::new();
    for at in places(outline, &footprint.triangles) {
        let Some(steel) = (scene.forms.by)(at, seat.normal(at)) else { continue };
        match found.iter_mut().find(|f| f.steel == steel) {
            Some(known) => known.places += 1,
            None => found.push(Formed { steel, pull: scene.forms.steels[steel].1, at, places: 1 }),
        }
    }
    found.sort_by_key(|f| std::cmp::Reverse(f.places));
    found
}

/// Places along the edges of an outline, no farther apart than [`ALONG`] and than a share of its length, and in the
/// middles of facets.
fn places(outline: &[Segment], facets: &[[DVec3; 3]]) -> Vec<DVec3> {
    /// mm.
    const ALONG: f64 = 0.25;
    /// So many along an outline, about, and so many facets at most.
    const MOST_ALONG: f64 = 64.0;
    const MOST_FACETS: usize = 32;
    let length: f64 = outline.iter().map(|[a, b]| a.distance(*b)).sum();
    let apart = ALONG.max(length / MOST_ALONG);
    let mut out = Vec::new();
    // the way left to the next place
    let mut left = 0.0;
    for [a, b] in outline {
        let long = a.distance(*b);
        let mut at = left;
        while at < long {
            out.push(a.lerp(*b, at / long));
            at += apart;
        }
        left = at - long;
    }
    let step = facets.len().div_ceil(MOST_FACETS).max(1);
    out.extend(facets.iter().step_by(step).map(|[a, b, c]| (a + b + c) / 3.0));
    out
}
