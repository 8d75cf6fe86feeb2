//! Where a mark lies.

use super::{super::Change, called, find, place_at};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Job, SeatRef};
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
    fn label(&self, job: &Job) -> String {
        format!("{}: place", called(job, &self.id))
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, middle, refused};
    use glam::DVec3;

    #[test]
    fn a_mark_goes_where_it_is_put_and_stays_on_all_faces_of_its_seat() {
        let (mut job, bench) = bench();
        let id = job.marks[0].id.clone();
        let (top, front) = (facing(&bench, DVec3::Z), facing(&bench, DVec3::NEG_Y));
        let put = |face: u32, point: [f64; 3]| PlaceMark { id: id.clone(), face, point };
        put(front, [31.0, 0.0, 6.0]).apply(&mut job, &bench).unwrap();
        assert_eq!(job.marks[0].seat, SeatRef::on(front));
        let there = middle(&job, &bench, &job.marks[0]);
        assert!(there.distance(DVec3::new(31.0, 0.0, 6.0)) < 0.01, "{there}");
        // a seat over two faces stays one when the mark is put on the second
        job.marks[0].seat = SeatRef { face: front, with: vec![top] };
        put(top, [30.0, 12.0, 12.0]).apply(&mut job, &bench).unwrap();
        assert_eq!(job.marks[0].seat, SeatRef { face: front, with: vec![top] });
        let there = middle(&job, &bench, &job.marks[0]);
        assert!(there.distance(DVec3::new(30.0, 12.0, 12.0)) < 0.01, "{there}");
        assert!(refused(&put(99, [0.0; 3]), &job, &bench).contains("no face 99"));
    }
}
