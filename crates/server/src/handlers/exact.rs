//! Exact geometry: STEP files, each made when it is asked for, read back and held to the mesh.

use super::{
    Variant,
    attached::{attached, stem},
};
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    extract::{Path, Query, State},
    response::Response,
};
use handoff::exact::{Holds, Manner};
use serde::{Deserialize, Serialize};
use step::Schema;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// How the file is written.
#[derive(Clone, Deserialize, IntoParams)]
pub struct Written {
    /// Application protocol AP242; AP214 where it is left out.
    #[serde(default)]
    ap242: bool,
    /// At the steel's size, with the shrinkage added; at the part's where it is left out.
    #[serde(default)]
    steel: bool,
    /// Of the lettering one mark's alone, by its id, at the steel's size and in the coordinates of its piece of the tool.
    mark: Option<String>,
}

impl Written {
    fn manner(&self) -> Manner {
        let schema = if self.ap242 { Schema::Ap242 } else { Schema::Ap214 };
        Manner { schema, steel: self.steel, ..Manner::default() }
    }
}

/// A STEP file that was made and read back.
#[derive(Serialize, ToSchema)]
pub struct ExactView {
    pub name: String,
    /// Bytes.
    pub size: usize,
    pub solids: usize,
    /// Places that were compared with the mesh, and how far the farthest lies off it, mm.
    pub places: usize,
    pub farthest: f64,
    /// What of it is of facets, and why.
    pub faceted: Vec<String>,
    pub sentence: String,
}

fn holds(name: &str) -> Result<Holds, Problem> {
    let known = Holds::ALL.into_iter().find(|holds| holds.file() == name);
    known.ok_or_else(|| {
        Problem::Missing(format!("There is no STEP file {name}; there are lettering.step and marked-solid.step."))
    })
}

/// Makes a STEP file, `lettering.step` or `marked-solid.step`, and says what was found when it was read back.
#[utoipa::path(post, path = "/api/jobs/{id}/exact/{name}", params(("id" = Uuid, Path), ("name" = String, Path), Variant, Written),
    responses((status = 200, body = ExactView), (status = 422, body = Refusal)))]
pub async fn make(
    State(app): State<Shared>,
    Path((id, name)): Path<(Uuid, String)>,
    Query(variant): Query<Variant>,
    Query(written): Query<Written>,
) -> Result<Json<ExactView>, Problem> {
    let (_, made) = app.exact(id, variant.row, holds(&name)?, (written.manner(), written.mark.as_deref())).await?;
    let read = &made.read;
    Ok(Json(ExactView {
        name: made.file.name.clone(),
        size: made.file.bytes.len(),
        solids: read.solids,
        places: read.places,
        farthest: read.farthest,
        faceted: read.faceted.clone(),
        sentence: read.sentence.clone(),
    }))
}

/// A STEP file.
#[utoipa::path(get, path = "/api/jobs/{id}/exact/{name}", params(("id" = Uuid, Path), ("name" = String, Path), Variant, Written),
    responses((status = 200, content_type = "model/step", body = Vec<u8>), (status = 422, body = Refusal)))]
pub async fn file(
    State(app): State<Shared>,
    Path((id, name)): Path<(Uuid, String)>,
    Query(variant): Query<Variant>,
    Query(written): Query<Written>,
) -> Result<Response, Problem> {
    let (job, made) = app.exact(id, variant.row, holds(&name)?, (written.manner(), written.mark.as_deref())).await?;
    Ok(attached("model/step", &format!("{}-{}", stem(&job), made.file.name), made.file.bytes.clone()))
}
