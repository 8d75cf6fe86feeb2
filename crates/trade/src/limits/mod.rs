//! Limit sheets: the thresholds of one process, each with the source it comes from.
//!
//! Nothing in the checks is hard-wired: they ask the sheet. "from memory" marks a figure written
//! down without its source at hand, "common practice" a rule of thumb without a published source.

mod limit;
mod own;
mod set;
mod sheet;
pub mod shipped;
mod state;
mod subject;

pub use limit::{Limit, Side};
pub use own::OwnLimit;
pub use set::LimitSet;
pub use sheet::Sheet;
pub(crate) use shipped::ids;
pub use shipped::{set, sets};
pub use state::State;
pub use subject::Subject;
