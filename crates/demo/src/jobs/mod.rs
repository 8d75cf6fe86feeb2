//! The demo's jobs: each a part file and what is to be marked on it.

mod die_cast_bracket;
mod drawings;

mod filter_cup;
mod filter_dome;
mod manifold_block;
mod name_plate;
mod pieces;
mod plain_block;
mod shut_off_lever;
mod spray_nozzle;
mod valve_body;

use die_cast_bracket::die_cast_bracket;
pub use drawings::DRAWINGS;
use filter_cup::filter_cup;
use filter_dome::filter_dome;
use manifold_block::manifold_block;
use name_plate::name_plate;
use pieces::read;
use plain_block::plain_block;
use shut_off_lever::shut_off_lever;
use solid::Part;
use spray_nozzle::spray_nozzle;
use std::sync::LazyLock;
use trade::Job;
use valve_body::valve_body;

#[derive(Clone)]
pub struct DemoJob {
    pub job: Job,
    pub part: Vec<u8>,
}

impl DemoJob {
    /// The part of the job.
    ///
    /// # Panics
    /// The STEP reader is not beside the program.
    #[must_use]
    pub fn read(&self) -> Part {
        read(&self.job.part, &self.part)
    }
}

static JOBS: LazyLock<Vec<DemoJob>> = LazyLock::new(|| {
    vec![
        valve_body(),
        plain_block(),
        filter_dome(),
        spray_nozzle(),
        shut_off_lever(),
        die_cast_bracket(),
        manifold_block(),
        filter_cup(),
        name_plate(),
    ]
});

/// All demo jobs, in the order they are listed.
///
/// # Panics
/// The STEP reader is not beside the program.
#[must_use]
pub fn jobs() -> Vec<DemoJob> {
    JOBS.clone()
}
