//! Is the face fit for the size? Each capital's and digit's narrowest stroke over its height, both on the top or floor.

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::{cap_height, stroke},
    finding::{Figure, Finding},
    site::Site,
};
use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering, Need::Capitals];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::StrokeToCap);
    let measured = site.each(|c| {
        if !cap_height::is_capital(c) {
            return Figure::DoesNotApply;
        }
        let high = cap_height::high(site, c).filter(|(high, ..)| *high > 0.0);
        Figure::found(stroke::narrowest(c).zip(high).map(|((wide, error, witness), (high, off, _))| {
            // both are off, the one over the other
            (wide / high, (error + off * wide / high) / high, witness)
        }))
    });
    let finding = Finding::judged(site.id(), Check::StrokeToCap, "", &limit, measured);
    let Some(least) = finding.measured else {
        let why = match finding.state {
            State::DoesNotApply => "The mark has no capitals or digits.",
            _ => "Neither stroke nor height could be measured.",
        };
        return finding.says(why);
    };
    let letter = finding.worst_letter().to_owned();
    let sentence = match finding.state {
        State::Fails => format!(
            "The strokes of “{letter}” are {least:.3} of its height, too fine for this size: choose a stronger face, set a wider stroke or less draft."
        ),
        _ => format!("The finest stroke is {least:.3} of the height of its letter, at “{letter}”."),
    };
    finding.says(sentence)
}
