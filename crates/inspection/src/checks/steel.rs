//! Does the tool's steel stand? Raised letters are cut into the steel: what stands between two of them, in their counters
//! and between their arms is as thin as these are at the root. Sunken ones stand in the steel themselves, as thin as their
//! strokes on the floor.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    checks::{counter, stroke},
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site},
};
use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Relief, Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    // letters of a mark may be raised and sunken; most of them tell
    let subject = if site.is_sunken() { Subject::SteelOfLetters } else { Subject::SteelBetween };
    let limit = site.scene.limits.limit(subject);
    let measured = site.each(|c| match thinnest(site, c) {
        // a letter by itself, without counters or arms, leaves nothing standing
        None if !c.is_sunken() && !c.root_outline.is_empty() => Figure::DoesNotApply,
        found => Figure::found(found),
    });
    let finding = Finding::judged(site.id(), Check::Steel, "mm", &limit, measured);
    let Some(least) = finding.measured else {
        let why = match finding.state {
            State::DoesNotApply => "The mark leaves no steel standing between letters or in counters.",
            _ => "Nothing of the mark is left on the finished solid to measure.",
        };
        return finding.says(why);
    };
    let letter = finding.worst_letter();
    let sentence = match site.is_sunken() {
        true => format!("The thinnest steel is {least:.3} mm, where it makes “{letter}”."),
        false => format!("The thinnest steel that stands at “{letter}” is {least:.3} mm."),
    };
    finding.says(sentence)
}

fn thinnest(site: &Site<'_>, c: &CharacterSite) -> Option<(f64, f64, Witness)> {
    if c.is_sunken() {
        return stroke::narrowest(c);
    }
    let mixed = site.characters.iter().any(CharacterSite::is_sunken);
    let beside = if mixed { site.nearest_other(c, |o| !o.is_sunken()) } else { site.gap(c) };
    let beside = beside.map(|(d, from, to)| (d, stroke::ERROR_MM, Witness::Pair { from, to }));
    [counter::narrowest(c), beside].into_iter().flatten().min_by(|a, b| a.0.total_cmp(&b.0))
}
