//! Letter shapes of a drawing read as a lettering face, before it is kept.

use super::artwork::FaultView;
use crate::{
    app::Shared,
    problem::{Problem, Refusal, wrong_file},
};
use axum::{
    Json,
    body::Bytes,
    extract::{Query, State},
};
use glam::DVec2;
use serde::{Deserialize, Serialize};
use trade::{OwnFace, own_face::CAPITALS};
use utoipa::{IntoParams, ToSchema};

#[derive(Deserialize, IntoParams)]
pub struct LettersFile {
    /// Its name.
    file: String,
}

/// Letter shapes of a drawing as a face, before it is kept.
#[derive(Serialize, ToSchema)]
pub struct LettersView {
    /// Called like the file.
    pub face: OwnFace,
    /// What was found and what was left out.
    pub told: Vec<String>,
    /// Of letters that have some, their places as their outlines.
    pub faults: Vec<LetterFaults>,
}

#[derive(Serialize, ToSchema)]
pub struct LetterFaults {
    pub character: String,
    pub faults: Vec<FaultView>,
}

/// Reads letter shapes, each drawn on a layer or in a group of its own that is named after its character.
#[utoipa::path(post, path = "/api/letters", params(LettersFile), request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = LettersView), (status = 422, body = Refusal)))]
pub async fn read_letters(
    State(app): State<Shared>,
    Query(LettersFile { file }): Query<LettersFile>,
    bytes: Bytes,
) -> Result<Json<LettersView>, Problem> {
    let name = file.clone();
    let read = app.read_apart(None, move |reading| reader::letters(&name, &bytes, reading)).await?;
    let letters =
        read.map_err(|e| wrong_file(&file, &e.to_string()))?.map_err(|e| wrong_file(&file, &e.to_string()))?;
    let view = app.heavy(move || letters_view(&file, letters).map_err(|e| wrong_file(&file, &e)));
    Ok(Json(view.await??))
}

fn letters_view(file: &str, read: ::artwork::Letters) -> Result<LettersView, String> {
    let mut faults = Vec::new();
    let mut drawn = Vec::new();
    for letter in read.letters {
        faults.push(letter.faults);
        drawn.push((letter.character, letter.region));
    }
    let measured = lettering::own::measured(&drawn)?;
    let name = file.rsplit_once('.').map_or(file, |(name, _)| name).trim();
    let name: String = name.chars().take(60).collect();
    let face = lettering::own::face(name.trim_end(), file, &drawn, &measured);
    let to = CAPITALS / measured.cap_height;
    let faults = faults.into_iter().zip(&drawn).zip(&measured.baselines).filter(|((f, _), _)| !f.is_empty());
    let faults = faults.map(|((faults, (character, region)), baseline)| {
        let origin = DVec2::new(region.bounds().map_or(0.0, |(low, _)| low.x), *baseline);
        let view = |f: ::artwork::Fault| FaultView::of(f, |p| (p - origin) * to);
        LetterFaults { character: character.to_string(), faults: faults.into_iter().map(view).collect() }
    });
    let rows = match measured.rows {
        1 => "on one baseline".into(),
        n => format!("in {n} rows, each with its baseline"),
    };
    let letters = if drawn.len() == 1 { "1 letter".into() } else { format!("{} letters", drawn.len()) };
    let mut told = vec![format!("{letters} {rows}; capitals are as high as “{}”.", measured.capital)];
    told.extend(read.told);
    Ok(LettersView { face, told, faults: faults.collect() })
}
