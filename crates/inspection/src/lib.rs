//! Does the marked solid hold what the trade asks of it? Every figure is measured on the finished
//! solid, letter by letter, with the place where it was measured.
//!
//! The checks read geometry and facet tags only; from the builder they take nothing but the
//! nominal values they compare with.

pub mod checks;
pub mod distance;
pub mod finding;
pub mod footprint;
mod formed;
pub mod laid;
pub mod letter_flat;
pub mod map;
mod needs;
pub mod samples;
pub mod scene;
pub mod site;
pub mod uncut;

pub use checks::{inspect, inspect_for, looks_far, not_built};
pub use finding::{Finding, Letter, LimitShown, Witness};
pub use scene::{Beyond, Forms, KeepOutSite, NEAR, OtherMark, Scene, Surroundings};
pub use site::Site;

pub use trade::{Check, limits::State};
