//! Who changed what of a job and when, and a job brought back to how it was.

use super::{
    Has, Variant, author,
    jobs::{Answered, Begun, changed},
};
use crate::{
    app::Shared,
    differences::{self, Differences},
    problem::{Problem, Refusal},
    store::{By, Standing},
    views::{JobView, Made},
};
use axum::{
    Json,
    extract::{Path, Query, State},
    http::StatusCode,
};
use serde::{Deserialize, Serialize};
use time::format_description::well_known::Rfc3339;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Rows of one answer.
const AT_ONCE: u64 = 100;

#[derive(Deserialize, IntoParams)]
pub struct Before {
    /// Only what was done before this row; from the newest on where none is named.
    before: Option<i64>,
}

/// Something that was done with a job.
#[derive(Serialize, ToSchema)]
pub struct HistoryRow {
    pub row: i64,
    /// The state in which the job was after it.
    pub state: i64,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    /// What was done, in a few words.
    pub says: String,
}

/// What was done with a job, the newest first, a hundred at once.
#[utoipa::path(get, path = "/api/jobs/{id}/history", params(("id" = Uuid, Path), Before),
    responses((status = 200, body = Vec<HistoryRow>), (status = 404, body = Refusal)))]
pub async fn history(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(Before { before }): Query<Before>,
) -> Result<Json<Vec<HistoryRow>>, Problem> {
    let rows = app.store.history(id, before, AT_ONCE).await?;
    let rows = rows.into_iter().map(|step| HistoryRow {
        row: step.id,
        state: step.state.unwrap_or(step.id),
        by: step.author,
        at: step.at.format(&Rfc3339).unwrap_or_default(),
        says: step.label,
    });
    Ok(Json(rows.collect()))
}

#[derive(Deserialize, ToSchema)]
pub struct BackTo {
    author: String,
    /// As of a change.
    key: Option<Uuid>,
    state: i64,
}

/// Brings a job back to how it was in a state. What was done since stays in the history, and undo brings it again.
#[utoipa::path(post, path = "/api/jobs/{id}/back", params(("id" = Uuid, Path), Variant, Has), request_body = BackTo,
    responses((status = 200, body = JobView), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn back(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(has): Query<Has>,
    Json(wish): Json<BackTo>,
) -> Result<Answered, Problem> {
    let by = author(&wish.author)?;
    let (job, label) = app.store.state_of(id, wish.state).await?;
    let as_it_was = |_: Standing| {
        let job = job.clone();
        async move { Ok(job) }
    };
    app.edit(
        id,
        By { author: &by, key: wish.key, typing: None },
        || format!("back to how it was after: {label}"),
        as_it_was,
    )
    .await?;
    changed(&app, id, (variant, has), &by, Made::default()).await
}

/// In what a job as it stands differs from how it was in a state.
#[utoipa::path(get, path = "/api/jobs/{id}/states/{state}/differences", params(("id" = Uuid, Path), ("state" = i64, Path)),
    responses((status = 200, body = Differences), (status = 404, body = Refusal)))]
pub async fn differences(
    State(app): State<Shared>,
    Path((id, state)): Path<(Uuid, i64)>,
) -> Result<Json<Differences>, Problem> {
    let then = app.store.state_of(id, state).await?.0;
    let now = app.store.standing(id).await?.job;
    let told = move || differences::differences(&then, &now);
    Ok(Json(app.heavy(told).await?))
}

#[derive(Deserialize, ToSchema)]
pub struct CopyOf {
    author: String,
    /// How it is called.
    name: String,
}

/// Makes a job of its own of a job as it was in a state.
#[utoipa::path(post, path = "/api/jobs/{id}/states/{state}/copy", params(("id" = Uuid, Path), ("state" = i64, Path)),
    request_body = CopyOf, responses((status = 201, body = Begun), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn copy(
    State(app): State<Shared>,
    Path((id, state)): Path<(Uuid, i64)>,
    Json(wish): Json<CopyOf>,
) -> Result<(StatusCode, Json<Begun>), Problem> {
    let by = author(&wish.author)?;
    let mut job = app.store.state_of(id, state).await?.0;
    job.name = wish.name.trim().into();
    job.check()?;
    let id = app.store.create(&job, &by).await?;
    app.inspect_later(id);
    Ok((StatusCode::CREATED, Json(Begun { id })))
}
