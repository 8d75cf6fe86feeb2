//! Are strokes sturdy enough for their height? Narrowest stroke over measured relief height.

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::stroke,
    finding::{Figure, Finding},
    site::Site,
};
use trade::limits::Subject;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Floor, Need::Relief, Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::StrokeToHeight);
    let measured = site.each(|c| {
        let high = c.heights.filter(|h| h.mean > 0.0);
        let both = stroke::narrowest(c).zip(high);
        Figure::found(both.map(|((width, error, witness), h)| (width / h.mean, error / h.mean, witness)))
    });
    let finding = Finding::judged(site.id(), Check::StrokeToHeight, "", &limit, measured);
    let Some(least) = finding.measured else {
        return finding.says("Neither stroke nor height could be measured.");
    };
    let sentence =
        format!("At its thinnest a stroke is {least:.2} times as wide as it is high, at “{}”.", finding.worst_letter());
    finding.says(sentence)
}
