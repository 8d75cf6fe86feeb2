//! Part files by their hash.

use super::Store;
use crate::{entity::blob, problem::Problem};
use sea_orm::{ActiveValue::Set, DbErr, EntityTrait, sea_query::OnConflict};

impl Store {
    /// Keeps a part file under its hash.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn keep(&self, sha256: &str, bytes: &[u8]) -> Result<(), Problem> {
        let packed = zstd::encode_all(bytes, 3)
            .map_err(|e| Problem::Wrong(format!("The part file could not be packed: {e}.")))?;
        let row = blob::ActiveModel { sha256: Set(sha256.into()), bytes: Set(packed), size: Set(bytes.len() as i64) };
        blob::Entity::insert(row)
            .on_conflict(OnConflict::column(blob::Column::Sha256).do_nothing().to_owned())
            .exec_without_returning(&self.database)
            .await?;
        Ok(())
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
