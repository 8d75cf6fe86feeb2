//! Jobs as append-only history: their states, changes, steps back and again.

use super::documents::{self, Chain, Written};
use super::entry::{By, Entry, Of};
use super::told::{Happened, Told, tell};
use super::{Store, blobs::bind};
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
use trade::{Given, Job, Roster};
use uuid::Uuid;

/// Rows of the history that are kept as they were read: they never change.
pub(super) const ROWS: usize = 40;

/// A row of the history.
pub(super) struct Row {
    pub(super) of: Uuid,
    pub(super) author: String,
    pub(super) at: OffsetDateTime,
    /// The job as it was then, and from where it is read; what led to an earlier state has none of its own.
    pub(super) job: Option<(Job, Chain)>,
}

impl Row {
    pub(super) fn job(&self) -> Result<&Job, Problem> {
        Ok(&self.kept()?.0)
    }

    fn kept(&self) -> Result<&(Job, Chain), Problem> {
        self.job.as_ref().ok_or_else(|| Problem::Database(DbErr::Custom("a state without a document".into())))
    }
}

/// A job as it stands.
#[derive(Clone, Debug)]
pub struct Standing {
    pub id: Uuid,
    pub job: Job,
    pub state: i64,
    /// Number of the newest row of the history.
    pub latest: i64,
    pub by: String,
    pub at: OffsetDateTime,
    /// Taken off the list.
    pub gone: bool,
    /// Where it is kept on the list; empty, in none.
    pub folder: String,
}

/// A job whose present state can't be read.
#[derive(Clone, Debug)]
pub struct UnreadableJob {
    pub id: Uuid,
    pub state: i64,
    /// Number of the newest row of the history.
    pub latest: i64,
    pub gone: bool,
    pub folder: String,
    pub name: String,
    pub by: String,
    pub at: OffsetDateTime,
    pub why: String,
}

pub(super) fn gone() -> Problem {
    Problem::Missing("There is no such job; it may have been removed.".into())
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
            let begun = Entry { by: By::plainly(author), label: "job begun", of: Of::Itself };
            let (row, _) = add(&transaction, id, None, begun, documents::written(None, job)).await?;
            let given = Some(to_kept(&Given::default().with(job)));
            let new = job::ActiveModel {
                id: Set(id),
                state: Set(row),
                latest: Set(row),
                gone: Set(false),
                folder: Set(String::new()),
                given: Set(given),
            };
            new.insert(&transaction).await?;
            bind(&transaction, id, None, job).await?;
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

    /// Has there ever been a job?
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn is_empty(&self) -> Result<bool, Problem> {
        Ok(job::Entity::find().limit(1).one(&self.database).await?.is_none())
    }

    /// Every job whose newest row of the history comes before `before`, the last changed first.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn listed(&self, before: Option<i64>) -> Result<Vec<job::Model>, Problem> {
        let rows = job::Entity::find().filter(job::Column::Latest.lt(before.unwrap_or(i64::MAX)));
        Ok(rows.order_by_desc(job::Column::Latest).all(&self.database).await?)
    }

    /// A job of the list; of one that can't be read what is known of it.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn described(&self, row: &job::Model) -> Result<Result<Standing, UnreadableJob>, Problem> {
        match self.describe(row).await {
            Err(Problem::Unreadable(why)) => Ok(Err(self.unreadable(row, why).await?)),
            described => Ok(Ok(described?)),
        }
    }

    async fn unreadable(&self, row: &job::Model, why: String) -> Result<UnreadableJob, Problem> {
        let find = |id: i64| change::Entity::find_by_id(id).one(&self.database);
        let (state, latest) = (find(row.state).await?.ok_or_else(gone)?, find(row.latest).await?.ok_or_else(gone)?);
        let (document, _) = self.raw(&state, &self.database).await?;
        let name = document["name"].as_str().unwrap_or_default().to_owned();
        Ok(UnreadableJob {
            id: row.id,
            state: row.state,
            latest: row.latest,
            gone: row.gone,
            folder: row.folder.clone(),
            name,
            by: latest.author,
            at: latest.at,
            why,
        })
    }

    async fn describe(&self, row: &job::Model) -> Result<Standing, Problem> {
        let state = self.row(row.state, &self.database).await?;
        let latest = self.row(row.latest, &self.database).await?;
        let mut job = state.job()?.clone();
        job.given = given(row).with(&job);
        Ok(Standing {
            id: row.id,
            job,
            state: row.state,
            latest: row.latest,
            by: latest.author.clone(),
            at: latest.at,
            gone: row.gone,
            folder: row.folder.clone(),
        })
    }

    pub(super) async fn row(&self, id: i64, connection: &impl ConnectionTrait) -> Result<Arc<Row>, Problem> {
        if let Some(row) = hold(&self.rows).get(&id) {
            return Ok(row);
        }
        let row = change::Entity::find_by_id(id).one(connection).await?.ok_or_else(gone)?;
        let job = if row.state == Some(row.id) {
            let (raw, chain) = self.raw(&row, connection).await?;
            Some(documents::read(raw, chain)?)
        } else {
            None
        };
        let row = Arc::new(Row { of: row.job, author: row.author, at: row.at, job });
        hold(&self.rows).put(id, row.clone());
        Ok(row)
    }

    /// Has a state of a job, as far as it is at hand, these rows?
    pub(crate) fn roster_stays(&self, state: i64, id: Uuid, roster: &Arc<Roster>) -> bool {
        let row = hold(&self.rows).get(&state).filter(|row| row.of == id);
        row.and_then(|row| row.job().ok().map(|job| job.roster == *roster)).unwrap_or(false)
    }

    /// Keeps what was made of a job's state; `false` where the job stands at another one by now, and nothing is kept.
    /// A change that is sent again under its key was kept the first time.
    ///
    /// # Errors
    /// No such job, or the database does not answer.
    pub async fn keep_change(&self, id: Uuid, from: i64, entry: Entry<'_>, after: Job) -> Result<bool, Problem> {
        let typed = self.typed_before(id, from, entry.by.typing).await?;
        let made_from = typed.unwrap_or(from);
        let before = self.row(made_from, &self.database).await.ok();
        let before = before.as_ref().and_then(|row| row.kept().ok()).map(|(job, chain)| (job, *chain));
        let job_before = before.map(|(job, _)| job);
        let written = documents::written(before, &after);
        let chain = written.chain;
        let transaction = self.database.begin().await?;
        let row = locked(&transaction, id).await?;
        if is_kept(&transaction, id, entry.by.key).await? {
            return Ok(true);
        }
        // what is typed continues the newest row, or nothing
        if row.state != from || (typed.is_some() && row.latest != from) {
            return Ok(false);
        }
        let written = Written { continues: typed.map(|_| from), ..written };
        let (made, at) = add(&transaction, id, Some(made_from), entry, written).await?;
        bind(&transaction, id, job_before, &after).await?;
        let had = given(&row);
        let given = job_before.map_or_else(|| had.clone(), |job| had.clone().with(job)).with(&after);
        let given = given.has_more_than(&had).then_some(given);
        finish(transaction, row, made, made, given).await?;
        // what was written need not be read again
        let author = entry.by.author.into();
        let job = Some((after, chain.unwrap_or_else(|| Chain::of(made))));
        let row = Row { of: id, author, at, job };
        hold(&self.rows).put(made, Arc::new(row));
        Ok(true)
    }

    /// The state that the typing began from which the change `from`, the newest row of the history, is part of.
    async fn typed_before(&self, id: Uuid, from: i64, typing: Option<Uuid>) -> Result<Option<i64>, Problem> {
        if typing.is_none() {
            return Ok(None);
        }
        let newest = job::Entity::find_by_id(id).one(&self.database).await?.ok_or_else(gone)?.latest;
        let before = change::Entity::find()
            .select_only()
            .column(change::Column::FromState)
            .filter(change::Column::Id.eq(from))
            .filter(change::Column::Typing.eq(typing))
            .filter(change::Column::Undoes.is_null())
            .filter(change::Column::Redoes.is_null());
        let before: Option<Option<i64>> = before.into_tuple().one(&self.database).await?;
        Ok(before.flatten().filter(|_| newest == from))
    }

    /// Was a change kept under this key?
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn is_kept(&self, id: Uuid, key: Option<Uuid>) -> Result<bool, Problem> {
        is_kept(&self.database, id, key).await
    }

    /// Brings a job from one state to another that it had before; `false` where it stands at another one by now.
    ///
    /// # Errors
    /// No such job, or the database does not answer.
    pub(crate) async fn keep_step(&self, id: Uuid, from: i64, to: i64, entry: Entry<'_>) -> Result<bool, Problem> {
        let transaction = self.database.begin().await?;
        let row = locked(&transaction, id).await?;
        if is_kept(&transaction, id, entry.by.key).await? {
            return Ok(true);
        }
        if row.state != from {
            return Ok(false);
        }
        let made = entry.row(id, Some(from), OffsetDateTime::now_utc());
        let made = change::ActiveModel { state: Set(Some(to)), document: Set(None), ..made };
        let made = made.insert(&transaction).await?.id;
        finish(transaction, row, to, made, None).await?;
        Ok(true)
    }

    /// Takes a job off the list, or puts it back. Everything about it is kept.
    ///
    /// # Errors
    /// No such job, or the database does not answer.
    pub async fn set_gone(&self, id: Uuid, gone: bool) -> Result<(), Problem> {
        let what = if gone { Happened::Removed } else { Happened::Restored };
        self.listed_as(id, what, |row| row.gone = Set(gone)).await
    }

    /// Puts a job into a folder of the list; with an empty name into none.
    ///
    /// # Errors
    /// As [`Store::set_gone`].
    pub async fn put_in_folder(&self, id: Uuid, folder: &str) -> Result<(), Problem> {
        self.listed_as(id, Happened::Changed, |row| row.folder = Set(folder.to_owned())).await
    }

    /// Changes how a job stands on the list, and tells all windows.
    async fn listed_as(
        &self,
        id: Uuid,
        what: Happened,
        set: impl FnOnce(&mut job::ActiveModel),
    ) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let row = locked(&transaction, id).await?;
        let state = row.state;
        let mut row = row.into_active_model();
        set(&mut row);
        row.update(&transaction).await?;
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

/// The ids that a job's things are known to have had.
fn given(row: &job::Model) -> Given {
    row.given.clone().and_then(|given| serde_json::from_value(given).ok()).unwrap_or_default()
}

fn to_kept(given: &Given) -> serde_json::Value {
    serde_json::to_value(given).expect("ids are strings and numbers")
}

async fn locked(transaction: &DatabaseTransaction, id: Uuid) -> Result<job::Model, Problem> {
    job::Entity::find_by_id(id).lock_exclusive().one(transaction).await?.ok_or_else(gone)
}

/// Writes a new state; its number, and when that was.
async fn add(
    transaction: &DatabaseTransaction,
    job: Uuid,
    from: Option<i64>,
    entry: Entry<'_>,
    written: Written,
) -> Result<(i64, OffsetDateTime), Problem> {
    let now = OffsetDateTime::now_utc();
    // the database keeps microseconds
    let at = now.replace_nanosecond(now.microsecond() * 1000).unwrap_or(now);
    let Written { document, patch, chain, continues } = written;
    let row = change::ActiveModel {
        document: Set(document),
        patch: Set(patch),
        base: Set(chain.map(|c| c.base)),
        continues: Set(continues),
        ..entry.row(job, from, at)
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

async fn finish(
    transaction: DatabaseTransaction,
    row: job::Model,
    state: i64,
    latest: i64,
    given: Option<Given>,
) -> Result<(), Problem> {
    let id = row.id;
    let mut row = row.into_active_model();
    if let Some(given) = given {
        row.given = Set(Some(to_kept(&given)));
    }
    row.state = Set(state);
    row.latest = Set(latest);
    row.update(&transaction).await?;
    tell(&transaction, &Told { job: id, state, what: Happened::Changed }).await?;
    transaction.commit().await?;
    Ok(())
}
