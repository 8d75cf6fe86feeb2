//! The inspection of a job as it stands.

use crate::{
    app::Shared,
    problem::{Problem, Refusal},
    views::{self, OutcomeView, SolidView},
};
use axum::{
    Json,
    extract::{Path, State},
};
use uuid::Uuid;

/// The marked solid of the present state, built if need be: the names of its pieces.
#[utoipa::path(get, path = "/api/jobs/{id}/solid", params(("id" = Uuid, Path)),
    responses((status = 200, body = SolidView), (status = 404, body = Refusal)))]
pub async fn solid(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<SolidView>, Problem> {
    let (standing, bench, joined) = app.joined(id).await?;
    let pieces = app.offer(&bench, &joined);
    Ok(Json(SolidView { state: standing.state, pieces }))
}

/// Findings of the present state, worked out if need be.
#[utoipa::path(get, path = "/api/jobs/{id}/outcome", params(("id" = Uuid, Path)),
    responses((status = 200, body = OutcomeView), (status = 404, body = Refusal)))]
pub async fn outcome(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<OutcomeView>, Problem> {
    let (standing, _, outcome) = app.outcome(id).await?;
    Ok(Json(views::outcome(&standing, &outcome)))
}
