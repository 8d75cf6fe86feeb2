//! Patterns of the shop: kept from one job, placed on another by an edit of that one.

use super::author;
use crate::{
    app::Shared,
    problem::{Problem, Refusal, sentence},
    store::KeptPattern,
    views::{PlateView, plates},
};
use axum::{
    Json,
    extract::{Path, State},
    http::StatusCode,
};
use serde::{Deserialize, Serialize};
use time::format_description::well_known::Rfc3339;
use trade::{Job, Pattern};
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct PatternView {
    pub id: Uuid,
    pub name: String,
    pub author: String,
    /// RFC 3339.
    pub at: String,
    pub gone: bool,
    /// Columns that it brings where a roster lacks them.
    pub columns: Vec<String>,
    pub plates: Vec<PlateView>,
}

fn view(kept: KeptPattern) -> PatternView {
    let KeptPattern { row, pattern } = kept;
    let columns = pattern.columns.iter().map(|c| c.name.clone()).collect();
    let mut job = Job { marks: pattern.marks, own_faces: pattern.own_faces, ..Job::default() };
    job.hold_faces();
    let at = row.at.format(&Rfc3339).unwrap_or_default();
    PatternView { id: row.id, name: row.name, author: row.author, at, gone: row.gone, columns, plates: plates(&job) }
}

/// All patterns, those off the list too.
#[utoipa::path(get, path = "/api/patterns", responses((status = 200, body = Vec<PatternView>)))]
pub async fn patterns(State(app): State<Shared>) -> Result<Json<Vec<PatternView>>, Problem> {
    let all = app.store.patterns().await?;
    Ok(Json(app.heavy(move || all.into_iter().map(view).collect()).await?))
}

/// What a pattern is placed with.
#[utoipa::path(get, path = "/api/patterns/{id}", params(("id" = Uuid, Path)),
    responses((status = 200, body = Pattern), (status = 404, body = Refusal)))]
pub async fn pattern(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<Pattern>, Problem> {
    Ok(Json(app.store.pattern(id).await?.pattern))
}

#[derive(Deserialize, ToSchema)]
pub struct KeepPattern {
    author: String,
    name: String,
    /// Marks of the job, by their ids.
    marks: Vec<String>,
}

/// Keeps marks of a job as a pattern.
#[utoipa::path(post, path = "/api/jobs/{id}/patterns", params(("id" = Uuid, Path)), request_body = KeepPattern,
    responses((status = 201, body = Uuid), (status = 422, body = Refusal)))]
pub async fn keep_pattern(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(wish): Json<KeepPattern>,
) -> Result<(StatusCode, Json<Uuid>), Problem> {
    let by = author(&wish.author)?;
    let job = app.store.standing(id).await?.job;
    let pattern = Pattern::of(&job, &wish.marks, &wish.name).map_err(|e| Problem::Wrong(sentence(&e)))?;
    Ok((StatusCode::CREATED, Json(app.store.keep_pattern(&pattern, &by).await?)))
}

#[derive(Deserialize, ToSchema)]
pub struct PatternGone {
    author: String,
    gone: bool,
}

/// Takes a pattern off the list, or puts it back.
#[utoipa::path(post, path = "/api/patterns/{id}/gone", params(("id" = Uuid, Path)), request_body = PatternGone,
    responses((status = 204), (status = 404, body = Refusal)))]
pub async fn set_pattern_gone(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(PatternGone { author: by, gone }): Json<PatternGone>,
) -> Result<StatusCode, Problem> {
    app.store.set_pattern_gone(id, gone, &author(&by)?).await?;
    Ok(StatusCode::NO_CONTENT)
}
