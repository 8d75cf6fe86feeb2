//! The body of a mark's plate.

use super::{CharacterBody, build};
use crate::{ReliefError, seat::Seat};
use flat::Region;
use glam::DVec3;
use trade::{Plate, PlateForm, Relief, Sense, Walls};

/// The number of a mark's plate among its characters.
pub const PLATE: u32 = u32::MAX;

/// The body of a mark's plate: what is added for a plinth, cut away for a tray. `region` is its land or floor.
///
/// # Errors
/// Walls that can't be built there, or that meet.
pub fn plate(
    seat: &Seat,
    plate: &Plate,
    walls: Walls,
    pull: Option<DVec3>,
    region: &Region,
) -> Result<CharacterBody, ReliefError> {
    let sense = match plate.form {
        PlateForm::Plinth => Sense::Raised,
        PlateForm::Tray => Sense::Sunken,
    };
    let relief = Relief { sense, height: plate.height, draft: plate.draft, walls, ..Relief::default() };
    let word = plate.form.word();
    let built = build(seat, &relief, seat.sheet, plate.clears, pull, PLATE, word, region).map_err(|e| match e {
        ReliefError::AlongPull { .. } | ReliefError::WallsMeet { .. } => ReliefError::Plate { plate: word },
        other => other,
    })?;
    built.into_iter().next().ok_or(ReliefError::Plate { plate: word })
}
