//! A mark mirrored.

use super::{super::Change, called, find, place_at, placed};
use crate::problem::{Problem, sentence};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use trade::{Baseline, Job, Justify, SeatRef};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// An axis of the part.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Axis {
    X,
    Y,
    Z,
}

impl Axis {
    fn word(self) -> &'static str {
        ["x", "y", "z"][self as usize]
    }
}

/// The mark once more where the part's middle plane square to an axis mirrors it. Its text reads as before.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MirrorMark {
    pub id: String,
    pub along: Axis,
}

impl Change for MirrorMark {
    fn label(&self, job: &Job) -> String {
        format!("{} mirrored along {}", called(job, &self.id), self.along.word())
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let across = self.along as usize;
        /// The part may be that little unlike itself on the other side, mm.
        const NEAR: f64 = 0.5;
        let at = find(job, &self.id)?;
        let mark = &job.marks[at];
        let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
        let placed = placed(job, bench, mark, &seat)?;
        let (low, high) = bench.part().mesh.bounds();
        let mirrored = |p: DVec3| {
            let mut p = p;
            p[across] = low[across] + high[across] - p[across];
            p
        };
        let wanted = mirrored(seat.chart.point(placed.middle, 0.0));
        let hit = bench.queries().nearest(wanted, NEAR + seat.facet_error).ok_or_else(|| {
            let axis = ["x", "y", "z"][across];
            Problem::Wrong(format!("The part has no face where the mark would lie, mirrored along {axis}."))
        })?;
        let mut copy = mark.clone();
        copy.id = job.fresh_id(&self.id);
        copy.seat = SeatRef::on(bench.part().face_of[hit.triangle as usize]);
        copy.place.turn = 0.0 - copy.place.turn;
        let other = |stands: Justify| match stands {
            Justify::Start => Justify::End,
            Justify::Middle => Justify::Middle,
            Justify::End => Justify::Start,
        };
        match &mut copy.place.baseline {
            Baseline::Straight | Baseline::Ring { .. } => {}
            Baseline::Arc { share, stands, .. } => {
                (*share, *stands) = (100.0 - *share, other(*stands));
            }
            Baseline::Edge { near, share, stands, .. } => {
                *near = mirrored(DVec3::from(*near)).to_array();
                (*share, *stands) = (100.0 - *share, other(*stands));
            }
        }
        copy.place = place_at(job, bench, &copy, &copy.seat, hit.point.to_array())?;
        job.marks.insert(at + 1, copy);
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, middle};

    #[test]
    fn the_copy_lies_where_the_middle_plane_mirrors_its_mark_and_reads_as_before() {
        let (mut job, bench) = bench();
        let id = job.marks[0].id.clone();
        job.marks[0].place = place_at(&job, &bench, &job.marks[0], &job.marks[0].seat, [25.0, 18.0, 12.0]).unwrap();
        job.marks[0].place.turn = 10.0;
        let from = middle(&job, &bench, &job.marks[0]);
        for (along, way, wanted) in [
            (Axis::X, DVec3::Z, DVec3::new(60.0 - from.x, from.y, 12.0)),
            (Axis::Y, DVec3::Z, DVec3::new(from.x, 30.0 - from.y, 12.0)),
            (Axis::Z, DVec3::NEG_Z, DVec3::new(from.x, from.y, 0.0)),
        ] {
            let edit = MirrorMark { id: id.clone(), along };
            edit.apply(&mut job, &bench).unwrap();
            let copy = job.marks.remove(1);
            assert_eq!(copy.seat, SeatRef::on(facing(&bench, way)), "{}", edit.label(&job));
            assert!((copy.place.turn + 10.0).abs() < 1e-9 && copy.text == job.marks[0].text);
            let there = middle(&job, &bench, &copy);
            assert!(there.distance(wanted) < 0.011, "{}: {there}, not {wanted}", edit.label(&job));
        }
    }
}
