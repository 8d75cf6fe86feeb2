//! What belongs to the shop and to no job: by whose midnight its days change, its lettering faces in all their versions, who
//! did what with its things.

use super::author;
use crate::{
    app::Shared,
    day,
    problem::{Problem, Refusal},
};
use axum::{Json, extract::State, http::StatusCode};
use chrono_tz::{TZ_VARIANTS, Tz};
use serde::{Deserialize, Serialize};
use time::format_description::well_known::Rfc3339;
use utoipa::ToSchema;

/// Rows of the history in one answer.
const STEPS: u64 = 200;

#[derive(Serialize, ToSchema)]
pub struct Shop {
    /// By whose midnight days change; none: the machine's.
    pub zone: Option<String>,
    /// How often it was set.
    pub zone_version: i32,
    /// Day and time of day there, `2026-11-30` and `14:05`.
    pub day: String,
    pub clock: String,
    /// Names of time zones, as the IANA database has them.
    pub zones: Vec<String>,
    /// All versions of all lettering faces, by name, the newest first.
    pub faces: Vec<FaceVersion>,
    /// The newest first.
    pub steps: Vec<ShopStep>,
}

#[derive(Serialize, ToSchema)]
pub struct FaceVersion {
    pub name: String,
    pub version: i32,
    pub letters: usize,
    pub author: String,
    /// RFC 3339.
    pub at: String,
    pub gone: bool,
}

/// Something that was done with a thing of the shop.
#[derive(Serialize, ToSchema)]
pub struct ShopStep {
    pub id: i64,
    pub author: String,
    /// RFC 3339.
    pub at: String,
    pub says: String,
}

/// The shop's settings, its lettering faces, and what was done with its things.
#[utoipa::path(get, path = "/api/shop", responses((status = 200, body = Shop)))]
pub async fn shop(State(app): State<Shared>) -> Result<Json<Shop>, Problem> {
    let (zone, zone_version) = app.store.zone().await?;
    let faces = app.store.face_versions().await?.into_iter().map(|kept| FaceVersion {
        letters: kept.face.letters.len(),
        name: kept.face.name,
        version: kept.version,
        author: kept.author,
        at: kept.at.format(&Rfc3339).unwrap_or_default(),
        gone: kept.gone,
    });
    let steps = app.store.shop_steps(STEPS).await?.into_iter().map(|step| ShopStep {
        id: step.id,
        author: step.author,
        at: step.at.format(&Rfc3339).unwrap_or_default(),
        says: step.says,
    });
    Ok(Json(Shop {
        zone: zone.map(|zone| zone.name().into()),
        zone_version,
        day: day::today().to_string(),
        clock: day::clock(),
        zones: TZ_VARIANTS.iter().map(|zone| zone.name().into()).collect(),
        faces: faces.collect(),
        steps: steps.collect(),
    }))
}

#[derive(Deserialize, ToSchema)]
pub struct SetZone {
    author: String,
    /// As the IANA database names it; none: the machine's own.
    zone: Option<String>,
    /// How often it had been set, as its window has seen.
    seen: i32,
}

/// Sets by whose midnight the shop's days change: date codes are of that day.
#[utoipa::path(put, path = "/api/shop/zone", request_body = SetZone,
    responses((status = 204), (status = 409, body = Refusal), (status = 422, body = Refusal)))]
pub async fn set_zone(State(app): State<Shared>, Json(wish): Json<SetZone>) -> Result<StatusCode, Problem> {
    let by = author(&wish.author)?;
    let named = |name: String| -> Result<Tz, Problem> {
        let unknown =
            |_| Problem::Wrong(format!("There is no time zone “{name}”; zones are called like Europe/Berlin."));
        name.parse().map_err(unknown)
    };
    let zone = wish.zone.map(named).transpose()?;
    app.store.set_zone(zone, wish.seen, &by).await?;
    app.read_zone().await?;
    Ok(StatusCode::NO_CONTENT)
}
