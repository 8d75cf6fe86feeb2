//! Do the counters stay open? The largest disc that fits in each counter at the root (raised) or
//! rim (sunken), where draft has closed it most.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    checks::stroke::ERROR_MM,
    finding::{Finding, Witness},
    site::Site,
};
use flat::disc;
use flat::signed_area;

use trade::limits::{State, Subject};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Lettering];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Counter);
    let measured = site.each(|c| {
        c.root_outline
            .iter()
            .filter(|ring| signed_area(ring) < 0.0)
            .filter_map(|ring| disc::largest(ring))
            .min_by(|a, b| a.diameter.total_cmp(&b.diameter))
            .map(|disc| {
                let [from, to] = disc.touches.map(|p| site.on_seat(c, p));
                (disc.diameter, Some(Witness::Pair { from, to }))
            })
    });
    let finding = Finding::judged(site.id(), Check::Counter, "mm", &limit, ERROR_MM, measured);
    let Some(least) = finding.measured else {
        return Finding::plain(
            site.id(),
            Check::Counter,
            State::Passes,
            "No letter of this mark has a counter at the root.",
        );
    };
    let sentence = format!("The smallest counter is {least:.3} mm wide at the root, in “{}”.", finding.worst_letter());
    finding.says(sentence)
}
