//! Artwork at its size: each piece of it a character of its own.

use super::Pen;
use crate::{error::LetteringError, lettered::Lettered};
use flat::{FLATTENED_TO, Region, overlay, region::contours_of, thin};
use trade::{
    Lettering,
    figure::{Artwork, DRAWN_HIGH},
};

/// Most pieces: each is measured against all others.
const MOST_PIECES: usize = 300;

/// The artwork in its box.
///
/// # Errors
/// Its outline can't be read, is empty at that size, or has too many pieces.
pub(super) fn drawn(artwork: &Artwork, lettering: &Lettering) -> Result<Lettered, LetteringError> {
    let wrong = |what: String| LetteringError::Figure(what);
    let file = &artwork.file;
    let unreadable = || wrong(format!("the outline of “{file}” can't be read; drop the file again"));
    let contours = contours_of(&artwork.outline, artwork.height / DRAWN_HIGH).ok_or_else(unreadable)?;
    // what was one point more or less at another size
    let region = thin::thinned(&overlay::joined(&contours), FLATTENED_TO / 2.0);
    let pieces = region.islands.len();
    if pieces > MOST_PIECES {
        return Err(wrong(format!(
            "“{file}” is drawn in {pieces} pieces that don't touch; at most {MOST_PIECES} are built"
        )));
    }
    let Some((low, high)) = region.bounds() else {
        return Err(wrong(format!("at {:.2} mm nothing is left of “{file}”; set a larger height", artwork.height)));
    };
    let mut pen = Pen::new(lettering);
    for (at, island) in region.islands.into_iter().enumerate() {
        let region = Region { islands: vec![island] }.mapped(|p| p - low);
        pen.put(&format!("piece {}", at + 1), region, 0.0);
    }
    let cap_height = lettering.cap_height.min(high.y - low.y);
    Ok(Lettered { cap_height, ..pen.of_size(high - low) })
}
