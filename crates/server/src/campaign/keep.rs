//! Changes of many jobs in the database.

use super::{
    Phase,
    run::Came,
    tasks::{TakeJob, TryJob},
};
use crate::{
    edits::Edit,
    entity::{campaign, campaign_job},
    problem::Problem,
    queue::{Queued, dequeue, enqueue},
    store::{Happened, Store, Told, tell},
};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction, EntityTrait,
    IntoActiveModel, QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use time::OffsetDateTime;
use trade::Job;
use uuid::Uuid;

/// Campaigns that are told in the list, the newest.
const LISTED: u64 = 20;

fn none() -> Problem {
    Problem::Missing("There is no such change of many jobs.".into())
}

async fn tell_campaign(connection: &impl ConnectionTrait, id: Uuid) -> Result<(), Problem> {
    tell(connection, &Told { job: id, state: 0, what: Happened::Campaign }).await
}

/// Puts into the queue what is still to be tried and made of a campaign.
async fn enqueue_open(
    connection: &impl ConnectionTrait,
    id: Uuid,
    jobs: &[campaign_job::Model],
) -> Result<(), Problem> {
    let of = |phase: Phase| jobs.iter().filter(move |job| job.phase == phase.word()).map(|job| job.job);
    let tries: Vec<TryJob> = of(Phase::Waiting).map(|job| TryJob { campaign: id, job }).collect();
    let takes: Vec<TakeJob> = of(Phase::Taking).map(|job| TakeJob { campaign: id, job }).collect();
    enqueue(connection, &tries).await?;
    enqueue(connection, &takes).await
}

impl Store {
    /// Begins a campaign: the change is tried on each of these jobs.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn begin_campaign(
        &self,
        edit: &Edit,
        author: &str,
        jobs: Vec<(Uuid, String)>,
    ) -> Result<Uuid, Problem> {
        let id = Uuid::new_v4();
        let transaction = self.database.begin().await?;
        let new = campaign::ActiveModel {
            id: Set(id),
            says: Set(edit.label(&Job::default())),
            author: Set(author.into()),
            at: Set(OffsetDateTime::now_utc()),
            edit: Set(serde_json::to_value(edit).expect("an edit has string keys and finite numbers")),
            stopped: Set(false),
        };
        new.insert(&transaction).await?;
        let row = |(place, (job, name)): (usize, (Uuid, String))| campaign_job::ActiveModel {
            campaign: Set(id),
            job: Set(job),
            place: Set(place as i32),
            name: Set(name),
            key: Set(Uuid::new_v4()),
            phase: Set(Phase::Waiting.word().into()),
            state: Set(None),
            before: Set(None),
            after: Set(None),
            why: Set(None),
            taken_by: Set(None),
        };
        let rows = jobs.into_iter().enumerate().map(row);
        campaign_job::Entity::insert_many(rows).exec_without_returning(&transaction).await?;
        let rows = campaign_job::Entity::find().filter(campaign_job::Column::Campaign.eq(id)).all(&transaction).await?;
        enqueue_open(&transaction, id, &rows).await?;
        tell_campaign(&transaction, id).await?;
        transaction.commit().await?;
        Ok(id)
    }

    /// The newest campaigns, and how many jobs each is for.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn campaigns(&self) -> Result<Vec<(campaign::Model, i64)>, Problem> {
        let newest =
            campaign::Entity::find().order_by_desc(campaign::Column::At).limit(LISTED).all(&self.database).await?;
        let counts: Vec<(Uuid, i64)> = campaign_job::Entity::find()
            .select_only()
            .column(campaign_job::Column::Campaign)
            .column_as(campaign_job::Column::Job.count(), "jobs")
            .filter(campaign_job::Column::Campaign.is_in(newest.iter().map(|c| c.id)))
            .group_by(campaign_job::Column::Campaign)
            .into_tuple()
            .all(&self.database)
            .await?;
        let count = |id: Uuid| counts.iter().find(|(of, _)| *of == id).map_or(0, |(_, count)| *count);
        Ok(newest.into_iter().map(|c| (c.clone(), count(c.id))).collect())
    }

    /// A campaign with its jobs, in their order.
    ///
    /// # Errors
    /// There is none, or the database does not answer.
    pub(crate) async fn campaign(&self, id: Uuid) -> Result<(campaign::Model, Vec<campaign_job::Model>), Problem> {
        let of = campaign::Entity::find_by_id(id).one(&self.database).await?.ok_or_else(none)?;
        let jobs = campaign_job::Entity::find()
            .filter(campaign_job::Column::Campaign.eq(id))
            .order_by_asc(campaign_job::Column::Place)
            .all(&self.database)
            .await?;
        Ok((of, jobs))
    }

    /// A campaign and one of its jobs, where that is in a phase and the campaign is not stopped.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn open_campaign_job(
        &self,
        id: Uuid,
        job: Uuid,
        phase: Phase,
    ) -> Result<Option<(campaign::Model, campaign_job::Model)>, Problem> {
        let Some(of) = campaign::Entity::find_by_id(id).one(&self.database).await? else { return Ok(None) };
        let row = campaign_job::Entity::find_by_id((id, job)).one(&self.database).await?;
        Ok(row.filter(|row| row.phase == phase.word() && !of.stopped).map(|row| (of, row)))
    }

    /// Keeps what came of a job that was in a phase, where it still is.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn keep_campaign_job(&self, id: Uuid, job: Uuid, was: Phase, came: Came) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let row = campaign_job::Entity::find_by_id((id, job)).lock_exclusive().one(&transaction).await?;
        let Some(row) = row.filter(|row| row.phase == was.word()) else { return Ok(()) };
        let verdict = |of: Option<crate::views::VerdictView>| {
            of.map(|of| serde_json::to_value(of).expect("a verdict has string keys and whole numbers"))
        };
        let mut row = row.into_active_model();
        row.phase = Set(came.phase.word().into());
        row.state = Set(came.state);
        row.before = Set(verdict(came.before));
        row.after = Set(verdict(came.after));
        row.why = Set(came.why);
        row.update(&transaction).await?;
        tell_campaign(&transaction, id).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Has the change made to those of these jobs on which it was tried.
    ///
    /// # Errors
    /// There is no such campaign, or the database does not answer.
    pub(crate) async fn take_campaign_jobs(&self, id: Uuid, jobs: &[Uuid], by: &str) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        locked(&transaction, id).await?;
        let rows = campaign_job::Entity::update_many()
            .col_expr(campaign_job::Column::Phase, sea_orm::sea_query::Expr::value(Phase::Taking.word()))
            .col_expr(campaign_job::Column::TakenBy, sea_orm::sea_query::Expr::value(by))
            .filter(campaign_job::Column::Campaign.eq(id))
            .filter(campaign_job::Column::Job.is_in(jobs.iter().copied()))
            .filter(campaign_job::Column::Phase.eq(Phase::Tried.word()))
            .exec_with_returning(&transaction)
            .await?;
        enqueue_open(&transaction, id, &rows).await?;
        tell_campaign(&transaction, id).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Stops a campaign, or has it go on.
    ///
    /// # Errors
    /// There is no such campaign, or the database does not answer.
    pub(crate) async fn set_campaign_stopped(&self, id: Uuid, stopped: bool) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let mut of = locked(&transaction, id).await?.into_active_model();
        of.stopped = Set(stopped);
        of.update(&transaction).await?;
        let jobs = campaign_job::Entity::find().filter(campaign_job::Column::Campaign.eq(id)).all(&transaction).await?;
        if stopped {
            let key = |job: &campaign_job::Model| {
                let (campaign, job) = (id, job.job);
                [TryJob { campaign, job }.key(), TakeJob { campaign, job }.key()]
            };
            dequeue(&transaction, jobs.iter().flat_map(key).collect()).await?;
        } else {
            enqueue_open(&transaction, id, &jobs).await?;
        }
        tell_campaign(&transaction, id).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Puts into the queue what another version of the program may have left of campaigns.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn plan_campaigns(&self) -> Result<(), Problem> {
        let open = campaign_job::Entity::find()
            .filter(campaign_job::Column::Phase.is_in([Phase::Waiting.word(), Phase::Taking.word()]))
            .all(&self.database)
            .await?;
        let of: std::collections::BTreeSet<Uuid> = open.iter().map(|job| job.campaign).collect();
        for id in of {
            let jobs: Vec<campaign_job::Model> = open.iter().filter(|job| job.campaign == id).cloned().collect();
            enqueue_open(&self.database, id, &jobs).await?;
        }
        Ok(())
    }
}

async fn locked(transaction: &DatabaseTransaction, id: Uuid) -> Result<campaign::Model, Problem> {
    campaign::Entity::find_by_id(id).lock_exclusive().one(transaction).await?.ok_or_else(none)
}
