//! The formats that drawings are read from, each a file of its own and a line in this list.

use crate::{bounds::LARGEST, drawing::Drawn, dxf, error::ArtworkError, letter_layers::DrawnLetters, svg, wish::Wish};

/// A format: how its files begin, and what reads them.
pub struct Reader {
    begins: fn(&[u8]) -> bool,
    /// Its lines are bounds, to which a width can be given.
    pub has_lines: bool,
    pub read: fn(&str, &[u8], &Wish) -> Result<Drawn, ArtworkError>,
    pub letters: fn(&str, &[u8]) -> Result<DrawnLetters, ArtworkError>,
}

/// The first that a file begins like; the last takes what no other does, and says where it is none of its own.
const READERS: [Reader; 2] = [
    Reader {
        begins: dxf::begins,
        has_lines: true,
        read: |_, bytes, wish| dxf::read(bytes, wish),
        letters: |_, bytes| dxf::letters(bytes),
    },
    Reader {
        begins: |_| true,
        has_lines: false,
        read: |file, bytes, wish| svg::read(svg::text(file, bytes)?, wish),
        letters: |file, bytes| svg::letters(svg::text(file, bytes)?),
    },
];

/// What reads a file, by its contents.
pub fn reader(bytes: &[u8]) -> &'static Reader {
    READERS.iter().find(|r| (r.begins)(bytes)).unwrap_or(&READERS[READERS.len() - 1])
}

/// Runs a reader on a file of a size that is read. A reader that stumbles over it takes nothing else down.
///
/// # Errors
/// The file is too large, what the reader says, or that it stumbled.
pub fn guarded<T>(
    bytes: &[u8],
    read: impl FnOnce(&Reader) -> Result<T, ArtworkError> + std::panic::UnwindSafe,
) -> Result<T, ArtworkError> {
    if bytes.len() > LARGEST {
        return Err(ArtworkError::TooLarge(bytes.len() >> 20));
    }
    std::panic::catch_unwind(|| read(reader(bytes)))
        .unwrap_or_else(|_| Err(ArtworkError::Unreadable("the reader failed on it".into())))
}
