//! Artwork files as closed regions: brand marks and other drawings that a mark draws in place of a text.
//!
//! A drawing is untrusted. Nothing that it refers to is fetched, nothing in it is run, and what it asks too much of is
//! refused before it is drawn.

mod ink;
mod scan;
mod svg;

use lettering::Region;

pub use svg::path;

/// Largest file that is read, bytes.
pub const LARGEST: usize = 20 << 20;
/// Most points of the outlines that are left of it.
pub const MOST_POINTS: usize = 50_000;

/// A drawing as a region.
#[derive(Clone, Debug, PartialEq)]
pub struct Drawing {
    /// Lower left corner at the origin, [`trade::figure::DRAWN_HIGH`] high.
    pub region: Region,
    /// Height of what is drawn, mm, where the file says what its lengths are.
    pub height: Option<f64>,
    /// What was joined, changed or left out, in sentences.
    pub told: Vec<String>,
}

#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum ArtworkError {
    #[error("“{0}” is no SVG drawing; write it as SVG")]
    Format(String),
    #[error("the drawing has {0} MB; at most {most} MB are read", most = LARGEST >> 20)]
    TooLarge(usize),
    #[error("the drawing can't be read: {0}")]
    Unreadable(String),
    #[error("groups of the drawing lie {0} deep in one another; ungroup them")]
    TooDeep(usize),
    #[error("the drawing defines an entity, “{0}”, that is more than a short text; write it without entities")]
    Entity(String),
    #[error("the drawing holds text (“{0}”); turn it into outlines in the program that drew it")]
    Text(String),
    #[error("the drawing draws more than a million elements; simplify it in the program that drew it")]
    TooMany,
    #[error("the drawing has nothing that is filled or stroked")]
    Nothing,
    #[error(
        "the drawing's outlines have {0} points; at most {MOST_POINTS} are kept. Simplify it in the program that drew it"
    )]
    TooFine(usize),
}

/// The drawing in a file, by its contents.
///
/// # Errors
/// It can't be read or drawn, and why; see [`ArtworkError`].
pub fn read(file: &str, bytes: &[u8]) -> Result<Drawing, ArtworkError> {
    if bytes.len() > LARGEST {
        return Err(ArtworkError::TooLarge(bytes.len() >> 20));
    }
    let text = std::str::from_utf8(bytes).map_err(|e| {
        let known = file.to_lowercase().ends_with(".svg");
        if known {
            ArtworkError::Unreadable(format!("it is not written in UTF-8 (byte {})", e.valid_up_to()))
        } else {
            ArtworkError::Format(file.into())
        }
    })?;
    if !text.trim_start_matches('\u{feff}').trim_start().starts_with('<') {
        return Err(ArtworkError::Format(file.into()));
    }
    // a reader that stumbles over a file takes nothing else down
    std::panic::catch_unwind(|| svg::read(text))
        .unwrap_or_else(|_| Err(ArtworkError::Unreadable("the reader stumbled over it".into())))
}
