//! What rows of rosters came to, kept so that only what differs is worked out again.

use super::{
    kept::{Kept, Work},
    tasks::{DoRow, PlanRows, row_key},
};
use crate::{
    entity::{run, run_row, variant, variant_file},
    problem::Problem,
    queue::{dequeue, enqueue},
    store::{Happened, Store, Told, tell},
};
use sea_orm::{
    ActiveValue::Set,
    ColumnTrait, ConnectionTrait, DatabaseTransaction, DbErr, EntityTrait, ExprTrait, QueryFilter, QueryOrder,
    QuerySelect, TransactionTrait,
    sea_query::{Expr, OnConflict},
};
use std::collections::HashMap;
use uuid::Uuid;

/// Rows that go into the queue with one statement.
const ROWS_AT_ONCE: usize = 1000;

async fn tell_rows(transaction: &DatabaseTransaction, job: Uuid, state: i64) -> Result<(), Problem> {
    tell(transaction, &Told { job, state, what: Happened::Rows }).await
}

/// Locks a run before anything of it is changed: who does its rows waits for one another here and nowhere else, and of two
/// last rows one sees that the other is done. Is one under way?
async fn hold_run(transaction: &DatabaseTransaction, job: Uuid) -> Result<bool, Problem> {
    Ok(run::Entity::find_by_id(job).lock_exclusive().one(transaction).await?.is_some())
}

/// Takes all rows but these out of a run and out of the queue.
async fn leave_rows(transaction: &DatabaseTransaction, job: Uuid, but: &[DoRow]) -> Result<(), Problem> {
    let left = run_row::Entity::delete_many()
        .filter(run_row::Column::Job.eq(job))
        .filter(run_row::Column::Digest.is_not_in(but.iter().map(|row| &row.digest)))
        .exec_with_returning(transaction)
        .await?;
    dequeue(transaction, left.into_iter().map(|row| row_key(job, &row.digest)).collect()).await
}

async fn kept_rows(on: &impl ConnectionTrait, job: Uuid) -> Result<HashMap<String, Kept>, DbErr> {
    let rows = variant::Entity::find().filter(variant::Column::Job.eq(job)).all(on).await?;
    // what an older version kept and this one can't read is worked out again
    Ok(rows.into_iter().filter_map(|r| Some((r.digest, serde_json::from_value(r.found).ok()?))).collect())
}

/// Ends a run that has no more rows.
async fn end_where_done(transaction: &DatabaseTransaction, job: Uuid) -> Result<(), Problem> {
    let left = run_row::Entity::find().filter(run_row::Column::Job.eq(job)).limit(1).one(transaction).await?;
    if left.is_none() {
        run::Entity::delete_by_id(job).exec(transaction).await?;
    }
    Ok(())
}

impl Store {
    /// All that is kept of a job's rows, by their digests.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn kept_rows(&self, job: Uuid) -> Result<HashMap<String, Kept>, Problem> {
        Ok(kept_rows(&self.database, job).await?)
    }

    /// What a run over a job's rows does, where one is under way.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn run(&self, job: Uuid) -> Result<Option<Work>, Problem> {
        Ok(run::Entity::find_by_id(job).one(&self.database).await?.and_then(|run| Work::of_word(&run.work)))
    }

    /// Begins a run; `false` where one is under way.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn begin_run(&self, job: Uuid, state: i64, work: Work) -> Result<bool, Problem> {
        let transaction = self.database.begin().await?;
        let row = run::ActiveModel { job: Set(job), work: Set(work.word().into()) };
        let begun = run::Entity::insert(row)
            .on_conflict(OnConflict::column(run::Column::Job).do_nothing().to_owned())
            .exec_without_returning(&transaction)
            .await?;
        if begun == 0 {
            return Ok(false);
        }
        enqueue(&transaction, &[PlanRows { job }]).await?;
        tell_rows(&transaction, job, state).await?;
        transaction.commit().await?;
        Ok(true)
    }

    /// Has the rows of every run planned anew that another version of the program may have begun.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn plan_runs(&self) -> Result<(), Problem> {
        let runs = run::Entity::find().all(&self.database).await?;
        let plans: Vec<PlanRows> = runs.into_iter().map(|run| PlanRows { job: run.job }).collect();
        enqueue(&self.database, &plans).await
    }

    /// Has the rows of a run planned anew.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn plan_run(&self, job: Uuid) -> Result<(), Problem> {
        enqueue(&self.database, &[PlanRows { job }]).await
    }

    /// Ends a run; what its workers do at this moment is kept by none of them.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn end_run(&self, job: Uuid) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        hold_run(&transaction, job).await?;
        leave_rows(&transaction, job, &[]).await?;
        run::Entity::delete_by_id(job).exec(&transaction).await?;
        tell_rows(&transaction, job, 0).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Says which of a run's rows are still to be done: those that are not as good as `done`. All others are taken out of
    /// it, and with none it ends.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn open_rows(
        &self,
        job: Uuid,
        state: i64,
        mut rows: Vec<DoRow>,
        done: impl Fn(&Kept) -> bool,
    ) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        if !hold_run(&transaction, job).await? {
            return Ok(());
        }
        // only now: a row that is kept meanwhile would be begun anew, as if for the first time
        let kept = kept_rows(&transaction, job).await?;
        rows.retain(|row| !kept.get(&row.digest).is_some_and(&done));
        let open = &rows[..];
        leave_rows(&transaction, job, open).await?;
        let row =
            |task: &DoRow| run_row::ActiveModel { job: Set(job), digest: Set(task.digest.clone()), begun: Set(0) };
        for some in open.chunks(ROWS_AT_ONCE) {
            run_row::Entity::insert_many(some.iter().map(row))
                .on_conflict(
                    OnConflict::columns([run_row::Column::Job, run_row::Column::Digest]).do_nothing().to_owned(),
                )
                .exec_without_returning(&transaction)
                .await?;
            enqueue(&transaction, some).await?;
        }
        end_where_done(&transaction, job).await?;
        tell_rows(&transaction, job, state).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Notes that a row is begun, and says how often it was by now; nothing where it is to be done no more.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn begin_row(&self, job: Uuid, digest: &str) -> Result<Option<i32>, Problem> {
        let begun = run_row::Entity::update_many()
            .col_expr(run_row::Column::Begun, Expr::col(run_row::Column::Begun).add(1))
            .filter(run_row::Column::Job.eq(job))
            .filter(run_row::Column::Digest.eq(digest))
            .exec_with_returning(&self.database)
            .await?;
        Ok(begun.first().map(|row| row.begun))
    }

    /// Keeps what a row came to, with the files that were made for it, and ends the run with its last row. Of a row that
    /// is to be done no more nothing is kept.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn keep_row(
        &self,
        job: Uuid,
        state: i64,
        digest: &str,
        kept: &Kept,
        files: Vec<handoff::Named>,
    ) -> Result<(), Problem> {
        let found = serde_json::to_value(kept)
            .map_err(|e| Problem::Database(DbErr::Custom(format!("a row that can't be written: {e}"))))?;
        let transaction = self.database.begin().await?;
        hold_run(&transaction, job).await?;
        let open = run_row::Entity::delete_by_id((job, digest.to_owned())).exec(&transaction).await?;
        if open.rows_affected == 0 {
            return Ok(());
        }
        let row = variant::ActiveModel { job: Set(job), digest: Set(digest.into()), found: Set(found) };
        variant::Entity::insert(row)
            .on_conflict(
                OnConflict::columns([variant::Column::Job, variant::Column::Digest])
                    .update_column(variant::Column::Found)
                    .to_owned(),
            )
            .exec_without_returning(&transaction)
            .await?;
        for file in files {
            let row = variant_file::ActiveModel {
                job: Set(job),
                digest: Set(digest.into()),
                name: Set(file.name),
                bytes: Set(file.bytes),
            };
            let key = [variant_file::Column::Job, variant_file::Column::Digest, variant_file::Column::Name];
            variant_file::Entity::insert(row)
                .on_conflict(OnConflict::columns(key).update_column(variant_file::Column::Bytes).to_owned())
                .exec_without_returning(&transaction)
                .await?;
        }
        end_where_done(&transaction, job).await?;
        tell_rows(&transaction, job, state).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// The files of a row, by name.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn row_files(&self, job: Uuid, digest: &str) -> Result<Vec<handoff::Named>, Problem> {
        let files = variant_file::Entity::find()
            .filter(variant_file::Column::Job.eq(job))
            .filter(variant_file::Column::Digest.eq(digest))
            .order_by_asc(variant_file::Column::Name)
            .all(&self.database)
            .await?;
        Ok(files.into_iter().map(|f| handoff::Named { name: f.name, bytes: f.bytes }).collect())
    }

    /// Forgets what is kept of a job's rows under other digests than these.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn forget_rows(&self, job: Uuid, but: &[String]) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        variant_file::Entity::delete_many()
            .filter(variant_file::Column::Job.eq(job))
            .filter(variant_file::Column::Digest.is_not_in(but))
            .exec(&transaction)
            .await?;
        variant::Entity::delete_many()
            .filter(variant::Column::Job.eq(job))
            .filter(variant::Column::Digest.is_not_in(but))
            .exec(&transaction)
            .await?;
        transaction.commit().await?;
        Ok(())
    }
}
