//! Patterns of the shop in the database.

use super::{Store, shop::done};
use crate::{entity::pattern, problem::Problem};
use sea_orm::{ActiveModelTrait, ActiveValue::Set, EntityTrait, IntoActiveModel, QueryOrder, TransactionTrait};
use time::OffsetDateTime;
use trade::Pattern;
use uuid::Uuid;

fn none() -> Problem {
    Problem::Missing("There is no such pattern.".into())
}

/// A pattern with what is kept about it.
pub struct KeptPattern {
    pub row: pattern::Model,
    pub pattern: Pattern,
}

fn read(row: pattern::Model) -> Result<KeptPattern, Problem> {
    let pattern = Pattern::from_kept(row.document.clone())
        .map_err(|e| Problem::Wrong(format!("The pattern “{}” can't be read: {e}.", row.name)))?;
    Ok(KeptPattern { row, pattern })
}

impl Store {
    /// All patterns by name, those that were taken off the list too.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn patterns(&self) -> Result<Vec<KeptPattern>, Problem> {
        let rows = pattern::Entity::find()
            .order_by_asc(pattern::Column::Name)
            .order_by_asc(pattern::Column::At)
            .all(&self.database)
            .await?;
        rows.into_iter().map(read).collect()
    }

    /// # Errors
    /// There is none, or the database does not answer.
    pub async fn pattern(&self, id: Uuid) -> Result<KeptPattern, Problem> {
        read(pattern::Entity::find_by_id(id).one(&self.database).await?.ok_or_else(none)?)
    }

    /// # Errors
    /// The database does not answer.
    pub async fn keep_pattern(&self, kept: &Pattern, author: &str) -> Result<Uuid, Problem> {
        let id = Uuid::new_v4();
        let transaction = self.database.begin().await?;
        pattern::ActiveModel {
            id: Set(id),
            name: Set(kept.name.clone()),
            author: Set(author.into()),
            at: Set(OffsetDateTime::now_utc()),
            document: Set(serde_json::to_value(kept).expect("a pattern has string keys and finite numbers")),
            gone: Set(false),
        }
        .insert(&transaction)
        .await?;
        done(&transaction, author, &format!("pattern “{}” kept", kept.name)).await?;
        transaction.commit().await?;
        Ok(id)
    }

    /// Takes a pattern off the list, or puts it back.
    ///
    /// # Errors
    /// There is none, or the database does not answer.
    pub async fn set_pattern_gone(&self, id: Uuid, gone: bool, author: &str) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let row = pattern::Entity::find_by_id(id).one(&transaction).await?.ok_or_else(none)?;
        let word = if gone { "archived" } else { "restored" };
        done(&transaction, author, &format!("pattern “{}” {word}", row.name)).await?;
        let mut row = row.into_active_model();
        row.gone = Set(gone);
        row.update(&transaction).await?;
        transaction.commit().await?;
        Ok(())
    }
}
