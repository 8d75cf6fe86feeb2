//! Files that come from anybody, read in a process of their own: it may crash, hang or run out of memory, and the caller
//! gets a sentence.
//!
//! The process is `tinbadge-reader`, beside the running program. It gets the file by its input, has limits on memory,
//! processor time and output, opens nothing, and ends with whoever started it.

mod apart;
mod asked;
pub mod process;
mod unread;

pub use asked::{Asked, answered};
pub use unread::Unread;

use artwork::{ArtworkError, Drawing, Letters, Wish};
use solid::{Part, PartError, Watch, formats::ReadError};
use std::time::Duration;
use trade::{PartRef, Roster};

/// Limits of one reading.
#[derive(Clone, Copy, Debug)]
pub struct Limits {
    /// Address space, bytes.
    pub memory: u64,
    /// Processor time, s.
    pub seconds: u64,
    /// The process is ended after this, whatever it does.
    pub clock: Duration,
}

/// Of part files: eight million triangles take 4.4 GB.
pub const PART: Limits = Limits { memory: 6 << 30, seconds: 300, clock: Duration::from_secs(180) };
/// Of drawings and rosters, which are small.
pub const SMALL: Limits = Limits { memory: 2 << 30, seconds: 60, clock: Duration::from_secs(30) };

/// The part in `bytes`, as [`step::read_part_watched`].
///
/// # Errors
/// What is wrong with the file, that it ran past a limit, or that it was stopped.
pub fn part(bytes: &[u8], wanted: &PartRef, watch: &dyn Watch) -> Result<Part, PartError> {
    let read = apart::read::<Result<Part, asked::PartUnread>>(&Asked::Part(wanted.clone()), bytes, PART, watch);
    match read {
        Ok(part) => Ok(part?),
        Err(Unread::Stopped) => Err(PartError::Stopped),
        Err(other) => Err(ReadError::Elsewhere(other.to_string()).into()),
    }
}

/// The drawing in `bytes` as [`artwork::read`], and whether its lines are bounds.
///
/// # Errors
/// It ran past a limit, or was stopped. What is wrong with the drawing stands inside.
pub fn artwork(
    file: &str,
    bytes: &[u8],
    wish: &Wish,
    watch: &dyn Watch,
) -> Result<(Result<Drawing, ArtworkError>, bool), Unread> {
    let asked = Asked::Artwork { file: file.into(), wish: wish.clone() };
    apart::read(&asked, bytes, SMALL, watch)
}

/// The letter shapes in a drawing, as [`artwork::letters`].
///
/// # Errors
/// As [`artwork`](fn@artwork).
pub fn letters(file: &str, bytes: &[u8], watch: &dyn Watch) -> Result<Result<Letters, ArtworkError>, Unread> {
    apart::read(&Asked::Letters { file: file.into() }, bytes, SMALL, watch)
}

/// The roster in `bytes`, as [`roster::read`], or what is wrong with it.
///
/// # Errors
/// As [`artwork`](fn@artwork).
pub fn roster(file: &str, bytes: &[u8], watch: &dyn Watch) -> Result<Result<Roster, String>, Unread> {
    apart::read(&Asked::Roster { file: file.into() }, bytes, SMALL, watch)
}
