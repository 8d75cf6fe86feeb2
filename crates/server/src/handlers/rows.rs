//! All rows of the roster at once: measured, built, removed in one archive.

use super::attached::{attached, stem};
use crate::{
    app::{Shared, today},
    problem::{Problem, Refusal},
    rows::{Work, wanted},
    views::{self, RowsView},
};
use axum::{
    Json,
    body::Body,
    extract::{Path, State},
    http::{StatusCode, header},
    response::IntoResponse,
};
use serde::Deserialize;
use std::io::{Seek, SeekFrom};
use tokio_util::io::ReaderStream;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Deserialize, ToSchema)]
pub struct BeginRows {
    work: Work,
}

/// What every row says and came to, as far as it is measured.
#[utoipa::path(get, path = "/api/jobs/{id}/rows", params(("id" = Uuid, Path)),
    responses((status = 200, body = RowsView), (status = 404, body = Refusal)))]
pub async fn rows(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<RowsView>, Problem> {
    let run = app.store.run(id).await?;
    let mut standing = app.store.standing(id).await?;
    let bench = app.bench(&mut standing.job).await?;
    let planned = app.planned(&standing, today()).await?;
    let kept = app.store.kept_rows(id).await?;
    let view = move || views::rows(&standing, &planned, &kept, &wanted(&standing.job, &bench), run);
    Ok(Json(app.heavy(view).await?))
}

/// Begins to measure, or to build the files of, all rows that are not done yet.
#[utoipa::path(post, path = "/api/jobs/{id}/rows/run", params(("id" = Uuid, Path)), request_body = BeginRows,
    responses((status = 202), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn begin_rows(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(begin): Json<BeginRows>,
) -> Result<StatusCode, Problem> {
    app.begin_rows(id, begin.work).await?;
    Ok(StatusCode::ACCEPTED)
}

/// Stops it; what is done stays done.
#[utoipa::path(delete, path = "/api/jobs/{id}/rows/run", params(("id" = Uuid, Path)), responses((status = 204)))]
pub async fn stop_rows(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    app.store.end_run(id).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The files of all rows.
#[utoipa::path(get, path = "/api/jobs/{id}/rows/all.zip", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "application/zip", body = Vec<u8>), (status = 422, body = Refusal)))]
pub async fn archive(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<impl IntoResponse, Problem> {
    let (standing, mut file) = app.rows_archive(id).await?;
    let failed = |e| Problem::Wrong(format!("The archive could not be read back: {e}."));
    let size = file.seek(SeekFrom::End(0)).map_err(failed)?;
    file.rewind().map_err(failed)?;
    let body = Body::from_stream(ReaderStream::new(tokio::fs::File::from_std(file)));
    let name = format!("{}-rows.zip", stem(&standing.job.name));
    Ok(([(header::CONTENT_LENGTH, size.to_string())], attached("application/zip", &name, body)))
}
