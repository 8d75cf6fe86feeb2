//! Do counters and inner spaces stay open? The largest disc that fits in each counter at the root (raised) or rim (sunken),
//! where draft has closed it most, and the narrowest space there between arms, or pieces, of one character.

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::stroke::ERROR_MM,
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Opening, Site},
};
use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Counter);
    let measured = site.each(|c| {
        if c.root_outline.is_empty() {
            return Figure::NotMeasured;
        }
        narrowest(c).map_or(Figure::DoesNotApply, |(width, error, witness)| Figure::of(width, error, witness))
    });
    let finding = Finding::judged(site.id(), Check::Counter, "mm", &limit, measured);
    let Some(least) = finding.measured else {
        let why = match finding.state {
            State::DoesNotApply => "No letter of this mark has a counter or an inner space.",
            _ => "Nothing of the mark is left on the finished solid to measure.",
        };
        return finding.says(why);
    };
    let level = if site.is_sunken() { "rim" } else { "root" };
    let sentence = format!(
        "The smallest counter or inner space is {least:.3} mm wide at the {level}, in “{}”.",
        finding.worst_letter()
    );
    finding.says(sentence)
}

/// The smallest of a character's counters and inner spaces, mm, how far it may be off, and its two sides in space.
pub fn narrowest(c: &CharacterSite) -> Option<(f64, f64, Witness)> {
    let Opening { width, ends: [from, to], stretch } = c.counter?;
    Some((width, ERROR_MM + stretch * width, Witness::Pair { from, to }))
}
