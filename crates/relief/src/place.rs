//! A mark's text laid on its strip: ties to the seat's edges resolved, each character in place.

use crate::{
    ReliefError,
    lie::{Lie, Stretch},
    seat::Seat,
};
use glam::{DVec2, DVec3};
use lettering::{Island, Region, set};
use trade::{Baseline, Mark, Place, Tie};

/// Ties are kept to this, mm.
const TIED_TO: f64 = 1e-8;
/// A lay that stretches more than this, or less than one that it is the inverse of, is refused.
const MOST_STRETCH: f64 = 1.0;

/// A mark on its strip. The box is the text's (ink width, capitals' height), turned and bent with it.
#[derive(Clone, Debug, PartialEq)]
pub struct PlacedMark {
    pub characters: Vec<PlacedCharacter>,
    /// The box on the strip, counter-clockwise, from its lower left corner; four corners where it is
    /// straight.
    pub outline: Vec<DVec2>,
    /// What the place is that of: the middle of the box, or of the circle that the text stands on.
    pub anchor: DVec2,
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
    /// Of the longest line's ink, mm.
    pub length: f64,
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

/// The grid coordinates of the mark's place that its ties ask for, by moving it until they hold.
fn tied(mark: &Mark, seat: &Seat, size: DVec2) -> Result<DVec2, ReliefError> {
    let closed = seat.closed();
    let circle = matches!(mark.place.baseline, Baseline::Arc { .. });
    let mut grid = (seat.start + seat.end) / 2.0;
    for (k, tie) in [(0, mark.place.along), (1, mark.place.up)] {
        if let Tie::At { position } = tie {
            grid[k] = position;
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
    for _ in 0..40 {
        let anchor = seat.chart.off_grid(grid);
        let lie = Lie::new(mark.place, seat, size, anchor)?;
        let Some(outline) = lie.outline() else { return Err(ReliefError::DropMisses) };
        let (low, high) = extents(seat, &outline, anchor);
        let resolve = |tie: Tie, k: usize| match tie {
            Tie::Middle if circle => (seat.start[k] + seat.end[k]) / 2.0 - grid[k],
            Tie::Middle => (seat.start[k] + seat.end[k] - low[k] - high[k]) / 2.0,
            Tie::FromStart { distance } => seat.start[k] + distance - low[k],
            Tie::FromEnd { distance } => seat.end[k] - distance - high[k],
            Tie::At { .. } => aim[k] - grid[k],
        };
        let miss = DVec2::new(resolve(mark.place.along, 0), resolve(mark.place.up, 1));
        grid += miss;
        if miss.abs().max_element() < TIED_TO {
            break;
        }
    }
    Ok(grid)
}

/// `mark`'s text set and placed on `seat`.
///
/// # Errors
/// The lettering can't be set, none of it lies on the face, or the lay asks for what the seat can't give.
pub fn place(mark: &Mark, seat: &Seat) -> Result<PlacedMark, ReliefError> {
    let mut lettered = set(&mark.text, &mark.lettering, &mark.letters)?;
    let anchor = seat.chart.off_grid(tied(mark, seat, lettered.size)?);
    let lie = Lie::new(mark.place, seat, lettered.size, anchor)?;
    let outline = lie.outline().ok_or(ReliefError::DropMisses)?;
    let (middle, along) = lie.middle().ok_or(ReliefError::DropMisses)?;
    let mut stretch = Stretch { at: middle, ..Stretch::default() };
    let mut characters = Vec::with_capacity(lettered.characters.len());
    for c in std::mem::take(&mut lettered.characters) {
        let Some((low, high)) = c.region.bounds() else { continue };
        let (mid, own) = ((low + high) / 2.0, (low.x + high.x) / 2.0);
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
        let contour = |ring: &Vec<DVec2>| lie.contour(ring, own);
        let islands: Option<Vec<Island>> = c
            .region
            .islands
            .iter()
            .map(|i| {
                let counters = i.counters.iter().map(contour).collect::<Option<_>>()?;
                Some(Island { outer: contour(&i.outer)?, counters })
            })
            .collect();
        let region = Region { islands: islands.ok_or_else(lost)? };
        let middle = lie.strip(mid, own).ok_or_else(lost)?;
        let along = lie.reading(mid, own).ok_or_else(lost)?;
        characters.push(PlacedCharacter { at: c.at, text: c.text, line: c.line, region, middle, along });
    }
    let lettering::Lettered { cap_height, width, spacing, size, .. } = lettered;
    let length = size.x;
    let placed = PlacedMark { characters, outline, anchor, middle, along, stretch, cap_height, width, spacing, length };
    let touches =
        placed.characters.iter().any(|c| c.region.islands.iter().flat_map(|i| &i.outer).any(|&p| seat.covers(p)));
    if !touches {
        return Err(ReliefError::OffSeat { text: mark.text.clone() });
    }
    let period = seat.chart.period();
    let (low, high) = extents(seat, &placed.outline, anchor);
    if (0..2).any(|k| high[k] - low[k] > 0.98 * period[k]) {
        let character = placed.characters.last().map(|c| c.text.clone()).unwrap_or_default();
        return Err(ReliefError::RoundAndRound { character });
    }
    Ok(placed)
}

/// The mark's place once the middle of its box is carried to a place of the strip: distances stay distances.
#[must_use]
pub fn carried(place: Place, placed: &PlacedMark, seat: &Seat, to: DVec2) -> Place {
    let chart = &seat.chart;
    let to = chart.turned_to(to, placed.middle);
    let there = chart.turned_to(placed.anchor + (to - placed.middle), placed.anchor);
    let (was, is) = (chart.grid(placed.anchor), chart.grid(there));
    shifted(place, placed, seat, crate::chart::shifted_to(is, was, chart.period()) - was)
}

/// The mark's place `by` mm on from where it is, on the grid: distances stay distances.
#[must_use]
pub fn shifted(place: Place, placed: &PlacedMark, seat: &Seat, by: DVec2) -> Place {
    let was = seat.chart.grid(placed.anchor);
    let round = |v: f64| (v * 100.0).round() / 100.0;
    let tie = |tie: Tie, k: usize| match tie {
        tie if by[k].abs() < 1e-6 => tie,
        Tie::FromStart { distance } => Tie::FromStart { distance: round(distance + by[k]) },
        Tie::FromEnd { distance } => Tie::FromEnd { distance: round(distance - by[k]) },
        Tie::Middle | Tie::At { .. } => Tie::At { position: round(was[k] + by[k]) },
    };
    Place { along: tie(place.along, 0), up: tie(place.up, 1), ..place }
}

/// The mark's place with the middle of its box at a point of space, to 0.01 mm.
#[must_use]
pub fn put_down(mark: &Mark, seat: &Seat, point: DVec3) -> Place {
    let at = seat.strip(point);
    let round = |v: f64| Tie::At { position: (v * 100.0).round() / 100.0 };
    let grid = seat.chart.grid(at);
    let place = Place { along: round(grid.x), up: round(grid.y), ..mark.place };
    // what stands on a circle has its place in the circle's middle
    match place.baseline {
        Baseline::Arc { .. } => match self::place(&Mark { place, ..mark.clone() }, seat) {
            Ok(placed) => carried(place, &placed, seat, at),
            Err(_) => place,
        },
        _ => place,
    }
}
