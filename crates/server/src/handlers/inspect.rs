//! The inspection of a job as it stands.

use crate::{
    app::Shared,
    problem::{Problem, Refusal},
    views::{self, OutcomeView},
};
use axum::{
    Json,
    extract::{Path, State},
};
use uuid::Uuid;

/// Findings of the present state, worked out if need be, and the pieces of the marked solid.
#[utoipa::path(get, path = "/api/jobs/{id}/outcome", params(("id" = Uuid, Path)),
    responses((status = 200, body = OutcomeView), (status = 404, body = Refusal)))]
pub async fn outcome(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<OutcomeView>, Problem> {
    let (standing, bench, outcome) = app.outcome(id).await?;
    let pieces = app.offer(&bench, &outcome);
    Ok(Json(views::outcome(&standing, &outcome, pieces)))
}
