//! What would mend a finding that fails or is close.

use super::Variant;
use crate::{
    app::{App, Shared},
    problem::{Problem, Refusal},
    views::{MendsOfAll, MendsOfFinding, mends as view},
    waiting::Waiting,
};
use axum::{
    Json,
    extract::{Path, Query, State},
};
use inspection::Check;
use serde::Deserialize;
use std::{
    sync::Arc,
    time::{Duration, Instant},
};
use trade::Job;
use utoipa::IntoParams;
use uuid::Uuid;
use workbench::{
    Bench, Steps, faces_kept,
    mending::{self, Patience},
};

/// How long is searched for the mends of one finding: until no more is begun once there is one, until what is tried is left
/// off then too, and at most; and for those of all.
const SOON: Duration = Duration::from_millis(1000);
const ENOUGH: Duration = Duration::from_millis(1600);
const ONE: Duration = Duration::from_secs(15);
const ALL: Duration = Duration::from_secs(40);

#[derive(Deserialize, IntoParams)]
pub struct OfFinding {
    mark: String,
    #[param(inline)]
    check: Check,
}

/// A job as it is kept and filled for a row, on a day, its bench, and the state it is in.
struct Asked {
    kept: Job,
    job: Job,
    day: time::Date,
    bench: Arc<Bench>,
    state: i64,
    row: Option<u32>,
}

async fn asked(app: &App, id: Uuid, row: Option<u32>) -> Result<Asked, Problem> {
    let mut kept = app.store.standing(id).await?.job;
    let (mut standing, (state, row, day)) = app.standing(id, row).await?;
    let bench = app.bench(&mut standing.job).await?;
    faces_kept::find_again(&mut kept, &*bench);
    Ok(Asked { kept, job: standing.job, day, bench, state, row })
}

/// The nearest changes with which a finding passes and no other gets worse, each built and inspected.
#[utoipa::path(get, path = "/api/jobs/{id}/mends", params(("id" = Uuid, Path), Variant, OfFinding),
    responses((status = 200, body = MendsOfFinding), (status = 404, body = Refusal)))]
pub async fn of_finding(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(wish): Query<OfFinding>,
) -> Result<Json<MendsOfFinding>, Problem> {
    let Asked { kept, job, day, bench, state, row } = asked(&app, id, variant.row).await?;
    let at = job.marks.iter().position(|m| m.id == wish.mark);
    let at = at.ok_or_else(|| Problem::Missing(format!("The job has no mark “{}” any more.", wish.mark)))?;
    let waiting = Waiting::default();
    let (stopped, on) = (waiting.stopped(), bench.clone());
    let search = move || {
        let now = Instant::now();
        let patience = Patience { until: now + ONE, soft: now + SOON, enough: now + ENOUGH, stopped: &stopped };
        let others = mending::other_rows(&kept, row, day);
        (mending::mends(&job, &on, at, wish.check, &others, patience), others.len())
    };
    let (mends, of) = app.later(bench.part(), search).await?;
    drop(waiting);
    Ok(Json(view::of_finding(mends, state, row, of)))
}

/// One mend after another, the worst finding first, until all passes that can be mended.
#[utoipa::path(get, path = "/api/jobs/{id}/mends/all", params(("id" = Uuid, Path), Variant),
    responses((status = 200, body = MendsOfAll), (status = 404, body = Refusal)))]
pub async fn of_all(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
) -> Result<Json<MendsOfAll>, Problem> {
    let Asked { kept, job, day, bench, state, row } = asked(&app, id, variant.row).await?;
    let waiting = Waiting::default();
    let (stopped, on) = (waiting.stopped(), bench.clone());
    let search = move || {
        let now = Instant::now();
        let patience = Patience { until: now + ALL, soft: now, enough: now + ALL, stopped: &stopped };
        mending::all(&job, &on, &mending::other_rows(&kept, row, day), patience)
    };
    let all = app.later(bench.part(), search).await?;
    drop(waiting);
    Ok(Json(view::of_all(all, state, row)))
}
