//! Text to flat regions: one region for each character, in mm on a plane.
//!
//! Font outlines are read and shaped by libraries; cap height is measured on the face's own H,
//! since what fonts say about themselves is often missing or wrong.

pub mod centre_line;
mod error;
pub mod faces;
pub mod figures;
mod fit;
mod glyph;
mod lettered;
pub mod outline;
pub mod own;
pub mod set;
mod stem;

pub use error::LetteringError;
pub use faces::{FaceInfo, faces};
pub use figures::drawn;
pub use lettered::{Character, Lettered};
pub use set::set;
pub use stem::stem;
