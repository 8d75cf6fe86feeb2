//! Material and texture.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Job, Process};
use utoipa::ToSchema;
use workbench::Bench;

/// Another material or texture.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetProcess {
    pub process: Process,
}

impl Change for SetProcess {
    fn label(&self, _: &Job) -> String {
        "material or texture".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.process.clone_from(&self.process);
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::{Edit, tests::bench};
    use trade::limits::Subject;

    #[test]
    fn a_texture_asks_for_more_draft_and_what_is_out_of_range_is_refused() {
        let (job, bench) = bench();
        let of = |texture: f64| Edit::SetProcess(SetProcess { process: Process { texture, ..Process::default() } });
        let draft = |job: &Job| job.limit_set().limit(Subject::Draft).value;
        let textured = of(0.05).apply(&job, &bench).unwrap();
        // 1° for each 0.025 mm, from memory
        assert!((draft(&textured) - draft(&job) - 2.0).abs() < 1e-9, "{}", draft(&textured));
        assert!(of(2.0).apply(&job, &bench).unwrap_err().to_string().contains("between 0 and 0.5 mm"));
    }
}
