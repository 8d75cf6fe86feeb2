//! A mark once more on another face.

use super::{super::Change, find, place_at};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::SeatRef;
use utoipa::ToSchema;
use workbench::Bench;

/// The mark once more, its middle at a point of a face.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CopyToFace {
    pub id: String,
    pub face: u32,
    pub point: [f64; 3],
}

impl Change for CopyToFace {
    fn label(&self) -> String {
        format!("{} copied to face {}", self.id, self.face)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let mut copy = job.marks[at].clone();
        copy.id = job.fresh_id(&self.id);
        copy.seat = SeatRef::on(self.face);
        copy.place = place_at(job, bench, &copy, &copy.seat, self.point)?;
        job.marks.insert(at + 1, copy);
        Ok(())
    }
}
