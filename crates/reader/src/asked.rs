//! What is asked of a file, and the answer to it.

use artwork::Wish;
use serde::{Deserialize, Serialize};
use solid::{PartError, Watch, formats::ReadError};
use trade::PartRef;

/// What a file is to be read as.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub enum Asked {
    Part(PartRef),
    Artwork { file: String, wish: Wish },
    Letters { file: String },
    Roster { file: String },
}

/// What is wrong with a part file, on its way from one process to the other.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) enum PartUnread {
    NoUnit { mm: f64, inch: f64 },
    Stopped,
    Said(String),
}

impl From<PartError> for PartUnread {
    fn from(error: PartError) -> Self {
        match error {
            PartError::NoUnit { mm, inch } => Self::NoUnit { mm, inch },
            PartError::Stopped => Self::Stopped,
            other => Self::Said(other.to_string()),
        }
    }
}

impl From<PartUnread> for PartError {
    fn from(unread: PartUnread) -> Self {
        match unread {
            PartUnread::NoUnit { mm, inch } => Self::NoUnit { mm, inch },
            PartUnread::Stopped => Self::Stopped,
            PartUnread::Said(says) => ReadError::Elsewhere(says).into(),
        }
    }
}

/// Reads a file here; the answer as it is handed from process to process.
///
/// # Errors
/// The answer can't be written down.
pub fn answered(asked: &Asked, bytes: &[u8], watch: &dyn Watch) -> Result<Vec<u8>, rmp_serde::encode::Error> {
    match asked {
        Asked::Part(wanted) => {
            let read = step::read_part_watched(&wanted.file, bytes, wanted, watch);
            packed(&read.map_err(PartUnread::from))
        }
        Asked::Artwork { file, wish } => packed(&(artwork::read(file, bytes, wish), artwork::has_lines(bytes))),
        Asked::Letters { file } => packed(&artwork::letters(file, bytes)),
        Asked::Roster { file } => {
            let read = roster::read(file, bytes).map(roster::Table::into_roster);
            packed(&read.map_err(|e| e.to_string()))
        }
    }
}

/// With the names of fields: kinds of surfaces are told apart by one of theirs.
pub(crate) fn packed<T: Serialize>(value: &T) -> Result<Vec<u8>, rmp_serde::encode::Error> {
    rmp_serde::to_vec_named(value)
}
