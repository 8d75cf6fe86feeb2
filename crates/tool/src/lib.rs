//! The tool against the bare part: which steel forms which facet and whether it gets away, where
//! steels meet, how thick the walls are, and where lettering stays out.
//!
//! [`divided::Divided`] is the part's surface in pieces small enough to be judged by one point each;
//! [`release`] and [`thickness`] give one answer for each piece, and one for any point that is asked
//! about.

pub mod change;
mod circles;
pub mod divided;
pub mod edges;
pub mod parting;
pub mod region;
pub mod release;
pub mod thickness;

pub use divided::Divided;
pub use region::Region;
pub use release::{Steels, Verdict};
