//! The one line of calls: part → seats → placed marks → bodies → joined → inspected.

use crate::{
    asked::Asked,
    forming, inspecting, joining,
    outcome::{MarkOutcome, Members, Outcome, Scope},
    steps::Steps,
    ties::Ties,
    workpiece::Ground,
};
use inspection::Site;
use relief::{
    BuiltMark,
    place::{about, place},
};
use std::sync::Arc;
use trade::{Job, Mark, Steel};

/// `job` on a part: marked solid and findings. Marks that can't be built say why; the others are not held up by
/// them.
#[must_use]
pub fn run(job: &Job, steps: &impl Steps, scope: Scope) -> Outcome {
    let mut outcome = joined(job, steps, scope);
    inspect(job, steps, &mut outcome);
    outcome
}

/// Everything that is on, built and joined to the part. Only marks that can't be built have findings yet.
#[must_use]
pub fn joined(job: &Job, steps: &impl Steps, scope: Scope) -> Outcome {
    joined_where(job, steps, scope, |_| true)
}

/// The same of the piece alone that the mark at `at` is joined to.
pub(crate) fn joined_at(job: &Job, steps: &impl Steps, at: usize) -> Outcome {
    joined_where(job, steps, Scope::NearMarks, |members| members.iter().any(|(mark, _)| *mark as usize == at))
}

fn joined_where(job: &Job, steps: &impl Steps, scope: Scope, wanted: impl Fn(&Members) -> bool) -> Outcome {
    let ground = steps.work().ground();
    let ties = Ties::new(steps, &job.marks, forming::unit_pull(&job.tool));
    let body = |mark: &Mark| ground.clone().and_then(|_| body(job, mark, steps, &ties));
    let marks: Vec<MarkOutcome> = job
        .marks
        .iter()
        .map(|mark| if mark.on { MarkOutcome::of(mark, body(mark)) } else { MarkOutcome::off(mark) })
        .collect();
    joining::joined(steps, &ground.unwrap_or(Ground::None), marks, scope, wanted)
}

/// A mark on its seat, placed and built, and the steel that forms it.
fn body<S: Steps>(
    job: &Job,
    mark: &Mark,
    steps: &S,
    ties: &Ties<'_, S>,
) -> Result<(Option<Steel>, Arc<BuiltMark>), String> {
    if let Some(why) = &mark.unsaid {
        return Err(why.clone());
    }
    let main = forming::unit_pull(&job.tool);
    let mark = ties.settled(mark)?;
    let seat = steps.seat(&mark.seat, main)?;
    let placed = place(&mark, &seat).map_err(|e| e.to_string())?;
    let (seat, placed) = about(&mark, seat, placed);
    let (steel, pull) = forming::steel(steps, &job.tool, &seat, &placed).unzip();
    let built = steps.built(&mark, &seat, &placed, pull)?;
    Ok((steel, built))
}

/// Looks at one mark of an outcome, measured, by its place in the job; `None` where the mark was not built.
pub fn on_site<T>(
    job: &Job,
    steps: &impl Steps,
    outcome: &Outcome,
    at: usize,
    look: impl FnOnce(&Site<'_>) -> T,
) -> Option<T> {
    let present = outcome.built();
    let group = outcome.groups.iter().find(|group| group.marks.contains(&(at as u32)))?;
    inspecting::on_site(steps, &Asked::new(job, group, &present), at as u32, look)
}

/// Gives the marks of an outcome that were built their findings.
pub fn inspect(job: &Job, steps: &impl Steps, outcome: &mut Outcome) {
    let present = outcome.built();
    for group in outcome.groups.clone() {
        let asked = Asked::new(job, &group, &present);
        let findings = steps.findings(&asked);
        for (&at, findings) in group.marks.iter().zip(&*findings) {
            outcome.marks[at as usize].findings.clone_from(findings);
        }
    }
    waived(job, outcome);
}

/// Says which of the findings that fail somebody answers for.
fn waived(job: &Job, outcome: &mut Outcome) {
    if job.waivers.is_empty() {
        return;
    }
    let (row, day) = job.filled_for.map_or((None, None), |f| (f.row, Some(f.day)));
    for finding in outcome.marks.iter_mut().flat_map(|m| &mut m.findings) {
        let waived = job.waived(&finding.asked(), row, day);
        finding.waived = waived;
    }
}
