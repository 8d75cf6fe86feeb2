//! What ships: limit sets; and typed lengths read.

use crate::problem::{Problem, Refusal};
use axum::{Json, extract::Query};
use inspection::LimitShown;
use serde::{Deserialize, Serialize};
use trade::length::{Round, parse_height, parse_mm};
use utoipa::{IntoParams, ToSchema};

#[derive(Serialize, ToSchema)]
pub struct LimitSetView {
    pub id: String,
    pub name: String,
    pub limits: Vec<LimitSetLine>,
}

#[derive(Serialize, ToSchema)]
pub struct LimitSetLine {
    pub subject: trade::limits::Subject,
    pub limit: LimitShown,
}

/// The limit sets that ship.
#[utoipa::path(get, path = "/api/limits", responses((status = 200, body = Vec<LimitSetView>)))]
pub async fn limits() -> Json<Vec<LimitSetView>> {
    let limits = trade::limits::sets().iter().map(|s| LimitSetView {
        id: s.id.into(),
        name: s.name.into(),
        limits: s.limits.iter().map(|l| LimitSetLine { subject: l.subject, limit: l.clone().into() }).collect(),
    });
    Json(limits.collect())
}

#[derive(Deserialize, IntoParams)]
pub struct Typed {
    typed: String,
    /// Of the round surface that a height is measured from, mm: then it may be typed by what it reaches to.
    radius: Option<f64>,
    /// The surface is seen from inside.
    #[serde(default)]
    inside: bool,
    /// The relief is sunken.
    #[serde(default)]
    sinks: bool,
}

#[derive(Serialize, ToSchema)]
pub struct Length {
    pub mm: f64,
}

/// A length as typed (`3.5`, `0.2in`, `3/16in`; over a round surface also `to Ø53`, `to R26.5`), in mm.
#[utoipa::path(get, path = "/api/length", params(Typed), responses((status = 200, body = Length), (status = 422, body = Refusal)))]
pub async fn length(Query(typed): Query<Typed>) -> Result<Json<Length>, Problem> {
    let Typed { typed, radius, inside, sinks } = typed;
    let mm = match radius {
        Some(radius) => parse_height(&typed, Round { radius, inside, sinks }),
        None => parse_mm(&typed),
    };
    let mm = mm.map_err(|e| Problem::Wrong(crate::problem::sentence(&e)))?;
    Ok(Json(Length { mm }))
}
