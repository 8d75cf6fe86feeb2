//! Artwork files as closed regions: brand marks and other drawings that a mark draws in place of a text.
//!
//! A drawing is untrusted. Nothing that it refers to is fetched, nothing in it is run, and what it asks too much of is
//! refused before it is drawn.

mod bounds;
mod curve;
mod drawing;
mod dxf;
mod error;
mod faults;
mod glyph_names;
mod ink;
mod layer;
mod letter_layers;
mod letters;
mod reader;
mod scan;
mod svg;
mod wish;

pub use bounds::{LARGEST, MOST_POINTS};
pub use drawing::{Drawing, Simplified, outline};
pub use error::ArtworkError;
pub use faults::{Fault, FaultKind};
pub use glyph_names::character;
pub use layer::Layer;
pub use letters::{Letter, Letters, letters};
pub use wish::Wish;

/// Are a file's lines bounds, to which a width can be given?
#[must_use]
pub fn has_lines(bytes: &[u8]) -> bool {
    reader::reader(bytes).has_lines
}

/// The drawing in a file, by its contents.
///
/// # Errors
/// It can't be read or drawn, and why; see [`ArtworkError`].
pub fn read(file: &str, bytes: &[u8], wish: &Wish) -> Result<Drawing, ArtworkError> {
    wish.check()?;
    reader::guarded(bytes, |reader| (reader.read)(file, bytes, wish)?.finished(wish))
}
