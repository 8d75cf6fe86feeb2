//! Sections: through the bare part, through a mark on the finished solid, and what is measured in them.

use super::Variant;
use crate::{
    app::{OnMark, Shared},
    problem::{Problem, Refusal},
    views::{self, CircleFound, CircleView, MiddlesView, SectionView},
};
use axum::{
    Json,
    extract::{Path, Query, State},
};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use solid::cut_edge;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;
use workbench::{
    Steps,
    section::{self, Laid, Plane},
    unit_pull,
};

/// A plane: its normal, and its height along that, mm.
#[derive(Deserialize, IntoParams)]
pub struct AtHeight {
    x: f64,
    y: f64,
    z: f64,
    height: f64,
}

/// The bare part cut by a plane.
#[utoipa::path(get, path = "/api/jobs/{id}/section", params(("id" = Uuid, Path), AtHeight),
    responses((status = 200, body = SectionView), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn of_part(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(plane): Query<AtHeight>,
) -> Result<Json<SectionView>, Problem> {
    let normal = DVec3::new(plane.x, plane.y, plane.z)
        .try_normalize()
        .filter(|_| plane.height.is_finite())
        .ok_or_else(|| Problem::Wrong("A plane needs a direction and a height.".into()))?;
    let plane = Plane { normal, height: plane.height };
    let mut job = app.store.standing(id).await?.job;
    let bench = app.bench(&mut job).await?;
    let view = app
        .heavy(move || {
            let pull = unit_pull(&job.tool);
            views::section(&section::of_part(&bench, plane, pull), &job, bench.part(), None, pull)
        })
        .await?;
    Ok(Json(view))
}

/// A plane through a mark.
#[derive(Deserialize, IntoParams)]
pub struct ThroughMark {
    mark: String,
    /// A place on the part or beside it, mm.
    x: f64,
    y: f64,
    z: f64,
    /// The other end of what was measured from there, mm, if it has one.
    x2: Option<f64>,
    y2: Option<f64>,
    z2: Option<f64>,
    /// Counter-clockwise from along the text, seen from outside, degrees; left out, square to what was measured there.
    turn: Option<f64>,
    /// From square to the seat (0) to level with it (90), degrees.
    #[serde(default)]
    tilt: f64,
    /// From that place: across the cut, up the text for one along it; outward for a level one, mm.
    #[serde(default)]
    shift: f64,
}

/// A section through a mark, and from where it is looked at.
#[derive(Serialize, ToSchema)]
pub struct MarkedSectionView {
    pub state: i64,
    pub row: Option<u32>,
    pub section: SectionView,
    /// As the plane is turned, degrees.
    pub turn: f64,
    /// mm, on the plane.
    pub at: [f64; 3],
    /// Unit vectors: to the eye, and upright.
    pub eye: [f64; 3],
    pub up: [f64; 3],
}

/// The finished solid cut through a mark.
#[utoipa::path(get, path = "/api/jobs/{id}/marked-section", params(("id" = Uuid, Path), Variant, ThroughMark),
    responses((status = 200, body = MarkedSectionView), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn through_mark(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(wish): Query<ThroughMark>,
) -> Result<Json<MarkedSectionView>, Problem> {
    let more = [wish.x2, wish.y2, wish.z2, wish.turn].into_iter().flatten();
    let mut numbers = [wish.x, wish.y, wish.z, wish.tilt, wish.shift].into_iter().chain(more);
    if !numbers.all(|n| n.is_finite() && n.abs() < 1e6) {
        return Err(Problem::Wrong("A section needs a place in mm and angles in degrees.".into()));
    }
    let OnMark { standing, row, bench, joined, at } = app.on_mark(id, variant.row, &wish.mark).await?;
    let state = standing.state;
    let on = bench.clone();
    let view = app
        .later(on.part(), move || {
            let other = wish.x2.zip(wish.y2).zip(wish.z2).map(|((x, y), z)| DVec3::new(x, y, z));
            let places: Vec<DVec3> = std::iter::once(DVec3::new(wish.x, wish.y, wish.z)).chain(other).collect();
            let lies = Laid { through: places, turn_deg: wish.turn, tilt_deg: wish.tilt, shift: wish.shift };
            let not_built = || Problem::Wrong("The mark is not built, so there is nothing to cut through.".into());
            let (through, turn) = section::wished(&joined, at, &lies).ok_or_else(not_built)?;
            let built = joined.marks[at].built.as_deref().ok_or_else(not_built)?;
            let pull = built.pull.or(unit_pull(&standing.job.tool));
            let cut = section::of_outcome(&bench, &joined, through.plane, pull);
            Ok::<_, Problem>(MarkedSectionView {
                state,
                row,
                turn,
                section: views::section(&cut, &standing.job, bench.part(), Some(&joined), pull),
                at: through.at.to_array(),
                eye: through.eye.to_array(),
                up: through.up.to_array(),
            })
        })
        .await??;
    Ok(Json(view))
}

/// Places in one plane, mm.
#[derive(Deserialize, ToSchema)]
pub struct Places {
    points: Vec<[f64; 3]>,
    /// Square to the plane that they lie in.
    normal: [f64; 3],
}

/// The circle nearest to places in a plane.
#[utoipa::path(post, path = "/api/circle", request_body = Places,
    responses((status = 200, body = CircleFound), (status = 422, body = Refusal)))]
pub async fn circle(Json(places): Json<Places>) -> Result<Json<CircleFound>, Problem> {
    const MOST: usize = 1000;
    let points: Vec<DVec3> = places.points.iter().map(|&p| p.into()).collect();
    let normal = DVec3::from(places.normal).try_normalize();
    let circle = normal.filter(|_| points.len() <= MOST).and_then(|normal| cut_edge::circle(&points, normal));
    let circle = circle.ok_or_else(|| {
        Problem::Wrong("No circle goes there: three places that don't lie on one line are needed.".into())
    })?;
    Ok(Json(circle.into()))
}

#[derive(Deserialize, ToSchema)]
pub struct TwoCircles {
    first: CircleView,
    second: CircleView,
}

/// Whether two circles have one middle.
#[utoipa::path(post, path = "/api/concentric", request_body = TwoCircles,
    responses((status = 200, body = MiddlesView)))]
pub async fn concentric(Json(two): Json<TwoCircles>) -> Json<MiddlesView> {
    let [first, second]: [cut_edge::Circle; 2] = [two.first.into(), two.second.into()];
    Json(first.middles(&second).into())
}
