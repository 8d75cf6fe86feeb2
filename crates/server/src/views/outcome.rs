//! What came out: the solid's pieces and the findings.

use crate::store::Standing;
use inspection::Finding;
use serde::Serialize;
use trade::{limits::State, relief::LessRound};
use utoipa::ToSchema;
use workbench::Outcome;

#[derive(Serialize, ToSchema)]
pub struct OutcomeView {
    pub state: i64,
    /// The row of the roster that it is of.
    pub row: Option<u32>,
    /// Name of the limits that was measured against.
    pub limits: String,
    pub marks: Vec<MarkView>,
}

#[derive(Serialize, ToSchema)]
pub struct SolidView {
    pub state: i64,
    /// The row of the roster that it is of.
    pub row: Option<u32>,
    /// Names of the pieces that make up the marked solid.
    pub pieces: Vec<String>,
}

#[derive(Serialize, ToSchema)]
pub struct MarkView {
    pub id: String,
    pub text: String,
    pub on: bool,
    pub state: State,
    /// Why it isn't built, if so.
    pub problem: Option<String>,
    /// The steel that forms it.
    pub steel: Option<trade::Steel>,
    /// Letters whose edge or root is smaller than what is set.
    pub less_round: Vec<LessRound>,
    /// The finding that matters most, by its place in `findings`.
    pub worst: Option<usize>,
    pub findings: Vec<Finding>,
}

/// Findings of an outcome.
#[must_use]
pub fn outcome(standing: &Standing, row: Option<u32>, outcome: &Outcome) -> OutcomeView {
    let marks = standing
        .job
        .marks
        .iter()
        .zip(&outcome.marks)
        .map(|(mark, found)| MarkView {
            id: mark.id.clone(),
            text: mark.text.clone(),
            on: mark.on,
            state: found.state(),
            problem: found.problem.clone(),
            steel: found.steel.clone(),
            less_round: found.less_round(),
            worst: found.worst().and_then(|w| found.findings.iter().position(|f| std::ptr::eq(f, w))),
            findings: found.findings.clone(),
        })
        .collect();
    OutcomeView { state: standing.state, row, limits: standing.job.limit_sheet(), marks }
}
