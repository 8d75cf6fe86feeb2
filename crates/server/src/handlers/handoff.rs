//! Hand off: the documents as they will be, one by one or all in one archive.

use super::{
    Variant,
    attached::{attached, stem},
    author,
};
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    extract::{Path, Query, State},
    http::{StatusCode, header},
    response::{IntoResponse, Response},
};
use serde::{Deserialize, Serialize};
use std::io::{Cursor, Write};
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct HandoffView {
    /// The state the files are of.
    pub state: i64,
    /// What was found on the finished solid as a whole; `None` on a surface body.
    pub solid: Option<FoundView>,
    pub files: Vec<FileView>,
}

/// What was found on the solid, or on one of its files.
#[derive(Serialize, ToSchema)]
pub struct FoundView {
    pub state: trade::limits::State,
    pub sentence: String,
}

#[derive(Serialize, ToSchema)]
pub struct FileView {
    pub name: String,
    /// Bytes.
    pub size: usize,
    /// What it is for.
    pub what: String,
    /// What it holds, read again; `None` for what has no geometry.
    pub read: Option<FoundView>,
}

fn what(name: &str) -> String {
    match name {
        "marked-solid.3mf" => "the finished solid in millimetres, one object, marks as named colours",
        "marked-solid.stl" => "the finished solid in millimetres, binary STL",
        "marked-solid.glb" => "the finished solid for viewers, faces and marks as named parts",
        "marked-surface-body.glb" => "the surface with the bodies on it for viewers, faces and marks as named parts",
        "lettering.3mf" => "the lettering bodies as named objects",
        "findings.html" => "the findings to read and print",
        "tool-plate.svg" => "where each cavity lies, turned as it lies, to print",
        "findings.json" => "the findings for other programs",
        "job.tinbadge.json" => "the job file, for the command line",
        _ if name.starts_with("surface-") => "the region of one surface-only mark, without thickness, binary STL",
        _ if name.starts_with("stamp-area-") => "the field of one stamp area, without thickness, binary STL",
        _ if name.starts_with("raised-pad-") || name.starts_with("recessed-pad-") => {
            "what one mark stands on, binary STL"
        }
        _ if name.starts_with("kept-free-") => "what one mark keeps free for later, without thickness, binary STL",
        _ if name.starts_with("core-") => "the turnable core of one date dial, binary STL",
        _ => "the bodies of one mark, binary STL",
    }
    .into()
}

/// What would be handed off now, measured on the whole solid.
#[utoipa::path(get, path = "/api/jobs/{id}/handoff", params(("id" = Uuid, Path), Variant),
    responses((status = 200, body = HandoffView), (status = 422, body = Refusal)))]
pub async fn documents(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
) -> Result<Json<HandoffView>, Problem> {
    let (standing, handed) = app.files(id, variant.row).await?;
    let read = |name: &str| handed.checked.files.iter().find(|f| f.file == name);
    let files = handed.files.iter().map(|f| FileView {
        name: f.name.clone(),
        size: f.bytes.len(),
        what: what(&f.name),
        read: read(&f.name).map(|f| FoundView { state: f.state, sentence: f.sentence.clone() }),
    });
    let solid = handed.checked.solid.as_ref().map(|s| FoundView { state: s.state, sentence: s.sentence.clone() });
    Ok(Json(HandoffView { state: standing.state, solid, files: files.collect() }))
}

/// One file of the handoff, or `all.zip`.
#[utoipa::path(get, path = "/api/jobs/{id}/handoff/{name}", params(("id" = Uuid, Path), ("name" = String, Path), Variant),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn document(
    State(app): State<Shared>,
    Path((id, name)): Path<(Uuid, String)>,
    Query(variant): Query<Variant>,
) -> Result<Response, Problem> {
    let (standing, handed) = app.files(id, variant.row).await?;
    let bytes = if name == "all.zip" {
        let mut part = app.part_file(&standing.job).await?;
        while handed.files.iter().any(|f| f.name == part.name) {
            part.name.insert_str(0, "part-");
        }
        app.heavy(move || archive(handed.files.iter().chain([&part]))).await??
    } else {
        let file = handed
            .files
            .iter()
            .find(|f| f.name == name)
            .ok_or_else(|| Problem::Missing(format!("The handoff has no file {name}.")))?;
        file.bytes.clone()
    };
    if name == "findings.html" {
        // shown in a frame; it brings its own style and nothing else
        let policy = "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'";
        return Ok((
            [(header::CONTENT_TYPE, "text/html; charset=utf-8"), (header::CONTENT_SECURITY_POLICY, policy)],
            bytes,
        )
            .into_response());
    }
    let kind = match name.rsplit('.').next() {
        Some("json") => "application/json",
        Some("3mf") => "model/3mf",
        Some("glb") => "model/gltf-binary",
        Some("stl") => "model/stl",
        Some("svg") => "image/svg+xml",
        _ => "application/zip",
    };
    Ok(attached(kind, &format!("{}-{name}", stem(&standing.job.name)), bytes))
}

pub(crate) fn archive<'a>(files: impl IntoIterator<Item = &'a handoff::Named>) -> Result<Vec<u8>, Problem> {
    let failed = |e: String| Problem::Wrong(format!("The archive could not be written: {e}."));
    let mut writer = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for file in files {
        writer.start_file(&file.name, zip::write::SimpleFileOptions::default()).map_err(|e| failed(e.to_string()))?;
        writer.write_all(&file.bytes).map_err(|e| failed(e.to_string()))?;
    }
    Ok(writer.finish().map_err(|e| failed(e.to_string()))?.into_inner())
}

#[derive(Deserialize, ToSchema)]
pub struct HandOver {
    author: String,
    /// The state whose files were taken.
    state: i64,
}

/// Notes that the files of a state were handed off.
#[utoipa::path(post, path = "/api/jobs/{id}/handoff", params(("id" = Uuid, Path)), request_body = HandOver,
    responses((status = 204), (status = 422, body = Refusal)))]
pub async fn hand_over(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(over): Json<HandOver>,
) -> Result<StatusCode, Problem> {
    let by = author(&over.author)?;
    let standing = app.store.standing(id).await?;
    if standing.state != over.state {
        return Err(Problem::Wrong(
            "The job was changed while you looked at it. Look at the documents again, then hand off.".into(),
        ));
    }
    app.store.hand_over(id, over.state, &by).await?;
    Ok(StatusCode::NO_CONTENT)
}
