//! Are the capitals high enough to be read? Height of each capital and digit on the top or floor, laid flat by its own
//! shape, between the jaws of a caliper, where its face says that capitals stand and end, without accents and tails; and
//! the angle it fills at the reading distance: 2 · atan(H / 2D).

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site},
};
use glam::DVec2;
use trade::limits::Subject;

/// Outlines are flattened to 0.002 mm.
const ERROR_MM: f64 = 0.002;
/// Rounds reach past the capitals' lines by less than this share of their height; what reaches farther is a tail or an
/// accent.
const OVERSHOOT: f64 = 0.06;

/// See [`between_jaws`].
const JAWS_DEG: f64 = 3.0;

/// Minutes of arc that a height fills at a distance, both mm.
#[must_use]
pub fn reading_angle(height: f64, distance: f64) -> f64 {
    2.0 * (height / (2.0 * distance)).atan().to_degrees() * 60.0
}

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering, Need::Capitals];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::CapHeight);
    let angle_limit = site.scene.limits.limit(Subject::ReadingAngle);
    let measured = site.each(|c| if is_capital(c) { Figure::found(high(site, c)) } else { Figure::DoesNotApply });
    let mut finding = Finding::judged(site.id(), Check::CapHeight, "mm", &limit, measured);
    let distance = site.scene.reading_distance;
    for letter in &mut finding.letters {
        if let Some(height) = letter.measured {
            let angle = reading_angle(height, distance);
            letter.state = letter.state.max(angle_limit.judge(angle, reading_angle(letter.error, distance)));
        }
    }
    finding.state = finding.letters.iter().map(|l| l.state).fold(finding.state, std::cmp::Ord::max);
    let Some(least) = finding.measured else {
        return match finding.unmeasured() {
            None => Finding::does_not_apply(site.id(), Check::CapHeight, "The mark has no capitals or digits."),
            Some(_) => finding.says("The height of the capitals could not be measured."),
        };
    };
    let angle = reading_angle(least, distance);
    finding.says(format!(
        "The lowest capital is {least:.2} mm high and subtends {angle:.0}′ at {distance:.0} mm; at least {:.2} mm and {:.0}′ are required.",
        limit.value, angle_limit.value
    ))
}

/// Is it a capital or a digit?
pub fn is_capital(c: &CharacterSite) -> bool {
    c.text.chars().next().is_some_and(|c| c.is_uppercase() || c.is_ascii_digit())
}

/// On a seat that bends both ways feet and heads run a little otherwise than they were set: between the jaws of a caliper,
/// turned by up to [`JAWS_DEG`] until they are nearest to one another. A direction square to the jaws.
fn between_jaws<'a, I: Iterator<Item = &'a DVec2>>(up: DVec2, points: impl Fn() -> I) -> DVec2 {
    const STEPS: i32 = 60;
    let turned = |k: i32| DVec2::from_angle(JAWS_DEG.to_radians() * f64::from(k) / f64::from(STEPS)).rotate(up);
    let apart = |up: DVec2| {
        let (low, high) = points().fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p.dot(up)), h.max(p.dot(up))));
        high - low
    };
    let tried = (-STEPS..=STEPS).map(turned).map(|way| (apart(way), way));
    tried.min_by(|a, b| a.0.total_cmp(&b.0)).map_or(up, |(_, way)| way)
}

/// Height of a capital, mm, how far that may be off, and a line straight up beside it.
pub fn high(site: &Site<'_>, c: &CharacterSite) -> Option<(f64, f64, Witness)> {
    let read = c.read();
    let placed = &site.built.placed.characters[c.character as usize];
    let points = || read.rings.iter().flatten();
    let set = (read.map * placed.along).normalize_or(DVec2::X).perp();
    let up = if read.bent { between_jaws(set, points) } else { set };
    let by_up = |a: &&DVec2, b: &&DVec2| a.dot(up).total_cmp(&b.dot(up));
    let (low, high) = (*points().min_by(by_up)?, *points().max_by(by_up)?);
    let (mut from, mut to) = (low.dot(up), high.dot(up));
    // the capitals' lines and the outline's own ends as they were set, at the scale of this level
    let scale = (read.map * placed.along.perp()).dot(up);
    let [stands, ends] = placed.capitals.map(|line| line * scale);
    let past = OVERSHOOT * (ends - stands);
    if past.is_finite() && past > 0.0 {
        let half = (site.drawn_height(c)? / 2.0) * scale;
        let (tail, accent) = (-half < stands - past, half > ends + past);
        // draft takes as much off at both ends
        let taken = (2.0 * half - (to - from)) / 2.0;
        let middle = (from + to) / 2.0;
        if tail {
            from = middle + stands + taken;
        }
        if accent {
            to = middle + ends - taken;
        }
    }
    let height = to - from;
    let beside = low + up * (from - low.dot(up));
    let witness = Witness::Pair { from: read.in_space(beside), to: read.in_space(beside + up * height) };
    Some((height, ERROR_MM + read.stretch * height, witness))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// trade: at 500 mm, 16′ = 2.33, 20′ = 2.91, 22′ = 3.20 mm.
    #[test]
    fn worked_reading_angles() {
        for (minutes, height) in [(16.0, 2.33), (20.0, 2.91), (22.0, 3.20)] {
            assert!((reading_angle(height, 500.0) - minutes).abs() < 0.05, "{minutes}");
        }
    }
}
