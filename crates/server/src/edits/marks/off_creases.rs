//! Letters of a mark kept off the creases of its seat.

use super::{super::Change, called, find};
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// Shifts letters along their line, and those beyond with them, until none lies over a crease of the seat.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct KeepOffCreases {
    pub id: String,
}

impl Change for KeepOffCreases {
    fn label(&self, job: &Job) -> String {
        format!("{}: letters kept off creases", called(job, &self.id))
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let wrong = |e: &str| Problem::Wrong(sentence(e));
        let pull = unit_pull(&job.tool);
        let seat = bench.seat(&job.marks[at].seat, pull).map_err(|e| wrong(&e))?;
        let settled = workbench::ties::settled(bench, &job.marks, &job.marks[at], pull).map_err(|e| wrong(&e))?;
        let off = relief::place::off_creases(&settled, &seat).map_err(|e| wrong(&e.to_string()))?;
        job.marks[at].letters = off.letters;
        Ok(())
    }
}
