//! What a job was, and what people have changed since.

use super::{Store, states::gone};
use crate::{entity::change, overtaken::Theirs, problem::Problem};
use sea_orm::{
    ColumnTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder, QuerySelect, Select, sea_query::Query,
};
use time::OffsetDateTime;
use trade::Job;
use uuid::Uuid;

/// A row of the history without its document.
#[derive(FromQueryResult)]
pub(crate) struct Step {
    pub id: i64,
    pub from_state: Option<i64>,
    /// The state that it led to: its own id for a change.
    pub state: Option<i64>,
    pub author: String,
    pub at: OffsetDateTime,
    pub label: String,
}

/// The rows of a job's history without their documents.
fn steps(id: Uuid) -> Select<change::Entity> {
    change::Entity::find()
        .select_only()
        .columns([change::Column::Id, change::Column::FromState, change::Column::State])
        .columns([change::Column::Author, change::Column::At, change::Column::Label])
        .filter(change::Column::Job.eq(id))
}

fn none() -> Problem {
    Problem::Missing("This job has no such state.".into())
}

impl Store {
    /// A job as it was in one of its states, and what had been done to come there.
    ///
    /// # Errors
    /// It has no such state, or the database does not answer.
    pub async fn state_of(&self, id: Uuid, state: i64) -> Result<(Job, String), Problem> {
        let made = steps(id).filter(change::Column::Id.eq(state)).filter(change::Column::State.eq(state));
        let made: Option<Step> = made.into_model().one(&self.database).await?;
        let label = made.ok_or_else(none)?.label;
        Ok((self.document(state).await?, label))
    }

    /// So many rows of a job's history, the newest first, from the one before `before` on.
    ///
    /// # Errors
    /// No such job, or the database does not answer.
    pub(crate) async fn history(&self, id: Uuid, before: Option<i64>, most: u64) -> Result<Vec<Step>, Problem> {
        // what was typed in one go is told once
        let continued = Query::select()
            .column(change::Column::Continues)
            .from(change::Entity)
            .and_where(change::Column::Job.eq(id))
            .and_where(change::Column::Continues.is_not_null())
            .to_owned();
        let rows = steps(id)
            .filter(change::Column::Id.lt(before.unwrap_or(i64::MAX)))
            .filter(change::Column::Id.not_in_subquery(continued));
        let rows: Vec<Step> =
            rows.order_by_desc(change::Column::Id).limit(most).into_model().all(&self.database).await?;
        if rows.is_empty() && before.is_none() {
            return Err(gone());
        }
        Ok(rows)
    }

    /// A job as it was after a row of its history, and what people but `author` changed since, the oldest first.
    ///
    /// # Errors
    /// It has no such row, or the database does not answer.
    pub(crate) async fn since(&self, id: Uuid, seen: i64, author: &str) -> Result<(Job, Vec<Theirs>), Problem> {
        let rows = steps(id).filter(change::Column::Id.gte(seen)).order_by_asc(change::Column::Id);
        let rows: Vec<Step> = rows.into_model().all(&self.database).await?;
        let (base, later) = rows.split_first().filter(|(first, _)| first.id == seen).ok_or_else(none)?;
        let mut others = Vec::new();
        for row in later.iter().filter(|row| row.author != author) {
            let Some(from) = row.from_state else { continue };
            let (before, after) = (self.document(from).await?, self.document(row.state.unwrap_or(row.id)).await?);
            others.push(Theirs { author: row.author.clone(), label: row.label.clone(), before, after });
        }
        Ok((self.document(base.state.unwrap_or(base.id)).await?, others))
    }

    async fn document(&self, state: i64) -> Result<Job, Problem> {
        Ok(self.row(state, &self.database).await?.job()?.clone())
    }
}
