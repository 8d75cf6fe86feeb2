//! From a seat and lettering to relief bodies, and from those to the marked solid.
//!
//! A *chart* maps the strip (flat, mm) to space and back. Character regions are placed on the
//! strip, walls run from the held outline at a constant draft, caps follow the seat's own offset
//! surface; each character becomes one closed body that is joined to the part or cut out of it.

pub mod body;
pub mod cap;
pub mod chart;
mod charts {
    pub mod cylinder;
    pub mod plane;
}
pub mod marked;
pub mod place;
pub mod seat;
pub mod wall;

pub use body::{CharacterBody, Role};
pub use chart::Chart;
pub use marked::{MarkedSolid, Tag};
pub use place::PlacedMark;
pub use seat::Seat;

use lettering::LetteringError;
use solid::boolean::BooleanError;

#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum ReliefError {
    #[error("the part has no face {face}; its faces run from 0 to {last}")]
    NoFace { face: u32, last: u32 },
    #[error("face {0} is neither a plane nor a cylinder; marks sit on planes and cylinders")]
    NoChart(u32),
    #[error(transparent)]
    Lettering(#[from] LetteringError),
    #[error("the mark lies off its seat: no part of “{text}” is on the face")]
    OffSeat { text: String },
    #[error("“{character}”: the text is longer than once round the barrel")]
    RoundAndRound { character: String },
    #[error(
        "“{character}”: walls along the pull with {draft}° draft don't exist there, the seat stands too nearly parallel to the pull; move the mark towards the crown or set the walls square to the seat"
    )]
    AlongPull { character: String, draft: f64 },
    #[error("walls along the pull need a pull; set it at the part")]
    NoPull,
    #[error(
        "“{character}”: with {draft}° draft over {height} mm the walls run into one another; use less draft or height, or larger letters"
    )]
    WallsMeet { character: String, draft: f64, height: f64 },
    #[error("“{character}”: the relief could not be built ({why})")]
    Build { character: String, why: String },
    #[error(transparent)]
    Boolean(#[from] BooleanError),
}
