//! A mark's text laid on its strip: ties to the seat's edges resolved, each character in place.

use crate::{
    ReliefError,
    body::SAG,
    cap, edge,
    lie::{Lie, Stretch, standing},
    seat::Seat,
};
use glam::{DVec2, DVec3};
use lettering::{Island, Lettered, Region, drawn};
use std::f64::consts::FRAC_PI_2;
use trade::{Baseline, BoxSide, Extents, Field, Mark, Place, Sense, Tie};

/// Ties are kept to this, mm.
const TIED_TO: f64 = 1e-8;
/// A lay that stretches more than this, or less than one that it is the inverse of, is refused.
const MOST_STRETCH: f64 = 1.0;

/// A mark on its strip. The box is the text's (ink width, capitals' height), turned and bent with it.
#[derive(Clone, Debug, PartialEq)]
pub struct PlacedMark {
    pub characters: Vec<PlacedCharacter>,
    /// The field of its plate.
    pub plate: Option<Region>,
    /// What it keeps free for later.
    pub fields: Vec<Region>,
    /// The box on the strip, counter-clockwise, from its lower left corner; four corners where it is
    /// straight.
    pub outline: Vec<DVec2>,
    /// What the place is that of: the middle of the box, or of the circle that the text stands on.
    pub anchor: DVec2,
    /// Grid coordinates of what is tied, and the extents of the box that its sides are those of.
    pub held: DVec2,
    pub low: DVec2,
    pub high: DVec2,
    /// Middle of the box.
    pub middle: DVec2,
    /// Unit vector of the reading direction there on the strip.
    pub along: DVec2,
    /// The greatest over all characters.
    pub stretch: Stretch,
    /// What the lettering was set with, where a length was to be fitted.
    pub cap_height: f64,
    pub width: f64,
    pub spacing: f64,
    /// Of the longest line's ink, mm, and from the lowest baseline to the top of the capitals.
    pub length: f64,
    pub height: f64,
}

#[derive(Clone, Debug, PartialEq)]
pub struct PlacedCharacter {
    /// Which one of the text it is, from 0, blanks not counted.
    pub at: u32,
    pub text: String,
    pub line: usize,
    /// Outline at the held level, strip coordinates.
    pub region: Region,
    /// The middle of its extents on the strip, and the reading direction there: a unit vector in the
    /// flat frame that [`crate::Chart::unroll`] makes about it.
    pub middle: DVec2,
    pub along: DVec2,
    /// It belongs to the core of a dial.
    pub core: bool,
}

impl PlacedMark {
    /// Clear distances from the seat's start and end edges to the extents of the box, on the grid: left,
    /// right, below, above.
    #[must_use]
    pub fn margins(&self, seat: &Seat) -> [f64; 4] {
        let (low, high) = extents(seat, &self.outline, self.anchor);
        [low.x - seat.start.x, seat.end.x - high.x, low.y - seat.start.y, seat.end.y - high.y]
    }
}

/// Least and greatest grid coordinates of a ring of the strip, on the turn of the place `near`.
fn extents(seat: &Seat, ring: &[DVec2], near: DVec2) -> (DVec2, DVec2) {
    let mut last = seat.chart.grid(near);
    ring.iter().fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), &p| {
        last = crate::chart::shifted_to(seat.chart.grid(p), last, seat.chart.period());
        (low.min(last), high.max(last))
    })
}

/// What ties ask for: the mark's place on the grid, the coordinates of what is tied, the box's extents.
struct Tied {
    grid: DVec2,
    held: DVec2,
    low: DVec2,
    high: DVec2,
}

/// The mark's place that its ties ask for, by moving it until they hold.
fn tied(mark: &Mark, seat: &Seat, lettered: &Lettered) -> Result<Tied, ReliefError> {
    let place = &mark.place;
    let closed = seat.closed();
    let circle = matches!(place.baseline, Baseline::Arc { .. });
    let ties = [&place.along, &place.up];
    let sides = [place.anchor.along, place.anchor.up];
    let ink = || {
        let bounds = lettered.characters.iter().filter_map(|c| c.region.bounds());
        bounds.reduce(|(low, high), (l, h)| (low.min(l), high.max(h)))
    };
    let text_box = match place.anchor.of {
        Extents::Capitals => None,
        Extents::Ink => ink(),
    };
    let (from, to) = text_box.unwrap_or((DVec2::ZERO, lettered.size));
    let mut grid = (seat.start + seat.end) / 2.0;
    for (k, tie) in ties.into_iter().enumerate() {
        match tie {
            Tie::At { position } | Tie::Between { near: position } => grid[k] = *position,
            Tie::FromStart { .. } | Tie::FromEnd { .. } if closed[k] => {
                return Err(ReliefError::NoEdgeThere(if k == 0 { "along" } else { "upward" }));
            }
            Tie::Point { .. } | Tie::Mark { .. } => return Err(ReliefError::Unsettled),
            Tie::Middle | Tie::FromStart { .. } | Tie::FromEnd { .. } => {}
        }
    }
    // a face with edges lies on one turn of the strip; on one that goes once round every turn is good
    let own = seat.chart.grid(seat.own_turn(seat.chart.off_grid(grid)));
    for k in 0..2 {
        if !closed[k] {
            grid[k] = own[k];
        }
    }
    let aim = grid;
    let mut tied = Tied { grid, held: grid, low: grid, high: grid };
    for _ in 0..40 {
        let anchor = seat.chart.off_grid(tied.grid);
        let lie = Lie::new(place, seat, lettered, anchor)?;
        let Some(outline) = lie.frame(from, to) else { return Err(ReliefError::DropMisses) };
        let near = lie.middle().map_or(anchor, |(middle, _)| middle);
        (tied.low, tied.high) = extents(seat, &outline, near);
        let (low, high) = (tied.low, tied.high);
        let mut miss = DVec2::ZERO;
        for k in 0..2 {
            let free = matches!(ties[k], Tie::At { .. });
            let side = sides[k].unwrap_or(match ties[k] {
                Tie::FromStart { .. } => BoxSide::Start,
                Tie::FromEnd { .. } => BoxSide::End,
                _ => BoxSide::Middle,
            });
            tied.held[k] = match side {
                BoxSide::Start => low[k],
                BoxSide::End => high[k],
                BoxSide::Middle if circle || (free && text_box.is_none()) => tied.grid[k],
                BoxSide::Middle => (low[k] + high[k]) / 2.0,
            };
            let wanted = match ties[k] {
                Tie::Between { .. } => {
                    let (start, end) = seat.free(k, low, high, aim[k]);
                    (start + end) / 2.0
                }
                Tie::FromStart { distance } => seat.start[k] + distance,
                Tie::FromEnd { distance } => seat.end[k] - distance,
                Tie::At { .. } => aim[k],
                _ => (seat.start[k] + seat.end[k]) / 2.0,
            };
            miss[k] = wanted - tied.held[k];
        }
        // beside an edge the edge alone says where
        if matches!(place.baseline, Baseline::Edge { .. }) || miss.abs().max_element() < TIED_TO {
            break;
        }
        tied.grid += miss;
    }
    Ok(tied)
}

/// `mark`'s text set and placed on `seat`.
///
/// # Errors
/// The lettering can't be set, none of it lies on the face, or the lay asks for what the seat can't give.
pub fn place(mark: &Mark, seat: &Seat) -> Result<PlacedMark, ReliefError> {
    let mut lettered = drawn(mark)?;
    let Tied { grid, held, low, high } = tied(mark, seat, &lettered)?;
    let mut anchor = seat.chart.off_grid(grid);
    let lie = Lie::new(&mark.place, seat, &lettered, anchor)?;
    let outline = lie.outline().ok_or(ReliefError::DropMisses)?;
    let (middle, along) = lie.middle().ok_or(ReliefError::DropMisses)?;
    if matches!(mark.place.baseline, Baseline::Edge { .. }) {
        anchor = middle;
    }
    let stamp = mark.relief.sense == Sense::Stamp;
    let field = if stamp || mark.relief.plate.is_some() {
        Some(field(mark, &lettered, &lie).ok_or(ReliefError::DropMisses)?)
    } else {
        None
    };
    let mut stretch = Stretch { at: middle, ..Stretch::default() };
    let mut characters = Vec::with_capacity(lettered.characters.len());
    if let (true, Some(region)) = (stamp, &field) {
        // what will be struck there lies nowhere yet
        let (text, region) = (mark.text.replace('\n', " / "), region.clone());
        characters.push(PlacedCharacter { at: 0, text, line: 0, region, middle, along, core: false });
        lettered.characters.clear();
    }
    for c in std::mem::take(&mut lettered.characters) {
        let Some((low, high)) = c.region.bounds() else { continue };
        let mid = (low + high) / 2.0;
        let own = if lettered.whole { lettered.size.x / 2.0 } else { mid.x };
        let lost = || match mark.place.lay {
            trade::Lay::Rolled => ReliefError::Stretched { character: c.text.clone() },
            _ => ReliefError::DropMisses,
        };
        for p in [mid, low, high, DVec2::new(low.x, high.y), DVec2::new(high.x, low.y)] {
            let found = lie.stretch(p, own).ok_or_else(lost)?;
            if found.scale > MOST_STRETCH || found.scale < -MOST_STRETCH / (1.0 + MOST_STRETCH) {
                return Err(ReliefError::Stretched { character: c.text });
            }
            stretch.shear_deg = stretch.shear_deg.max(found.shear_deg);
            if found.scale.abs() > stretch.scale.abs() {
                (stretch.scale, stretch.at) = (found.scale, found.at);
            }
        }
        let region = laid(&lie, &c.region, own).ok_or_else(lost)?;
        let middle = lie.strip(mid, own).ok_or_else(lost)?;
        let along = DVec2::from_angle(c.turn).rotate(lie.reading(mid, own).ok_or_else(lost)?);
        let (at, text, line, core) = (c.at, c.text, c.line, c.core);
        characters.push(PlacedCharacter { at, text, line, region, middle, along, core });
    }
    let own = lettered.size.x / 2.0;
    let fields: Option<Vec<Region>> = lettered.fields.iter().map(|field| laid(&lie, field, own)).collect();
    let fields = fields.ok_or(ReliefError::DropMisses)?;
    let plate = field.filter(|_| !stamp);
    let Lettered { cap_height, width, spacing, size, .. } = lettered;
    let (length, height) = (size.x, size.y);
    let placed = PlacedMark {
        characters,
        plate,
        fields,
        outline,
        anchor,
        held,
        low,
        high,
        middle,
        along,
        stretch,
        cap_height,
        width,
        spacing,
        length,
        height,
    };
    let touches =
        placed.characters.iter().any(|c| c.region.islands.iter().flat_map(|i| &i.outer).any(|&p| seat.covers(p)));
    if !touches {
        return Err(ReliefError::OffSeat { text: mark.text.clone() });
    }
    let period = seat.chart.period();
    let letters = placed.characters.iter().map(|c| (c.text.as_str(), &c.region));
    let field = mark.relief.plate.zip(placed.plate.as_ref()).map(|(plate, region)| (plate.form.word(), region));
    for (what, region) in letters.chain(field) {
        let Some((low, high)) = region.bounds() else { continue };
        if cap::too_fine(low, high, seat.chart.step_over(low, high, mark.relief.height, SAG)) {
            return Err(ReliefError::TooLarge { what: what.to_owned() });
        }
    }
    let widest = placed.plate.as_ref().map_or(&placed.outline, |p| &p.islands[0].outer);
    let (low, high) = extents(seat, widest, anchor);
    if (0..2).any(|k| high[k] - low[k] > 0.98 * period[k]) {
        let character = placed.characters.last().map(|c| c.text.clone()).unwrap_or_default();
        return Err(ReliefError::RoundAndRound { character });
    }
    Ok(placed)
}

/// A region of the text on the strip, for a letter whose middle lies at `own`.
fn laid(lie: &Lie<'_>, region: &Region, own: f64) -> Option<Region> {
    let contour = |ring: &Vec<DVec2>| lie.contour(ring, own);
    let island = |i: &Island| {
        let counters = i.counters.iter().map(contour).collect::<Option<_>>()?;
        Some(Island { outer: contour(&i.outer)?, counters })
    };
    Some(Region { islands: region.islands.iter().map(island).collect::<Option<_>>()? })
}

/// The field round a mark's letters on the strip: their box, grown by the margin, with round corners; round a
/// round figure it is a circle.
fn field(mark: &Mark, lettered: &Lettered, lie: &Lie<'_>) -> Option<Region> {
    /// Round corners are flattened to this, mm.
    const FLAT: f64 = 0.002;
    let Field { margin, corner } = mark.relief.field;
    let (mut low, mut high) = (DVec2::ZERO, lettered.size);
    for (l, h) in lettered.characters.iter().filter_map(|c| c.region.bounds()) {
        (low, high) = (low.min(l), high.max(h));
    }
    (low, high) = (low - DVec2::splat(margin), high + DVec2::splat(margin));
    let half = (high - low).min_element() / 2.0;
    let corner = if lettered.round { half } else { corner.min(half) };
    let pieces = if corner < FLAT { 0 } else { (FRAC_PI_2 / (2.0 * (1.0 - FLAT / corner).acos())).ceil() as u32 };
    let mut contour: Vec<DVec2> = Vec::new();
    for (k, at) in [DVec2::new(high.x, low.y), high, DVec2::new(low.x, high.y), low].into_iter().enumerate() {
        let inward = DVec2::new((low.x + high.x - 2.0 * at.x).signum(), (low.y + high.y - 2.0 * at.y).signum());
        let middle = at + inward * corner;
        for i in 0..=pieces {
            let turn = (k as f64 - 1.0) * FRAC_PI_2 + FRAC_PI_2 * f64::from(i) / f64::from(pieces.max(1));
            let p = if pieces == 0 { at } else { middle + DVec2::from_angle(turn) * corner };
            // sides that the corners use up whole
            if contour.last().is_none_or(|last| last.distance(p) > 1e-9) {
                contour.push(p);
            }
        }
    }
    if contour.len() > 1 && contour[0].distance(contour[contour.len() - 1]) < 1e-9 {
        contour.pop();
    }
    let outer = lie.field(&contour)?;
    Some(Region { islands: vec![Island { outer, counters: Vec::new() }] })
}

/// The mark's place once the middle of its box is carried to a place of the strip: distances stay distances.
#[must_use]
pub fn carried(place: &Place, placed: &PlacedMark, seat: &Seat, to: DVec2) -> Place {
    let chart = &seat.chart;
    let to = chart.turned_to(to, placed.middle);
    if let Baseline::Edge { .. } = place.baseline {
        return beside(place, placed, seat, to);
    }
    let there = chart.turned_to(placed.anchor + (to - placed.middle), placed.anchor);
    let (was, is) = (chart.grid(placed.anchor), chart.grid(there));
    shifted(place, placed, seat, crate::chart::shifted_to(is, was, chart.period()) - was)
}

/// The mark's place `by` mm on from where it is, on the grid; beside an edge, along it and away from it.
/// Distances stay distances.
#[must_use]
pub fn shifted(place: &Place, placed: &PlacedMark, seat: &Seat, by: DVec2) -> Place {
    if let Baseline::Edge { near, gap, turned, .. } = place.baseline {
        let mut place = place.clone();
        let tall = placed.height;
        if let (Baseline::Edge { gap, share, .. }, Ok(line)) =
            (&mut place.baseline, edge::beside(seat, near.into(), gap, tall, turned))
        {
            *share = rounded(*share + 100.0 * by.x / line.length(), 4).rem_euclid(100.0);
            *gap = rounded(*gap + by.y, 2);
        }
        return place;
    }
    let tie = |tie: &Tie, k: usize| match tie.clone() {
        tie if by[k].abs() < 1e-6 => tie,
        Tie::FromStart { distance } => Tie::FromStart { distance: rounded(distance + by[k], 2) },
        Tie::FromEnd { distance } => Tie::FromEnd { distance: rounded(distance - by[k], 2) },
        Tie::Point { point, distance } => Tie::Point { point, distance: rounded(distance + by[k], 2) },
        Tie::Mark { id, side, distance } => Tie::Mark { id, side, distance: rounded(distance + by[k], 2) },
        Tie::Middle | Tie::Between { .. } | Tie::At { .. } => Tie::At { position: rounded(placed.held[k] + by[k], 2) },
    };
    Place { along: tie(&place.along, 0), up: tie(&place.up, 1), ..place.clone() }
}

fn rounded(v: f64, places: i32) -> f64 {
    let tenth = 10_f64.powi(places);
    (v * tenth).round() / tenth
}

/// The place beside the same edge that carries the middle of the box nearest to a place of the strip.
fn beside(place: &Place, placed: &PlacedMark, seat: &Seat, to: DVec2) -> Place {
    let mut place = place.clone();
    let Baseline::Edge { near, gap, share, stands, turned, .. } = &mut place.baseline else { return place };
    let tall = placed.height;
    let line = |gap: f64| edge::beside(seat, (*near).into(), gap, tall, *turned);
    // away from the edge: from its foot on the edge itself to the box's middle, less half the box
    let Ok(rim) = edge::beside(seat, (*near).into(), 0.0, 0.0, *turned) else { return place };
    let (foot, ahead) = rim.foot(rim.nearest(seat, to));
    let way = seat.chart.unroll(foot, ahead).normalize_or(DVec2::X);
    let off = seat.chart.unroll(foot, seat.chart.turned_to(to, foot)).dot(way.perp());
    // read from the other side the seat lies to the right
    let was = seat.chart.unroll(foot, seat.chart.turned_to(placed.middle, foot)).dot(way.perp());
    let clear = rounded(off * was.signum() - tall / 2.0, 2);
    let Ok(found) = line(clear).or_else(|_| line(*gap)) else { return place };
    if line(clear).is_ok() {
        *gap = clear;
    }
    let middle = found.nearest(seat, to);
    let begin = middle - placed.length / 2.0 + standing(*stands, placed.length);
    *share = rounded(100.0 * begin / found.length(), 4).clamp(0.0, 100.0);
    place
}

/// The mark's place with the middle of its box at a point of space, to 0.01 mm.
#[must_use]
pub fn put_down(mark: &Mark, seat: &Seat, point: DVec3) -> Place {
    let at = seat.strip(point);
    let round = |v: f64| Tie::At { position: rounded(v, 2) };
    let grid = seat.chart.grid(at);
    let mut place = mark.place.clone();
    match &mut place.baseline {
        Baseline::Edge { near, .. } => {
            // an edge of another seat is no edge of this one
            let own = DVec3::from(*near);
            let far = seat.edges.iter().map(|[a, b]| segment_distance(own, *a, *b)).fold(f64::INFINITY, f64::min);
            if far > 1.0 {
                *near = point.to_array();
            }
        }
        _ => {
            place.along = round(grid.x);
            place.up = round(grid.y);
        }
    }
    // what stands on a circle or beside an edge has its place elsewhere than in its middle, and so has what is
    // tied at a side
    match self::place(&Mark { place: place.clone(), ..mark.clone() }, seat) {
        Ok(placed) if placed.held.distance(grid) > 1e-6 || placed.middle.distance(at) > 1e-6 => {
            carried(&place, &placed, seat, at)
        }
        _ => place,
    }
}

fn segment_distance(p: DVec3, a: DVec3, b: DVec3) -> f64 {
    let way = b - a;
    let share = ((p - a).dot(way) / way.length_squared().max(f64::MIN_POSITIVE)).clamp(0.0, 1.0);
    p.distance(a + way * share)
}
