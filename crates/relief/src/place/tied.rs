//! The place that a mark's ties ask for.

use super::extents;
use crate::{ReliefError, lie::Lie, seat::Seat};
use glam::DVec2;
use lettering::Lettered;
use trade::{Baseline, BoxSide, Extents, Mark, Tie};

/// Ties are kept to this, mm.
const TIED_TO: f64 = 1e-8;

/// What ties ask for: the mark's place on the grid, the coordinates of what is tied, the box's extents.
pub(super) struct Tied {
    pub(super) grid: DVec2,
    pub(super) held: DVec2,
    pub(super) low: DVec2,
    pub(super) high: DVec2,
}

/// The mark's place that its ties ask for, by moving it until they hold.
pub(super) fn tied(mark: &Mark, seat: &Seat, lettered: &Lettered) -> Result<Tied, ReliefError> {
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
