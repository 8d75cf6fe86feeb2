//! What can go wrong with a request, with its status and its sentence in one place.

use axum::{
    Json,
    http::StatusCode,
    response::{IntoResponse, Response},
};
use serde::{Deserialize, Serialize};
use solid::PartError;
use utoipa::ToSchema;

#[derive(Debug, thiserror::Error)]
pub enum Problem {
    #[error("{0}")]
    Wrong(String),
    #[error("the part file doesn't say its unit, or says one that can't be right")]
    NoUnit { mm: f64, inch: f64 },
    #[error("{0}")]
    Missing(String),
    #[error(
        "the part reader or the geometry stopped at an error of its own ({0}); nothing was changed. Please keep the file: it shows a fault of the program"
    )]
    Panicked(String),
    /// What was kept of a job, which this version can't read.
    #[error(
        "this job can't be read ({0}). What is kept of it stays as it is; a step back may reach a state that can be read"
    )]
    Unreadable(String),
    /// Made on something that somebody else changed meanwhile.
    #[error("{0}")]
    Overtaken(String),
    /// A change can't be undone by itself, since others built on it.
    #[error("{says}")]
    Between { says: String, before: Option<i64> },
    #[error("this job is being changed all the time; your change was not kept, make it again in a moment")]
    Busy,
    /// The change is kept, but what came of it can't be answered.
    #[error("your change is kept, but can't be shown: {0}")]
    Kept(Box<Problem>),
    #[error("the database does not answer ({0}); before you make your last change again, look whether it is there")]
    Database(sea_orm::DbErr),
}

/// The body of an answer that says no.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Refusal {
    /// What is wrong, where, and what to do.
    pub problem: String,
    /// Set where a change can't be undone by itself: the state before it, to which the job can be brought back with all that
    /// was done since.
    pub before: Option<i64>,
    /// Set where the part file leaves the unit open: how long the part is, mm, in either unit.
    pub unit: Option<UnitChoice>,
}

#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct UnitChoice {
    /// mm, if drawn in mm.
    pub mm: f64,
    /// mm, if drawn in inches.
    pub inch: f64,
}

impl From<PartError> for Problem {
    fn from(error: PartError) -> Self {
        match error {
            PartError::NoUnit { mm, inch } => Self::NoUnit { mm, inch },
            other => Self::Wrong(sentence(&other.to_string())),
        }
    }
}

impl From<sea_orm::DbErr> for Problem {
    fn from(error: sea_orm::DbErr) -> Self {
        let says = error.to_string();
        // PostgreSQL keeps no NUL in a text or document (its errors 22021 and 22P05)
        if says.contains("0x00") || says.contains("unsupported Unicode escape") {
            return Self::Wrong(
                "A text holds the character U+0000, which can't be kept; remove it and try again.".into(),
            );
        }
        Self::Database(error)
    }
}

impl From<trade::JobError> for Problem {
    fn from(error: trade::JobError) -> Self {
        Self::Wrong(sentence(&error.to_string()))
    }
}

/// An error's words as a sentence of its own.
#[must_use]
pub fn sentence(words: &str) -> String {
    let mut letters = words.chars();
    let first: String = letters.next().map(|c| c.to_uppercase().collect()).unwrap_or_default();
    let whole = format!("{first}{}", letters.as_str());
    if whole.ends_with(['.', '?', '!']) { whole } else { format!("{whole}.") }
}

/// What is wrong with a file that was sent.
pub(crate) fn wrong_file(file: &str, why: &str) -> Problem {
    Problem::Wrong(format!("“{file}”: {}", sentence(why)))
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = match &self {
            Self::Wrong(_) | Self::NoUnit { .. } => StatusCode::UNPROCESSABLE_ENTITY,
            Self::Missing(_) => StatusCode::NOT_FOUND,
            Self::Overtaken(_) | Self::Between { .. } => StatusCode::CONFLICT,
            Self::Panicked(_) | Self::Unreadable(_) | Self::Kept(_) => StatusCode::INTERNAL_SERVER_ERROR,
            Self::Database(_) | Self::Busy => StatusCode::SERVICE_UNAVAILABLE,
        };
        if status.is_server_error() {
            tracing::error!("{self}");
        }
        let (unit, before) = match self {
            Self::NoUnit { mm, inch } => (Some(UnitChoice { mm, inch }), None),
            Self::Between { before, .. } => (None, before),
            _ => (None, None),
        };
        (status, Json(Refusal { problem: sentence(&self.to_string()), before, unit })).into_response()
    }
}
