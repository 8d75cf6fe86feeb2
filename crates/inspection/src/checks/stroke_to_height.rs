//! Are strokes sturdy enough for their height? Narrowest stroke over measured relief height.

use crate::check::Check;
use crate::needs::Need;
use crate::{checks::stroke, finding::Finding, site::Site};
use trade::limits::Subject;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Ground, Need::Relief, Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::StrokeToHeight);
    let measured = site.each(|c| {
        let (width, witness) = stroke::narrowest(site, c)?;
        c.heights.filter(|h| h.mean > 0.0).map(|h| (width / h.mean, Some(witness)))
    });
    let error = stroke::ERROR_MM / site.built.mark.relief.height;
    let finding = Finding::judged(site.id(), Check::StrokeToHeight, "", &limit, error, measured);
    let Some(least) = finding.measured else {
        return Finding::not_checked(site.id(), Check::StrokeToHeight, "Neither stroke nor height could be measured.");
    };
    let sentence =
        format!("At its thinnest a stroke is {least:.2} times as wide as it is high, at “{}”.", finding.worst_letter());
    finding.says(sentence)
}
