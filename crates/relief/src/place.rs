//! A mark's text laid on its strip: ties to the seat's edges resolved, each character in place.

use crate::{ReliefError, seat::Seat};
use glam::DVec2;
use lettering::{Region, set};
use trade::{Mark, Tie};

/// A mark on its strip. The box is the text's (ink width, capitals' height), turned with it.
#[derive(Clone, Debug, PartialEq)]
pub struct PlacedMark {
    pub characters: Vec<PlacedCharacter>,
    /// Corners of the box on the strip: lower left, lower right, upper right, upper left.
    pub corners: [DVec2; 4],
    /// Middle of the box.
    pub middle: DVec2,
    /// Unit vector of the reading direction on the strip.
    pub along: DVec2,
}

#[derive(Clone, Debug, PartialEq)]
pub struct PlacedCharacter {
    pub text: String,
    pub line: usize,
    /// Outline at the held level, strip coordinates.
    pub region: Region,
}

impl PlacedMark {
    /// Clear distances from the seat's start and end edges to the extents of the box: left, right,
    /// below, above.
    #[must_use]
    pub fn margins(&self, seat: &Seat) -> [f64; 4] {
        let (low, high) = extents(&self.corners);
        [low.x - seat.start.x, seat.end.x - high.x, low.y - seat.start.y, seat.end.y - high.y]
    }
}

fn extents(corners: &[DVec2; 4]) -> (DVec2, DVec2) {
    corners.iter().fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), &c| (low.min(c), high.max(c)))
}

/// `mark`'s text set and placed on `seat`.
///
/// # Errors
/// The lettering can't be set, or none of it lies on the face.
pub fn place(mark: &Mark, seat: &Seat) -> Result<PlacedMark, ReliefError> {
    let lettered = set(&mark.text, &mark.lettering)?;
    let along = DVec2::from_angle(mark.place.turn.to_radians());
    let half = lettered.size / 2.0;
    let turned = |p: DVec2| along.rotate(p - half);
    let about =
        [DVec2::ZERO, DVec2::new(lettered.size.x, 0.0), lettered.size, DVec2::new(0.0, lettered.size.y)].map(turned);
    let (low, high) = extents(&about);
    let resolve = |tie: Tie, k: usize| match tie {
        Tie::Middle => (seat.start[k] + seat.end[k]) / 2.0 - (low[k] + high[k]) / 2.0,
        Tie::FromStart { distance } => seat.start[k] + distance - low[k],
        Tie::FromEnd { distance } => seat.end[k] - distance - high[k],
        Tie::At { position } => position,
    };
    let mut middle = DVec2::new(resolve(mark.place.along, 0), resolve(mark.place.up, 1));
    // a face with edges lies on one turn of the strip; on one that goes once round every turn is good
    let (closed, own) = (seat.closed(), seat.own_turn(middle));
    for k in 0..2 {
        if !closed[k] {
            middle[k] = own[k];
        }
    }
    let placed = PlacedMark {
        characters: lettered
            .characters
            .into_iter()
            .map(|c| PlacedCharacter { text: c.text, line: c.line, region: c.region.mapped(|p| middle + turned(p)) })
            .collect(),
        corners: about.map(|c| c + middle),
        middle,
        along,
    };
    let touches =
        placed.characters.iter().any(|c| c.region.islands.iter().flat_map(|i| &i.outer).any(|&p| seat.covers(p)));
    if !touches {
        return Err(ReliefError::OffSeat { text: mark.text.clone() });
    }
    let period = seat.chart.period();
    let (low, high) = extents(&placed.corners);
    if (0..2).any(|k| high[k] - low[k] > 0.98 * period[k]) {
        let character = placed.characters.last().map(|c| c.text.clone()).unwrap_or_default();
        return Err(ReliefError::RoundAndRound { character });
    }
    Ok(placed)
}
