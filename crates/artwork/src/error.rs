//! Why a drawing is refused, in sentences.

use crate::{
    bounds::{LARGEST, MOST_CROSSINGS, MOST_POINTS},
    layer::Layer,
};
use serde::{Deserialize, Serialize};

#[derive(Clone, Debug, PartialEq, thiserror::Error, Serialize, Deserialize)]
pub enum ArtworkError {
    #[error("“{0}” is not an SVG or DXF drawing; save it as one of these")]
    Format(String),
    #[error("the drawing has {0} MB; at most {most} MB are read", most = LARGEST >> 20)]
    TooLarge(usize),
    #[error("the drawing can't be read: {0}")]
    Unreadable(String),
    #[error("groups or blocks of the drawing are nested {0} deep; ungroup or explode them")]
    TooDeep(usize),
    #[error("the drawing defines an entity, “{0}”, that is more than a short text; write it without entities")]
    Entity(String),
    #[error("the drawing contains text (“{0}”); convert it to outlines in the program that drew it")]
    Text(String),
    #[error("the drawing draws more than a million elements; simplify it in the program that drew it")]
    TooMany,
    /// What it has could be drawn by another wish.
    #[error("the drawing has nothing that is filled or stroked, or no outline that closes")]
    Nothing(Vec<Layer>),
    #[error("the drawing's outlines cross in more than {most} places; draw only what is visible", most = MOST_CROSSINGS)]
    Tangled,
    #[error("{0}")]
    Wish(String),
    #[error("{0}")]
    Letters(String),
    #[error(
        "the drawing's outlines have {0} points; at most {MOST_POINTS} are kept. Simplify it to a larger tolerance, or in the program that drew it"
    )]
    TooFine(usize),
}

impl ArtworkError {
    /// The layers that there are, where the drawing could be drawn by another wish.
    #[must_use]
    pub fn by_wish(&self) -> Option<&[Layer]> {
        match self {
            Self::Nothing(layers) if !layers.is_empty() => Some(layers),
            Self::TooFine(_) | Self::Tangled | Self::Wish(_) => Some(&[]),
            _ => None,
        }
    }
}
