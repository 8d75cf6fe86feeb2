//! Do letters keep apart? Least distance between neighbouring characters at the root, in strokes.

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::stroke,
    finding::{Figure, Finding, Witness},
    site::Site,
};
use trade::limits::Subject;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Gap);
    if site.characters.len() < 2 {
        return Finding::does_not_apply(site.id(), Check::Gap, "The mark is a single character.");
    }
    let strokes = site.characters.iter().filter_map(|c| stroke::narrowest(c).map(|(d, ..)| d));
    let Some(stroke) = strokes.reduce(f64::min) else {
        return Finding::not_checked(site.id(), Check::Gap, "No stroke could be measured to compare the gaps with.");
    };
    let measured = site.each(|c| {
        let near = site.gap(c);
        let error = stroke::ERROR_MM / stroke;
        Figure::found(near.map(|(d, from, to)| (d / stroke, error, Witness::Pair { from, to })))
    });
    let finding = Finding::judged(site.id(), Check::Gap, "strokes", &limit, measured);
    let Some(least) = finding.measured else {
        return finding.says("The characters have no footprint on the finished solid.");
    };
    let sentence = format!(
        "The narrowest gap is {:.3} mm, {least:.1} times the stroke of {stroke:.3}, beside “{}”.",
        least * stroke,
        finding.worst_letter()
    );
    finding.says(sentence)
}
