//! Marks removed, and their order in the rack.

use super::{super::Change, find};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::Bench;

/// A mark goes.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemoveMark {
    pub id: String,
}

impl Change for RemoveMark {
    fn label(&self) -> String {
        format!("{} removed", self.id)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        job.marks.remove(at);
        Ok(())
    }
}

/// A mark stands elsewhere in the rack.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MoveMark {
    pub id: String,
    pub to: usize,
}

impl Change for MoveMark {
    fn label(&self) -> String {
        format!("{} moved in the rack", self.id)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let mark = job.marks.remove(at);
        job.marks.insert(self.to.min(job.marks.len()), mark);
        Ok(())
    }
}
