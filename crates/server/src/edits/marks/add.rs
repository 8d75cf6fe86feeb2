//! A new mark.

use super::{super::Change, place_at};
use crate::problem::{Problem, sentence};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use trade::{Job, Mark, SeatRef, Sense};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// A mark on a face; its middle at `point` (mm, part coordinates) or in the middle of the seat.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AddMark {
    pub face: u32,
    pub text: String,
    pub point: Option<[f64; 3]>,
    /// Which way is up where it is seen from: on a sphere a new mark stands upright there, by quarter turns.
    #[serde(default)]
    pub up: Option<[f64; 3]>,
}

impl Change for AddMark {
    fn label(&self, _: &Job) -> String {
        format!("mark “{}” added", self.text.replace('\n', " / "))
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let like = job.marks.last();
        let mut mark = Mark {
            id: job.fresh_id("mark-1"),
            text: self.text.clone(),
            seat: SeatRef::on(self.face),
            // a new mark looks like the last one: marks of a part mostly do
            lettering: like.map(|m| m.lettering.clone()).unwrap_or_default(),
            relief: like.map(|m| m.relief).filter(|r| r.sense != Sense::Stamp).unwrap_or_default(),
            ..Mark::default()
        };
        if let Some(point) = self.point {
            mark.place = place_at(job, bench, &mark, &mark.seat, point)?;
            let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
            let seen = self.up.map(DVec3::from);
            if let Some(turn) = relief::place::upright(&seat, seat.strip(point.into()), seen) {
                mark.place.turn = turn;
            }
        } else {
            bench.seat(&SeatRef::on(self.face), unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
        }
        job.marks.push(mark);
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::marks::copy::CopyMark;
    use crate::edits::tests::bench;

    #[test]
    fn a_mark_goes_where_the_part_was_clicked_and_its_copy_lies_clear_of_it() {
        let (mut job, bench) = bench();
        let face = job.marks[0].seat.face;
        AddMark { face, text: "A".into(), point: Some([30.0, 20.0, 12.0]), up: None }.apply(&mut job, &bench).unwrap();
        let added = job.marks.last().unwrap().clone();
        let seat = bench.seat(&SeatRef::on(face), unit_pull(&job.tool)).unwrap();
        let placed = relief::place::place(&added, &seat).unwrap();
        assert!(seat.chart.point(placed.middle, 0.0).distance(DVec3::new(30.0, 20.0, 12.0)) < 0.01);
        CopyMark { id: added.id.clone() }.apply(&mut job, &bench).unwrap();
        let copy = job.marks.last().unwrap();
        assert_ne!(copy.id, job.marks[1].id);
        let lower = relief::place::place(copy, &seat).unwrap();
        assert!(lower.outline[2].y < placed.outline[0].y);
    }
}
