//! Records in the database: written once, read again to the last byte.

use super::{
    Store,
    told::{Happened, Told, tell},
};
use crate::{entity::record as table, problem::Problem};
use ::record::{Record, sha256};
use sea_orm::{
    ActiveValue::Set, ColumnTrait, ConnectionTrait, DbErr, EntityTrait, FromQueryResult, QueryFilter, QueryOrder,
    QuerySelect, Statement, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// What a list tells of a record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Summary {
    /// The row of the roster that it is of, from 1 on, and what stands in it.
    pub row: Option<usize>,
    pub cells: String,
    /// How many rows were recorded beside it.
    pub rows: usize,
    pub verdict: trade::limits::State,
    pub fails: usize,
    pub waived: usize,
    pub marginal: usize,
    pub not_checked: usize,
}

/// A record of the list.
#[derive(FromQueryResult)]
pub struct Listed {
    pub number: i64,
    pub state: i64,
    pub author: String,
    pub at: OffsetDateTime,
    pub summary: serde_json::Value,
    pub sha256: String,
}

/// A record as it was kept.
pub struct KeptRecord {
    pub state: i64,
    /// The document, to the byte.
    pub json: Vec<u8>,
    pub proof: Vec<u8>,
}

impl Store {
    /// The number of the next record. One that is not used stays free for ever.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn next_record(&self) -> Result<i64, Problem> {
        let next = "SELECT nextval(pg_get_serial_sequence('record', 'number')) AS number";
        let row = self
            .database
            .query_one_raw(Statement::from_string(self.database.get_database_backend(), next))
            .await?
            .ok_or_else(|| DbErr::Custom("a sequence gives a number".into()))?;
        Ok(row.try_get("", "number")?)
    }

    /// Keeps a record with its proof, and tells.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn keep_record(
        &self,
        job: Uuid,
        state: i64,
        at: OffsetDateTime,
        record: &Record,
        proof: Vec<u8>,
    ) -> Result<(), Problem> {
        let number = record.number.ok_or_else(|| DbErr::Custom("a record that is kept has a number".into()))?;
        let json = record.to_json();
        let document = zstd::encode_all(&json[..], 9)
            .map_err(|e| Problem::Wrong(format!("The record could not be packed: {e}.")))?;
        let transaction = self.database.begin().await?;
        table::Entity::insert(table::ActiveModel {
            number: Set(number),
            job: Set(job),
            state: Set(state),
            author: Set(record.by.clone()),
            at: Set(at),
            summary: Set(serde_json::to_value(summary(record)).expect("a summary is plain data")),
            sha256: Set(sha256(&json)),
            document: Set(document),
            proof: Set(proof),
        })
        .exec_without_returning(&transaction)
        .await?;
        tell(&transaction, &Told { job, state, what: Happened::Recorded }).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// A job's records, the newest first.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn records(&self, job: Uuid) -> Result<Vec<Listed>, Problem> {
        use table::Column;
        Ok(table::Entity::find()
            .select_only()
            .columns([Column::Number, Column::State, Column::Author, Column::At, Column::Summary, Column::Sha256])
            .filter(Column::Job.eq(job))
            .order_by_desc(Column::Number)
            .into_model()
            .all(&self.database)
            .await?)
    }

    /// A record of a job by its number.
    ///
    /// # Errors
    /// There is none, what is kept is not what was written, or the database does not answer.
    pub async fn record(&self, job: Uuid, number: i64) -> Result<KeptRecord, Problem> {
        let row = table::Entity::find_by_id(number).filter(table::Column::Job.eq(job)).one(&self.database).await?;
        let row = row.ok_or_else(|| Problem::Missing(format!("This job has no record {number}.")))?;
        let json = zstd::decode_all(&row.document[..])
            .map_err(|e| Problem::Wrong(format!("Record {number} can't be unpacked: {e}.")))?;
        if sha256(&json) != row.sha256 {
            return Err(Problem::Wrong(format!("Record {number} is not what was written: its SHA-256 differs.")));
        }
        Ok(KeptRecord { state: row.state, json, proof: row.proof })
    }
}

fn summary(record: &Record) -> Summary {
    use trade::limits::State;
    let row = record.row.as_ref();
    Summary {
        row: row.map(|r| r.place),
        cells: row.map_or(String::new(), |r| r.cells.join(" · ")),
        rows: record.rows.len(),
        verdict: record.verdict,
        fails: record.count(State::Fails),
        waived: record.waived(),
        marginal: record.count(State::Marginal),
        not_checked: record.count(State::NotChecked),
    }
}
