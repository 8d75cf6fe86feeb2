//! Part files by their hash.

use super::Store;
use crate::{
    entity::{blob, job_blob},
    problem::Problem,
};
use sea_orm::{
    ActiveValue::Set,
    ColumnTrait, DatabaseTransaction, DbErr, EntityTrait, QueryFilter, QuerySelect,
    sea_query::{OnConflict, Query},
};
use time::{Duration, OffsetDateTime};
use trade::Job;
use uuid::Uuid;

/// A part file that no job is made of stays that long: a revision may be looked at before it is taken.
const LEFT: Duration = Duration::days(1);

/// Notes the part files that a state of a job is made of, where they are others than those of the state before.
///
/// # Errors
/// One of them is not kept, or the database does not answer.
pub(super) async fn bind(
    transaction: &DatabaseTransaction,
    id: Uuid,
    before: Option<&Job>,
    job: &Job,
) -> Result<(), Problem> {
    if before.is_some_and(|before| before.part == job.part) {
        return Ok(());
    }
    let files = job.part.sha256.iter().chain(job.part.replaces.iter().map(|was| &was.sha256));
    for sha256 in files {
        let row = job_blob::ActiveModel { job: Set(id), sha256: Set(sha256.clone()) };
        job_blob::Entity::insert(row)
            .on_conflict(OnConflict::columns([job_blob::Column::Job, job_blob::Column::Sha256]).do_nothing().to_owned())
            .exec_without_returning(transaction)
            .await?;
    }
    Ok(())
}

impl Store {
    /// Keeps a part file under its hash.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn keep(&self, sha256: &str, bytes: &[u8]) -> Result<(), Problem> {
        let packed = zstd::encode_all(bytes, 3)
            .map_err(|e| Problem::Wrong(format!("The part file could not be packed: {e}.")))?;
        let row = blob::ActiveModel {
            sha256: Set(sha256.into()),
            bytes: Set(packed),
            size: Set(bytes.len() as i64),
            at: Set(OffsetDateTime::now_utc()),
        };
        blob::Entity::insert(row)
            // what is about to be used is not swept
            .on_conflict(OnConflict::column(blob::Column::Sha256).update_column(blob::Column::At).to_owned())
            .exec_without_returning(&self.database)
            .await?;
        Ok(())
    }

    /// Removes part files that no state of any job is made of and that nobody has asked for since a day; how many.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn sweep(&self) -> Result<u64, Problem> {
        let used = Query::select().column(job_blob::Column::Sha256).from(job_blob::Entity).to_owned();
        let swept = blob::Entity::delete_many()
            .filter(blob::Column::At.lt(OffsetDateTime::now_utc() - LEFT))
            .filter(blob::Column::Sha256.not_in_subquery(used))
            .exec(&self.database)
            .await?;
        Ok(swept.rows_affected)
    }

    /// Is a part file kept?
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn is_kept_file(&self, sha256: &str) -> Result<bool, Problem> {
        let kept = blob::Entity::find_by_id(sha256).select_only().column(blob::Column::Size).into_tuple::<i64>();
        Ok(kept.one(&self.database).await?.is_some())
    }

    /// A kept part file.
    ///
    /// # Errors
    /// It is not there, or the database does not answer.
    pub async fn kept(&self, sha256: &str) -> Result<Vec<u8>, Problem> {
        let row = blob::Entity::find_by_id(sha256)
            .one(&self.database)
            .await?
            .ok_or_else(|| Problem::Missing("The part file of this job is missing in the database.".into()))?;
        zstd::decode_all(&*row.bytes)
            .map_err(|e| Problem::Database(DbErr::Custom(format!("a part file that can't be unpacked: {e}"))))
    }
}
