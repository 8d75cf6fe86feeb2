//! The face opposite to a mark.

use super::{super::Change, find, place_at, placed};
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::{Mark, SeatRef};
use utoipa::ToSchema;
use workbench::unit_pull;
use workbench::{Bench, Steps};

/// The mark straight through to the outside of the part opposite to it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MoveToOpposite {
    pub id: String,
}

impl Change for MoveToOpposite {
    fn label(&self) -> String {
        format!("{}: moved to the opposite face", self.id)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        to_opposite(job, bench, &self.id)
    }
}

/// The mark once more, straight through on the opposite face.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CopyToOpposite {
    pub id: String,
}

impl Change for CopyToOpposite {
    fn label(&self) -> String {
        format!("{}: copied to the opposite face", self.id)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let mut second = job.marks[at].clone();
        second.id = job.fresh_id(&self.id);
        let own = second.id.clone();
        job.marks.insert(at + 1, second);
        to_opposite(job, bench, &own)
    }
}

/// The mark on the outside of the part opposite to it.
fn to_opposite(job: &mut Job, bench: &Bench, id: &str) -> Result<(), Problem> {
    let at = find(job, id)?;
    let mark = &job.marks[at];
    let (face, point) = opposite(job, bench, mark)?;
    let seat = SeatRef::on(face);
    let place = place_at(job, bench, mark, &seat, point)?;
    job.marks[at].seat = seat;
    job.marks[at].place = place;
    Ok(())
}

/// The outermost face opposite to a mark, and the point of it straight behind the mark's middle.
fn opposite(job: &Job, bench: &Bench, mark: &Mark) -> Result<(u32, [f64; 3]), Problem> {
    let wrong = |e: &str| Problem::Wrong(sentence(e));
    let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(|e| wrong(&e))?;
    let placed = placed(job, bench, mark, &seat)?;
    let (from, out) = (seat.chart.point(placed.middle, 0.0), seat.chart.normal(placed.middle));
    let far = 4.0 * bench.part().mesh.diagonal();
    // back to the mark from far behind it
    let hit = bench.queries().first_hit(from - out * far, out, 0.0, far, |_| true);
    hit.filter(|hit| hit.point.distance(from) > 0.01 + 2.0 * seat.facet_error)
        .map(|hit| (bench.part().face_of[hit.triangle as usize], hit.point.to_array()))
        .ok_or_else(|| {
            wrong("there is no opposite face behind the mark: a surface body is marked on the side that was taken for its outside")
        })
}
