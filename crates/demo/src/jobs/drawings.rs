//! Drawings of the demo's maker.

use trade::{Figure, figure::Artwork};

const BRAND: (&str, &[u8]) = ("marrowby.svg", include_bytes!("../../assets/marrowby.svg"));

const LETTERS: (&str, &[u8]) = ("marrowby-letters.svg", include_bytes!("../../assets/marrowby-letters.svg"));

/// Drawings of the demo's maker by their files' names: its brand mark, and its letters, from which a lettering face can
/// be made.
pub const DRAWINGS: [(&str, &[u8]); 2] = [BRAND, LETTERS];

/// The brand mark of the demo's maker.
pub(super) fn brand(height: f64) -> Figure {
    let (file, bytes) = BRAND;
    let drawing = artwork::read(file, bytes, &artwork::Wish::default()).expect("the demo's brand mark is read");
    Figure::Artwork(Artwork {
        file: file.into(),
        outline: artwork::outline(&drawing.region),
        height,
        told: drawing.told,
        left_out: drawing.left_out,
    })
}
