//! What inspections came to, and what was handed off.

use super::Store;
use super::told::{Happened, Told, tell};
use crate::{
    entity::{handover, inspection},
    problem::Problem,
};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, IntoActiveModel, QueryFilter, QueryOrder,
    sea_query::OnConflict,
};
use time::OffsetDateTime;
use uuid::Uuid;

impl Store {
    /// # Errors
    /// The database does not answer.
    pub async fn inspected(&self, state: i64) -> Result<Option<inspection::Model>, Problem> {
        Ok(inspection::Entity::find_by_id(state).one(&self.database).await?)
    }

    /// Keeps what an inspection came to, and tells.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn keep_inspection(&self, job: Uuid, found: inspection::Model) -> Result<(), Problem> {
        let state = found.state;
        inspection::Entity::insert(found.into_active_model().reset_all())
            .on_conflict(
                OnConflict::column(inspection::Column::State)
                    .update_columns([
                        inspection::Column::Fails,
                        inspection::Column::Waived,
                        inspection::Column::Marginal,
                        inspection::Column::NotChecked,
                        inspection::Column::Worst,
                    ])
                    .to_owned(),
            )
            .exec_without_returning(&self.database)
            .await?;
        tell(&self.database, &Told { job, state, what: Happened::Inspected }).await
    }

    /// The last handover of a job.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn last_handover(&self, job: Uuid) -> Result<Option<handover::Model>, Problem> {
        Ok(handover::Entity::find()
            .filter(handover::Column::Job.eq(job))
            .order_by_desc(handover::Column::Id)
            .one(&self.database)
            .await?)
    }

    /// Notes that a state was handed off.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn hand_over(&self, job: Uuid, state: i64, author: &str) -> Result<(), Problem> {
        handover::ActiveModel {
            job: Set(job),
            state: Set(state),
            author: Set(author.into()),
            at: Set(OffsetDateTime::now_utc()),
            ..Default::default()
        }
        .insert(&self.database)
        .await?;
        tell(&self.database, &Told { job, state, what: Happened::HandedOff }).await
    }
}
