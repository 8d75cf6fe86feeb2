//! What a job says, in the trade's words: part, tool, marks and limits, with no geometry in it.
//!
//! Everything here is plain data that serialises to the job file (`*.tinbadge.json`) and is
//! checked by [`job::Job::check`] before any geometry is built from it.

pub mod job;
pub mod length;
pub mod limits;
pub mod look_alikes;
pub mod mark;
pub mod mend;
pub mod tool;

pub use job::{Job, JobError, PartRef};
pub use length::Unit;
pub use mark::{Held, Justify, Lettering, Mark, Place, Relief, SeatRef, Sense, Tie, Walls};
pub use mend::PartMend;
pub use tool::{Parting, Tool};
