//! The marks of a pattern.

use super::super::Change;
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::{Pattern, SeatRef};
use utoipa::ToSchema;
use workbench::unit_pull;
use workbench::{Bench, Steps};

/// The marks of a pattern on a face, tied as they were kept.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlacePattern {
    pub pattern: Pattern,
    pub face: u32,
}

impl Change for PlacePattern {
    fn label(&self) -> String {
        format!("pattern “{}” applied", self.pattern.name)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let seat = SeatRef::on(self.face);
        bench.seat(&seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
        self.pattern.place(job, &seat);
        Ok(())
    }
}
