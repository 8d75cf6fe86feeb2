//! Text to flat regions: one region for each character, in mm on a plane.
//!
//! Font outlines are read and shaped by libraries; cap height is measured on the face's own H,
//! since what fonts say about themselves is often missing or wrong.

pub mod centre_line;
pub mod clean;
pub mod faces;
pub mod figures;
pub mod outline;
pub mod own;
pub mod region;
pub mod set;

pub use faces::{FaceInfo, faces};
pub use figures::drawn;
pub use outline::stem;
pub use region::{Island, Region, signed_area};
pub use set::{Character, Lettered, LetteringError, set};

/// Curves are flattened to within this of the true outline, mm.
pub const FLATTENED_TO: f64 = 0.002;
