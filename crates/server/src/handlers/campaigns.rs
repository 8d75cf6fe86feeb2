//! One change on many jobs: tried on each, looked at, and made where it is taken.

use super::author;
use crate::{
    app::Shared,
    campaign::Phase,
    edits::{Edit, RosterEdit},
    problem::{Problem, Refusal},
    views::VerdictView,
};
use axum::{
    Json,
    extract::{Path, State},
    http::StatusCode,
};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;
use time::format_description::well_known::Rfc3339;
use utoipa::ToSchema;
use uuid::Uuid;

/// Jobs of one change; more than a toolroom has at work.
const MOST_JOBS: usize = 2000;

#[derive(Deserialize, ToSchema)]
pub struct BeginCampaign {
    author: String,
    /// One that names nothing of one job alone: the next revision, a limit, limits, the reading distance.
    edit: Edit,
    jobs: Vec<Uuid>,
}

#[derive(Serialize, ToSchema)]
pub struct CampaignBegun {
    pub id: Uuid,
}

/// A change of many jobs in the list.
#[derive(Serialize, ToSchema)]
pub struct CampaignRow {
    pub id: Uuid,
    /// What is changed.
    pub says: String,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    pub jobs: i64,
}

#[derive(Serialize, ToSchema)]
pub struct CampaignView {
    pub id: Uuid,
    /// What is changed.
    pub says: String,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    /// Nothing more is tried or made until it goes on.
    pub stopped: bool,
    pub jobs: Vec<CampaignJob>,
}

#[derive(Serialize, ToSchema)]
pub struct CampaignJob {
    pub job: Uuid,
    pub name: String,
    pub phase: Phase,
    /// What the inspection came to before, and with the change.
    pub before: Option<VerdictView>,
    pub after: Option<VerdictView>,
    /// With the change no more fails, is marginal or unchecked than before.
    pub no_worse: bool,
    /// Why it can't be made.
    pub why: Option<String>,
}

fn fits_many(edit: &Edit) -> bool {
    match edit {
        Edit::Roster(roster) => matches!(roster.edit, RosterEdit::NextRevision),
        Edit::SetLimit(_) | Edit::ResetLimit(_) | Edit::SetLimits(_) | Edit::SetReadingDistance(_) => true,
        _ => false,
    }
}

fn no_worse(before: Option<&VerdictView>, after: Option<&VerdictView>) -> bool {
    let (Some(before), Some(after)) = (before, after) else { return false };
    after.fails <= before.fails && after.marginal <= before.marginal && after.not_checked <= before.not_checked
}

/// Begins a change of many jobs: it is tried on each, and none is changed yet.
#[utoipa::path(post, path = "/api/campaigns", request_body = BeginCampaign,
    responses((status = 201, body = CampaignBegun), (status = 422, body = Refusal)))]
pub async fn begin_campaign(
    State(app): State<Shared>,
    Json(begin): Json<BeginCampaign>,
) -> Result<(StatusCode, Json<CampaignBegun>), Problem> {
    let by = author(&begin.author)?;
    if !fits_many(&begin.edit) {
        return Err(Problem::Wrong(
            "This change names something of one job alone; many jobs can get their next revision, other limits, a limit \
             of their own, or another reading distance."
                .into(),
        ));
    }
    let mut seen = HashSet::new();
    let wanted: Vec<Uuid> = begin.jobs.into_iter().filter(|id| seen.insert(*id)).collect();
    if !(1..=MOST_JOBS).contains(&wanted.len()) {
        return Err(Problem::Wrong(format!("Pick 1 to {MOST_JOBS} jobs.")));
    }
    let mut jobs = Vec::with_capacity(wanted.len());
    for id in wanted {
        jobs.push((id, app.store.standing(id).await?.job.name));
    }
    let id = app.store.begin_campaign(&begin.edit, &by, jobs).await?;
    Ok((StatusCode::CREATED, Json(CampaignBegun { id })))
}

/// The newest changes of many jobs.
#[utoipa::path(get, path = "/api/campaigns", responses((status = 200, body = Vec<CampaignRow>)))]
pub async fn campaigns(State(app): State<Shared>) -> Result<Json<Vec<CampaignRow>>, Problem> {
    let all = app.store.campaigns().await?.into_iter().map(|(of, jobs)| CampaignRow {
        id: of.id,
        says: of.says,
        by: of.author,
        at: of.at.format(&Rfc3339).unwrap_or_default(),
        jobs,
    });
    Ok(Json(all.collect()))
}

/// How far a change of many jobs is.
#[utoipa::path(get, path = "/api/campaigns/{id}", params(("id" = Uuid, Path)),
    responses((status = 200, body = CampaignView), (status = 404, body = Refusal)))]
pub async fn campaign(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<CampaignView>, Problem> {
    let (of, jobs) = app.store.campaign(id).await?;
    let verdict = |kept: Option<serde_json::Value>| kept.and_then(|kept| serde_json::from_value(kept).ok());
    let jobs = jobs.into_iter().filter_map(|row| {
        let (before, after): (Option<VerdictView>, Option<VerdictView>) = (verdict(row.before), verdict(row.after));
        Some(CampaignJob {
            job: row.job,
            name: row.name,
            phase: Phase::of_word(&row.phase)?,
            no_worse: no_worse(before.as_ref(), after.as_ref()),
            before,
            after,
            why: row.why,
        })
    });
    Ok(Json(CampaignView {
        id,
        says: of.says,
        by: of.author,
        at: of.at.format(&Rfc3339).unwrap_or_default(),
        stopped: of.stopped,
        jobs: jobs.collect(),
    }))
}

#[derive(Deserialize, ToSchema)]
pub struct TakeJobs {
    author: String,
    jobs: Vec<Uuid>,
}

/// Makes the change to jobs on which it was tried.
#[utoipa::path(post, path = "/api/campaigns/{id}/take", params(("id" = Uuid, Path)), request_body = TakeJobs,
    responses((status = 202), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn take(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(take): Json<TakeJobs>,
) -> Result<StatusCode, Problem> {
    app.store.take_campaign_jobs(id, &take.jobs, &author(&take.author)?).await?;
    Ok(StatusCode::ACCEPTED)
}

/// Stops it; what is tried and made stays so.
#[utoipa::path(post, path = "/api/campaigns/{id}/stop", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 404, body = Refusal)))]
pub async fn stop_campaign(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    app.store.set_campaign_stopped(id, true).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Goes on with it where it was.
#[utoipa::path(post, path = "/api/campaigns/{id}/go-on", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 404, body = Refusal)))]
pub async fn go_on(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    app.store.set_campaign_stopped(id, false).await?;
    Ok(StatusCode::NO_CONTENT)
}
