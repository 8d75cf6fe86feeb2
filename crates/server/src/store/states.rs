//! Jobs as append-only history: their states, changes, steps back and again.

use super::Store;
use super::told::{Happened, Told, tell};
use crate::{
    entity::{change, job},
    newest::hold,
    problem::Problem,
};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction, DbErr, EntityTrait,
    IntoActiveModel, QueryFilter, QueryOrder, QuerySelect, TransactionTrait, sea_query::Expr,
};
use std::sync::Arc;
use time::OffsetDateTime;
use trade::{Job, JobError};
use uuid::Uuid;

/// Rows of the history that are kept as they were read: they never change.
pub(super) const ROWS: usize = 40;

/// A row of the history.
pub(super) struct Row {
    pub(super) from_state: Option<i64>,
    pub(super) author: String,
    pub(super) at: OffsetDateTime,
    pub(super) label: String,
    /// The job as it was then; undo and redo have none of its own.
    pub(super) job: Option<Job>,
}

impl Row {
    pub(super) fn job(&self) -> Result<&Job, Problem> {
        self.job.as_ref().ok_or_else(|| Problem::Database(DbErr::Custom("a state without a document".into())))
    }
}

/// Whose change it is, and the key under which the window sends it: what is sent again under the same is made once.
#[derive(Clone, Copy, Debug)]
pub struct By<'a> {
    pub author: &'a str,
    pub key: Option<Uuid>,
}

/// A job as it stands.
#[derive(Clone, Debug)]
pub struct Standing {
    pub id: Uuid,
    pub job: Job,
    pub state: i64,
    /// Number of the newest row of the history.
    pub latest: i64,
    /// What undo would undo.
    pub undo: Option<String>,
    /// What a step again would do.
    pub redo: Option<String>,
    pub by: String,
    pub at: OffsetDateTime,
    /// Taken off the list.
    pub gone: bool,
}

/// A job whose present state can't be read.
#[derive(Clone, Debug)]
pub struct UnreadableJob {
    pub id: Uuid,
    pub state: i64,
    pub gone: bool,
    pub name: String,
    pub by: String,
    pub at: OffsetDateTime,
    pub why: String,
}

pub(super) fn gone() -> Problem {
    Problem::Missing("There is no such job; it may have been removed.".into())
}

fn read(row: change::Model) -> Result<Row, Problem> {
    let job: Option<Job> = row.document.map(Job::from_kept).transpose().map_err(|e| match e {
        JobError::Unreadable(why) => Problem::Unreadable(why),
        other => Problem::Unreadable(other.to_string()),
    })?;
    Ok(Row { from_state: row.from_state, author: row.author, at: row.at, label: row.label, job })
}

impl Store {
    /// A new job with its first state.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn create(&self, new: &Job, author: &str) -> Result<Uuid, Problem> {
        let ids = self.create_all(std::slice::from_ref(new), author).await?;
        Ok(ids[0])
    }

    /// New jobs with their first states: all of them, or none.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn create_all(&self, new: &[Job], author: &str) -> Result<Vec<Uuid>, Problem> {
        let transaction = self.database.begin().await?;
        let mut ids = Vec::new();
        for job in new {
            let id = Uuid::new_v4();
            let by = By { author, key: None };
            let (row, _) = add(&transaction, id, None, by, "job begun", job).await?;
            job::ActiveModel { id: Set(id), state: Set(row), latest: Set(row), gone: Set(false) }
                .insert(&transaction)
                .await?;
            tell(&transaction, &Told { job: id, state: row, what: Happened::Changed }).await?;
            ids.push(id);
        }
        transaction.commit().await?;
        Ok(ids)
    }

    /// # Errors
    /// No such job, or the database does not answer.
    pub async fn standing(&self, id: Uuid) -> Result<Standing, Problem> {
        let row = job::Entity::find_by_id(id).one(&self.database).await?.ok_or_else(gone)?;
        self.describe(&row).await
    }

    /// Every job, the last changed first; of one that can't be read what is known of it.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn all(&self) -> Result<Vec<Result<Standing, UnreadableJob>>, Problem> {
        let mut all = Vec::new();
        for row in job::Entity::find().order_by_desc(job::Column::Latest).all(&self.database).await? {
            all.push(match self.describe(&row).await {
                Err(Problem::Unreadable(why)) => Err(self.unreadable(&row, why).await?),
                described => Ok(described?),
            });
        }
        Ok(all)
    }

    async fn unreadable(&self, row: &job::Model, why: String) -> Result<UnreadableJob, Problem> {
        let find = |id: i64| change::Entity::find_by_id(id).one(&self.database);
        let (state, latest) = (find(row.state).await?.ok_or_else(gone)?, find(row.latest).await?.ok_or_else(gone)?);
        let name = state.document.as_ref().and_then(|d| d["name"].as_str().map(str::to_owned));
        let name = name.unwrap_or_default();
        Ok(UnreadableJob { id: row.id, state: row.state, gone: row.gone, name, by: latest.author, at: latest.at, why })
    }

    async fn describe(&self, row: &job::Model) -> Result<Standing, Problem> {
        let state = self.row(row.state, &self.database).await?;
        let latest = self.row(row.latest, &self.database).await?;
        // nothing comes after the newest row
        let redo = if row.state == row.latest { None } else { newest_after(&self.database, row).await? };
        Ok(Standing {
            id: row.id,
            job: state.job()?.clone(),
            state: row.state,
            latest: row.latest,
            undo: state.from_state.map(|_| state.label.clone()),
            redo: redo.map(|r| r.label),
            by: latest.author.clone(),
            at: latest.at,
            gone: row.gone,
        })
    }

    pub(super) async fn row(&self, id: i64, connection: &impl ConnectionTrait) -> Result<Arc<Row>, Problem> {
        if let Some(row) = hold(&self.rows).get(&id) {
            return Ok(row);
        }
        let row = Arc::new(read(change::Entity::find_by_id(id).one(connection).await?.ok_or_else(gone)?)?);
        hold(&self.rows).put(id, row.clone());
        Ok(row)
    }

    /// Keeps what was made of a job's state; `false` where the job stands at another one by now, and nothing is kept.
    /// A change that is sent again under its key was kept the first time.
    ///
    /// # Errors
    /// No such job, or the database does not answer.
    pub async fn keep_change(&self, id: Uuid, from: i64, by: By<'_>, label: &str, after: Job) -> Result<bool, Problem> {
        let transaction = self.database.begin().await?;
        let row = locked(&transaction, id).await?;
        if is_kept(&transaction, id, by.key).await? {
            return Ok(true);
        }
        if row.state != from {
            return Ok(false);
        }
        let (made, at) = add(&transaction, id, Some(from), by, label, &after).await?;
        finish(transaction, row, made, made).await?;
        // what was written need not be read again
        let row = Row { from_state: Some(from), author: by.author.into(), at, label: label.into(), job: Some(after) };
        hold(&self.rows).put(made, Arc::new(row));
        Ok(true)
    }

    /// Was a change kept under this key?
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn is_kept(&self, id: Uuid, key: Option<Uuid>) -> Result<bool, Problem> {
        is_kept(&self.database, id, key).await
    }

    /// One step back in the history.
    ///
    /// # Errors
    /// There is nothing to go back to, no such job, or the database does not answer.
    pub async fn undo(&self, id: Uuid, by: By<'_>) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let row = locked(&transaction, id).await?;
        if is_kept(&transaction, id, by.key).await? {
            return Ok(());
        }
        let state = change::Entity::find_by_id(row.state).one(&transaction).await?.ok_or_else(gone)?;
        let to = state.from_state.ok_or_else(|| Problem::Wrong("There is nothing to undo.".into()))?;
        let made = step(&transaction, id, row.state, to, by, &format!("undo: {}", state.label)).await?;
        finish(transaction, row, to, made).await
    }

    /// The newest change after the present state made again.
    ///
    /// # Errors
    /// There is none, no such job, or the database does not answer.
    pub async fn redo(&self, id: Uuid, by: By<'_>) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let row = locked(&transaction, id).await?;
        if is_kept(&transaction, id, by.key).await? {
            return Ok(());
        }
        let next = newest_after(&transaction, &row)
            .await?
            .ok_or_else(|| Problem::Wrong("There is nothing to redo.".into()))?;
        let made = step(&transaction, id, row.state, next.id, by, &format!("redo: {}", next.label)).await?;
        finish(transaction, row, next.id, made).await
    }

    /// Takes a job off the list, or puts it back. Everything about it is kept.
    ///
    /// # Errors
    /// No such job, or the database does not answer.
    pub async fn set_gone(&self, id: Uuid, gone: bool) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let row = locked(&transaction, id).await?;
        let state = row.state;
        let mut row = row.into_active_model();
        row.gone = Set(gone);
        row.update(&transaction).await?;
        let what = if gone { Happened::Removed } else { Happened::Restored };
        tell(&transaction, &Told { job: id, state, what }).await?;
        transaction.commit().await?;
        Ok(())
    }
}

async fn is_kept(connection: &impl ConnectionTrait, job: Uuid, key: Option<Uuid>) -> Result<bool, Problem> {
    let Some(key) = key else { return Ok(false) };
    let kept = change::Entity::find()
        .select_only()
        .column(change::Column::Id)
        .filter(change::Column::Job.eq(job))
        .filter(change::Column::Key.eq(key));
    Ok(kept.into_tuple::<i64>().one(connection).await?.is_some())
}

async fn locked(transaction: &DatabaseTransaction, id: Uuid) -> Result<job::Model, Problem> {
    job::Entity::find_by_id(id).lock_exclusive().one(transaction).await?.ok_or_else(gone)
}

async fn newest_after(connection: &impl ConnectionTrait, row: &job::Model) -> Result<Option<change::Model>, Problem> {
    Ok(change::Entity::find()
        .filter(change::Column::Job.eq(row.id))
        .filter(change::Column::FromState.eq(row.state))
        .filter(change::Column::Document.is_not_null())
        .order_by_desc(change::Column::Id)
        .one(connection)
        .await?)
}

/// Writes a new state; its number, and when that was.
async fn add(
    transaction: &DatabaseTransaction,
    job: Uuid,
    from: Option<i64>,
    by: By<'_>,
    label: &str,
    document: &Job,
) -> Result<(i64, OffsetDateTime), Problem> {
    let now = OffsetDateTime::now_utc();
    // the database keeps microseconds
    let at = now.replace_nanosecond(now.microsecond() * 1000).unwrap_or(now);
    let row = change::ActiveModel {
        job: Set(job),
        from_state: Set(from),
        key: Set(by.key),
        author: Set(by.author.into()),
        at: Set(at),
        label: Set(label.into()),
        document: Set(Some(serde_json::to_value(document).expect("a job has string keys and finite numbers"))),
        ..Default::default()
    };
    // only its number comes back, not thousands of rows
    let id = change::Entity::insert(row).exec(transaction).await?.last_insert_id;
    change::Entity::update_many()
        .col_expr(change::Column::State, Expr::value(id))
        .filter(change::Column::Id.eq(id))
        .exec(transaction)
        .await?;
    Ok((id, at))
}

async fn step(
    transaction: &DatabaseTransaction,
    job: Uuid,
    from: i64,
    to: i64,
    by: By<'_>,
    label: &str,
) -> Result<i64, Problem> {
    let row = change::ActiveModel {
        job: Set(job),
        from_state: Set(Some(from)),
        state: Set(Some(to)),
        key: Set(by.key),
        author: Set(by.author.into()),
        at: Set(OffsetDateTime::now_utc()),
        label: Set(label.into()),
        document: Set(None),
        ..Default::default()
    };
    Ok(row.insert(transaction).await?.id)
}

async fn finish(transaction: DatabaseTransaction, row: job::Model, state: i64, latest: i64) -> Result<(), Problem> {
    let id = row.id;
    let mut row = row.into_active_model();
    row.state = Set(state);
    row.latest = Set(latest);
    row.update(&transaction).await?;
    tell(&transaction, &Told { job: id, state, what: Happened::Changed }).await?;
    transaction.commit().await?;
    Ok(())
}
