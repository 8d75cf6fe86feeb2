//! The roster: read from files, written to them, and what the marks say over all its rows.

use super::attached::{attached, stem};
use crate::{
    app::{Shared, today},
    problem::{Problem, Refusal, sentence, wrong_file},
    views::{self, SaidView},
};
use axum::{
    Json,
    body::Bytes,
    extract::{Path, Query, State},
    response::IntoResponse,
};
use serde::Deserialize;
use trade::Roster;
use utoipa::IntoParams;
use uuid::Uuid;

#[derive(Deserialize, IntoParams)]
pub struct File {
    /// Its name; the ending says the format: csv, tsv, txt or xlsx.
    file: String,
}

/// Reads a roster from the bytes of a file, without keeping it: its first row names the columns.
#[utoipa::path(post, path = "/api/roster", params(File), request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = Roster), (status = 422, body = Refusal)))]
pub async fn read(State(app): State<Shared>, Query(new): Query<File>, bytes: Bytes) -> Result<Json<Roster>, Problem> {
    let name = new.file.clone();
    let read = app.read_apart(None, move |reading| reader::roster(&new.file, &bytes, reading)).await?;
    let roster = read.map_err(|e| wrong_file(&name, &e.to_string()))?.map_err(|e| wrong_file(&name, &e))?;
    Ok(Json(roster))
}

/// The roster of a job as a file: `csv` or `xlsx`.
#[utoipa::path(get, path = "/api/jobs/{id}/roster/{format}", params(("id" = Uuid, Path), ("format" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn write(
    State(app): State<Shared>,
    Path((id, format)): Path<(Uuid, String)>,
) -> Result<impl IntoResponse, Problem> {
    let job = app.store.standing(id).await?.job;
    let name = job.name.clone();
    let (kind, bytes) = match format.as_str() {
        "csv" => ("text/csv; charset=utf-8", roster::csv::write(&job.roster)),
        "xlsx" => (
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            app.heavy(move || roster::xlsx::write(&job.roster))
                .await?
                .map_err(|e| Problem::Wrong(sentence(&e.to_string())))?,
        ),
        _ => return Err(Problem::Missing(format!("A roster is written as csv or xlsx, not as {format}."))),
    };
    Ok(attached(kind, &format!("{}-roster.{format}", stem(&name)), bytes))
}

/// What the marks with recipes say in every row, and what of that can be mistaken.
#[utoipa::path(get, path = "/api/jobs/{id}/said", params(("id" = Uuid, Path)),
    responses((status = 200, body = SaidView), (status = 404, body = Refusal)))]
pub async fn said(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<SaidView>, Problem> {
    let standing = app.store.standing(id).await?;
    Ok(Json(app.heavy(move || views::said(standing.state, &standing.job, today())).await?))
}
