//! The callout sheet.

use super::{Variant, attached};
use crate::{
    app::{Shared, today},
    problem::{Problem, Refusal, sentence},
};
use ::callouts::{Callouts, Manner, Paper, Projection, callouts as drawn};
use axum::{
    extract::{Path, Query, State},
    response::Response,
};
use serde::Deserialize;
use utoipa::IntoParams;
use uuid::Uuid;
use workbench::Steps;

/// How it is drawn.
#[derive(Deserialize, IntoParams)]
pub struct Drawn {
    /// On A3; else on A4.
    #[serde(default)]
    a3: bool,
    /// In third-angle projection; else in first.
    #[serde(default)]
    third_angle: bool,
    /// In inches; else in mm.
    #[serde(default)]
    inch: bool,
    /// For whom.
    #[serde(default)]
    person: String,
}

/// The callout sheet of a job as it stands, as PDF.
#[utoipa::path(get, path = "/api/jobs/{id}/callouts.pdf", params(("id" = Uuid, Path), Variant, Drawn),
    responses((status = 200, content_type = "application/pdf", body = Vec<u8>), (status = 422, body = Refusal)))]
pub async fn callouts(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(asked): Query<Drawn>,
) -> Result<Response, Problem> {
    let (standing, shown, bench, outcome) = app.joined(id, variant.row).await?;
    let manner = Manner {
        paper: if asked.a3 { Paper::A3 } else { Paper::A4 },
        projection: if asked.third_angle { Projection::ThirdAngle } else { Projection::FirstAngle },
        inch: asked.inch,
    };
    // the newest record of what is drawn
    let records = app.store.records(id).await?;
    let record = records.iter().filter(|r| r.state == shown.0).map(|r| r.number).max();
    let person: String = asked.person.chars().take(80).collect();
    let name = format!("{}-callouts.pdf", attached::stem(&standing.job.name));
    let on = bench.clone();
    let made = move || {
        let texts = trade::said::texts(&standing.job, today());
        let of = Callouts {
            job: &standing.job,
            row: shown.1,
            outcome: &outcome,
            bench: &on,
            texts: &texts,
            by: &person,
            day: &shown.2.to_string(),
            state: Some(shown.0),
            record,
            program: env!("CARGO_PKG_VERSION"),
        };
        drawn(&of, manner)
    };
    let bytes = app.later(bench.part(), made).await?.map_err(|e| Problem::Wrong(sentence(&e.to_string())))?;
    Ok(attached::shown("application/pdf", &name, bytes))
}
