//! Is the thinnest stroke thick enough? The narrowest neck of the top or floor that is left after draft, laid flat by its
//! own shape; of what goes through on purpose, that of its rim.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Opening, Site},
};
use trade::limits::Subject;

/// Two outlines flattened to 0.002 mm.
pub const ERROR_MM: f64 = 0.004;

/// The narrowest stroke of one character, mm, how far it may be off, and its two sides in space.
pub fn narrowest(c: &CharacterSite) -> Option<(f64, f64, Witness)> {
    let Opening { width, ends: [from, to], stretch } = c.stroke?;
    Some((width, ERROR_MM + stretch * width, Witness::Pair { from, to }))
}

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Stroke);
    let measured = site.each(|c| Figure::found(narrowest(c)));
    let finding = Finding::judged(site.id(), Check::Stroke, "mm", &limit, measured);
    let Some(least) = finding.measured else {
        return finding.says("No stroke is left on the finished solid to measure.");
    };
    let level = match (site.built.mark.relief.through, site.is_sunken()) {
        (true, _) => "at the rim",
        (false, true) => "on the floor",
        (false, false) => "on the top",
    };
    let sentence = format!("The thinnest stroke is {least:.3} mm wide {level}, at “{}”.", finding.worst_letter());
    finding.says(sentence)
}
