//! The tool against the bare part: which steel forms which facet and whether it gets away, where
//! steels meet, how thick the walls are, and where lettering stays out.
//!
//! [`skin::Skin`] is the part's skin in pieces small enough to be judged by one point each;
//! [`release`] and [`thickness`] give one answer for each piece, and one for any point that is asked
//! about.

pub mod change;
pub mod edges;
pub mod parting;
pub mod region;
pub mod release;
pub mod skin;
pub mod thickness;

pub use region::Region;
pub use release::{Steels, Verdict};
pub use skin::Skin;
