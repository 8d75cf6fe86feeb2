//! The body of a mark's pad.

use super::{CharacterBody, build};
use crate::{ReliefError, seat::Seat};
use flat::Region;
use glam::DVec3;
use trade::{Pad, PadForm, Relief, Sense, Walls};

/// The number of a mark's pad among its characters.
pub const PAD: u32 = u32::MAX;

/// The body of a mark's pad: what is added for a raised pad, cut away for a recessed pad. `region` is its top or floor.
///
/// # Errors
/// Walls that can't be built there, or that meet.
pub fn pad(
    seat: &Seat,
    pad: &Pad,
    walls: Walls,
    pull: Option<DVec3>,
    region: &Region,
) -> Result<CharacterBody, ReliefError> {
    let sense = match pad.form {
        PadForm::Raised => Sense::Raised,
        PadForm::Recessed => Sense::Sunken,
    };
    let relief = Relief { sense, height: pad.height, draft: pad.draft, walls, ..Relief::default() };
    let word = pad.form.word();
    let built = build(seat, &relief, seat.surface_body, pad.clears, pull, PAD, word, region).map_err(|e| match e {
        ReliefError::AlongPull { .. }
        | ReliefError::WallsMeet { .. }
        | ReliefError::Crosses { .. }
        | ReliefError::SeatBends { .. } => ReliefError::Pad { pad: word },
        other => other,
    })?;
    built.into_iter().next().ok_or(ReliefError::Pad { pad: word })
}
