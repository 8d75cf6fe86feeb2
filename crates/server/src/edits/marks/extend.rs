//! A seat over several faces.

use super::{super::Change, called, find, place_at, placed};
use crate::edits::faces::surface;
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use trade::{Job, SeatRef};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// One more face for the mark's seat, or one of them out of it again. The mark stays where it is.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ExtendOver {
    pub id: String,
    pub face: u32,
}

impl Change for ExtendOver {
    fn label(&self, job: &Job) -> String {
        format!("{}: seat over face {}", called(job, &self.id), self.face)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let Self { ref id, face } = *self;
        let at = find(job, id)?;
        surface(bench, face)?;
        let mark = &job.marks[at];
        let mut faces = mark.seat.faces();
        match faces.iter().position(|f| *f == face) {
            Some(_) if faces.len() == 1 => {
                return Err(Problem::Wrong("The mark sits on this face alone.".into()));
            }
            Some(at) => {
                faces.remove(at);
            }
            None => faces.push(face),
        }
        let with = faces.split_off(1);
        let seat = SeatRef { face: faces[0], with };
        let wrong = |e: String| Problem::Wrong(sentence(&e));
        let now = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(wrong)?;
        let placed = placed(job, bench, mark, &now)?;
        let middle = now.chart.point(placed.middle, 0.0).to_array();
        let place = place_at(job, bench, mark, &seat, middle)?;
        job.marks[at].seat = seat;
        job.marks[at].place = place;
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::Edit;
    use crate::edits::marks::{copy_to_face::CopyToFace, opposite::MoveToOpposite, repeat::RepeatMark};
    use crate::edits::tests::bench;
    use glam::DVec3;
    use solid::Surface;

    #[test]
    fn a_mark_goes_to_the_other_side_over_a_neighbour_and_is_repeated() {
        let (mut job, bench) = bench();
        job.marks[0].lettering.cap_height = 3.0;
        let apply = |job: &Job, edit: Edit| edit.apply(job, &bench);
        let id = job.marks[0].id.clone();
        let seat = |job: &Job, at: usize| bench.seat(&job.marks[at].seat, unit_pull(&job.tool)).unwrap();
        let middle = |job: &Job, at: usize| {
            let seat = seat(job, at);
            let placed = relief::place::place(&job.marks[at], &seat).unwrap();
            (seat.chart.point(placed.middle, 0.0), seat.chart.normal(placed.middle))
        };
        // under the block, looking down, and read from there
        let under = apply(&job, Edit::MoveToOpposite(MoveToOpposite { id: id.clone() })).unwrap();
        let ((was, up), (is, down)) = (middle(&job, 0), middle(&under, 0));
        assert!((is - was + up * 12.0).length() < 0.01 && down.dot(up) < -0.999, "{was} {is}");
        // over the edge to a side, and back
        let side = bench
            .part()
            .faces
            .iter()
            .position(|f| matches!(f.surface, Surface::Plane { normal, .. } if normal.x > 0.999));
        let side = side.unwrap() as u32;
        let wide = apply(&job, Edit::ExtendOver(ExtendOver { id: id.clone(), face: side })).unwrap();
        assert_eq!(wide.marks[0].seat.with, vec![side]);
        assert!(middle(&wide, 0).0.distance(was) < 0.02, "{}", middle(&wide, 0).0);
        let size = seat(&wide, 0).end - seat(&wide, 0).start;
        assert!((size.x - 72.0).abs() < 0.01, "{size}");
        let back = apply(&wide, Edit::ExtendOver(ExtendOver { id: id.clone(), face: side })).unwrap();
        assert!(back.marks[0].seat.with.is_empty());
        let alone = apply(&back, Edit::ExtendOver(ExtendOver { id: id.clone(), face: back.marks[0].seat.face }));
        assert!(alone.is_err());
        // three in a row, each 8 mm below the last
        let repeat = |times, up, round| Edit::RepeatMark(RepeatMark { id: id.clone(), times, along: 0.0, up, round });
        let three = apply(&job, repeat(3, -8.0, false)).unwrap();
        assert_eq!(three.marks.len(), 3);
        for k in 1..3 {
            let by = middle(&three, k).0 - was;
            assert!((by - DVec3::NEG_Y * 8.0 * k as f64).length() < 0.011, "{by}");
        }
        for bad in [repeat(1, -8.0, false), repeat(3, 0.0, false), repeat(3, 0.0, true), repeat(65, 1.0, false)] {
            assert!(matches!(apply(&job, bad), Err(Problem::Wrong(_))));
        }
        let on = Edit::CopyToFace(CopyToFace { id: id.clone(), face: side, point: [60.0, 15.0, 6.0] });
        let six = apply(&job, on).unwrap();
        assert_eq!(six.marks[1].seat.face, side);
        assert!(middle(&six, 1).0.distance(DVec3::new(60.0, 15.0, 6.0)) < 0.011);
    }
}
