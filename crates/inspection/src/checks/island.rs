//! Is a piece of a letter so small that it doesn't mould, or breaks off? The least area of the pieces of each character's
//! top or floor, as the diameter of the disc that has it: 2 · √(A / π).

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::stroke::ERROR_MM,
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site},
};
use flat::{contains, signed_area};
use std::f64::consts::PI;
use trade::limits::Subject;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Island);
    let measured = site.each(|c| Figure::found(least(c)));
    let finding = Finding::judged(site.id(), Check::Island, "mm", &limit, measured);
    let Some(least) = finding.measured else {
        return finding.says("No piece of a letter is left on the finished solid to measure.");
    };
    let sentence = format!(
        "The smallest piece of a letter has the area of a disc of {least:.3} mm, at “{}”.",
        finding.worst_letter()
    );
    finding.says(sentence)
}

/// The least piece of a character as a diameter, mm, how far that may be off, and where it is.
fn least(c: &CharacterSite) -> Option<(f64, f64, Witness)> {
    let read = c.read();
    let areas: Vec<f64> = read.rings.iter().map(|ring| signed_area(ring)).collect();
    let pieces = (0..areas.len()).filter(|&k| areas[k] > 0.0).map(|k| {
        let outer = &read.rings[k];
        // a hole belongs to the smallest piece that it lies in
        let own = |hole: usize| {
            let holds = |&o: &usize| areas[o] > 0.0 && contains(&read.rings[o], read.rings[hole][0]);
            (0..areas.len()).filter(holds).min_by(|&a, &b| areas[a].total_cmp(&areas[b])) == Some(k)
        };
        let holes = (0..areas.len()).filter(|&h| areas[h] < 0.0 && own(h)).map(|h| areas[h]).sum::<f64>();
        (areas[k] + holes, outer, k)
    });
    let (area, outer, at) = pieces.min_by(|a, b| a.0.total_cmp(&b.0))?;
    let diameter = 2.0 * (area.max(0.0) / PI).sqrt();
    // an outline that may be off all round changes the area by its length times that
    let round: f64 = (0..outer.len()).map(|k| outer[k].distance(outer[(k + 1) % outer.len()])).sum();
    let error = ERROR_MM * round / (PI * diameter.max(1e-6)) + read.stretch * diameter;
    let space = &read.space[at];
    Some((diameter, error, Witness::Pair { from: space[0], to: space[space.len() / 2] }))
}
