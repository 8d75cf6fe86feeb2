//! Are the capitals high enough to be read? Height of each capital and digit on the top or floor,
//! and the angle it fills at the reading distance: 2 · atan(H / 2D).

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Witness},
    site::Site,
};
use glam::DVec2;
use trade::limits::Subject;

/// Outlines are flattened to 0.002 mm.
const ERROR_MM: f64 = 0.002;

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
    let measured = site.each(|c| {
        let counts = c.text.chars().next().is_some_and(|c| c.is_uppercase() || c.is_ascii_digit());
        let up = site.built.placed.characters[c.character as usize].along.perp();
        let points = || c.top_outline.iter().flatten();
        let by_up = |a: &&DVec2, b: &&DVec2| a.dot(up).total_cmp(&b.dot(up));
        let (low, high) = (points().min_by(by_up)?, points().max_by(by_up)?);
        let height = (high - low).dot(up);
        counts.then(|| {
            // shown as a line straight up beside the letter
            let (from, to) = (*low, *low + up * height);
            (height, Some(Witness::Pair { from: site.on_top(c, from), to: site.on_top(c, to) }))
        })
    });
    let mut finding = Finding::judged(site.id(), Check::CapHeight, "mm", &limit, ERROR_MM, measured);
    let Some(least) = finding.measured else {
        return Finding::not_checked(
            site.id(),
            Check::CapHeight,
            "The mark has no capitals or digits whose height could be measured.",
        );
    };
    let distance = site.scene.reading_distance;
    let angle = reading_angle(least, distance);
    let angle_state = angle_limit.judge(angle, reading_angle(ERROR_MM, distance));
    finding.state = finding.state.max(angle_state);
    for letter in &mut finding.letters {
        if let Some(height) = letter.measured {
            letter.state = letter.state.max(angle_limit.judge(reading_angle(height, distance), 0.01));
        }
    }
    finding.says(format!(
        "The lowest capital is {least:.2} mm high and subtends {angle:.0}′ at {distance:.0} mm; at least {:.2} mm and {:.0}′ are required.",
        limit.value, angle_limit.value
    ))
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
