//! What fills the pockets of an inlay.

use super::{CharacterBody, build};
use crate::{ReliefError, seat::Seat};
use flat::Region;
use flat::offset::grown;
use glam::DVec3;
use trade::{MeasuredAt, Relief, Sense};

/// What fills the pocket of one character of an inlay, flush with the seat: bodies whose walls and floor
/// lie the gap off those of the pocket.
///
/// # Errors
/// As for [`bodies`]; a gap that leaves nothing of a stroke.
pub fn fillings(
    seat: &Seat,
    relief: &Relief,
    pull: Option<DVec3>,
    character: u32,
    text: &str,
    region: &Region,
) -> Result<Vec<CharacterBody>, ReliefError> {
    let (gap, alpha) = (relief.gap, relief.draft.to_radians());
    // the gap is square to the wall; the filling's floor lies where the pocket is wider by gap · tan α
    let by = match relief.measured_at {
        MeasuredAt::Top => gap * alpha.tan() - gap / alpha.cos(),
        MeasuredAt::Root => -gap / alpha.cos(),
    };
    let inner = if gap > 0.0 { grown(region, by) } else { region.clone() };
    let same = |a: &Region, b: &Region| a.islands.len() == b.islands.len() && a.counters() == b.counters();
    if !same(&inner, region) {
        return Err(ReliefError::NoFilling { character: text.to_owned(), gap });
    }
    let height = relief.height - gap;
    let relief =
        Relief { sense: Sense::Sunken, height, edge: 0.0, root: (relief.root - gap).clamp(0.0, height), ..*relief };
    build(seat, &relief, true, 0.0, pull, character, text, &inner)
}
