//! A mark on a sphere by latitude and longitude.

use super::{super::Change, called, find, placed};
use crate::problem::{Problem, sentence};
use relief::place::Globe;
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// The mark's place at a latitude and longitude of its sphere, degrees: 90 at the middle of its strip, 0 halfway round
/// from there; longitude counter-clockwise round the middle, from the right. It stays turned as it was to the circle of
/// latitude.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MoveOnSphere {
    pub id: String,
    pub latitude: f64,
    pub longitude: f64,
}

impl Change for MoveOnSphere {
    fn label(&self, job: &Job) -> String {
        format!("{}: latitude, longitude", called(job, &self.id))
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let Self { ref id, latitude, longitude } = *self;
        let at = find(job, id)?;
        if !(-90.0..=90.0).contains(&latitude) || !(-360.0..=360.0).contains(&longitude) {
            return Err(Problem::Wrong(format!(
                "Latitude runs from −90° to 90° and longitude from −360° to 360°; {latitude}° and {longitude}° are no place of a sphere."
            )));
        }
        let mark = &job.marks[at];
        let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
        let placed = placed(job, bench, mark, &seat)?;
        let place = Globe { latitude, longitude }
            .carries(mark, &placed, &seat)
            .ok_or_else(|| Problem::Wrong("Only a sphere has latitudes; this mark's seat is none.".into()))?;
        job.marks[at].place = place;
        Ok(())
    }
}
