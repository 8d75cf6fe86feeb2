//! The part: its mesh, the parting line on it, and the pieces of the marked solid.

use crate::{
    app::Shared,
    meshes,
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    extract::{Path, State},
    http::header,
    response::IntoResponse,
};
use uuid::Uuid;
use workbench::Steps;

/// What is named by its content never changes.
const FOR_EVER: &str = "private, max-age=31536000, immutable";

/// The bare part's mesh; `name` is its name in the job's part.
#[utoipa::path(get, path = "/api/jobs/{id}/part/{name}", params(("id" = Uuid, Path), ("name" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn mesh(
    State(app): State<Shared>,
    Path((id, name)): Path<(Uuid, String)>,
) -> Result<impl IntoResponse, Problem> {
    let bench = app.bench_of(&app.store.standing(id).await?.job.part).await?;
    if crate::app::piece_name(bench.part(), "part") != name {
        return Err(Problem::Missing("This job has another part now.".into()));
    }
    let bytes = app.heavy_on(bench.clone().part(), move || meshes::part(bench.part())).await?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream"), (header::CACHE_CONTROL, FOR_EVER)], bytes))
}

/// The parting line on the bare part, as segments, mm.
#[utoipa::path(get, path = "/api/jobs/{id}/parting", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<[[f64; 3]; 2]>), (status = 404, body = Refusal)))]
pub async fn parting(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<Vec<[[f64; 3]; 2]>>, Problem> {
    let mut job = app.store.standing(id).await?.job;
    let bench = app.bench(&mut job).await?;
    let line = app.heavy(move || bench.parting(&job.tool)).await?;
    Ok(Json(line.iter().flat_map(|l| &l.segments).map(|s| s.map(|p| p.to_array())).collect()))
}

/// A piece of a marked solid, by the name it was given.
#[utoipa::path(get, path = "/api/pieces/{name}", params(("name" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn piece(State(app): State<Shared>, Path(name): Path<String>) -> Result<impl IntoResponse, Problem> {
    let piece = app
        .piece(&name)
        .ok_or_else(|| Problem::Missing("This piece belongs to an older state; ask for the solid again.".into()))?;
    let bytes = app
        .heavy(move || match piece {
            crate::app::Piece::Group(group, bench) => meshes::group(&group, bench.part()),
            crate::app::Piece::Rest(outcome, bench) => match bench.rest(&outcome) {
                Some(rest) => meshes::rest(&rest, bench.part()),
                None => meshes::part(bench.part()),
            },
        })
        .await?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream"), (header::CACHE_CONTROL, FOR_EVER)], bytes))
}
