//! A mark once more on another face.

use super::{super::Change, called, find, place_at};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Job, SeatRef};
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
    fn label(&self, job: &Job) -> String {
        format!("{} copied to face {}", called(job, &self.id), self.face)
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, middle, refused};
    use glam::DVec3;

    #[test]
    fn the_copy_stands_after_its_mark_with_its_middle_at_the_point() {
        let (mut job, bench) = bench();
        let mark = job.marks[0].clone();
        let front = facing(&bench, DVec3::NEG_Y);
        let copy = |face: u32| CopyToFace { id: mark.id.clone(), face, point: [25.0, 0.0, 5.0] };
        for _ in 0..2 {
            copy(front).apply(&mut job, &bench).unwrap();
        }
        let [own, second, first] = &job.marks[..] else { panic!("{} marks", job.marks.len()) };
        assert_eq!(*own, mark);
        assert!(own.id != first.id && first.id != second.id && own.id != second.id);
        for copy in [first, second] {
            assert_eq!(
                (copy.seat.clone(), &copy.lettering, &copy.relief),
                (SeatRef::on(front), &own.lettering, &own.relief)
            );
            let there = middle(&job, &bench, copy);
            assert!(there.distance(DVec3::new(25.0, 0.0, 5.0)) < 0.01, "{there}");
        }
        assert!(refused(&copy(99), &job, &bench).contains("no face 99"));
    }
}
