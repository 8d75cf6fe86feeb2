//! What rows of rosters came to, kept so that only what differs is worked out again.

use super::kept::Kept;
use crate::{
    entity::{variant, variant_file},
    problem::Problem,
    store::Store,
};
use sea_orm::{
    ActiveValue::Set, ColumnTrait, DbErr, EntityTrait, QueryFilter, QueryOrder, TransactionTrait, sea_query::OnConflict,
};
use std::collections::HashMap;
use uuid::Uuid;

impl Store {
    /// All that is kept of a job's rows, by their digests.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn kept_rows(&self, job: Uuid) -> Result<HashMap<String, Kept>, Problem> {
        let rows = variant::Entity::find().filter(variant::Column::Job.eq(job)).all(&self.database).await?;
        // what an older version kept and this one can't read is worked out again
        Ok(rows.into_iter().filter_map(|r| Some((r.digest, serde_json::from_value(r.found).ok()?))).collect())
    }

    /// Keeps what a row came to, with the files that were made for it.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn keep_row(
        &self,
        job: Uuid,
        digest: &str,
        kept: &Kept,
        files: Vec<handoff::Named>,
    ) -> Result<(), Problem> {
        let found = serde_json::to_value(kept)
            .map_err(|e| Problem::Database(DbErr::Custom(format!("a row that can't be written: {e}"))))?;
        let transaction = self.database.begin().await?;
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
