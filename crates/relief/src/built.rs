//! A mark as bodies on its seat, ready to be joined to the part.

use crate::{
    ReliefError,
    body::{self, CharacterBody, FREE, PAD, bodies, fillings},
    chart::Chart,
    off_crease,
    place::{PlacedCharacter, PlacedMark, about, place},
    seat::Seat,
};
use flat::{Region, offset};
use glam::{DVec2, DVec3};

use rayon::prelude::*;
use solid::{Mesh, boolean::Body, queries::Queries};
use std::sync::{Arc, OnceLock};
use trade::{Colour, Mark, Pad, PadForm, Relief, Sense, Walls};

/// A mark ready to be joined: its seat, its place, its bodies.
pub struct BuiltMark {
    pub mark: Mark,
    /// What its letters stand on: its pad, where it has one, else the part's surface.
    pub seat: Arc<Seat>,
    /// The same for letters that keep off its creases, and which don't; `None` where it has none.
    beside: Option<(Seat, Vec<bool>)>,
    /// The part's surface.
    pub ground: Arc<Seat>,
    pub placed: PlacedMark,
    /// Unit vector along which the steel that forms it leaves the part.
    pub pull: Option<DVec3>,
    pub bodies: Vec<CharacterBody>,
    /// What its characters were built with.
    reliefs: Vec<Relief>,
    /// What fills the pockets of an inlay.
    pub fillings: Vec<CharacterBody>,
    /// Films over what is kept free for later, where they lie on the face.
    pub free: Vec<CharacterBody>,
    pub pad: Option<CharacterBody>,
    pub(crate) operands: Vec<Body>,
    /// None of its bodies touches another.
    pub(crate) apart: bool,
    pub(crate) pad_operand: Option<Body>,
    surfaces: OnceLock<[Queries; 2]>,
}

impl BuiltMark {
    /// `mark` built on its seat. `pull` is the unit vector along which its steel leaves.
    ///
    /// # Errors
    /// See [`ReliefError`]; a body that is not closed is an error too.
    pub fn new(mark: &Mark, seat: Arc<Seat>, pull: Option<DVec3>) -> Result<Self, ReliefError> {
        let placed = place(mark, &seat)?;
        let (seat, placed) = about(mark, seat, placed);
        Self::of(mark, seat, placed, pull)
    }

    /// The same of a mark that was placed on its seat.
    ///
    /// # Errors
    /// As [`BuiltMark::new`].
    pub fn of(mark: &Mark, seat: Arc<Seat>, placed: PlacedMark, pull: Option<DVec3>) -> Result<Self, ReliefError> {
        let ground = seat;
        if ground.surface_body && (mark.relief.pad.is_some() || mark.relief.through) {
            return Err(ReliefError::NoSolid);
        }
        let pad = match (&mark.relief.pad, &placed.pad) {
            (Some(pad), Some(region)) => Some(body::pad(&ground, pad, mark.relief.walls, pull, region)?),
            _ => None,
        };
        let seat = match &mark.relief.pad {
            Some(Pad { form: PadForm::Raised, height, .. }) => Arc::new(ground.raised(*height)),
            Some(Pad { form: PadForm::Recessed, height, .. }) => Arc::new(ground.raised(-height)),
            None => ground.clone(),
        };
        let letters = || placed.characters.par_iter().enumerate().map(|(at, c)| (at as u32, c));
        let built =
            letters().map(|(at, c)| bodies(&seat, &mark.relief_of(c.at, &c.text), pull, at, &c.text, &c.region));
        let (reliefs, bodies): (Vec<Relief>, Vec<_>) = in_order(built)?.into_iter().unzip();
        let bodies: Vec<CharacterBody> = bodies.into_iter().flatten().collect();
        let crosses = |(at, c): (u32, &PlacedCharacter)| {
            off_crease::is_over(&seat, &body::built_as(&reliefs[at as usize]), &c.region)
        };
        let beside = off_crease::beside(&seat).map(|beside| (beside, letters().map(crosses).collect()));
        let inlaid = letters().filter(|(at, _)| reliefs[*at as usize].sense == Sense::Inlay);
        let fillings = inlaid.map(|(at, c)| fillings(&seat, &reliefs[at as usize], pull, at, &c.text, &c.region));
        let fillings = in_order(fillings)?.into_iter().flatten().collect();
        let film = Relief { sense: Sense::Stamp, ..mark.relief };
        // one that doesn't lie on the face is found as such, not here
        let film = |field: &Region| body::bodies(&seat, &film, None, FREE, "field", field).map(|(_, films)| films);
        let free = placed.fields.par_iter().flat_map_iter(|field| film(field).unwrap_or_default()).collect();
        let mut numbers = Body::numbers(bodies.len() + 1);
        let pad_operand = match (&pad, numbers.next()) {
            (Some(pad), Some(id)) => Some(Body::numbered(&pad.mesh, "the pad", id)?),
            _ => None,
        };
        let operands: Vec<_> = bodies
            .par_iter()
            .zip(numbers.collect::<Vec<_>>())
            .map(|(b, id)| Body::numbered(&b.mesh, &format!("“{}”", placed.characters[b.character as usize].text), id))
            .collect();
        let operands = operands.into_iter().collect::<Result<_, _>>()?;
        let apart = apart(&seat, &placed, &reliefs, pull);
        let mark = mark.clone();
        Ok(Self {
            apart,
            mark,
            seat,
            beside,
            ground,
            placed,
            pull,
            bodies,
            reliefs,
            fillings,
            free,
            pad,
            operands,
            pad_operand,
            surfaces: OnceLock::new(),
        })
    }

    /// Characters whose edge or root is smaller than what is set, as it is.
    pub fn less_round(&self) -> impl Iterator<Item = (u32, &Relief)> {
        let set = &self.mark.relief;
        (0..).zip(&self.reliefs).filter(|(_, built)| built.edge < set.edge || built.root < set.root)
    }

    /// The relief that a character has.
    #[must_use]
    pub fn relief(&self, character: u32) -> Relief {
        match (self.reliefs.get(character as usize), &self.mark.relief.pad) {
            (Some(relief), _) => *relief,
            (None, Some(pad)) => {
                let sense = if pad.form == PadForm::Raised { Sense::Raised } else { Sense::Sunken };
                Relief { sense, height: pad.height, draft: pad.draft, ..Relief::default() }
            }
            (None, None) => self.mark.relief,
        }
    }

    /// Its letters' bodies joined to one mesh: those that touch are one body. Where it is required, those of a
    /// dial's core alone, or all but these.
    ///
    /// # Errors
    /// The boolean failed.
    pub fn united(&self, core: Option<bool>) -> Result<Mesh, ReliefError> {
        let is_core = |character: u32| self.placed.characters.get(character as usize).is_some_and(|c| c.core);
        let own = |character: u32| core.is_none_or(|core| is_core(character) == core);
        let bodies = self.bodies.iter().zip(&self.operands);
        let operands: Vec<Body> = bodies.filter(|(b, _)| own(b.character)).map(|(_, o)| o.clone()).collect();
        let Some((first, rest)) = operands.split_first() else { return Ok(Mesh::default()) };
        Ok(first.with(rest, &[])?.traced().mesh)
    }

    /// About how much memory it takes, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        let bodies = self.bodies.iter().chain(&self.fillings).chain(&self.free).chain(&self.pad);
        let meshes: usize = bodies.map(|b| b.mesh.bytes() + b.roles.len()).sum();
        meshes + self.operands.iter().chain(&self.pad_operand).map(Body::bytes).sum::<usize>()
    }

    /// Characters that have a colour, of their own or their mark's.
    pub fn colours(&self) -> impl Iterator<Item = (u32, &Colour)> {
        let letters = self.placed.characters.iter().enumerate();
        letters.filter_map(|(at, c)| Some((at as u32, self.mark.colour_of(c.at, &c.text)?)))
    }

    /// Characters that have colours of their own.
    pub fn letter_colours(&self) -> impl Iterator<Item = (u32, &Colour)> {
        let letters = self.placed.characters.iter().enumerate();
        letters.filter_map(|(at, c)| Some((at as u32, self.mark.letter_colour(c.at, &c.text)?)))
    }

    /// What a character stands on.
    #[must_use]
    pub fn seat_of(&self, character: u32) -> &Seat {
        match &self.beside {
            _ if character == PAD => &self.ground,
            Some((beside, crosses)) if crosses.get(character as usize) == Some(&false) => beside,
            _ => &self.seat,
        }
    }

    /// Does some of it change the solid?
    #[must_use]
    pub fn has_relief(&self) -> bool {
        self.pad.is_some() || self.bodies.iter().any(|b| self.relief(b.character).sense.has_relief())
    }

    /// Of the mark's place what is kept free for what is struck in later, rings on the strip.
    #[must_use]
    pub fn kept_free(&self) -> Vec<&Vec<DVec2>> {
        let stamp = self.mark.relief.sense == Sense::Stamp;
        let area = self.placed.characters.iter().filter(|_| stamp).flat_map(|c| c.region.contours());
        area.chain(self.placed.fields.iter().flat_map(Region::contours)).collect()
    }

    /// Where the bodies meet the seat.
    #[must_use]
    pub fn footprint(&self) -> Vec<[DVec3; 2]> {
        let mut out = Vec::new();
        for CharacterBody { mesh, character, .. } in self.bodies.iter().chain(&self.pad) {
            // bodies that are joined to nothing end on the seat: there what lies within a hair of it is past it
            let hair = if self.relief(*character).sense.sinks() { -1e-6 } else { 1e-6 };
            let seat = self.seat_of(*character);
            let heights: Vec<f64> = mesh.vertices.iter().map(|p| seat.height(*p)).collect();
            let above = |v: u32| heights[v as usize] > hair;
            for t in &mesh.triangles {
                let crossings =
                    [0, 1, 2].map(|k| (t[k], t[(k + 1) % 3])).into_iter().filter(|(a, b)| above(*a) != above(*b));
                let points: Vec<DVec3> = crossings
                    .map(|(a, b)| {
                        let [low, high] = [a, b].map(|v| heights[v as usize]);
                        let share = (0.0 - low) / (high - low);
                        mesh.vertices[a as usize].lerp(mesh.vertices[b as usize], share.clamp(0.0, 1.0))
                    })
                    .collect();
                if let [a, b] = points[..] {
                    out.push([a, b]);
                }
            }
        }
        out
    }

    /// Rays against the bodies that are added to the part, and those that are cut out of it.
    fn surfaces(&self) -> &[Queries; 2] {
        self.surfaces.get_or_init(|| {
            let mut surfaces = [Mesh::default(), Mesh::default()];
            for body in self.bodies.iter().chain(&self.pad) {
                let sense = self.relief(body.character).sense;
                if sense.has_relief() {
                    surfaces[usize::from(sense.sinks())].append(&body.mesh);
                }
            }
            surfaces.map(Queries::new)
        })
    }

    /// Where a ray meets the part with this mark on it, where it meets the bare part `hit` mm on; `inside`: it
    /// comes from inside the part.
    #[must_use]
    pub fn meets(&self, from: DVec3, direction: DVec3, hit: f64, inside: bool) -> f64 {
        // bodies reach no farther past the surface than this, mm
        let reach = 2.0 * self.ground.facet_error + 1.0;
        let [added, cut] = self.surfaces();
        let crossing = |surface: &Queries, entering: bool, near: f64, far: f64| {
            let way = |t: u32| (surface.mesh().normal(t as usize).dot(direction) < 0.0) == entering;
            surface.first_hit(from, direction, near.max(0.0), far, way).map(|h| h.distance)
        };
        let mut hit = hit;
        // out of the material: into what is cut away sooner, through what is added later; into it the other way
        let (sooner, later) = if inside { (cut, added) } else { (added, cut) };
        if let Some(entry) = crossing(sooner, true, 0.0, hit).filter(|d| *d < hit)
            && crossing(sooner, false, entry, f64::MAX).is_some_and(|exit| exit > hit)
        {
            hit = entry;
        }
        if let Some(entry) = crossing(later, true, hit - reach, hit + 1e-9).filter(|d| *d < hit + 1e-9)
            && let Some(exit) = crossing(later, false, entry, f64::MAX)
        {
            hit = hit.max(exit);
        }
        hit
    }

    /// The box around all bodies and what is kept free, mm.
    #[must_use]
    pub fn bounds(&self) -> (DVec3, DVec3) {
        let free = self.placed.fields.iter().flat_map(Region::contours).flatten();
        let free = free.map(|p| self.ground.chart.point(*p, 0.0)).map(|p| (p, p));
        self.bodies
            .iter()
            .chain(&self.pad)
            .map(|b| b.mesh.bounds())
            .chain(free)
            .fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(low, high), (l, h)| (low.min(l), high.max(h)))
    }
}

/// What was made of each character; of several errors the first in reading order, whichever came up first.
fn in_order<T: Send>(made: impl ParallelIterator<Item = Result<T, ReliefError>>) -> Result<Vec<T>, ReliefError> {
    made.collect::<Vec<_>>().into_iter().collect()
}

/// Do the letters' outlines keep so far from one another that their bodies can't meet? Walls reach past an outline by no
/// more than their height times the tangent of draft and lean, and what rounds their root. Not asked over creases, where
/// walls turn.
fn apart(seat: &Seat, placed: &PlacedMark, reliefs: &[Relief], pull: Option<DVec3>) -> bool {
    /// For charts that stretch; steeper walls than that are not asked about, degrees; past the surface, mm.
    const STRETCH: f64 = 2.0;
    const STEEP: f64 = 60.0;
    const PAST: [f64; 2] = [0.1, 1.1];
    if seat.faces.len() > 1 || seat.surface_body {
        return false;
    }
    let lean = |c: &PlacedCharacter| {
        let Some(pull) = pull else { return 0.0 };
        let points = c.region.contours().flat_map(|ring| ring.iter().step_by(ring.len().div_ceil(8)));
        let cosine = points.map(|p| seat.chart.normal(*p).dot(pull).abs()).fold(1.0, f64::min);
        cosine.clamp(0.0, 1.0).acos().to_degrees()
    };
    let mut reach: f64 = 0.0;
    for (c, relief) in placed.characters.iter().zip(reliefs) {
        let lean = if relief.walls == Walls::Pull { 1.2 * lean(c) } else { 0.0 };
        let steep = relief.draft + lean;
        if steep > STEEP {
            return false;
        }
        let high = relief.height + 2.0 * seat.facet_error + PAST[usize::from(relief.sense.sinks())];
        reach = reach.max(high * steep.to_radians().tan() + relief.root + relief.edge);
    }
    let points = placed.characters.iter().flat_map(|c| c.region.contours()).flatten();
    let round = goes_round(seat.chart.as_ref(), points.copied(), STRETCH * reach);
    // pieces of one letter are bodies too
    let islands = placed.characters.iter().flat_map(|c| &c.region.islands);
    let pieces: Vec<Region> = islands.map(|i| Region { islands: vec![i.clone()] }).collect();
    !round && offset::stay_apart(pieces.iter(), STRETCH * reach)
}

/// Do points of the strip, with `reach` mm about each, lie all round a seat that closes on itself? Point by point: near
/// its apex a cone is soon gone round, and past it more than once.
fn goes_round(chart: &dyn Chart, points: impl Iterator<Item = DVec2>, reach: f64) -> bool {
    /// Mm, to see how long the grid's mm is on the seat.
    const STEP: f64 = 1e-3;
    let period = chart.period();
    let mut ends = [DVec2::INFINITY, DVec2::NEG_INFINITY];
    for p in points {
        let grid = chart.grid(p);
        for k in (0..2).filter(|k| period[*k].is_finite()) {
            let step = if k == 0 { DVec2::X } else { DVec2::Y } * STEP;
            let long = chart.point(chart.off_grid(grid + step), 0.0).distance(chart.point(p, 0.0));
            let about = reach * STEP / long.max(f64::MIN_POSITIVE);
            ends[0][k] = ends[0][k].min(grid[k] - about);
            ends[1][k] = ends[1][k].max(grid[k] + about);
        }
    }
    (0..2).any(|k| ends[1][k] - ends[0][k] > period[k])
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{chart::Upright, charts::cone::ConeChart};
    use std::f64::consts::TAU;

    #[test]
    fn near_its_apex_a_cone_is_gone_round_sooner() {
        // from its apex to 20 mm of slant: the grid is true at 10
        let (sin, cos) = (0.6_f64, 0.8_f64);
        let wall = |slant: f64| DVec3::new(slant * sin, 0.0, slant * cos);
        let facets = [[DVec3::ZERO, wall(20.0), wall(20.0)]];
        let pull = Upright { pull: Some(DVec3::X) };
        let chart = ConeChart::new(DVec3::ZERO, DVec3::Z, sin.asin(), false, &facets, pull);
        // a ring but for 0.4 mm, as long at any slant
        for (slant, gap) in [(2.0, 0.4), (10.0, 0.4), (20.0, 0.4)] {
            let radius = slant * sin;
            let free = gap / (2.0 * radius);
            let ring = |k: i32| {
                let angle = free + (TAU - 2.0 * free) * f64::from(k) / 400.0;
                // the gap lies over against the crown, where the strip ends
                let (s, c) = (angle + std::f64::consts::PI).sin_cos();
                chart.strip(DVec3::new(radius * c, radius * s, slant * cos)).0
            };
            let round = |reach: f64| goes_round(&chart, (0..=400).map(ring), reach);
            assert!(round(0.51 * gap) && !round(0.49 * gap), "{slant}");
        }
        // straight over the apex is all round it
        assert!(goes_round(&chart, std::iter::once(chart.strip(DVec3::ZERO).0), 0.01));
    }
}
