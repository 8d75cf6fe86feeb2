//! Whether the server is alive and can work, and what it counts, for whoever watches over it.

use crate::{
    app::Shared,
    problem::{Problem, Refusal},
};
use axum::{extract::State, http::header, response::IntoResponse};

/// It is alive: it answers.
#[utoipa::path(get, path = "/api/health", responses((status = 200, content_type = "text/plain", body = String)))]
pub async fn health() -> &'static str {
    "alive"
}

/// It can work: its database answers.
#[utoipa::path(get, path = "/api/ready", responses((status = 200, content_type = "text/plain", body = String), (status = 503, body = Refusal)))]
pub async fn ready(State(app): State<Shared>) -> Result<&'static str, Problem> {
    app.store.database.ping().await?;
    Ok("ready")
}

/// What it counts, in the text format of Prometheus.
#[utoipa::path(get, path = "/api/metrics", responses((status = 200, content_type = "text/plain", body = String), (status = 503, body = Refusal)))]
pub async fn metrics(State(app): State<Shared>) -> Result<impl IntoResponse, Problem> {
    app.meter.queued.set(app.store.queued().await?);
    Ok(([(header::CONTENT_TYPE, "text/plain; version=0.0.4")], app.meter.told()))
}
