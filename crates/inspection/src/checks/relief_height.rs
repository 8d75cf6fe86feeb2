//! Does the relief throw a shadow? Its mean height or depth on each character, against the least that is seen beside the
//! finish.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    site::Site,
};
use trade::limits::{State, Subject};

/// Facets of the top stay within 0.0008 mm of the true offset surface.
const ERROR_MM: f64 = 0.0008;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Floor, Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::ReliefHeight);
    let error = ERROR_MM + site.built.seat.chart.bridges();
    let measured = site.each(|c| match c.heights {
        None if c.relief.through => Figure::DoesNotApply,
        found => Figure::found(found.map(|h| (h.mean, error, Witness::Point { at: h.least.1 }))),
    });
    let finding = Finding::judged(site.id(), Check::ReliefHeight, "mm", &limit, measured);
    let Some(least) = finding.measured else {
        return finding.says("The finished solid has no top or floor of this mark to measure.");
    };
    let letter = finding.worst_letter();
    let word = if site.is_sunken() { "deep" } else { "high" };
    let sentence = if finding.state == State::Fails {
        format!("“{letter}” is {least:.3} mm {word}; less than {:.2} mm hardly shows.", limit.value)
    } else {
        format!("The lowest relief is {least:.3} mm {word}, at “{letter}”.")
    };
    finding.says(sentence)
}
