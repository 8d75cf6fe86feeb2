//! Is the relief equally deep everywhere? Distance of the top or floor from the seat's surface as
//! it was before the mark, along its normal; figure: (greatest − least) / nominal. Two ways: from the true surface, and
//! from the facets of the file, which lie inside it.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    samples::samples,
    site::{CharacterSite, Site},
};
use relief::body::PAD;
use trade::limits::{State, Subject};

/// Facets of the top stay within 0.0008 mm of the true offset surface.
const ERROR_MM: f64 = 0.0008;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Floor, Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    let nominal = site.built.mark.relief.height;
    let limit = site.scene.limits.limit(Subject::UniformDepth);
    let error = error(site);
    let percent = |mm: f64| mm / nominal * 100.0;
    let measured = site.each_body(|c| {
        let nominal = c.relief.height;
        let percent = |mm: f64| mm / nominal * 100.0;
        let figure = c.heights.map(|h| {
            let spread = percent(h.greatest.0 - h.least.0);
            // a relief that is evenly wrong is wrong too
            let off = percent((h.mean - nominal).abs());
            let farther = if nominal - h.least.0 > h.greatest.0 - nominal { h.least.1 } else { h.greatest.1 };
            (spread.max(off), error, Witness::Point { at: farther })
        });
        match figure {
            // what goes through on purpose has no floor
            None if c.relief.through => Figure::DoesNotApply,
            figure => Figure::found(figure),
        }
    });
    let heights: Vec<_> = site.characters.iter().filter_map(|c| c.heights).collect();
    let mut finding = Finding::judged(site.id(), Check::UniformDepth, "%", &limit, measured);
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
    let mut finding = finding.says(sentence);
    if let Some((least, greatest, needed)) = coarse(site, nominal * limit.value / 100.0) {
        finding.state = finding.state.max(State::Fails);
        finding.sentence += &format!(
            " But the file's facets are too coarse for it: on them it is between {least:.3} and {greatest:.3} mm {word}. Take a file whose facets lie within {needed:.3} mm of the true surface."
        );
    }
    finding
}

/// How far a figure may be off, percent: facets of the lettering may bridge those of a freeform seat, and its creases.
pub fn error(site: &Site<'_>) -> f64 {
    let lowest = site.bodies().map(|c| c.relief.height).fold(f64::INFINITY, f64::min);
    (ERROR_MM + site.built.seat.chart.bridges()) / lowest * 100.0
}

/// Least and greatest distance of the tops from the facets of the part's file, mm, where these spoil the relief by more
/// than `most`, and how near to the true surface they ought to lie.
fn coarse(site: &Site<'_>, most: f64) -> Option<(f64, f64, f64)> {
    // what stands on a pad stands on facets of ours, and a freeform surface is what its facets are
    let seat = &site.built.ground;
    if site.pad.is_some()
        || seat.facet_error <= most
        || seat.surface.height(seat.chart.point(site.built.placed.middle, 0.0)).is_none()
    {
        return None;
    }
    let mesh = site.scene.mesh();
    let on_file = |c: &CharacterSite| -> Vec<f64> {
        let (out, sunken) = (|p| seat.normal(p), c.is_sunken());
        let from = samples(mesh, &c.top);
        let hit = |p| {
            let way = if sunken { out(p) } else { -out(p) };
            site.scene.bare.first_hit(p, way, 0.0, c.relief.height + 2.0 * seat.facet_error + 1.0, |_| true)
        };
        from.iter().filter_map(|s| hit(s.at).map(|h| h.distance)).collect()
    };
    let found: Vec<f64> = site
        .characters
        .iter()
        .filter(|c| c.character != PAD && c.relief.sense.has_relief())
        .flat_map(on_file)
        .collect();
    let least = found.iter().copied().reduce(f64::min)?;
    let greatest = found.iter().copied().reduce(f64::max)?;
    (greatest - least > most).then_some((least, greatest, most / 2.0))
}
