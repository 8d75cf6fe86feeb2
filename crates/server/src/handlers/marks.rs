//! Marks: seats unrolled, texts laid out before they are built, plates for the rack.

use super::{
    Variant,
    attached::{attached, stem},
};
use crate::{
    app::Shared,
    problem::{Problem, Refusal, sentence},
    views::{self, PlacementView, PlateView, SeatView},
};
use axum::{
    Json,
    extract::{Path, Query, State},
    response::Response,
};
use glam::DVec3;
use serde::Deserialize;
use trade::{Mark, SeatRef};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;
use workbench::Steps;
use workbench::unit_pull;

#[derive(Deserialize, IntoParams)]
pub struct SeatWith {
    /// Numbers of the faces that belong to the seat too, with commas between them.
    #[serde(default)]
    with: String,
}

/// A seat unrolled, with its edges and the parting line.
#[utoipa::path(get, path = "/api/jobs/{id}/seats/{face}", params(("id" = Uuid, Path), ("face" = u32, Path), SeatWith),
    responses((status = 200, body = SeatView), (status = 422, body = Refusal)))]
pub async fn seat(
    State(app): State<Shared>,
    Path((id, face)): Path<(Uuid, u32)>,
    Query(more): Query<SeatWith>,
) -> Result<Json<SeatView>, Problem> {
    let numbers = more.with.split(',').filter(|n| !n.is_empty()).map(str::parse);
    let with = numbers.collect::<Result<Vec<u32>, _>>().map_err(|_| {
        Problem::Wrong(format!("“{}” is not a list of face numbers; write for instance 3,7.", more.with))
    })?;
    if with.len() >= trade::mark::MOST_SEAT_FACES {
        return Err(Problem::Wrong(format!("A seat has at most {} faces.", trade::mark::MOST_SEAT_FACES)));
    }
    let seat = SeatRef { face, with };
    let mut job = app.store.standing(id).await?.job;
    let bench = app.bench(&mut job).await?;
    let view = app
        .heavy(move || bench.seat(&seat, unit_pull(&job.tool)).map(|seat| views::seat(&bench, &job, &seat)))
        .await?
        .map_err(|e| Problem::Wrong(sentence(&e)))?;
    Ok(Json(view))
}

#[derive(Deserialize, ToSchema)]
pub struct PlacementWish {
    mark: Mark,
    /// Set its middle here instead: a point of the part, mm.
    at: Option<[f64; 3]>,
    /// Set its middle here instead: a place of the strip, mm. Ties stay ties.
    to: Option<[f64; 2]>,
}

/// Places a mark on its strip as it would be, without building or keeping anything.
#[utoipa::path(post, path = "/api/jobs/{id}/placement", params(("id" = Uuid, Path), Variant), request_body = PlacementWish,
    responses((status = 200, body = PlacementView), (status = 422, body = Refusal)))]
pub async fn placement(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Json(wish): Json<PlacementWish>,
) -> Result<Json<PlacementView>, Problem> {
    let (standing, (_, row, day)) = app.standing(id, variant.row).await?;
    let mut job = standing.job;
    let bench = app.bench(&mut job).await?;
    let mut mark = wish.mark;
    let said = job.says(&mark, row.and_then(|id| job.roster.row(id)), day);
    mark.text = said.map_err(|e| Problem::Wrong(sentence(&e)))?;
    mark.lettering.own = job.held_face(&mark.lettering.face);
    // the same ranges as for a kept mark; the rest was looked at when it was kept, and this is asked with every letter
    let others = std::mem::replace(&mut job.marks, vec![mark.clone()]);
    job.check_marks()?;
    job.marks.extend(others.into_iter().filter(|m| m.id != mark.id));
    let view = app
        .heavy(move || {
            let pull = unit_pull(&job.tool);
            let seat = bench.seat(&mark.seat, pull)?;
            let settled = |mark: &Mark| workbench::ties::settled(&*bench, &job.marks, mark, pull);
            let placed = |mark: &Mark| relief::place::place(&settled(mark)?, &seat).map_err(|e| e.to_string());
            if let Some(point) = wish.at {
                mark.place = relief::place::put_down(&mark, &seat, DVec3::from(point));
            }
            if let Some(to) = wish.to {
                mark.place = relief::place::carried(&mark.place, &placed(&mark)?, &seat, to.into());
            }
            let placed = placed(&mark)?;
            let lifted = if mark.relief.sense == trade::Sense::Raised { mark.relief.height } else { 0.0 };
            let near = relief::place::about(&settled(&mark)?, seat.clone(), placed.clone());
            Ok::<_, String>(views::laid_out(&mark, &placed, &seat, (&near.0, &near.1), lifted))
        })
        .await?
        .map_err(|e| Problem::Wrong(sentence(&e)))?;
    Ok(Json(view))
}

/// How a strip is written down.
#[derive(Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum StripForm {
    Svg,
    Dxf,
}

#[derive(Deserialize, IntoParams)]
pub struct StripWish {
    /// Mirrored, as it is cut into the tool.
    #[serde(default)]
    tool: bool,
    /// Row of the roster; the first where none is named.
    row: Option<u32>,
}

/// The strip of a mark's seat with the marks on it, at true size.
#[utoipa::path(get, path = "/api/jobs/{id}/strips/{mark}/{form}", params(("id" = Uuid, Path), ("mark" = String, Path), ("form" = inline(StripForm), Path), StripWish),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 422, body = Refusal)))]
pub async fn strip(
    State(app): State<Shared>,
    Path((id, mark, form)): Path<(Uuid, String, StripForm)>,
    Query(StripWish { tool, row }): Query<StripWish>,
) -> Result<Response, Problem> {
    use handoff::strip::{Side, dxf, svg};
    let mut job = app.standing(id, row).await?.0.job;
    let bench = app.bench(&mut job).await?;
    let of = job.marks.iter().find(|m| m.id == mark).cloned();
    let of = of.ok_or_else(|| Problem::Missing(format!("The job has no mark “{mark}”.")))?;
    let (side, seen) = if tool { (Side::Tool, "tool") } else { (Side::Part, "part") };
    let name = format!("{}-{}-strip-{seen}-side", stem(&job.name), stem(&mark));
    let bytes = app
        .heavy(move || {
            let strip = views::strip(&bench, &job, &of)?;
            match form {
                StripForm::Svg => Ok(svg(&strip, side)),
                StripForm::Dxf => dxf(&strip, side),
            }
        })
        .await?
        .map_err(|e: String| Problem::Wrong(sentence(&e)))?;
    let (kind, ending) = match form {
        StripForm::Svg => ("image/svg+xml", "svg"),
        StripForm::Dxf => ("image/vnd.dxf", "dxf"),
    };
    Ok(attached(kind, &format!("{name}.{ending}"), bytes))
}

/// The plates of the rack, in order.
#[utoipa::path(get, path = "/api/jobs/{id}/plates", params(("id" = Uuid, Path), Variant),
    responses((status = 200, body = Vec<PlateView>), (status = 404, body = Refusal)))]
pub async fn plates(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
) -> Result<Json<Vec<PlateView>>, Problem> {
    let job = app.standing(id, variant.row).await?.0.job;
    Ok(Json(app.heavy(move || views::plates(&job)).await?))
}
