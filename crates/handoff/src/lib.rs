//! What the toolmaker takes away: marked solid, lettering bodies, findings. Values in, named files
//! of bytes out.

mod error;
pub mod files;
mod findings;
mod glb;
mod named;
pub mod page;
mod palette;
pub mod strip;
mod threemf;
pub mod tool_plate;

pub use error::HandoffError;
pub use files::{chosen, files};
pub use findings::{Findings, findings};
pub use named::Named;
