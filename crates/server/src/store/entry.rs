//! A row of the history as it is to be written: whose it is, what it says, what it is to another one.

use crate::entity::change;
use sea_orm::ActiveValue::Set;
use time::OffsetDateTime;
use uuid::Uuid;

/// Whose change it is, and the key under which the window sends it: what is sent again under the same is made once.
#[derive(Clone, Copy, Debug)]
pub struct By<'a> {
    pub author: &'a str,
    pub key: Option<Uuid>,
    /// Drawn for a field while it is typed into: changes one after another under the same are one step.
    pub typing: Option<Uuid>,
}

impl<'a> By<'a> {
    /// Who sends nothing again, and types nothing.
    #[must_use]
    pub fn plainly(author: &'a str) -> Self {
        Self { author, key: None, typing: None }
    }
}

/// What a row of the history is to another one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Of {
    Itself,
    /// Undoes that change.
    Undo(i64),
    /// Makes that change again, which was undone.
    Redo(i64),
}

/// A row of the history as it is to be written.
#[derive(Clone, Copy, Debug)]
pub struct Entry<'a> {
    pub by: By<'a>,
    /// What was done, in the user's words.
    pub label: &'a str,
    pub of: Of,
}

impl Entry<'_> {
    /// The columns that all rows have.
    pub(super) fn row(&self, job: Uuid, from: Option<i64>, at: OffsetDateTime) -> change::ActiveModel {
        let (undoes, redoes) = match self.of {
            Of::Itself => (None, None),
            Of::Undo(change) => (Some(change), None),
            Of::Redo(change) => (None, Some(change)),
        };
        change::ActiveModel {
            job: Set(job),
            from_state: Set(from),
            undoes: Set(undoes),
            redoes: Set(redoes),
            key: Set(self.by.key),
            typing: Set(self.by.typing),
            author: Set(self.by.author.into()),
            at: Set(at),
            label: Set(self.label.into()),
            ..Default::default()
        }
    }
}
