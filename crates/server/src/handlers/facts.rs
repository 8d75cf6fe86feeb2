//! What ships: limitss; and typed lengths read.

use crate::problem::{Problem, Refusal};
use axum::{Json, extract::Query};
use inspection::LimitShown;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

#[derive(Serialize, ToSchema)]
pub struct SheetView {
    pub id: String,
    pub name: String,
    pub limits: Vec<SheetLimit>,
}

#[derive(Serialize, ToSchema)]
pub struct SheetLimit {
    pub subject: trade::limits::Subject,
    pub limit: LimitShown,
}

/// The limitss.
#[utoipa::path(get, path = "/api/sheets", responses((status = 200, body = Vec<SheetView>)))]
pub async fn sheets() -> Json<Vec<SheetView>> {
    let sheets = trade::limits::sheets().iter().map(|s| SheetView {
        id: s.id.into(),
        name: s.name.into(),
        limits: s.limits.iter().map(|l| SheetLimit { subject: l.subject, limit: l.clone().into() }).collect(),
    });
    Json(sheets.collect())
}

#[derive(Deserialize, IntoParams)]
pub struct Typed {
    typed: String,
}

#[derive(Serialize, ToSchema)]
pub struct Length {
    pub mm: f64,
}

/// A length as typed (`3.5`, `0.2in`, `3/16in`), in mm.
#[utoipa::path(get, path = "/api/length", params(Typed), responses((status = 200, body = Length), (status = 422, body = Refusal)))]
pub async fn length(Query(typed): Query<Typed>) -> Result<Json<Length>, Problem> {
    let mm = trade::length::parse_mm(&typed.typed).map_err(|e| Problem::Wrong(crate::problem::sentence(&e)))?;
    Ok(Json(Length { mm }))
}
