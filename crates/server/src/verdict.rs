//! What an inspection came to, as the list of jobs tells it.

use crate::{entity, store::Standing};
use trade::limits::State;
use workbench::Outcome;

/// Counts, and the worst finding in words.
pub(crate) fn of(standing: &Standing, outcome: &Outcome) -> entity::inspection::Model {
    let count = |state| i32::try_from(outcome.count(state)).unwrap_or(i32::MAX);
    let worst = outcome.worst().map(|(mark, finding)| {
        let called = standing.job.marks.iter().find(|m| m.id == mark.id).map_or_else(String::new, trade::Mark::called);
        format!("{called}: {}", finding.sentence)
    });
    entity::inspection::Model {
        state: standing.state,
        fails: count(State::Fails),
        waived: i32::try_from(outcome.waived()).unwrap_or(i32::MAX),
        marginal: count(State::Marginal),
        not_checked: i32::try_from(outcome.not_checked()).unwrap_or(i32::MAX),
        worst: worst.or_else(|| {
            (!standing.job.marks.is_empty() && outcome.not_checked() > 0)
                .then(|| "No mark is on: there was nothing to check.".to_owned())
        }),
    }
}
