//! Recessed pads among ribs or knurls: how high what stands on their seat is.

use crate::steps::Steps;
use flat::encloses;
use glam::DVec2;
use relief::{PlacedMark, Seat};
use trade::{Mark, PadForm};

/// What stands higher is no texture but another part of the part, and stays; mm.
const MOST: f64 = 5.0;
/// Looked at so far apart, mm, farther on fields of more than `PLACES` places.
const STEP: f64 = 0.25;
const PLACES: f64 = 4_000.0;
/// Cleared so much higher than was seen, mm.
const PAST: f64 = 0.05;

/// The mark, its recessed pad clearing what stands on its field: ribs, knurls, letters of the part. From places of the seat
/// inside the material rays leave it outward.
pub(crate) fn high(steps: &impl Steps, mut mark: Mark, seat: &Seat, placed: &PlacedMark) -> Mark {
    let (Some(pad), Some(field)) = (&mut mark.relief.pad, &placed.pad) else { return mark };
    let Some((low, high)) = field.bounds().filter(|_| pad.form == PadForm::Recessed) else { return mark };
    let size = high - low;
    let step = STEP.max((size.x * size.y / PLACES).sqrt());
    let count = (size / step).ceil().max(DVec2::ONE);
    let mut highest: f64 = 0.0;
    for (i, j) in (0..=count.x as u32).flat_map(|i| (0..=count.y as u32).map(move |j| (i, j))) {
        let at = low + size * DVec2::new(f64::from(i), f64::from(j)) / count;
        if !encloses(field.contours(), at) {
            continue;
        }
        let out = seat.chart.normal(at);
        let from = seat.chart.point(at, seat.facet_error + 1e-3);
        let leaves = |t: u32| steps.part().mesh.normal(t as usize).dot(out) > 0.0;
        // the first surface, whichever way it looks: what hangs over the field in the air is left
        let hit = steps.queries().first_hit(from, out, 0.0, MOST, |_| true);
        if let Some(hit) = hit.filter(|hit| leaves(hit.triangle)) {
            highest = highest.max(hit.distance + PAST);
        }
    }
    pad.clears = pad.clears.max(highest);
    mark
}
