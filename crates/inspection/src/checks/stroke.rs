//! Is the thinnest stroke thick enough? The narrowest place of the top or floor that is left after
//! draft, by the largest disc that fits between its sides.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Witness},
    site::{CharacterSite, Site},
};
use flat::disc;
use trade::limits::Subject;

/// Two outlines flattened to 0.002 mm.
pub const ERROR_MM: f64 = 0.004;

/// The narrowest stroke of one character, mm, with its two sides in space.
pub fn narrowest(site: &Site<'_>, c: &CharacterSite) -> Option<(f64, Witness)> {
    let disc = disc::narrowest(&c.top_outline)?;
    let [from, to] = disc.touches.map(|p| site.on_top(c, p));
    Some((disc.diameter, Witness::Pair { from, to }))
}

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Stroke);
    let measured = site.each(|c| narrowest(site, c).map(|(d, w)| (d, Some(w))));
    let finding = Finding::judged(site.id(), Check::Stroke, "mm", &limit, ERROR_MM, measured);
    let Some(least) = finding.measured else {
        return Finding::not_checked(site.id(), Check::Stroke, "No stroke is left on the finished solid to measure.");
    };
    let level = if site.is_sunken() { "floor" } else { "top" };
    let sentence =
        format!("The thinnest stroke is {least:.3} mm wide on the {level}, at “{}”.", finding.worst_letter());
    finding.says(sentence)
}
