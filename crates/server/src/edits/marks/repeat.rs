//! Repeats of a mark.

use super::{super::Change, find, placed};
use crate::problem::{Problem, sentence};
use glam::DVec2;
use serde::{Deserialize, Serialize};
use trade::Baseline;
use trade::Job;
use utoipa::ToSchema;
use workbench::unit_pull;
use workbench::{Bench, Steps};

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
    fn label(&self) -> String {
        format!("{} repeated, {} in all", self.id, self.times)
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
