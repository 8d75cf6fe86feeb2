//! Artwork read from files.

use crate::{
    app::Shared,
    problem::{Problem, Refusal, wrong_file},
};
use ::artwork::{Drawing, Fault, FaultKind, Layer, Wish};
use axum::{
    Json,
    body::Bytes,
    extract::{Query, State},
};
use glam::DVec2;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

/// A file of artwork, and how it is to be read.
#[derive(Deserialize, IntoParams)]
pub struct ArtworkFile {
    /// Its name.
    file: String,
    /// Names of layers or groups that are drawn, as a JSON list; those that are seen where this is not given.
    layers: Option<String>,
    /// mm that a unit of the drawing is long, where the file doesn't say.
    unit: Option<f64>,
    /// Height of what is drawn, mm.
    height: Option<f64>,
    /// Outlines may lie this far off, mm at that height.
    within: Option<f64>,
    /// Lines are drawn this wide, mm, instead of bounding what lies between them.
    stroke: Option<f64>,
    /// Least width that the process makes, mm.
    least: Option<f64>,
}

/// A drawing, for a mark to draw.
#[derive(Serialize, ToSchema)]
pub struct ArtworkView {
    pub file: String,
    /// As a mark keeps it.
    pub outline: String,
    /// Of the outline's box, in its own units.
    pub size: [f64; 2],
    /// Height of what is drawn, mm, where the file or the wish says what its lengths are.
    pub height: Option<f64>,
    /// The file says what its lengths are.
    pub sized: bool,
    pub layers: Vec<LayerView>,
    pub faults: Vec<FaultView>,
    pub points: usize,
    /// What was joined, changed or left out.
    pub told: Vec<String>,
    /// Those of them that say what of the file is lacking.
    pub left_out: Vec<String>,
    /// There is something to choose, or a fault that isn't mended.
    pub asks: bool,
    /// Its lines are bounds, to which a width can be given.
    pub lines: bool,
    /// Why there is no outline, where another wish could help.
    pub problem: Option<String>,
}

#[derive(Serialize, ToSchema)]
pub struct LayerView {
    /// Empty for what lies in no named group.
    pub name: String,
    pub shapes: usize,
    pub drawn: bool,
}

#[derive(Serialize, ToSchema)]
pub struct FaultView {
    pub kind: FaultKind,
    pub count: usize,
    pub says: String,
    pub mended: bool,
    /// Some of the places, in the outline's units.
    pub places: Vec<[f64; 2]>,
}

impl FaultView {
    /// A fault, its places moved by `there`.
    pub(super) fn of(fault: Fault, there: impl Fn(DVec2) -> DVec2) -> Self {
        Self {
            kind: fault.kind,
            count: fault.count,
            says: fault.says,
            mended: fault.mended,
            places: fault.places.into_iter().map(|p| there(p).to_array()).collect(),
        }
    }
}

fn layers(layers: Vec<Layer>) -> Vec<LayerView> {
    layers.into_iter().map(|l| LayerView { name: l.name, shapes: l.shapes, drawn: l.drawn }).collect()
}

fn view(file: String, drawing: Drawing, lines: bool) -> ArtworkView {
    let (_, high) = drawing.region.bounds().unwrap_or_default();
    ArtworkView {
        file,
        outline: ::artwork::outline(&drawing.region),
        size: high.to_array(),
        height: drawing.height,
        sized: drawing.sized,
        points: drawing.region.contours().map(Vec::len).sum(),
        layers: layers(drawing.layers),
        faults: drawing.faults.into_iter().map(|f| FaultView::of(f, |p| p)).collect(),
        told: drawing.told,
        left_out: drawing.left_out,
        asks: drawing.asks,
        lines,
        problem: None,
    }
}

/// A drawing that can't be drawn as it was wished.
fn unfit(file: String, found: &[Layer], lines: bool, problem: String) -> ArtworkView {
    ArtworkView {
        file,
        outline: String::new(),
        size: [0.0; 2],
        height: None,
        sized: false,
        points: 0,
        layers: layers(found.to_vec()),
        faults: Vec::new(),
        told: Vec::new(),
        left_out: Vec::new(),
        asks: true,
        lines,
        problem: Some(problem),
    }
}

/// Reads an SVG or DXF drawing from the bytes of a file, without keeping it.
#[utoipa::path(post, path = "/api/artwork", params(ArtworkFile), request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = ArtworkView), (status = 422, body = Refusal)))]
pub async fn read_artwork(
    State(app): State<Shared>,
    Query(given): Query<ArtworkFile>,
    bytes: Bytes,
) -> Result<Json<ArtworkView>, Problem> {
    let ArtworkFile { file, layers, unit, height, within, stroke, least } = given;
    let layers = layers
        .map(|names| serde_json::from_str(&names))
        .transpose()
        .map_err(|e| Problem::Wrong(format!("The layers are no JSON list of names: {e}.")))?;
    let wish = Wish { layers, unit, height, within, stroke, least };
    let name = file.clone();
    let read = app.read_apart(None, move |reading| reader::artwork(&name, &bytes, &wish, reading)).await?;
    let (read, lines) = read.map_err(|e| wrong_file(&file, &e.to_string()))?;
    match read {
        Ok(drawing) => Ok(Json(view(file, drawing, lines))),
        Err(e) => {
            let found = e.by_wish().ok_or_else(|| wrong_file(&file, &e.to_string()))?;
            let problem = wrong_file(&file, &e.to_string()).to_string();
            Ok(Json(unfit(file, found, lines, problem)))
        }
    }
}
