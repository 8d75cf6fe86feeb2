//! Geometry of the plane, mm: contours, regions with holes, what joins, cuts, grows and thins them, the discs that
//! fit into them. It knows neither letters nor parts.

pub mod contour;
pub mod cutter;
pub mod disc;
pub mod neck;
pub mod offset;
mod outline;
pub mod overlay;
pub mod region;
pub mod segment;
#[cfg(test)]
mod shapes;
pub mod thin;

pub use contour::{contains, encloses, signed_area};
pub use region::{Island, Region};

/// Curves are flattened to within this of the true outline, mm.
pub const FLATTENED_TO: f64 = 0.002;
