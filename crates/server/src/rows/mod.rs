//! All rows of a roster measured, or their files built: in the background, by whichever worker is free, each kept as soon
//! as it is done. What was done before an end or a stop is not done again, nor what a change of the job leaves alone.

mod archive;
mod keep;
mod kept;
mod plan;
mod run;
mod tasks;

pub use kept::Kept;
pub use kept::Work;
pub use plan::{Planned, wanted};
pub(crate) use tasks::{DoRow, PlanRows};
