//! Does the relief throw a shadow? Its mean height or depth on each character, against the least that is seen beside the
//! finish, and against the size of the letters.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Letter, Witness},
    site::Site,
};
use trade::limits::{State, Subject};

/// Facets of the top stay within 0.0008 mm of the true offset surface.
const ERROR_MM: f64 = 0.0008;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Floor, Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    // raised and sunken letters of a mark are required other things: the worse of the two is the mark's
    let findings = [false, true].into_iter().filter_map(|sunken| showing(site, sunken));
    Finding::worst_of(findings.collect())
        .unwrap_or_else(|| Finding::not_checked(site.id(), Check::ReliefHeight, NOTHING))
}

const NOTHING: &str = "The finished solid has no top or floor of this mark to measure.";

/// The heights of those letters that are sunken, or of those that aren't; `None` where there are none.
fn showing(site: &Site<'_>, sunken: bool) -> Option<Finding> {
    let limit = site.scene.limits.limit_of(Subject::ReliefHeight, sunken);
    let error = ERROR_MM + site.built.seat.chart.bridges();
    let measured = site.each_of(sunken, |c| match c.heights {
        None if c.relief.through => Figure::DoesNotApply,
        found => Figure::found(found.map(|h| (h.mean, error, Witness::Point { at: h.least.1 }))),
    });
    if measured.is_empty() {
        return None;
    }
    let mut finding = Finding::judged(site.id(), Check::ReliefHeight, "mm", &limit, measured);
    // large letters throw the shadow of a low relief only along their edges
    let share = site.scene.limits.limit(Subject::ReliefToCap);
    let cap = site.built.mark.lettering.cap_height;
    let text = site.built.mark.figure.is_none() && cap > 0.0;
    let low = |l: &Letter| l.measured.map_or(State::DoesNotApply, |m| share.judge(m / cap, l.error / cap));
    if text {
        for letter in &mut finding.letters {
            letter.state = letter.state.max(low(letter));
            finding.state = finding.state.max(letter.state);
        }
    }
    let Some(least) = finding.measured else {
        return Some(finding.says(NOTHING));
    };
    let letter = finding.worst_letter();
    let word = if sunken { "deep" } else { "high" };
    let sentence = if text && finding.letters.iter().any(|l| low(l) == State::Fails) {
        format!(
            "“{letter}” is {least:.3} mm {word}; capitals of {cap:.2} mm show with {:.2} mm or more.",
            share.value * cap
        )
    } else if finding.state == State::Fails {
        format!("“{letter}” is {least:.3} mm {word}; less than {:.2} mm hardly shows.", limit.value)
    } else {
        format!("The lowest relief is {least:.3} mm {word}, at “{letter}”.")
    };
    Some(finding.says(sentence))
}
