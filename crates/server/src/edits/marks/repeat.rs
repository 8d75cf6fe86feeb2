//! Repeats of a mark.

use super::{super::Change, called, find, placed};
use crate::problem::{Problem, sentence};
use glam::DVec2;
use serde::{Deserialize, Serialize};
use trade::{Baseline, Job};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// Most marks that one press makes.
const MOST_REPEATS: u32 = 64;

/// The mark `times` over, itself included: each `along` and `up` mm on from the last on the strip, or
/// spread evenly once round its arc, or round a seat that closes on itself.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RepeatMark {
    pub id: String,
    pub times: u32,
    pub along: f64,
    pub up: f64,
    pub round: bool,
}

impl Change for RepeatMark {
    fn label(&self, job: &Job) -> String {
        format!("{} repeated, {} in all", called(job, &self.id), self.times)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let Self { ref id, times, along, up, round } = *self;
        let step = DVec2::new(along, up);
        let at = find(job, id)?;
        if !(2..=MOST_REPEATS).contains(&times) {
            return Err(Problem::Wrong(format!("A mark is repeated 2 to {MOST_REPEATS} times in all.")));
        }
        let mark = job.marks[at].clone();
        let wrong = |e: String| Problem::Wrong(sentence(&e));
        let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(wrong)?;
        let placed = placed(job, bench, &mark, &seat)?;
        let on_arc = matches!(mark.place.baseline, Baseline::Arc { .. });
        let step = match (round, seat.closed()) {
            (true, _) if on_arc => DVec2::ZERO,
            (false, _) => step,
            (true, [true, _]) => DVec2::X * (seat.chart.period().x / f64::from(times)),
            (true, [_, true]) => DVec2::Y * (seat.chart.period().y / f64::from(times)),
            (true, _) => {
                return Err(Problem::Wrong(
                    "This seat doesn't go once round. Give the distance from one to the next instead.".into(),
                ));
            }
        };
        if step.length() < 0.01 && !(round && on_arc) {
            return Err(Problem::Wrong("Give a distance along or up: the repeats would overlap.".into()));
        }
        for k in 1..times {
            let mut copy = mark.clone();
            copy.id = job.fresh_id(id);
            copy.place = relief::place::shifted(&mark.place, &placed, &seat, step * f64::from(k));
            if let (true, Baseline::Arc { share, .. }) = (round, &mut copy.place.baseline) {
                let there = (*share + 100.0 * f64::from(k) / f64::from(times)) % 100.0;
                *share = (there * 1e4).round() / 1e4;
            }
            job.marks.insert(at + k as usize, copy);
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, middle, refused};
    use trade::{Justify, Tops};

    fn again(id: &str, times: u32, along: f64, up: f64, round: bool) -> RepeatMark {
        RepeatMark { id: id.into(), times, along, up, round }
    }

    #[test]
    fn repeats_stand_as_far_apart_as_was_typed() {
        let (mut job, bench) = bench();
        let id = job.marks[0].id.clone();
        again(&id, 3, 2.0, -7.0, false).apply(&mut job, &bench).unwrap();
        assert_eq!(job.marks.len(), 3);
        let from = middle(&job, &bench, &job.marks[0]);
        for (k, mark) in job.marks.iter().enumerate() {
            // on the top along is +x and up is +y
            let by = middle(&job, &bench, mark) - from;
            assert!(by.distance(glam::DVec3::new(2.0, -7.0, 0.0) * k as f64) < 0.011, "{k}: {by}");
        }
        for (edit, why) in [
            (again(&id, 1, 2.0, 0.0, false), "2 to 64 times"),
            (again(&id, 65, 2.0, 0.0, false), "2 to 64 times"),
            (again(&id, 2, 0.0, 0.0, false), "would overlap"),
            (again(&id, 2, 0.0, 0.0, true), "doesn't go once round"),
            (again("nobody", 2, 1.0, 0.0, false), "any more"),
        ] {
            let said = refused(&edit, &job, &bench);
            assert!(said.contains(why), "{said}");
        }
    }

    #[test]
    fn round_an_arc_repeats_are_spread_evenly() {
        let (mut job, bench) = bench();
        let arc = Baseline::Arc { radius: 9.0, tops: Tops::Out, share: 50.0, stands: Justify::Middle, bent: false };
        job.marks[0].place.baseline = arc;
        job.marks[0].lettering.cap_height = 2.0;
        let id = job.marks[0].id.clone();
        again(&id, 4, 0.0, 0.0, true).apply(&mut job, &bench).unwrap();
        let share = |baseline: &Baseline| if let Baseline::Arc { share, .. } = baseline { *share } else { f64::NAN };
        let shares: Vec<f64> = job.marks.iter().map(|m| share(&m.place.baseline)).collect();
        assert_eq!(shares, [50.0, 75.0, 0.0, 25.0]);
    }
}
