//! A mark once more.

use super::{super::Change, find, placed};
use crate::problem::Problem;
use glam::DVec2;
use serde::{Deserialize, Serialize};
use trade::Baseline;
use trade::Job;
use utoipa::ToSchema;
use workbench::unit_pull;
use workbench::{Bench, Steps};

/// The mark once more, clear of itself.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CopyMark {
    pub id: String,
}

impl Change for CopyMark {
    fn label(&self) -> String {
        format!("{} copied", self.id)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let mut copy = job.marks[at].clone();
        copy.id = job.fresh_id(&self.id);
        // clear of the original: below it by one and a half capitals
        let step = 1.5 * copy.lettering.cap_height;
        if let Baseline::Arc { radius, .. } = &mut copy.place.baseline {
            *radius += step;
        } else if let Ok(seat) = bench.seat(&copy.seat, unit_pull(&job.tool))
            && let Ok(placed) = placed(job, bench, &job.marks[at], &seat)
        {
            let by = if matches!(copy.place.baseline, Baseline::Edge { .. }) { step } else { -step };
            copy.place = relief::place::shifted(&copy.place, &placed, &seat, DVec2::Y * by);
        }
        job.marks.insert(at + 1, copy);
        Ok(())
    }
}
