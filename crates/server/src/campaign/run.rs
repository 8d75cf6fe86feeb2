//! A change tried on a job, and made to it.

use super::Phase;
use crate::{
    app::{App, today},
    changing::Condition,
    edits::Edit,
    entity::campaign_job,
    problem::{Problem, sentence},
    store::{By, Standing},
    verdict,
    views::VerdictView,
};
use sea_orm::DbErr;
use std::sync::Arc;
use trade::Job;
use uuid::Uuid;
use workbench::{Scope, Steps};

/// What came of a step.
pub(super) struct Came {
    pub phase: Phase,
    pub state: Option<i64>,
    pub before: Option<VerdictView>,
    pub after: Option<VerdictView>,
    pub why: Option<String>,
}

impl Came {
    fn refused(problem: &Problem) -> Self {
        let why = Some(sentence(&problem.to_string()));
        Self { phase: Phase::Refused, state: None, before: None, after: None, why }
    }
}

fn edit(of: serde_json::Value) -> Result<Edit, Problem> {
    serde_json::from_value(of)
        .map_err(|e| Problem::Database(DbErr::Custom(format!("a change of many jobs that can't be read: {e}"))))
}

impl App {
    /// Tries the change on a job, which stays as it is.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn try_job(self: &Arc<Self>, campaign: Uuid, job: Uuid) -> Result<(), Problem> {
        let Some((of, _)) = self.store.open_campaign_job(campaign, job, Phase::Waiting).await? else { return Ok(()) };
        let came = match self.tried(job, edit(of.edit)?).await {
            Err(problem @ Problem::Database(_)) => return Err(problem),
            Err(problem) => Came::refused(&problem),
            Ok(came) => came,
        };
        self.store.keep_campaign_job(campaign, job, Phase::Waiting, came).await
    }

    async fn tried(self: &Arc<Self>, id: Uuid, edit: Edit) -> Result<Came, Problem> {
        let standing = self.store.standing(id).await?;
        let mut job = standing.job.clone();
        let bench = self.bench(&mut job).await?;
        let (was, on) = (job.clone(), bench.clone());
        let edited = self.heavy(move || edit.apply(&job, &on)).await??;
        let before = Some(self.verdict(&standing).await?);
        if edited == was {
            let phase = Phase::Same;
            return Ok(Came { phase, state: Some(standing.state), after: before.clone(), before, why: None });
        }
        let with = Standing { job: as_listed(edited), ..standing };
        let (job, on) = (with.job.clone(), bench.clone());
        let outcome = self.later(bench.part(), move || on.outcome(&job, Scope::NearMarks)).await?;
        let after = Some(verdict::of(&with, &outcome).into());
        Ok(Came { phase: Phase::Tried, state: Some(with.state), before, after, why: None })
    }

    /// Makes the change to a job, where somebody has taken it.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn take_job(self: &Arc<Self>, campaign: Uuid, job: Uuid) -> Result<(), Problem> {
        let Some((of, row)) = self.store.open_campaign_job(campaign, job, Phase::Taking).await? else { return Ok(()) };
        let author = row.taken_by.as_deref().unwrap_or(&of.author);
        let by = By { author, key: Some(row.key), typing: None };
        let came = match self.taken(job, by, &edit(of.edit)?, &row).await {
            Err(problem @ (Problem::Database(_) | Problem::Busy)) => return Err(problem),
            Err(problem) => Came::refused(&problem),
            Ok(came) => came,
        };
        self.store.keep_campaign_job(campaign, job, Phase::Taking, came).await
    }

    async fn taken(
        self: &Arc<Self>,
        id: Uuid,
        by: By<'_>,
        edit: &Edit,
        row: &campaign_job::Model,
    ) -> Result<Came, Problem> {
        self.make(id, by, vec![edit.clone()], Condition::default()).await?;
        let standing = self.store.standing(id).await?;
        let after = Some(self.verdict(&standing).await?);
        let before = row.before.clone().and_then(|kept| serde_json::from_value(kept).ok());
        Ok(Came { phase: Phase::Taken, state: Some(standing.state), before, after, why: None })
    }

    /// What the inspection of a job as it stands comes to, as the list of jobs tells it.
    async fn verdict(self: &Arc<Self>, standing: &Standing) -> Result<VerdictView, Problem> {
        if let Some(kept) = self.store.inspected(standing.state).await? {
            return Ok(kept.into());
        }
        let (seen, _, outcome) = self.outcome(standing.id, None).await?;
        Ok(verdict::of(&seen, &outcome).into())
    }
}

/// A job as the list of jobs tells of it: in the first row of its roster.
fn as_listed(mut job: Job) -> Job {
    job.fill(job.first_row(), today());
    job
}
