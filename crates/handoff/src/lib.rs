//! What the toolmaker takes away: marked solid, lettering bodies, findings. Values in, named files
//! of bytes out.

mod cutters;
mod error;
pub mod exact;
pub mod files;
mod findings;
mod finished;
mod glb;
mod named;
pub mod page;
mod palette;
mod read_back;
pub mod strip;
mod threemf;
pub mod tool_plate;
pub mod tool_side;

pub use error::HandoffError;
pub use files::{Handed, chosen, files};
pub use findings::{Checked, Findings, findings};
pub use finished::Finished;
pub use named::Named;
pub use read_back::FileRead;
