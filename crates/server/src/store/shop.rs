//! What belongs to the shop and to no job: what is set for it, and who did what with its things.

use super::{
    Store,
    told::{Happened, Told, tell},
};
use crate::{
    entity::{setting, shop_step},
    problem::Problem,
};
use chrono_tz::Tz;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ConnectionTrait, EntityTrait, QueryOrder, QuerySelect, SqlErr, TransactionTrait,
};
use time::OffsetDateTime;
use uuid::Uuid;

const ZONE: &str = "time zone";

/// Writes down what was done with a thing of the shop, and tells it when the transaction commits.
pub(super) async fn done(connection: &impl ConnectionTrait, author: &str, says: &str) -> Result<(), Problem> {
    let (author, says) = (Set(author.into()), Set(says.into()));
    shop_step::ActiveModel { author, says, at: Set(OffsetDateTime::now_utc()), ..Default::default() }
        .insert(connection)
        .await?;
    tell(connection, &Told { job: Uuid::nil(), state: 0, what: Happened::Shop }).await
}

impl Store {
    /// The newest of what was done with the shop's things.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn shop_steps(&self, most: u64) -> Result<Vec<shop_step::Model>, Problem> {
        Ok(shop_step::Entity::find().order_by_desc(shop_step::Column::Id).limit(most).all(&self.database).await?)
    }

    /// The shop's time zone, where one is set, and how often it was set.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn zone(&self) -> Result<(Option<Tz>, i32), Problem> {
        let row = setting::Entity::find_by_id(ZONE).one(&self.database).await?;
        let zone = row.as_ref().and_then(|row| row.value.as_ref()?.as_str()?.parse().ok());
        Ok((zone, row.map_or(0, |row| row.version)))
    }

    /// Sets the time zone by whose midnight the shop's days change; without one they change by the machine's.
    ///
    /// # Errors
    /// Somebody set it since it was set `seen` times, or the database does not answer.
    pub async fn set_zone(&self, zone: Option<Tz>, seen: i32, author: &str) -> Result<(), Problem> {
        let overtaken =
            || Problem::Overtaken("Somebody else has set the time zone meanwhile; look at it first.".into());
        let transaction = self.database.begin().await?;
        let row = setting::Entity::find_by_id(ZONE).lock_exclusive().one(&transaction).await?;
        let version = row.as_ref().map_or(0, |row| row.version);
        if version != seen {
            return Err(overtaken());
        }
        let value = zone.map(|zone| zone.name().into());
        let set = setting::ActiveModel { name: Set(ZONE.into()), value: Set(value), version: Set(version + 1) };
        if row.is_some() {
            set.update(&transaction).await?;
        } else if let Err(e) = set.insert(&transaction).await {
            // the first two at the same moment
            let twice = matches!(e.sql_err(), Some(SqlErr::UniqueConstraintViolation(_)));
            return Err(if twice { overtaken() } else { e.into() });
        }
        let says = zone.map_or("days change at the machine's midnight".into(), |zone| {
            format!("days change at midnight in {}", zone.name())
        });
        done(&transaction, author, &says).await?;
        transaction.commit().await?;
        Ok(())
    }
}
