//! One change on many jobs: tried on each without changing it, seen, and made where somebody takes it.

mod keep;
mod run;
mod tasks;

pub(crate) use tasks::{TakeJob, TryJob};

use serde::Serialize;
use utoipa::ToSchema;

/// How far the change is with a job.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Phase {
    /// To be tried.
    Waiting,
    Tried,
    /// The change leaves it as it is.
    Same,
    /// The change can't be made.
    Refused,
    /// To be made.
    Taking,
    Taken,
}

impl Phase {
    const ALL: [Self; 6] = [Self::Waiting, Self::Tried, Self::Same, Self::Refused, Self::Taking, Self::Taken];

    /// As it is written down.
    #[must_use]
    pub(crate) fn word(self) -> &'static str {
        match self {
            Self::Waiting => "waiting",
            Self::Tried => "tried",
            Self::Same => "same",
            Self::Refused => "refused",
            Self::Taking => "taking",
            Self::Taken => "taken",
        }
    }

    pub(crate) fn of_word(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|phase| phase.word() == word)
    }
}
