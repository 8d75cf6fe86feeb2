//! The findings of a job as they are written down.

use crate::{finished::Finished, read_back::FileRead};
use inspection::Finding;
use serde::Serialize;
use trade::{Job, limits::State, relief::LessRound};
use workbench::Outcome;

/// What was found on the finished solid as a whole, and on the files that hold it.
#[derive(Clone, Debug, Default, Serialize)]
pub struct Checked {
    /// `None` on a surface body: lettering makes no solid of it.
    pub solid: Option<Finished>,
    /// Each file of geometry, read again.
    pub files: Vec<FileRead>,
}

impl Checked {
    /// The worst of them.
    #[must_use]
    pub fn state(&self) -> State {
        let solid = self.solid.iter().map(|s| s.state);
        solid.chain(self.files.iter().map(|f| f.state)).max().unwrap_or(State::DoesNotApply)
    }

    /// The first that fails, in a sentence that names it.
    #[must_use]
    pub fn fault(&self) -> Option<String> {
        let solid = self.solid.iter().filter(|s| s.state == State::Fails).map(|s| s.sentence.clone());
        let files = self.files.iter().filter(|f| f.state == State::Fails);
        solid.chain(files.map(|f| format!("{}: {}", f.file, f.sentence))).next()
    }
}

/// Findings as they are written to `findings.json`.
#[derive(Serialize)]
pub struct Findings<'a> {
    pub version: u32,
    pub job: &'a str,
    pub part: &'a trade::PartRef,
    /// Lengths are mm, angles degrees; points are in part coordinates.
    pub limits: String,
    pub reading_distance: f64,
    /// The worst of all marks, of the solid and of its files.
    pub state: State,
    pub marks: Vec<MarkFindings<'a>>,
    /// Of the part, as it is lettered; it stands on the page alone.
    #[serde(skip)]
    pub revision: Option<&'a str>,
    #[serde(flatten)]
    pub checked: &'a Checked,
}

#[derive(Serialize)]
pub struct MarkFindings<'a> {
    pub mark: &'a str,
    pub text: &'a str,
    pub on: bool,
    pub state: State,
    /// Letters whose edge or root is smaller than what is set.
    pub less_round: Vec<LessRound>,
    pub findings: &'a [Finding],
}

/// Findings of an outcome of `job`, with what was found on the solid and its files.
#[must_use]
pub fn findings<'a>(job: &'a Job, outcome: &'a Outcome, checked: &'a Checked) -> Findings<'a> {
    Findings {
        version: 1,
        revision: job.revision.as_deref(),
        job: &job.name,
        part: &job.part,
        limits: job.limit_sheet(),
        reading_distance: job.reading_distance,
        state: outcome.state().max(checked.state()),
        marks: job
            .marks
            .iter()
            .zip(&outcome.marks)
            .map(|(mark, found)| MarkFindings {
                mark: &mark.id,
                text: &mark.text,
                on: mark.on,
                state: found.state(),
                less_round: found.less_round(),
                findings: &found.findings,
            })
            .collect(),
        checked,
    }
}
