//! The tool's side: what is cut into the steel or left standing there, electrodes, inserts, mirrored artwork; and what changes
//! in steel that is cut already.

use super::{
    Variant,
    attached::{attached, stem},
    handoff::archive,
};
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
    steel::picture,
};
use axum::{
    Json,
    extract::{Path, Query, State},
    http::header,
    response::{IntoResponse, Response},
};
use handoff::tool_side::{LeftBy, MarkInSteel};
use serde::Serialize;
use toolside::changes::{Bulk, MarkChange};
use trade::Lettering;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct ToolSideView {
    /// The state that it is of.
    pub state: i64,
    /// The steel's size by the part's.
    pub scale: f64,
    pub marks: Vec<MarkInSteelView>,
    pub files: Vec<SteelFileView>,
}

/// A mark in the steel.
#[derive(Serialize, ToSchema)]
pub struct MarkInSteelView {
    pub mark: String,
    /// The piece of the tool that forms it, as it is called.
    pub steel: Option<String>,
    /// Names of its files.
    pub files: Vec<String>,
    pub says: Vec<String>,
    /// What could not be made, and why.
    pub refused: Vec<String>,
    /// What each of the job's cutters leaves of it, in their order.
    pub cutters: Vec<LeftByView>,
}

/// What a cutter leaves of a mark.
#[derive(Serialize, ToSchema)]
pub struct LeftByView {
    pub cutter: String,
    /// It cuts the mark all the way and leaves nothing.
    pub clear: bool,
    pub says: String,
    /// The file that draws it.
    pub drawn: Option<String>,
    /// Lettering that it would cut in one pass.
    pub one_pass: Option<Lettering>,
}

impl From<LeftBy> for LeftByView {
    fn from(LeftBy { cutter, clear, says, drawn, one_pass }: LeftBy) -> Self {
        Self { cutter, clear, says, drawn, one_pass }
    }
}

#[derive(Serialize, ToSchema)]
pub struct SteelFileView {
    pub name: String,
    /// Bytes.
    pub size: usize,
    /// What it holds, read again; nothing for what has no geometry.
    pub read: Option<super::handoff::FoundView>,
}

/// What would be made for the tool's side now.
#[utoipa::path(get, path = "/api/jobs/{id}/tool-side", params(("id" = Uuid, Path), Variant),
    responses((status = 200, body = ToolSideView), (status = 422, body = Refusal)))]
pub async fn tool_side(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
) -> Result<Json<ToolSideView>, Problem> {
    let (_, state, made) = app.tool_side(id, variant.row).await?;
    let marks = made.marks.iter().cloned().map(|MarkInSteel { mark, steel, files, says, refused, cutters }| {
        let cutters = cutters.into_iter().map(LeftByView::from).collect();
        MarkInSteelView { mark, steel, files, says, refused, cutters }
    });
    let read = |name: &str| made.read.iter().find(|f| f.file == name);
    let files = made.files.iter().map(|f| SteelFileView {
        name: f.name.clone(),
        size: f.bytes.len(),
        read: read(&f.name).map(|f| super::handoff::FoundView { state: f.state, sentence: f.sentence.clone() }),
    });
    Ok(Json(ToolSideView { state, scale: made.scale, marks: marks.collect(), files: files.collect() }))
}

/// One file of the tool's side, or `all.zip`.
#[utoipa::path(get, path = "/api/jobs/{id}/tool-side/{name}", params(("id" = Uuid, Path), ("name" = String, Path), Variant),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn tool_side_file(
    State(app): State<Shared>,
    Path((id, name)): Path<(Uuid, String)>,
    Query(variant): Query<Variant>,
) -> Result<Response, Problem> {
    let (job, _, made) = app.tool_side(id, variant.row).await?;
    let called = if name == "all.zip" { format!("tool-side-steel-x{:.4}.zip", made.scale) } else { name.clone() };
    let bytes = if name == "all.zip" {
        app.heavy(move || archive(&made.files)).await??
    } else {
        let file = made.files.iter().find(|f| f.name == name);
        file.ok_or_else(|| Problem::Missing(format!("The tool's side has no file {name}.")))?.bytes.clone()
    };
    let kind = match name.rsplit('.').next() {
        Some("csv") => "text/csv; charset=utf-8",
        Some("3mf") => "model/3mf",
        Some("stl") => "model/stl",
        Some("svg") => "image/svg+xml",
        Some("dxf") => "image/vnd.dxf",
        _ => "application/zip",
    };
    Ok(attached(kind, &format!("{}-{called}", stem(&job)), bytes))
}

/// What changes in the steel from an earlier state.
#[derive(Serialize, ToSchema)]
pub struct SteelChangesView {
    /// The state that it was held against, and the present one.
    pub from: i64,
    pub state: i64,
    /// The steel's size by the part's; 1 where no shrinkage is set.
    pub scale: f64,
    /// The part is another one, or was read otherwise: only the marks are compared.
    pub other_part: bool,
    pub marks: Vec<MarkChangeView>,
}

#[derive(Serialize, ToSchema)]
pub struct MarkChangeView {
    pub mark: String,
    /// What it said, and says.
    pub then: Option<String>,
    pub now: Option<String>,
    /// In what it differs, in words; nothing where it is the same.
    pub differs: Vec<String>,
    /// Steel that comes off, and that must be put on.
    pub off: BulkView,
    pub on: BulkView,
    /// Along the reading direction and across it: an insert that takes in what differs, mm in the steel.
    pub insert: Option<[f64; 2]>,
    pub says: String,
}

#[derive(Serialize, ToSchema)]
pub struct BulkView {
    /// mm³ and mm² in the steel.
    pub volume: f64,
    pub area: f64,
}

impl From<&Bulk> for BulkView {
    fn from(bulk: &Bulk) -> Self {
        Self { volume: bulk.volume, area: bulk.area }
    }
}

fn change(m: &MarkChange) -> MarkChangeView {
    let [then, now] = m.texts.clone();
    MarkChangeView {
        mark: m.mark.clone(),
        then,
        now,
        differs: m.differs.iter().map(|d| d.word().to_owned()).collect(),
        off: (&m.off).into(),
        on: (&m.on).into(),
        insert: m.insert,
        says: m.says.clone(),
    }
}

/// What changes in steel that was cut after a state of the job, mark by mark.
#[utoipa::path(get, path = "/api/jobs/{id}/states/{state}/steel", params(("id" = Uuid, Path), ("state" = i64, Path), Variant),
    responses((status = 200, body = SteelChangesView), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn steel_changes(
    State(app): State<Shared>,
    Path((id, from)): Path<(Uuid, i64)>,
    Query(variant): Query<Variant>,
) -> Result<Json<SteelChangesView>, Problem> {
    let (shown, made) = app.steel_changes(id, variant.row, from).await?;
    Ok(Json(SteelChangesView {
        from,
        state: shown.0,
        scale: made.scale,
        other_part: made.other_part,
        marks: made.marks.iter().map(change).collect(),
    }))
}

/// PNG of a mark with what comes off the steel and what is put on.
#[utoipa::path(get, path = "/api/jobs/{id}/states/{state}/steel/{mark}",
    params(("id" = Uuid, Path), ("state" = i64, Path), ("mark" = String, Path), Variant),
    responses((status = 200, content_type = "image/png", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn steel_picture(
    State(app): State<Shared>,
    Path((id, from, mark)): Path<(Uuid, i64, String)>,
    Query(variant): Query<Variant>,
) -> Result<Response, Problem> {
    let (_, made) = app.steel_changes(id, variant.row, from).await?;
    let at = made.marks.iter().position(|m| m.mark == mark);
    let at = at.ok_or_else(|| Problem::Missing(format!("Neither state has a mark “{mark}”.")))?;
    let png = app.heavy(move || picture(&made, &made.marks[at])).await?;
    Ok(([(header::CONTENT_TYPE, "image/png")], png).into_response())
}
