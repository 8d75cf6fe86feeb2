//! The reading test of a mark, and how it looks under each light.

use super::Variant;
use crate::{
    app::{OnMark, Shared},
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    extract::{Path, Query, State},
    http::header,
    response::IntoResponse,
};
use serde::{Deserialize, Serialize};
use trade::limits::{State as Verdict, Subject};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;
use workbench::{Outcome, Steps};

#[derive(Deserialize, IntoParams)]
pub struct OfMark {
    mark: String,
}

/// How a mark reads: a comparison under a stated light and eye.
#[derive(Serialize, ToSchema)]
pub struct ReadingTestView {
    pub state: i64,
    pub row: Option<u32>,
    pub letters: Vec<LetterRead>,
    /// That of the letter that reads worst.
    pub margin: f64,
    pub verdict: Verdict,
    /// The margin below which a letter does not read, and from which on it reads well.
    pub limit: f64,
    pub reads: f64,
    /// Where the limit comes from, and the sheet that it stands in.
    pub source: String,
    pub sheet: String,
    /// The eight lights, the worst first.
    pub lights: Vec<LightRead>,
    /// Length of the shadows in cap heights, and from which on they are too long.
    pub shadow: f64,
    pub long_shadow: f64,
    /// From how far it is read, mm.
    pub distance: f64,
}

#[derive(Serialize, ToSchema)]
pub struct LetterRead {
    pub character: u32,
    pub text: String,
    /// By how much it matches itself better than the next: the less of both views.
    pub margin: f64,
    pub verdict: Verdict,
    pub square_on: f64,
    pub oblique: f64,
    /// The side from which the light is worst, degrees counter-clockwise from the reading direction.
    pub worst_light: f64,
    /// What it would be taken for there.
    pub taken_for: String,
    /// What stands nearest to it over all lights.
    pub rival: String,
}

#[derive(Serialize, ToSchema)]
pub struct LightRead {
    /// Its place among the lights.
    pub light: usize,
    /// Degrees counter-clockwise from the reading direction.
    pub from: f64,
    /// The mean of all letters, square-on.
    pub margin: f64,
}

/// Looks at a mark of an outcome on its piece of the solid.
fn look<T>(
    outcome: &Outcome,
    at: usize,
    see: impl FnOnce(&relief::MarkedSolid, &relief::BuiltMark) -> T,
) -> Result<T, Problem> {
    let (solid, built) = outcome
        .on_solid(at)
        .ok_or_else(|| Problem::Wrong("The mark is not built, so there is nothing to read.".into()))?;
    Ok(see(solid, built))
}

/// Whether a mark can be read by its shadows.
#[utoipa::path(get, path = "/api/jobs/{id}/reading", params(("id" = Uuid, Path), Variant, OfMark),
    responses((status = 200, body = ReadingTestView), (status = 404, body = Refusal), (status = 422, body = Refusal)))]
pub async fn of_mark(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(wish): Query<OfMark>,
) -> Result<Json<ReadingTestView>, Problem> {
    let OnMark { standing, row, bench, joined, at } = app.on_mark(id, variant.row, &wish.mark).await?;
    let distance = standing.job.reading_distance;
    let limit = standing.job.limit_set().limit(Subject::Reading);
    let view = reading::View::of(&standing.job);
    let read = move || look(&joined, at, |solid, built| reading::reading(solid, built, view));
    let read = app.later(bench.part(), read).await??;
    let read = read.map_err(|why| Problem::Wrong(format!("This mark has no reading test: {why}.")))?;
    let mut lights: Vec<LightRead> =
        (0..8).map(|light| LightRead { light, from: reading::LIGHTS[light], margin: read.lights[light] }).collect();
    lights.sort_by(|a, b| a.margin.total_cmp(&b.margin));
    let margin = read.margin();
    let judged = |margin: f64| limit.judge(margin, 0.0);
    let letters = read.letters.into_iter().map(|l| LetterRead {
        margin: l.margin(),
        verdict: judged(l.margin()),
        character: l.character,
        text: l.text,
        square_on: l.margins[0],
        oblique: l.margins[1],
        worst_light: reading::LIGHTS[l.worst.0],
        taken_for: l.taken_for,
        rival: l.rival,
    });
    Ok(Json(ReadingTestView {
        state: standing.state,
        row,
        letters: letters.collect(),
        margin,
        verdict: judged(margin),
        limit: limit.value,
        reads: limit.value + limit.margin,
        source: limit.source.to_string(),
        sheet: limit.sheet.to_string(),
        lights,
        shadow: read.shadow,
        long_shadow: reading::LONG_SHADOW,
        distance,
    }))
}

#[derive(Deserialize, IntoParams)]
pub struct UnderLight {
    mark: String,
    /// Its place among the lights, 0 to 7.
    light: usize,
}

/// A mark as it looks under one light, square-on.
#[utoipa::path(get, path = "/api/jobs/{id}/reading/picture", params(("id" = Uuid, Path), Variant, UnderLight),
    responses((status = 200, content_type = "image/png", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn picture(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(wish): Query<UnderLight>,
) -> Result<impl IntoResponse, Problem> {
    let OnMark { standing, bench, joined, at, .. } = app.on_mark(id, variant.row, &wish.mark).await?;
    if wish.light >= reading::LIGHTS.len() {
        return Err(Problem::Wrong("There are eight lights, 0 to 7.".into()));
    }
    let view = reading::View::of(&standing.job);
    let drawn = move || {
        look(&joined, at, |solid, built| {
            let seen = reading::seen(solid, built, view, wish.light);
            // the ground is a light grey, so that what shines shows
            let grey = seen.brightness.iter().map(|b| (b * 0.62 * 255.0).clamp(0.0, 255.0) as u8);
            crate::picture::grey(seen.width, seen.height, &grey.collect::<Vec<u8>>())
        })
    };
    let png = app.later(bench.part(), drawn).await??;
    Ok(([(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "no-cache")], png))
}
