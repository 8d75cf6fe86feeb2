//! Do words keep apart? Least distance at the root between characters of neighbouring words of a line, in mean widths of
//! a character.

use crate::Check;
use crate::needs::Need;
use crate::{
    checks::stroke::ERROR_MM,
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site},
};
use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering, Need::Words];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::WordGap);
    let words = words(&site.built.mark.text);
    let of = |c: &CharacterSite| {
        let placed = site.built.placed.characters.get(c.character as usize)?;
        Some((placed.line, *words.get(placed.at as usize)?))
    };
    let widths: Vec<f64> = site.characters.iter().filter_map(|c| width(site, c)).collect();
    let mean = widths.iter().sum::<f64>() / widths.len().max(1) as f64;
    let measured = site.each(|c| {
        let Some((line, word)) = of(c) else { return Figure::NotMeasured };
        let beside = |o: &CharacterSite| of(o).is_some_and(|(l, w)| l == line && w.abs_diff(word) == 1);
        if !site.characters.iter().any(beside) {
            return Figure::DoesNotApply;
        }
        let near = site.nearest_other(c, beside).filter(|_| mean > 0.0);
        Figure::found(near.map(|(d, from, to)| (d / mean, ERROR_MM / mean, Witness::Pair { from, to })))
    });
    let finding = Finding::judged(site.id(), Check::WordGap, "characters", &limit, measured);
    let Some(least) = finding.measured else {
        let why = match finding.state {
            State::DoesNotApply => "No line of this mark has more than one word.",
            _ => "The words have no footprint on the finished solid.",
        };
        return finding.says(why);
    };
    let sentence = format!(
        "The narrowest gap between words is {:.3} mm, {least:.2} times the mean width of a character ({mean:.3} mm), beside “{}”.",
        least * mean,
        finding.worst_letter()
    );
    finding.says(sentence)
}

/// Which word each character belongs to that isn't a blank, counted through the whole text.
fn words(text: &str) -> Vec<u32> {
    let mut word = 0;
    let mut of = Vec::new();
    for c in text.chars() {
        if c.is_whitespace() { word += 1 } else { of.push(word) }
    }
    of
}

/// How broad the top or floor of a character is along its line, mm.
fn width(site: &Site<'_>, c: &CharacterSite) -> Option<f64> {
    let read = c.read();
    let placed = site.built.placed.characters.get(c.character as usize)?;
    let along = (read.map * placed.along).try_normalize()?;
    let ways = || read.rings.iter().flatten().map(|p| p.dot(along));
    Some(ways().reduce(f64::max)? - ways().reduce(f64::min)?)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_counted_between_blanks() {
        assert_eq!(words("AB C\nD"), [0, 0, 1, 2]);
    }
}
