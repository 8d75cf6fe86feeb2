//! The face opposite to a mark.

use super::{super::Change, called, find, place_at, placed};
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use trade::{Job, Mark, SeatRef};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// The mark straight through to the outside of the part opposite to it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MoveToOpposite {
    pub id: String,
}

impl Change for MoveToOpposite {
    fn label(&self, job: &Job) -> String {
        format!("{}: moved to the opposite face", called(job, &self.id))
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
    fn label(&self, job: &Job) -> String {
        format!("{}: copied to the opposite face", called(job, &self.id))
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, middle, refused};
    use glam::DVec3;
    use solid::Part;

    #[test]
    fn straight_behind_a_mark_on_the_top_lies_the_bottom() {
        let (mut job, bench) = bench();
        let id = job.marks[0].id.clone();
        let from = middle(&job, &bench, &job.marks[0]);
        CopyToOpposite { id: id.clone() }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.marks.len(), 2);
        MoveToOpposite { id }.apply(&mut job, &bench).unwrap();
        for mark in &job.marks {
            assert_eq!(mark.seat, SeatRef::on(facing(&bench, DVec3::NEG_Z)));
            let there = middle(&job, &bench, mark);
            assert!(there.distance(DVec3::new(from.x, from.y, 0.0)) < 0.011, "{there}");
        }
    }

    #[test]
    fn a_surface_body_has_no_opposite_face() {
        let (job, whole) = bench();
        let top = facing(&whole, DVec3::Z);
        let mut mesh = whole.part().mesh.clone();
        mesh.triangles = whole.part().triangles_of(top).map(|t| mesh.triangles[t as usize]).collect();
        let mut part = Part::from_mesh(&mesh).unwrap();
        part.take_as_surface_body(trade::BodySide::Front);
        let mut job = job;
        job.marks[0].seat = SeatRef::on(0);
        let edit = MoveToOpposite { id: job.marks[0].id.clone() };
        assert!(refused(&edit, &job, &Bench::new(part)).contains("no opposite face"));
    }
}
