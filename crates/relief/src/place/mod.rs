//! A mark's text laid on its strip: ties to the seat's edges resolved, each character in place.

mod carried;
mod creases;
mod field;
mod runs_out;
mod sphere;
mod tied;

use crate::{
    ReliefError,
    body::SAG,
    cap,
    chart::Rings,
    lie::{Lie, Stretch},
    seat::Seat,
};
pub use carried::{carried, put_down, shifted};
pub use creases::{off_creases, over_creases};
use field::field;
use flat::{Island, Region, contains};
use glam::DVec2;
use lettering::{Character, Lettered, drawn};
use solid::Surface;
pub use sphere::{Globe, upright};
use std::sync::Arc;
use tied::{Tied, tied};
use trade::{Baseline, Mark, Sense};

/// A placement that stretches more than this, or less than one that it is the inverse of, is refused.
const MOST_STRETCH: f64 = 1.0;

/// A mark on its strip. The box is the text's (ink width, capitals' height), turned and bent with it.
#[derive(Clone, Debug, PartialEq)]
pub struct PlacedMark {
    pub characters: Vec<PlacedCharacter>,
    /// The field of its pad.
    pub pad: Option<Region>,
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
    /// Turned by itself, radians counter-clockwise.
    pub turn: f64,
    /// Where its face has capitals stand and end, mm up from the middle; infinite where it has no such lines.
    pub capitals: [f64; 2],
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

/// `mark`'s text set and placed on `seat`.
///
/// # Errors
/// The lettering can't be set, none of it lies on the face, or the placement asks for what the seat can't give.
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
    let field = if stamp || mark.relief.pad.is_some() {
        Some(field(mark, &lettered, &lie).ok_or(ReliefError::DropMisses)?)
    } else {
        None
    };
    let mut stretch = Stretch { at: middle, ..Stretch::default() };
    let mut characters = Vec::with_capacity(lettered.characters.len());
    if let (true, Some(region)) = (stamp, &field) {
        // what will be struck there lies nowhere yet
        let (text, region) = (mark.text.replace('\n', " / "), region.clone());
        let capitals = [f64::NEG_INFINITY, f64::INFINITY];
        let stamp = PlacedCharacter { at: 0, text, line: 0, region, middle, along, turn: 0.0, capitals, core: false };
        characters.push(stamp);
        lettered.characters.clear();
    }
    for c in std::mem::take(&mut lettered.characters) {
        let Some((low, high)) = c.region.bounds() else { continue };
        let mid = (low + high) / 2.0;
        let own = if lettered.whole { lettered.size.x / 2.0 } else { mid.x };
        let lost = || match mark.place.placement {
            trade::Placement::Wrapped => ReliefError::Stretched { character: c.text.clone() },
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
        // as the letter itself lies there
        let up = DVec2::from_angle(c.turn).perp();
        let laid_line = |line: f64| {
            let there = line.is_finite().then(|| lie.strip(mid + up * line, own)).flatten();
            there.map_or(line, |at| seat.chart.unroll(middle, at).dot(along.perp()))
        };
        let Character { at, text, line, turn, core, .. } = c;
        let capitals = c.capitals.map(laid_line);
        characters.push(PlacedCharacter { at, text, line, region, middle, along, turn, capitals, core });
    }
    let own = lettered.size.x / 2.0;
    if mark.relief.runs_out {
        runs_out::ended(mark, seat, &mut characters);
    }
    let fields: Option<Vec<Region>> = lettered.fields.iter().map(|field| laid(&lie, field, own)).collect();
    let fields = fields.ok_or(ReliefError::DropMisses)?;
    let pad = field.filter(|_| !stamp);
    let Lettered { cap_height, width, spacing, size, .. } = lettered;
    let (length, height) = (size.x, size.y);
    let placed = PlacedMark {
        characters,
        pad,
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
    if let (Surface::Cone { .. }, Rings::Round(tip)) = (&seat.surface, seat.chart.rings()) {
        let over = |c: &&PlacedCharacter| {
            let near = |ring: &Vec<DVec2>| ring.iter().any(|p| p.distance(tip) < mark.relief.height);
            c.region.contours().any(near) || c.region.islands.iter().any(|i| contains(&i.outer, tip))
        };
        // of a face that ends before its tip it hangs over the edge
        let reaches = seat.covers(tip + 0.1 * (placed.middle - tip).normalize_or(DVec2::X));
        if let Some(c) = placed.characters.iter().find(over).filter(|_| reaches) {
            return Err(ReliefError::OnTip { character: c.text.clone() });
        }
    }
    let period = seat.chart.period();
    let letters = placed.characters.iter().map(|c| (c.text.as_str(), &c.region));
    let field = mark.relief.pad.zip(placed.pad.as_ref()).map(|(pad, region)| (pad.form.word(), region));
    for (what, region) in letters.chain(field) {
        let Some((low, high)) = region.bounds() else { continue };
        if cap::too_fine(low, high, seat.chart.step_over(low, high, mark.relief.height, SAG)) {
            return Err(ReliefError::TooLarge { what: what.to_owned() });
        }
    }
    let widest = placed.pad.as_ref().map_or(&placed.outline, |p| &p.islands[0].outer);
    let (low, high) = extents(seat, widest, anchor);
    if (0..2).any(|k| high[k] - low[k] > 0.98 * period[k]) {
        let character = placed.characters.last().map(|c| c.text.clone()).unwrap_or_default();
        return Err(ReliefError::RoundAndRound { character });
    }
    Ok(placed)
}

/// The seat on which lengths are nearest to true about a mark, and the mark placed on it: its edges and ties are the
/// seat's, which is the grid of the other. The same seat and place where its strip is as true as any, or where the mark
/// finds no place on the other.
#[must_use]
pub fn about(mark: &Mark, seat: Arc<Seat>, placed: PlacedMark) -> (Arc<Seat>, PlacedMark) {
    let letters = placed.characters.iter().map(|c| &c.region);
    let corners = letters.chain(&placed.pad).chain(&placed.fields).filter_map(Region::bounds);
    let corners = corners.flat_map(|(low, high)| [low, high]).chain(placed.outline.iter().copied());
    let (low, high) = corners.fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), p| (low.min(p), high.max(p)));
    let Some(chart) = seat.chart.clone().cut_about(low, high, placed.middle) else { return (seat, placed) };
    let near = Arc::new(Seat { chart, ..(*seat).clone() });
    match place(mark, &near) {
        Ok(there) => (near, there),
        Err(_) => (seat, placed),
    }
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
