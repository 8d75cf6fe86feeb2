//! Where a mark lies.

use super::{super::Change, find, place_at};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::SeatRef;
use utoipa::ToSchema;
use workbench::Bench;

/// The mark's middle at a point of a face, mm in part coordinates.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlaceMark {
    pub id: String,
    pub face: u32,
    pub point: [f64; 3],
}

impl Change for PlaceMark {
    fn label(&self) -> String {
        format!("{}: place", self.id)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        // on a face of its own seat the mark stays on all of them
        let own = &job.marks[at].seat;
        let seat = if own.faces().contains(&self.face) { own.clone() } else { SeatRef::on(self.face) };
        let place = place_at(job, bench, &job.marks[at], &seat, self.point)?;
        job.marks[at].seat = seat;
        job.marks[at].place = place;
        Ok(())
    }
}
