//! Is the relief equally deep everywhere? Distance of the top or floor from the seat's surface as
//! it was before the mark, along its normal; figure: (greatest − least) / nominal.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Witness},
    site::Site,
};
use trade::limits::{State, Subject};

/// Facets of the top stay within 0.0008 mm of the true offset surface.
const ERROR_MM: f64 = 0.0008;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Ground, Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    let nominal = site.built.mark.relief.height;
    let limit = site.scene.limits.limit(Subject::UniformDepth);
    let lowest = site.bodies().map(|c| c.relief.height).fold(f64::INFINITY, f64::min);
    let error = ERROR_MM / lowest * 100.0;
    let percent = |mm: f64| mm / nominal * 100.0;
    let measured = site.each_body(|c| {
        let nominal = c.relief.height;
        let percent = |mm: f64| mm / nominal * 100.0;
        c.heights.map(|h| {
            let spread = percent(h.greatest.0 - h.least.0);
            // a relief that is evenly wrong is wrong too
            let off = percent((h.mean - nominal).abs());
            let farther = if nominal - h.least.0 > h.greatest.0 - nominal { h.least.1 } else { h.greatest.1 };
            (spread.max(off), Some(Witness::Point { at: farther }))
        })
    });
    let heights: Vec<_> = site.characters.iter().filter_map(|c| c.heights).collect();
    let mut finding = Finding::judged(site.id(), Check::UniformDepth, "%", &limit, error, measured);
    if heights.is_empty() {
        return Finding::not_checked(
            site.id(),
            Check::UniformDepth,
            "The finished solid has no top or floor of this mark to measure.",
        );
    }
    let least = heights.iter().map(|h| h.least.0).fold(f64::MAX, f64::min);
    let greatest = heights.iter().map(|h| h.greatest.0).fold(0.0, f64::max);
    let mean = heights.iter().map(|h| h.mean).sum::<f64>() / heights.len() as f64;
    let spread = percent(greatest - least);
    // letters may each be even and differ from one another
    if finding.measured.is_none_or(|m| m < spread) {
        finding.measured = Some(spread);
        finding.state = finding.state.max(limit.judge(spread, error));
    }
    let word = if site.is_sunken() { "deep" } else { "high" };
    let sentence = match finding.state {
        State::Fails => format!(
            "The lettering is between {least:.3} and {greatest:.3} mm {word} where {nominal:.3} was set (mean {mean:.3})."
        ),
        _ => format!("The lettering is {mean:.3} mm {word} on average, between {least:.3} and {greatest:.3}."),
    };
    finding.says(sentence)
}
