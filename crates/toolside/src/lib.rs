//! What becomes of a mark in the steel: in the tool's own coordinates and at the steel's size the bodies that are cut or left
//! standing, electrodes and inserts, and what a change of the job asks of steel that is cut already.

pub mod changes;
mod cutter;
mod electrode;
mod engraved;
mod frame;
mod insert;
mod left;
mod within;

pub use cutter::{Cutting, SLENDER, cutting};
pub use electrode::{Electrode, electrode};
pub use engraved::{Engraved, Form, engraved};
pub use frame::Frame;
pub use insert::{Insert, insert};
pub use left::{Left, left, one_pass};

/// Why something can't be made in the steel, in a sentence without its full stop.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct SteelError(pub String);

impl SteelError {
    fn new(why: impl Into<String>) -> Self {
        Self(why.into())
    }
}
