//! What a job was, and what people have changed since.

use super::Store;
use crate::{entity::change, overtaken::Theirs, problem::Problem};
use sea_orm::{ColumnTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder, QuerySelect};
use trade::Job;
use uuid::Uuid;

/// A row of the history without its document.
#[derive(FromQueryResult)]
struct Step {
    id: i64,
    from_state: Option<i64>,
    state: Option<i64>,
    author: String,
    label: String,
}

fn none() -> Problem {
    Problem::Missing("This job has no such state.".into())
}

impl Store {
    /// A job as it was in one of its states.
    ///
    /// # Errors
    /// It has no such state, or the database does not answer.
    pub async fn state_of(&self, id: Uuid, state: i64) -> Result<Job, Problem> {
        let of = change::Entity::find()
            .select_only()
            .column(change::Column::Id)
            .filter(change::Column::Id.eq(state))
            .filter(change::Column::Job.eq(id));
        of.into_tuple::<i64>().one(&self.database).await?.ok_or_else(none)?;
        self.document(state).await
    }

    /// A job as it was after a row of its history, and what people but `author` changed since, the oldest first.
    ///
    /// # Errors
    /// It has no such row, or the database does not answer.
    pub(crate) async fn since(&self, id: Uuid, seen: i64, author: &str) -> Result<(Job, Vec<Theirs>), Problem> {
        let rows = change::Entity::find()
            .select_only()
            .columns([change::Column::Id, change::Column::FromState, change::Column::State])
            .columns([change::Column::Author, change::Column::Label])
            .filter(change::Column::Job.eq(id))
            .filter(change::Column::Id.gte(seen))
            .order_by_asc(change::Column::Id);
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
