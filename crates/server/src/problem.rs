//! What can go wrong with a request, with its status and its sentence in one place.

use axum::{
    Json,
    extract::Request,
    http::{StatusCode, header},
    middleware::Next,
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
    /// Asked for on condition that it stands where it stood.
    #[error("the job was changed since (it is at {latest} now); nothing was changed: read it again, and ask on that")]
    Moved { latest: i64 },
    #[error("this job is being changed all the time; your change was not kept, make it again in a moment")]
    Busy,
    /// The change is kept, but what came of it can't be answered.
    #[error("your change is kept, but can't be shown: {0}")]
    Kept(Box<Problem>),
    #[error("the database does not answer ({0}); before you make your last change again, look whether it is there")]
    Database(sea_orm::DbErr),
}

/// The body of an answer that says no, as RFC 9457 has it.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Refusal {
    /// The status in words.
    pub title: String,
    pub status: u16,
    /// What is wrong, where, and what to do.
    pub detail: String,
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

/// Media type of a [`Refusal`].
pub(crate) const PROBLEM: &str = "application/problem+json";

fn refusal(status: StatusCode, detail: String, before: Option<i64>, unit: Option<UnitChoice>) -> Response {
    let title = status.canonical_reason().unwrap_or("Refused").to_owned();
    let told = Refusal { title, status: status.as_u16(), detail, before, unit };
    (status, [(header::CONTENT_TYPE, PROBLEM)], Json(told)).into_response()
}

/// Gives every answer of the interface that says no one shape, also where the libraries below have said it.
pub(crate) async fn in_one_shape(request: Request, next: Next) -> Response {
    /// Of what a library says, bytes.
    const LONGEST: usize = 4096;
    let of_interface = request.uri().path().starts_with("/api/");
    let answer = next.run(request).await;
    let status = answer.status();
    let is_told = answer.headers().get(header::CONTENT_TYPE).is_some_and(|kind| kind == PROBLEM);
    if !of_interface || is_told || !(status.is_client_error() || status.is_server_error()) {
        return answer;
    }
    let (mut head, body) = answer.into_parts();
    let said = axum::body::to_bytes(body, LONGEST).await.unwrap_or_default();
    let said = String::from_utf8_lossy(&said);
    let said = if said.trim().is_empty() { status.canonical_reason().unwrap_or("refused") } else { said.trim() };
    let (told, body) = refusal(status, sentence(said), None, None).into_parts();
    head.headers.remove(header::CONTENT_LENGTH);
    head.headers.extend(told.headers);
    Response::from_parts(head, body)
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = match &self {
            Self::Wrong(_) | Self::NoUnit { .. } => StatusCode::UNPROCESSABLE_ENTITY,
            Self::Missing(_) => StatusCode::NOT_FOUND,
            Self::Overtaken(_) | Self::Between { .. } => StatusCode::CONFLICT,
            Self::Moved { .. } => StatusCode::PRECONDITION_FAILED,
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
        refusal(status, sentence(&self.to_string()), before, unit)
    }
}
