//! One character laid flat at true size: its top and its root, the disc of its narrowest stroke, its counters, and how near its
//! neighbours come.

use crate::{
    distance,
    laid::Laid,
    site::{CharacterSite, Heights, Opening, Site},
};
use flat::disc::Disc;
use glam::{DVec2, DVec3};

/// All places are mm: along the reading direction and up from the character's middle, each level laid flat by its own lengths.
#[derive(Clone, Debug)]
pub struct LetterFlat {
    pub character: u32,
    pub text: String,
    /// Closed rings, material to the left; none where it goes through.
    pub top: Vec<Vec<DVec2>>,
    pub root: Vec<Vec<DVec2>>,
    /// In its top or floor; in its rim where it goes through.
    pub stroke: Option<FlatDisc>,
    /// Its counters, and its narrowest space between arms or pieces, at the root.
    pub spaces: Vec<FlatDisc>,
    /// To the characters beside it, at the root, the nearest first.
    pub gaps: Vec<FlatGap>,
    /// Roots of the characters beside it.
    pub beside: Vec<Vec<Vec<DVec2>>>,
    /// Of the top or floor over the seat.
    pub heights: Option<Heights>,
    /// By how much of itself a length of it may be off.
    pub stretch: f64,
    /// Sunken letters stand in the steel, raised ones are cut into it.
    pub sunken: bool,
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FlatDisc {
    pub middle: DVec2,
    /// As it is drawn, mm.
    pub diameter: f64,
    /// As it was measured in space, mm.
    pub width: f64,
}

#[derive(Clone, Debug, PartialEq)]
pub struct FlatGap {
    /// The character that it is to.
    pub to: u32,
    pub text: String,
    /// Straight through space, mm.
    pub width: f64,
    pub ends: [DVec2; 2],
}

/// Neighbours farther away are not told of, cap heights.
const FAR: f64 = 1.0;
/// Neighbours whose directions have a greater cosine than this lie behind one another.
const BEHIND: f64 = 0.5;

/// A character of a mark laid flat; `None` where nothing of it is left on the solid.
#[must_use]
pub fn of(site: &Site<'_>, character: u32) -> Option<LetterFlat> {
    let c = site.characters.get(character as usize).filter(|c| !c.root_outline.is_empty())?;
    let placed = site.built.placed.characters.get(character as usize)?;
    // the reading direction lies to the right; a place is laid from the character's middle, on each level
    let turned = |laid: &Laid| {
        let along = (laid.map * placed.along).normalize_or(DVec2::X);
        move |p: DVec2| DVec2::new(p.dot(along), p.dot(along.perp()))
    };
    let (top, root, read) = (turned(&c.top_outline), turned(&c.root_outline), turned(c.read()));
    let rings = |laid: &Laid, turned: &dyn Fn(DVec2) -> DVec2| -> Vec<Vec<DVec2>> {
        laid.rings.iter().map(|ring| ring.iter().map(|p| turned(*p)).collect()).collect()
    };
    let disc = |(disc, opening): (Disc, Opening), turned: &dyn Fn(DVec2) -> DVec2| FlatDisc {
        middle: turned(disc.middle),
        diameter: disc.diameter,
        width: opening.width,
    };
    let seat = site.built.seat_of(character);
    // places at the root of others, by the strip
    let place = |p: DVec3| root(c.root_outline.map * seat.chart.unroll(placed.middle, seat.lies(p).at));
    let far = FAR * site.built.placed.cap_height;
    let mut gaps: Vec<(FlatGap, &CharacterSite)> = site
        .characters
        .iter()
        .filter(|o| o.character != character)
        .filter_map(|o| {
            let (width, from, to) = distance::least(&c.root, &o.root).filter(|(width, ..)| *width <= far)?;
            let ends = [from, to].map(place);
            Some((FlatGap { to: o.character, text: o.text.clone(), width, ends }, o))
        })
        .collect();
    gaps.sort_by(|a, b| a.0.width.total_cmp(&b.0.width));
    // beyond a neighbour the next but one says no more
    let mut ways: Vec<DVec2> = Vec::new();
    gaps.retain(|(gap, _)| {
        let way = (gap.ends[1] - gap.ends[0]).normalize_or_zero();
        let behind = ways.iter().any(|nearer| nearer.dot(way) > BEHIND);
        ways.push(way);
        !behind
    });
    let outline = |o: &CharacterSite| -> Vec<Vec<DVec2>> {
        o.root_outline.space.iter().map(|ring| ring.iter().map(|p| place(*p)).collect()).collect()
    };
    Some(LetterFlat {
        character,
        text: c.text.clone(),
        top: rings(&c.top_outline, &top),
        root: rings(&c.root_outline, &root),
        stroke: c.narrowest().map(|found| disc(found, &read)),
        spaces: c.spaces().into_iter().map(|found| disc(found, &root)).collect(),
        beside: gaps.iter().map(|(_, o)| outline(o)).collect(),
        gaps: gaps.into_iter().map(|(gap, _)| gap).collect(),
        heights: c.heights,
        stretch: c.root_outline.stretch.max(c.top_outline.stretch),
        sunken: c.is_sunken(),
    })
}
