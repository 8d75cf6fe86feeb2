//! What would mend a finding that fails or is close.

use super::Variant;
use crate::{
    app::{App, Shared},
    problem::{Problem, Refusal},
    views::{MendsOfAll, MendsOfFinding, mends as view},
};
use axum::{
    Json,
    extract::{Path, Query, State},
};
use inspection::Check;
use serde::Deserialize;
use std::{
    collections::HashSet,
    sync::{
        Arc,
        atomic::{AtomicBool, Ordering},
    },
    time::{Duration, Instant},
};
use trade::Job;
use utoipa::IntoParams;
use uuid::Uuid;
use workbench::{
    Bench, Steps,
    mending::{self, Patience},
};

/// How long is searched for the mends of one finding, of that until there is one, and of all.
const SOON: Duration = Duration::from_millis(1000);
const ONE: Duration = Duration::from_secs(15);
const ALL: Duration = Duration::from_secs(40);
/// Other rows of the roster in which a mend is tried: those that say something else, the longest texts first.
const ROWS: usize = 3;

#[derive(Deserialize, IntoParams)]
pub struct OfFinding {
    mark: String,
    #[param(inline)]
    check: Check,
}

/// Tells work that runs elsewhere when nobody waits for it any more.
#[derive(Default)]
struct Waiting(Arc<AtomicBool>);

impl Drop for Waiting {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

/// The job filled for a row, the same in rows that say something else, its bench, and the state it is in.
struct Asked {
    job: Job,
    others: Vec<Job>,
    bench: Arc<Bench>,
    state: i64,
    row: Option<u32>,
}

async fn asked(app: &App, id: Uuid, row: Option<u32>) -> Result<Asked, Problem> {
    let unfilled = app.store.standing(id).await?.job;
    let (mut standing, (state, row, day)) = app.standing(id, row).await?;
    let bench = app.bench(&mut standing.job).await?;
    let says = |job: &Job| job.marks.iter().map(|m| m.text.clone()).collect::<Vec<_>>();
    let mut told = HashSet::from([says(&standing.job)]);
    let mut others: Vec<Job> = Vec::new();
    if unfilled.marks.iter().any(trade::Mark::is_made) {
        let rows = unfilled.roster.rows.iter().map(|r| unfilled.filled(Some(r.id), day));
        others.extend(rows.filter(|job| told.insert(says(job))));
        others.sort_by_key(|job| std::cmp::Reverse(says(job).iter().map(String::len).sum::<usize>()));
        others.truncate(ROWS);
        for job in &mut others {
            workbench::faces_kept::find_again(job, &*bench);
        }
    }
    Ok(Asked { job: standing.job, others, bench, state, row })
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
    let Asked { job, others, bench, state, row } = asked(&app, id, variant.row).await?;
    let at = job.marks.iter().position(|m| m.id == wish.mark);
    let at = at.ok_or_else(|| Problem::Missing(format!("The job has no mark “{}” any more.", wish.mark)))?;
    let (waiting, of) = (Waiting::default(), others.len());
    let (stopped, on) = (waiting.0.clone(), bench.clone());
    let search = move || {
        let now = Instant::now();
        let patience = Patience { until: now + ONE, soft: now + SOON, stopped: &stopped };
        mending::mends(&job, &on, at, wish.check, &others, patience)
    };
    let mends = app.later(bench.part(), search).await?;
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
    let Asked { job, others, bench, state, row } = asked(&app, id, variant.row).await?;
    let waiting = Waiting::default();
    let (stopped, on) = (waiting.0.clone(), bench.clone());
    let search = move || {
        let now = Instant::now();
        let patience = Patience { until: now + ALL, soft: now, stopped: &stopped };
        mending::all(&job, &on, &others, patience)
    };
    let all = app.later(bench.part(), search).await?;
    drop(waiting);
    Ok(Json(view::of_all(all, state, row)))
}
