//! Material and texture.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::Process;
use utoipa::ToSchema;
use workbench::Bench;

/// Another material or texture.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetProcess {
    pub process: Process,
}

impl Change for SetProcess {
    fn label(&self) -> String {
        "material or texture".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.process.clone_from(&self.process);
        Ok(())
    }
}
