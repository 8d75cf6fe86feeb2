//! The part: its mesh, the parting line on it.

use crate::{
    app::Shared,
    meshes,
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    extract::{Path, Query, State},
    http::header,
    response::IntoResponse,
};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use solid::cut;
use utoipa::{IntoParams, ToSchema};
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

/// A plane: its normal, and its height along that, mm.
#[derive(Deserialize, IntoParams)]
pub struct Plane {
    x: f64,
    y: f64,
    z: f64,
    height: f64,
}

#[derive(Serialize, ToSchema)]
pub struct SectionView {
    /// What is cut through, as triangles that face along the normal; none where the part is open there.
    pub filled: Vec<[[f64; 3]; 3]>,
    /// Its edge, each ring closed.
    pub rings: Vec<Vec<[f64; 3]>>,
    /// mm².
    pub area: f64,
}

/// The bare part cut by a plane.
#[utoipa::path(get, path = "/api/jobs/{id}/section", params(("id" = Uuid, Path), Plane),
    responses((status = 200, body = SectionView), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn section(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(plane): Query<Plane>,
) -> Result<Json<SectionView>, Problem> {
    let normal = DVec3::new(plane.x, plane.y, plane.z)
        .try_normalize()
        .filter(|_| plane.height.is_finite())
        .ok_or_else(|| Problem::Wrong("A plane needs a direction and a height.".into()))?;
    let bench = app.bench_of(&app.store.standing(id).await?.job.part).await?;
    let view = app
        .heavy(move || {
            let mesh = &bench.part().mesh;
            let rings = cut::rings(mesh, normal, plane.height);
            SectionView {
                filled: cut::filled(&rings, normal)
                    .unwrap_or_default()
                    .iter()
                    .map(|t| t.map(|p| p.to_array()))
                    .collect(),
                area: cut::section_area(mesh, normal, plane.height),
                rings: rings.iter().map(|r| r.iter().map(|p| p.to_array()).collect()).collect(),
            }
        })
        .await?;
    Ok(Json(view))
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
            crate::app::Piece::Rest(outcome, bench) => match bench.work().rest(&outcome) {
                Some(rest) => meshes::rest(&rest, bench.part()),
                None => meshes::part(bench.part()),
            },
        })
        .await?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream"), (header::CACHE_CONTROL, FOR_EVER)], bytes))
}
