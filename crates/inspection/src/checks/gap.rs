//! Do letters keep apart? Least distance between neighbouring characters at the root, in strokes.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    checks::stroke,
    distance,
    finding::{Finding, Witness},
    site::Site,
};
use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Gap);
    let strokes: Vec<f64> =
        site.each(|c| stroke::narrowest(site, c).map(|(d, _)| d)).into_iter().filter_map(|(_, _, d)| d).collect();
    let Some(stroke) = strokes.into_iter().reduce(f64::min) else {
        return Finding::not_checked(site.id(), Check::Gap, "No stroke could be measured to compare the gaps with.");
    };
    if site.characters.len() < 2 {
        return Finding::plain(site.id(), Check::Gap, State::Passes, "The mark is a single character.");
    }
    let measured = site.each(|c| {
        site.characters
            .iter()
            .filter(|o| o.character != c.character)
            .filter_map(|o| distance::least(&c.root, &o.root))
            .min_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(d, from, to)| (d / stroke, Some(Witness::Pair { from, to })))
    });
    let finding = Finding::judged(site.id(), Check::Gap, "strokes", &limit, stroke::ERROR_MM / stroke, measured);
    let Some(least) = finding.measured else {
        return Finding::not_checked(site.id(), Check::Gap, "The characters have no footprint on the finished solid.");
    };
    let sentence = format!(
        "The narrowest gap is {:.3} mm, {least:.1} times the stroke of {stroke:.3}, beside “{}”.",
        least * stroke,
        finding.worst_letter()
    );
    finding.says(sentence)
}
