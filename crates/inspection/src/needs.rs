//! What a check asks about, and why there is nothing to ask where a mark or its part doesn't have it.

use crate::site::Site;
use trade::{Figure, Sense};

/// In the order in which reasons are given.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Need {
    /// Characters that are read.
    Lettering,
    /// Walls and height that change the solid.
    Relief,
    /// A text, in which one character may be taken for another.
    Text,
    /// Words in lines.
    Words,
    /// Capitals.
    Capitals,
    /// A floor or top below which the wall goes on.
    Floor,
    /// A part that has walls.
    Walls,
}

impl Need {
    /// Why there is nothing to ask; `None`: the check is to be made.
    #[must_use]
    pub fn lacking(self, site: &Site<'_>) -> Option<&'static str> {
        let mark = &site.built.mark;
        let stamp = mark.relief.sense == Sense::Stamp;
        let figure = mark.figure.as_ref();
        match self {
            Self::Lettering if stamp => {
                Some("A stamp area holds no lettering yet: what is struck into it is read there later.")
            }
            Self::Lettering if matches!(figure, Some(Figure::Pocket(_))) => {
                Some("The pocket of an insert has no lettering; what is read is on the insert.")
            }
            Self::Relief if stamp => Some("A stamp area has neither walls nor height and changes no wall."),
            Self::Relief if !site.built.has_relief() => {
                Some("Surface-only lettering has neither walls nor height and changes no wall.")
            }
            Self::Text if stamp => Self::Lettering.lacking(site),
            Self::Text if figure.is_some() => Some("It is read by position, so nothing in it can be confused."),
            Self::Words if figure.is_some() => Some("It is no text of words and lines."),
            Self::Capitals if matches!(figure, Some(Figure::Artwork(_))) => Some("Artwork has no capitals."),
            Self::Floor if mark.relief.through && site.pad.is_none() => {
                Some("It goes through the wall on purpose: it has no floor.")
            }
            Self::Walls if site.built.seat.surface_body => {
                Some("A surface body has no wall that lettering could change.")
            }
            _ => None,
        }
    }
}
