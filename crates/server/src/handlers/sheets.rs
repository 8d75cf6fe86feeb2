//! Sheets of limits of the shop's own: kept from one job, taken by another by an edit of that one.

use super::author;
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    extract::{Path, State},
    http::StatusCode,
};
use serde::{Deserialize, Serialize};
use time::format_description::well_known::Rfc3339;
use trade::limits::Sheet;
use utoipa::ToSchema;
use uuid::Uuid;

/// A version of a sheet.
#[derive(Serialize, ToSchema)]
pub struct SheetView {
    pub sheet: Sheet,
    /// Id of the shipped limit set that it was made over.
    pub limits: String,
    pub author: String,
    /// RFC 3339.
    pub at: String,
    pub gone: bool,
}

/// All versions of all sheets, by name, the newest first; those off the list too.
#[utoipa::path(get, path = "/api/sheets", responses((status = 200, body = Vec<SheetView>)))]
pub async fn sheets(State(app): State<Shared>) -> Result<Json<Vec<SheetView>>, Problem> {
    let view = |kept: crate::store::KeptSheet| SheetView {
        sheet: kept.sheet,
        limits: kept.row.limits,
        author: kept.row.author,
        at: kept.row.at.format(&Rfc3339).unwrap_or_default(),
        gone: kept.row.gone,
    };
    Ok(Json(app.store.sheets().await?.into_iter().map(view).collect()))
}

#[derive(Deserialize, ToSchema)]
pub struct KeepSheet {
    author: String,
    name: String,
}

/// Keeps what a job is judged by as the next version of a sheet.
#[utoipa::path(post, path = "/api/jobs/{id}/sheets", params(("id" = Uuid, Path)), request_body = KeepSheet,
    responses((status = 201, body = Sheet), (status = 422, body = Refusal)))]
pub async fn keep_sheet(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(wish): Json<KeepSheet>,
) -> Result<(StatusCode, Json<Sheet>), Problem> {
    let by = author(&wish.author)?;
    let job = app.store.standing(id).await?.job;
    Ok((StatusCode::CREATED, Json(app.store.keep_sheet(&job, wish.name.trim(), &by).await?)))
}

#[derive(Deserialize, ToSchema)]
pub struct SheetGone {
    author: String,
    gone: bool,
}

/// Takes a sheet off the list with all its versions, or puts it back.
#[utoipa::path(post, path = "/api/sheets/{name}/gone", params(("name" = String, Path)), request_body = SheetGone,
    responses((status = 204), (status = 404, body = Refusal)))]
pub async fn set_sheet_gone(
    State(app): State<Shared>,
    Path(name): Path<String>,
    Json(SheetGone { author: by, gone }): Json<SheetGone>,
) -> Result<StatusCode, Problem> {
    app.store.set_sheet_gone(&name, gone, &author(&by)?).await?;
    Ok(StatusCode::NO_CONTENT)
}
