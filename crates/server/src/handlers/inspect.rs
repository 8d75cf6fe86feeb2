//! The inspection of a job as it stands.

use super::Variant;
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
    views::{self, OutcomeView, SolidView},
};
use axum::{
    Json,
    extract::{Path, Query, State},
};
use uuid::Uuid;

/// The marked solid of the present state, built if need be: the names of its pieces.
#[utoipa::path(get, path = "/api/jobs/{id}/solid", params(("id" = Uuid, Path), Variant),
    responses((status = 200, body = SolidView), (status = 404, body = Refusal)))]
pub async fn solid(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
) -> Result<Json<SolidView>, Problem> {
    let (standing, shown, bench, joined) = app.joined(id, variant.row).await?;
    let pieces = app.offer(&bench, &joined);
    Ok(Json(SolidView { state: standing.state, row: shown.1, pieces }))
}

/// Findings of the present state, worked out if need be.
#[utoipa::path(get, path = "/api/jobs/{id}/outcome", params(("id" = Uuid, Path), Variant),
    responses((status = 200, body = OutcomeView), (status = 404, body = Refusal)))]
pub async fn outcome(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
) -> Result<Json<OutcomeView>, Problem> {
    let (standing, _, outcome) = app.outcome(id, variant.row).await?;
    let row = variant.row.or(standing.job.first_row());
    Ok(Json(views::outcome(&standing, row, &outcome)))
}
