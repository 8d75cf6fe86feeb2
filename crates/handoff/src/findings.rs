//! The findings of a job as they are written down.

use inspection::Finding;
use serde::Serialize;
use trade::{
    Job,
    limits::{self, State},
};
use workbench::Outcome;

/// Findings as they are written to `findings.json`.
#[derive(Serialize)]
pub struct Findings<'a> {
    pub version: u32,
    pub job: &'a str,
    pub part: &'a trade::PartRef,
    /// Lengths are mm, angles degrees; points are in part coordinates.
    pub limits: &'a str,
    pub reading_distance: f64,
    pub state: State,
    pub marks: Vec<MarkFindings<'a>>,
}

#[derive(Serialize)]
pub struct MarkFindings<'a> {
    pub mark: &'a str,
    pub text: &'a str,
    pub on: bool,
    pub state: State,
    pub findings: &'a [Finding],
}

/// Findings of an outcome of `job`.
#[must_use]
pub fn findings<'a>(job: &'a Job, outcome: &'a Outcome) -> Findings<'a> {
    Findings {
        version: 1,
        job: &job.name,
        part: &job.part,
        limits: limits::set(&job.limits).map_or("", |s| s.name),
        reading_distance: job.reading_distance,
        state: outcome.state(),
        marks: job
            .marks
            .iter()
            .zip(&outcome.marks)
            .map(|(mark, found)| MarkFindings {
                mark: &mark.id,
                text: &mark.text,
                on: mark.on,
                state: found.state(),
                findings: &found.findings,
            })
            .collect(),
    }
}
