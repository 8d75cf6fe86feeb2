//! Artwork read from files.

use crate::{
    app::Shared,
    problem::{Problem, Refusal, sentence},
};
use axum::{
    Json,
    body::Bytes,
    extract::{Query, State},
};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

#[derive(Deserialize, IntoParams)]
pub struct ArtworkFile {
    /// Its name.
    file: String,
}

/// A drawing, for a mark to draw.
#[derive(Serialize, ToSchema)]
pub struct ArtworkView {
    pub file: String,
    /// As a mark keeps it.
    pub outline: String,
    /// Height of what is drawn, mm, where the file says what its lengths are.
    pub height: Option<f64>,
    /// What was joined, changed or left out.
    pub told: Vec<String>,
}

/// Reads an SVG drawing from the bytes of a file, without keeping it.
#[utoipa::path(post, path = "/api/artwork", params(ArtworkFile), request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = ArtworkView), (status = 422, body = Refusal)))]
pub async fn read_artwork(
    State(app): State<Shared>,
    Query(ArtworkFile { file }): Query<ArtworkFile>,
    bytes: Bytes,
) -> Result<Json<ArtworkView>, Problem> {
    let name = file.clone();
    let view = app
        .heavy(move || {
            ::artwork::read(&name, &bytes).map(|drawing| ArtworkView {
                outline: ::artwork::path(&drawing.region),
                file: name,
                height: drawing.height,
                told: drawing.told,
            })
        })
        .await?;
    view.map(Json).map_err(|e| Problem::Wrong(format!("“{file}”: {}", sentence(&e.to_string()))))
}
