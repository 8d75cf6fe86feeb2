//! Can it be misread? Characters of the mark that are taken for one another, and marks that read as
//! something else upside down.

use crate::Check;
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
    // a letter that is turned by itself may be taken for another, whatever its neighbours say
    let turned = site.built.placed.characters.iter().find_map(|c| {
        let over = c.turn.rem_euclid(std::f64::consts::TAU) - std::f64::consts::PI;
        let other = look_alikes::turned(c.text.chars().next()?)?;
        (over.abs() < std::f64::consts::FRAC_PI_4 && c.text.chars().count() == 1).then_some((&c.text, other))
    });
    if let Some((letter, other)) = turned {
        return Finding::plain(
            site.id(),
            Check::LookAlikes,
            State::Marginal,
            format!("“{letter}” stands upside down by itself and reads “{other}”."),
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
