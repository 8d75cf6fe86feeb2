//! What a drawing says of a mark, in its own words: every phrase that is understood, with what it becomes, and what is not.
//!
//! Notes are read word by word from left to right. The longest phrase that is known wins; what is asked for by no known phrase is
//! told as left, never dropped. What is negated or left to choice is left too. Words are those of drawings in English. (common
//! practice)

mod measure;
mod phrases;
mod reader;
mod tokens;
mod wish;
mod words;

use crate::Mark;
pub use wish::{Asked, Content, Wish};

/// Characters of a note.
pub const LONGEST_NOTE: usize = 2_000;

/// A phrase and what it asks for. Places count characters of the note.
#[derive(Clone, Debug, PartialEq)]
pub struct Phrase {
    pub from: usize,
    pub to: usize,
    pub wishes: Vec<Wish>,
}

/// A note that was read.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Read {
    /// In their order; none overlaps another.
    pub phrases: Vec<Phrase>,
    /// What asks for something that is not understood, from and to.
    pub left: Vec<(usize, usize)>,
    /// Figures without a unit are inches.
    pub inch: bool,
}

impl Read {
    pub fn wishes(&self) -> impl Iterator<Item = &Wish> {
        self.phrases.iter().flat_map(|p| &p.wishes)
    }
}

/// Reads a note; `inch` says what its figures are where it says nothing of that itself.
#[must_use]
pub fn read(note: &str, inch: Option<bool>) -> Read {
    reader::read(note, inch)
}

/// In what a mark differs from its note, in sentences without their full stops.
#[must_use]
pub fn differs(mark: &Mark) -> Vec<String> {
    let Some(note) = &mark.note else { return Vec::new() };
    read(note, None).wishes().filter_map(|wish| wish.differs(mark)).collect()
}

#[cfg(test)]
mod tests;
