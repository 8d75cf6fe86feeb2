//! Sheets of limits of the shop's own in the database. Jobs hold the version they are judged by; here it is for others.

use super::{Store, shop::done};
use crate::{entity::sheet, problem::Problem};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QueryOrder, SqlErr, TransactionTrait,
    sea_query::Expr,
};
use time::OffsetDateTime;
use trade::{Job, limits::Sheet};

/// A version of a sheet with what is kept about it.
pub struct KeptSheet {
    pub row: sheet::Model,
    pub sheet: Sheet,
}

fn read(row: sheet::Model) -> Result<KeptSheet, Problem> {
    let sheet = serde_json::from_value(row.document.clone())
        .map_err(|e| Problem::Wrong(format!("The sheet of limits “{}” can't be read: {e}.", row.name)))?;
    Ok(KeptSheet { row, sheet })
}

impl Store {
    /// All sheets by name, the newest version of each first, those that were taken off the list too.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn sheets(&self) -> Result<Vec<KeptSheet>, Problem> {
        let rows = sheet::Entity::find()
            .order_by_asc(sheet::Column::Name)
            .order_by_desc(sheet::Column::Version)
            .all(&self.database)
            .await?;
        rows.into_iter().map(read).collect()
    }

    /// Keeps what `job` is judged by as the next version of the sheet `name`.
    ///
    /// # Errors
    /// The name can't be one, somebody keeps the same sheet at this moment, or the database does not answer.
    pub async fn keep_sheet(&self, job: &Job, name: &str, author: &str) -> Result<Sheet, Problem> {
        let transaction = self.database.begin().await?;
        let newest = sheet::Entity::find()
            .filter(sheet::Column::Name.eq(name))
            .order_by_desc(sheet::Column::Version)
            .one(&transaction)
            .await?;
        let version = newest.map_or(0, |row| row.version) + 1;
        let kept = job.as_sheet(name, version.unsigned_abs());
        kept.check().map_err(|e| Problem::Wrong(crate::problem::sentence(&e)))?;
        let row = sheet::ActiveModel {
            name: Set(kept.name.clone()),
            version: Set(version),
            limits: Set(job.limits.clone()),
            author: Set(author.into()),
            at: Set(OffsetDateTime::now_utc()),
            document: Set(serde_json::to_value(&kept).expect("a sheet has string keys and finite numbers")),
            gone: Set(false),
        };
        match row.insert(&transaction).await {
            Ok(_) => {}
            Err(e) if matches!(e.sql_err(), Some(SqlErr::UniqueConstraintViolation(_))) => {
                return Err(Problem::Wrong(format!(
                    "Somebody kept another version of “{name}” at the same moment. Look at it, then keep yours again."
                )));
            }
            Err(e) => return Err(e.into()),
        }
        sheet::Entity::update_many()
            .col_expr(sheet::Column::Gone, Expr::value(false))
            .filter(sheet::Column::Name.eq(name))
            .exec(&transaction)
            .await?;
        done(&transaction, author, &format!("sheet of limits “{name}” kept, version {version}")).await?;
        transaction.commit().await?;
        Ok(kept)
    }

    /// Takes a sheet off the list with all its versions, or puts it back.
    ///
    /// # Errors
    /// There is none, or the database does not answer.
    pub async fn set_sheet_gone(&self, name: &str, gone: bool, author: &str) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let all = sheet::Entity::update_many()
            .col_expr(sheet::Column::Gone, Expr::value(gone))
            .filter(sheet::Column::Name.eq(name))
            .exec(&transaction)
            .await?;
        if all.rows_affected == 0 {
            return Err(Problem::Missing(format!("The shop has no sheet of limits “{name}”.")));
        }
        let word = if gone { "archived" } else { "restored" };
        done(&transaction, author, &format!("sheet of limits “{name}” {word}")).await?;
        transaction.commit().await?;
        Ok(())
    }
}
