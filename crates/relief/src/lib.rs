//! From a seat and lettering to relief bodies, and from those to the marked solid.
//!
//! A *chart* maps the strip (flat, mm) to space and back. Character regions are placed on the
//! strip, walls run from the held outline at a constant draft, caps follow the seat's own offset
//! surface; each character becomes one closed body that is joined to the part or cut out of it.

pub mod body;
pub mod built;
pub mod cap;
pub mod chart;
mod charts;
mod crease;
pub mod edge;
mod error;
pub mod flatten;
pub mod lie;
pub mod marked;
mod off_crease;
pub mod place;
pub mod seat;
pub mod true_lengths;
pub mod wall;

pub use body::{CharacterBody, Role};
pub use built::BuiltMark;
pub use chart::Chart;
pub use error::ReliefError;
pub use marked::{MarkedSolid, Tag};
pub use place::PlacedMark;
pub use seat::Seat;
