//! What the toolmaker takes away: marked solid, lettering bodies, findings. Values in, named files
//! of bytes out.

pub mod files;
pub mod glb;
pub mod page;
pub mod strip;
pub mod threemf;
pub mod tool_plate;

pub use files::{HandoffError, Named, chosen, files};
