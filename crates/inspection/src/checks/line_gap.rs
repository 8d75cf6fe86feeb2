//! Do lines keep apart? Least distance at the root between characters of different lines, in the mark's cap height.

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::{cap_height, stroke::ERROR_MM},
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site},
};
use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering, Need::Words];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::LineGap);
    let line = |c: &CharacterSite| site.built.placed.characters.get(c.character as usize).map(|p| p.line);
    // the lowest capital, as cap height measures it; a text without any is held to what was set
    let capitals =
        site.characters.iter().filter(|c| cap_height::is_capital(c)).filter_map(|c| cap_height::high(site, c));
    let cap = capitals.map(|(high, ..)| high).reduce(f64::min).unwrap_or(site.built.mark.lettering.cap_height);
    let measured = site.each(|c| {
        let other = |o: &CharacterSite| line(o) != line(c);
        if !site.characters.iter().any(other) {
            return Figure::DoesNotApply;
        }
        let near = site.nearest_other(c, other);
        Figure::found(near.map(|(d, from, to)| (d / cap, ERROR_MM / cap, Witness::Pair { from, to })))
    });
    let finding = Finding::judged(site.id(), Check::LineGap, "cap heights", &limit, measured);
    let Some(least) = finding.measured else {
        let why = match finding.state {
            State::DoesNotApply => "The mark is a single line.",
            _ => "The lines have no footprint on the finished solid.",
        };
        return finding.says(why);
    };
    let sentence = format!(
        "The narrowest gap between lines is {:.3} mm, {least:.2} times the cap height, beside “{}”.",
        least * cap,
        finding.worst_letter()
    );
    finding.says(sentence)
}
