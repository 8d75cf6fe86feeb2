//! Does the tool's steel stand? Raised letters are cut into the steel: what stands between two of them, in their counters
//! and between their arms is as thin as these are at the root. Sunken ones stand in the steel themselves, as thin as their
//! strokes on the floor.

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::{counter, stroke},
    finding::{Figure, Finding, Measured, Witness},
    site::{CharacterSite, Site},
};
use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Relief, Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    // raised and sunken letters of a mark are required other things: the worse of the two is the mark's
    let findings = [true, false].into_iter().filter_map(|sunken| standing(site, sunken));
    Finding::worst_of(findings.collect()).unwrap_or_else(|| {
        Finding::not_checked(site.id(), Check::Steel, "Nothing of the mark is left on the finished solid to measure.")
    })
}

/// The steel of those letters that are sunken, or of those that aren't; `None` where there are none.
fn standing(site: &Site<'_>, sunken: bool) -> Option<Finding> {
    let limit = site.scene.limits.limit(if sunken { Subject::SteelOfLetters } else { Subject::SteelBetween });
    let asked = site.each_of(sunken, |c| (thinnest(site, c), !c.root_outline.is_empty()));
    let measured: Vec<Measured> = asked
        .into_iter()
        .map(|(k, text, asked)| {
            let figure = match asked {
                // a letter by itself, without counters or arms, leaves nothing standing
                (None, true) if !sunken => Figure::DoesNotApply,
                (found, _) => Figure::found(found),
            };
            (k, text, figure)
        })
        .collect();
    if measured.is_empty() {
        return None;
    }
    let finding = Finding::judged(site.id(), Check::Steel, "mm", &limit, measured);
    let Some(least) = finding.measured else {
        let why = match finding.state {
            State::DoesNotApply => "The mark leaves no steel standing between letters or in counters.",
            _ => "Nothing of the mark is left on the finished solid to measure.",
        };
        return Some(finding.says(why));
    };
    let letter = finding.worst_letter();
    let sentence = match sunken {
        true => format!("The thinnest steel is {least:.3} mm, where it makes “{letter}”."),
        false => format!("The thinnest steel that stands at “{letter}” is {least:.3} mm."),
    };
    Some(finding.says(sentence))
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
