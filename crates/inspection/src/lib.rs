//! Does the marked solid hold what the trade asks of it? Every figure is measured on the finished
//! solid, letter by letter, with the place where it was measured.
//!
//! The checks read geometry and facet tags only; from the builder they take nothing but the
//! nominal values they compare with.

pub mod checks;
pub mod clearance;
pub mod finding;
pub mod measure;
pub mod round;

pub use checks::{Check, inspect, not_built};
pub use finding::{Finding, Letter, LimitShown, Witness};
pub use measure::{Beyond, KeepOutSite, OtherMark, Scene, Site, Surroundings};

pub use trade::limits::State;
