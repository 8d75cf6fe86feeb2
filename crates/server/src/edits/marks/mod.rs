//! Edits of marks, a file for each kind; and what they all ask: where a mark stands in its job and lies on its seat.

pub(super) mod add;
pub(super) mod align;
pub(super) mod copy;
pub(super) mod copy_to_face;
pub(super) mod copy_to_faces;
pub(super) mod extend;
pub(super) mod globe;
pub(super) mod lettering_face;
pub(super) mod mirror;
pub(super) mod off_creases;
pub(super) mod opposite;
pub(super) mod order;
pub(super) mod pattern;
pub(super) mod place;
pub(super) mod repeat;
pub(super) mod settings;

use crate::problem::{Problem, sentence};
use glam::DVec3;
use trade::{Job, Mark, Place, SeatRef};
use workbench::{Bench, Steps, unit_pull};

fn find(job: &Job, id: &str) -> Result<usize, Problem> {
    job.marks.iter().position(|m| m.id == id).ok_or_else(|| {
        Problem::Missing(format!("There is no mark “{id}” any more; somebody else may have removed it."))
    })
}

/// How a mark is called in the history.
fn called(job: &Job, id: &str) -> String {
    job.marks.iter().find(|m| m.id == id).map_or_else(|| id.to_owned(), Mark::called)
}

/// The middle of the mark at a point of a face, to 0.01 mm.
fn place_at(job: &Job, bench: &Bench, mark: &Mark, on: &SeatRef, point: [f64; 3]) -> Result<Place, Problem> {
    let seat = bench.seat(on, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
    Ok(relief::place::put_down(mark, &seat, DVec3::from(point)))
}

/// A mark of the job as it lies on its seat.
fn placed(job: &Job, bench: &Bench, mark: &Mark, seat: &relief::Seat) -> Result<relief::PlacedMark, Problem> {
    let wrong = |e: &str| Problem::Wrong(sentence(e));
    let settled = workbench::ties::settled(bench, &job.marks, mark, unit_pull(&job.tool)).map_err(|e| wrong(&e))?;
    relief::place::place(&settled, seat).map_err(|e| wrong(&e.to_string()))
}
