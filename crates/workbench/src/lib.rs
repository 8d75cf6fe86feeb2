//! The one line of calls from a part and a job to the marked solid and its findings, used by the
//! command line, the server, the tests and the benchmarks alike.
//!
//! A [`Bench`] keeps what a change leaves alone: the part near each mark is cut out once, each
//! built mark is kept under the hash of its settings, each group of marks that lie together under
//! the hash of all of theirs.

pub mod bench;
pub mod blocks;
pub mod outcome;
pub mod revision;
pub mod rows;
mod ties;

pub use bench::Bench;
pub use outcome::{MarkOutcome, Outcome, Scope};

use solid::Part;
use trade::Job;

/// `job` on `part`: marked solid and findings, built from nothing.
#[must_use]
pub fn run(job: &Job, part: Part) -> Outcome {
    Bench::new(part).outcome(job, Scope::NearMarks)
}
