//! Can it be misread? Characters of the mark that are taken for one another, and marks that read as
//! something else upside down.

use crate::check::Check;
use crate::needs::Need;
use crate::{finding::Finding, site::Site};
use trade::{limits::State, look_alikes};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Text];

pub fn check(site: &Site<'_>) -> Finding {
    let text = &site.built.mark.text;
    let pairs: Vec<String> = look_alikes::pairs(text).iter().map(|(a, b)| format!("“{a}” and “{b}”")).collect();
    if !pairs.is_empty() {
        return Finding::plain(
            site.id(),
            Check::LookAlikes,
            State::Marginal,
            format!("{} are both in this mark and are easily confused.", pairs.join(", ")),
        );
    }
    match look_alikes::upside_down(text) {
        Some(turned) => Finding::plain(
            site.id(),
            Check::LookAlikes,
            State::Marginal,
            format!("Upside down it reads “{turned}”, and nothing says which way is up."),
        ),
        None => Finding::plain(
            site.id(),
            Check::LookAlikes,
            State::Passes,
            "No two characters of the mark are easily confused.",
        ),
    }
}
