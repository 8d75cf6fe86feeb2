//! The one line of calls from a part and a job to the marked solid and its findings, used by the
//! command line, the server, the tests and the benchmarks alike: [`line`].
//!
//! Its [`steps`] are plain functions. A [`Bench`] keeps what a change leaves alone: the part near each mark is cut
//! out once, each built mark is kept under its settings, each group of marks that lie together under those of all.

pub mod asked;
pub mod bench;
pub mod blocks;
mod cleared;
pub mod faces_kept;
mod forming;
mod inspecting;
mod joining;
mod key;
pub mod line;
pub mod mending;
pub mod outcome;
pub mod plain;
pub mod revision;
pub mod rows;
pub mod section;
pub mod steps;
mod through;
pub mod ties;
pub mod workpiece;

pub use bench::Bench;
pub use forming::unit_pull;
pub use line::run;
pub use outcome::{MarkOutcome, Outcome, Scope};
pub use plain::Plain;
pub use steps::Steps;
pub use workpiece::Workpiece;
