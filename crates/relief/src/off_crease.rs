//! What keeps off the creases of its seat is built as if there were none.

use crate::seat::Seat;
use flat::{Region, offset::swept, overlay::common};
use glam::DVec2;
use trade::{MeasuredAt, Relief, Walls};

/// What relief keeps clear of a crease beside its walls, mm: also less than what a drawing would carry.
const CLEAR: f64 = 0.01;
/// No wall along the pull is built that leans by more: 60°.
const STEEP: f64 = 1.74;

/// How far relief reaches along the strip past its outline, mm: walls lean by their draft, and what rounds their wide end goes
/// on.
pub(crate) fn past(relief: &Relief) -> f64 {
    let lean = match (relief.walls, relief.measured_at) {
        (Walls::Pull, _) => STEEP,
        (Walls::Seat, MeasuredAt::Top) => relief.draft.to_radians().tan(),
        (Walls::Seat, MeasuredAt::Root) => 0.0,
    };
    let round = if relief.sense.sinks() { relief.edge } else { relief.root };
    CLEAR + lean * relief.height + round
}

/// Where relief that keeps off the seat's creases must not lie, of what lies within `about` mm of two corners of the strip;
/// `None` where there is no crease.
pub(crate) fn band(seat: &Seat, relief: &Relief, (low, high): (DVec2, DVec2), about: f64) -> Option<Region> {
    let (_, ridge) = seat.chart.clone().beside_creases()?;
    // over a crease that turns by δ its two sides meet height · tan(δ/2) beside it
    let reach = past(relief) + ridge * (seat.level.abs() + relief.height);
    let creases = seat.chart.creases(low - reach - about, high + reach + about);
    let lines: Vec<Vec<DVec2>> = creases.into_iter().map(|edge| edge.to_vec()).collect();
    (!lines.is_empty()).then(|| swept(&lines, 2.0 * reach))
}

/// Does relief on this outline cross a crease of its seat?
pub(crate) fn is_over(seat: &Seat, relief: &Relief, region: &Region) -> bool {
    let band = region.bounds().and_then(|bounds| band(seat, relief, bounds, 0.0));
    band.is_some_and(|band| common(region, &band).area() > 0.0)
}

/// The seat as it is beside its creases; `None` where it has none.
pub(crate) fn beside(seat: &Seat) -> Option<Seat> {
    let (chart, _) = seat.chart.clone().beside_creases()?;
    Some(Seat { chart, ..seat.clone() })
}

/// The seat without its creases for relief that crosses none; `None` where it crosses one, or the seat has none.
pub(crate) fn without_creases(seat: &Seat, relief: &Relief, region: &Region) -> Option<Seat> {
    beside(seat).filter(|_| !is_over(seat, relief, region))
}
