//! Marks that go right through: how deep that is.

use crate::steps::Steps;
use relief::{PlacedMark, Seat};
use trade::{Mark, PadForm};

/// Past the other side, mm.
const PAST: f64 = 0.2;
/// The thickest wall that is cut through, mm.
const MOST: f64 = 50.0;

/// The mark, with the depth that it takes where it goes through: the thickest wall under it.
///
/// # Errors
/// There is no wall under it, or one that is too thick.
pub(crate) fn deep(steps: &impl Steps, mark: &Mark, seat: &Seat, placed: &PlacedMark) -> Result<Mark, String> {
    if !mark.relief.through {
        return Ok(mark.clone());
    }
    let mut thickest: f64 = 0.0;
    let rings = placed.characters.iter().flat_map(|c| c.region.contours());
    for &at in rings.flat_map(|ring| ring.iter().step_by(ring.len().div_ceil(40))) {
        let inward = -seat.chart.normal(at);
        let from = seat.chart.point(at, 0.0) + inward * (seat.facet_error + 1e-3);
        if let Some(hit) = steps.queries().first_hit(from, inward, 1e-4, f64::MAX, |_| true) {
            thickest = thickest.max(hit.distance);
        }
    }
    let raised_pad = mark.relief.pad.filter(|p| p.form == PadForm::Raised).map_or(0.0, |p| p.height);
    let deep = thickest + raised_pad + PAST + 2.0 * seat.facet_error;
    if thickest == 0.0 || deep > MOST {
        return Err(format!(
            "it is to go through, and the wall under it is {thickest:.1} mm thick; at most {MOST} mm are cut through"
        ));
    }
    let mut mark = mark.clone();
    mark.relief.height = deep;
    Ok(mark)
}
