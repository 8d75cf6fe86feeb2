//! A mark looked at closely: a check's figures over the finished solid, and one character laid flat.

use super::Variant;
use crate::{
    app::{OnMark, Shared},
    problem::{Problem, Refusal},
    views::{LetterFlatView, MarkedMapView},
};
use axum::{
    Json,
    extract::{Path, Query, State},
};
use inspection::{Check, Site, letter_flat, map, uncut::uncut};
use serde::Deserialize;
use utoipa::IntoParams;
use uuid::Uuid;
use workbench::{Steps, line};

#[derive(Deserialize, IntoParams)]
pub struct OfCheck {
    mark: String,
    #[param(inline)]
    check: Check,
}

/// What a check finds on a mark, place by place over the finished solid.
#[utoipa::path(get, path = "/api/jobs/{id}/marked-map", params(("id" = Uuid, Path), Variant, OfCheck),
    responses((status = 200, body = MarkedMapView), (status = 404, body = Refusal), (status = 422, body = Refusal)))]
pub async fn marked_map(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(wish): Query<OfCheck>,
) -> Result<Json<MarkedMapView>, Problem> {
    let on = app.on_mark(id, variant.row, &wish.mark).await?;
    let (state, row) = (on.standing.state, on.row);
    let map = look(&app, on, move |site| map::of(site, wish.check)).await?.map_err(Problem::Wrong)?;
    Ok(Json(MarkedMapView::new(state, row, wish.mark, &map)))
}

#[derive(Deserialize, IntoParams)]
pub struct OfLetter {
    mark: String,
    /// Its place in the mark, from 0.
    letter: u32,
    /// Diameter of a cutter in the steel, mm: what it leaves of the letter is told.
    cutter: Option<f64>,
}

/// Cutters that are asked about, mm.
const CUTTERS: std::ops::RangeInclusive<f64> = 0.01..=50.0;

/// One character of a mark laid flat at true size.
#[utoipa::path(get, path = "/api/jobs/{id}/letter", params(("id" = Uuid, Path), Variant, OfLetter),
    responses((status = 200, body = LetterFlatView), (status = 404, body = Refusal), (status = 422, body = Refusal)))]
pub async fn letter_flat(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(wish): Query<OfLetter>,
) -> Result<Json<LetterFlatView>, Problem> {
    if wish.cutter.is_some_and(|diameter| !CUTTERS.contains(&diameter)) {
        return Err(Problem::Wrong("A cutter has a diameter of 0.01 to 50 mm.".into()));
    }
    let on = app.on_mark(id, variant.row, &wish.mark).await?;
    let (state, row) = (on.standing.state, on.row);
    let scale = on.standing.job.process.steel_scale().unwrap_or(1.0);
    let flat = look(&app, on, move |site| {
        let flat = letter_flat::of(site, wish.letter)?;
        let left = wish.cutter.and_then(|diameter| uncut(&flat, diameter, scale));
        Some((flat, left))
    })
    .await?;
    let (flat, left) = flat.ok_or_else(|| {
        Problem::Wrong(format!("Nothing of letter {} is left on the finished solid to lay flat.", wish.letter + 1))
    })?;
    Ok(Json(LetterFlatView::new(state, row, flat, left)))
}

/// Looks at a mark as it is measured.
async fn look<T: Send + 'static>(
    app: &Shared,
    on: OnMark,
    see: impl FnOnce(&Site<'_>) -> T + Send + 'static,
) -> Result<T, Problem> {
    let OnMark { standing, bench, joined, at, .. } = on;
    let part = bench.part().clone();
    let seen = app.later(&part, move || line::on_site(&standing.job, &*bench, &joined, at, see)).await?;
    seen.ok_or_else(|| Problem::Wrong("The mark is not built, so there is nothing to look at.".into()))
}
