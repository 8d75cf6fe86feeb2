//! The reading test against closed cases, and against a character reader from outside.

mod outside;
mod plain;

use reading::{Reading, View, reading};
use trade::{Job, Mark};
use workbench::{Bench, Outcome, Scope};

/// As the shipped sheets ask.
const READS: f64 = 0.06;
const FAILS: f64 = 0.03;

/// The demo's plain block, with one mark.
fn block() -> (Job, Bench) {
    let demo = demo::jobs().remove(1);
    let part = demo.read();
    (demo.job, Bench::new(part))
}

/// Capitals of 3.5 mm, 0.3 high, with 3° of draft: common practice for part numbers.
fn usual(mark: &mut Mark) {
    mark.text = "HK4AZ7".into();
    mark.lettering.face = "centre-line".into();
    mark.lettering.cap_height = 3.5;
    mark.lettering.stroke = None;
    mark.relief.height = 0.3;
    mark.relief.draft = 3.0;
}

fn joined(job: &Job, bench: &Bench) -> Outcome {
    bench.joined(job, Scope::NearMarks)
}

fn read(job: &Job, bench: &Bench, distance: f64) -> Result<Reading, String> {
    let outcome = joined(job, bench);
    let (solid, built) = outcome.on_solid(0).expect("the mark is built");
    reading(solid, built, View::from(distance))
}
