//! Several marks of one seat in line with one another, or evenly apart.

use super::{super::Change, called, find, placed};
use crate::problem::{Problem, sentence};
use glam::DVec2;
use relief::{PlacedMark, Seat};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use trade::Job;
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// What of the marks' boxes comes into line.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Line {
    Left,
    /// Their middles, along.
    Middle,
    Right,
    Bottom,
    /// Their middles, up.
    Centre,
    Top,
}

impl Line {
    fn word(self) -> &'static str {
        match self {
            Self::Left => "left sides",
            Self::Middle | Self::Centre => "middles",
            Self::Right => "right sides",
            Self::Bottom => "feet",
            Self::Top => "tops",
        }
    }

    /// Which coordinate of the strip, and where in a box from its lower end, 0 to 1.
    fn of(self) -> (usize, f64) {
        match self {
            Self::Left => (0, 0.0),
            Self::Middle => (0, 0.5),
            Self::Right => (0, 1.0),
            Self::Bottom => (1, 0.0),
            Self::Centre => (1, 0.5),
            Self::Top => (1, 1.0),
        }
    }
}

/// The marks in line with the first of them, which stays.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AlignMarks {
    pub ids: Vec<String>,
    pub line: Line,
}

impl Change for AlignMarks {
    fn label(&self, job: &Job) -> String {
        format!("{}: {} in line", all_called(job, &self.ids), self.line.word())
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let laid = Laid::of(job, bench, &self.ids, 2)?;
        let (axis, share) = self.line.of();
        let at = |placed: &PlacedMark| placed.low[axis] + share * (placed.high[axis] - placed.low[axis]);
        let line = at(&laid.marks[0].1);
        let by: Vec<f64> = laid.marks.iter().map(|(_, placed)| line - at(placed)).collect();
        laid.moved(job, axis, &by);
        Ok(())
    }
}

/// The marks evenly apart along or up the strip: the two outermost stay, and the clear gaps between boxes become equal.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SpreadMarks {
    pub ids: Vec<String>,
    /// Up the strip; else along it.
    pub up: bool,
}

impl Change for SpreadMarks {
    fn label(&self, job: &Job) -> String {
        format!("{}: evenly apart", all_called(job, &self.ids))
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let mut laid = Laid::of(job, bench, &self.ids, 3)?;
        let axis = usize::from(self.up);
        let middle = |placed: &PlacedMark| (placed.low[axis] + placed.high[axis]) / 2.0;
        laid.marks.sort_by(|a, b| middle(&a.1).total_cmp(&middle(&b.1)));
        let boxes: Vec<(f64, f64)> = laid.marks.iter().map(|(_, p)| (p.low[axis], p.high[axis])).collect();
        let (first, last) = (boxes[0], boxes[boxes.len() - 1]);
        let filled: f64 = boxes.iter().map(|(low, high)| high - low).sum();
        let gap = (last.1 - first.0 - filled) / (boxes.len() - 1) as f64;
        let mut low = first.0;
        let by: Vec<f64> = boxes
            .iter()
            .map(|own| {
                let by = low - own.0;
                low += own.1 - own.0 + gap;
                by
            })
            .collect();
        laid.moved(job, axis, &by);
        Ok(())
    }
}

/// Marks of one seat as they lie on it, by their places in the job.
struct Laid {
    seat: Arc<Seat>,
    marks: Vec<(usize, PlacedMark)>,
}

impl Laid {
    fn of(job: &Job, bench: &Bench, ids: &[String], least: usize) -> Result<Self, Problem> {
        let mut places = ids.iter().map(|id| find(job, id)).collect::<Result<Vec<_>, _>>()?;
        let mut seen = std::collections::HashSet::new();
        places.retain(|at| seen.insert(*at));
        if places.len() < least {
            return Err(Problem::Wrong(format!("Pick at least {least} marks.")));
        }
        let first = &job.marks[places[0]];
        if let Some(other) = places.iter().map(|at| &job.marks[*at]).find(|m| m.seat != first.seat) {
            let (one, other) = (first.called(), other.called());
            return Err(Problem::Wrong(format!(
                "“{other}” lies on another seat than “{one}”; only marks of one seat have a line in common."
            )));
        }
        let seat = bench.seat(&first.seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
        let marks = places
            .into_iter()
            .map(|at| Ok((at, placed(job, bench, &job.marks[at], &seat)?)))
            .collect::<Result<_, Problem>>()?;
        Ok(Self { seat, marks })
    }

    /// The marks moved along a coordinate of the strip, each by so many mm.
    fn moved(&self, job: &mut Job, axis: usize, by: &[f64]) {
        for ((at, placed), by) in self.marks.iter().zip(by) {
            // a hundredth is what a place is kept to
            if by.abs() > 0.005 {
                let step = if axis == 0 { DVec2::X * *by } else { DVec2::Y * *by };
                job.marks[*at].place = relief::place::shifted(&job.marks[*at].place, placed, &self.seat, step);
            }
        }
    }
}

fn all_called(job: &Job, ids: &[String]) -> String {
    ids.iter().map(|id| called(job, id)).collect::<Vec<_>>().join(", ")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::{
        marks::copy::CopyMark,
        tests::{bench, facing, refused},
    };
    use glam::DVec3;
    use trade::{SeatRef, Tie};

    /// A block with three marks on its top, somewhere.
    fn three() -> (Job, Bench, Vec<String>) {
        let (mut job, bench) = bench();
        let first = job.marks[0].id.clone();
        for _ in 0..2 {
            CopyMark { id: first.clone() }.apply(&mut job, &bench).unwrap();
        }
        for (mark, (text, x, y)) in job.marks.iter_mut().zip([("A", 10.0, 5.0), ("WIDE", 22.0, 14.0), ("I", 50.0, 9.0)])
        {
            mark.text = text.into();
            mark.recipe.clear();
            (mark.place.along, mark.place.up) = (Tie::At { position: x }, Tie::At { position: y });
        }
        let ids = job.marks.iter().map(|m| m.id.clone()).collect();
        (job, bench, ids)
    }

    fn boxes(job: &Job, bench: &Bench) -> Vec<(DVec2, DVec2)> {
        let seat = bench.seat(&job.marks[0].seat, unit_pull(&job.tool)).unwrap();
        job.marks.iter().map(|m| placed(job, bench, m, &seat).unwrap()).map(|p| (p.low, p.high)).collect()
    }

    #[test]
    fn marks_come_into_line_with_the_first_and_stay_in_the_other_direction() {
        let (job, bench, ids) = three();
        let before = boxes(&job, &bench);
        for (line, of) in [(Line::Left, 0.0), (Line::Middle, 0.5), (Line::Right, 1.0)] {
            let mut job = job.clone();
            AlignMarks { ids: ids.clone(), line }.apply(&mut job, &bench).unwrap();
            let after = boxes(&job, &bench);
            assert_eq!(after[0], before[0], "the first one stays");
            let at = |(low, high): &(DVec2, DVec2)| low.x + of * (high.x - low.x);
            for (one, was) in after.iter().zip(&before) {
                assert!((at(one) - at(&after[0])).abs() < 0.011, "{line:?}: {one:?}");
                assert!((one.0.y - was.0.y).abs() < 1e-9, "{line:?} moves nothing up");
            }
        }
        let mut job = job;
        AlignMarks { ids: ids.clone(), line: Line::Top }.apply(&mut job, &bench).unwrap();
        assert!(boxes(&job, &bench).iter().all(|b| (b.1.y - before[0].1.y).abs() < 0.011));
    }

    #[test]
    fn gaps_between_boxes_become_equal_and_the_outermost_stay() {
        let (mut job, bench, ids) = three();
        let before = boxes(&job, &bench);
        SpreadMarks { ids: vec![ids[2].clone(), ids[0].clone(), ids[1].clone()], up: false }
            .apply(&mut job, &bench)
            .unwrap();
        let after = boxes(&job, &bench);
        assert!(after[0] == before[0] && after[2] == before[2]);
        let gaps = [after[1].0.x - after[0].1.x, after[2].0.x - after[1].1.x];
        assert!((gaps[0] - gaps[1]).abs() < 0.021, "{gaps:?}");
        let two = SpreadMarks { ids: ids[..2].to_vec(), up: true };
        assert!(refused(&two, &job, &bench).contains("at least 3"));
        // the same one twice is one
        let twice = AlignMarks { ids: vec![ids[0].clone(), ids[0].clone()], line: Line::Left };
        assert!(refused(&twice, &job, &bench).contains("at least 2"));
        job.marks[1].seat = SeatRef::on(facing(&bench, DVec3::NEG_Y));
        let apart = AlignMarks { ids, line: Line::Left };
        assert!(refused(&apart, &job, &bench).contains("“WIDE” lies on another seat than “A”"));
    }
}
