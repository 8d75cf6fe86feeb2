//! What is kept of a row.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use workbench::rows::RowFound;

/// What is to be done for every row.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Work {
    Measure,
    /// Measured on the whole solid, and its files kept.
    Build,
}

impl Work {
    /// As it is written down.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Measure => "measure",
            Self::Build => "build",
        }
    }

    #[must_use]
    pub fn of_word(word: &str) -> Option<Self> {
        [Self::Measure, Self::Build].into_iter().find(|work| work.word() == word)
    }
}

/// What is kept of a row.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub struct Kept {
    pub found: Option<RowFound>,
    /// Names of the files that were asked for.
    pub asked: Vec<String>,
    /// Why it could not be done.
    pub problem: Option<String>,
}

impl Kept {
    /// Is nothing left to do?
    #[must_use]
    pub fn is_done(&self, work: Work, wanted: &[String]) -> bool {
        match work {
            _ if self.problem.is_some() && self.found.is_none() => true,
            Work::Measure => self.found.is_some(),
            Work::Build => wanted.iter().all(|name| self.asked.contains(name)),
        }
    }
}
