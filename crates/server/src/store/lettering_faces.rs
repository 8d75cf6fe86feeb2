//! Lettering faces of the shop's own in the database. Jobs hold what they are lettered in; here it is for others.

use super::{Store, shop::done};
use crate::{entity::own_face, problem::Problem};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QueryOrder, SqlErr, TransactionTrait,
    sea_query::Expr,
};
use time::OffsetDateTime;
use trade::OwnFace;

fn none(name: &str) -> Problem {
    Problem::Missing(format!("The shop has no lettering face “{name}”."))
}

/// A version of a face, and whether the face was taken off the list.
pub struct KeptFace {
    pub face: OwnFace,
    pub version: i32,
    pub author: String,
    pub at: OffsetDateTime,
    pub gone: bool,
}

fn read(row: own_face::Model) -> Result<KeptFace, Problem> {
    let face = serde_json::from_value(row.document)
        .map_err(|e| Problem::Wrong(format!("The lettering face “{}” can't be read: {e}.", row.name)))?;
    Ok(KeptFace { face, version: row.version, author: row.author, at: row.at, gone: row.gone })
}

impl Store {
    /// All versions of all faces by name, the newest first, those that were taken off the list too.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn face_versions(&self) -> Result<Vec<KeptFace>, Problem> {
        let rows = own_face::Entity::find()
            .order_by_asc(own_face::Column::Name)
            .order_by_desc(own_face::Column::Version)
            .all(&self.database)
            .await?;
        rows.into_iter().map(read).collect()
    }

    /// All faces by name as they are now, those that were taken off the list too.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn own_faces(&self) -> Result<Vec<KeptFace>, Problem> {
        let mut faces = self.face_versions().await?;
        faces.dedup_by(|later, first| later.face.name == first.face.name);
        Ok(faces)
    }

    /// A version of a face, the newest where none is named.
    ///
    /// # Errors
    /// There is none, or the database does not answer.
    pub async fn own_face(&self, name: &str, version: Option<i32>) -> Result<OwnFace, Problem> {
        let named = own_face::Entity::find().filter(own_face::Column::Name.eq(name));
        let named = version.map_or(named.clone(), |version| named.filter(own_face::Column::Version.eq(version)));
        let newest = named.order_by_desc(own_face::Column::Version).one(&self.database).await?;
        Ok(read(newest.ok_or_else(|| none(name))?)?.face)
    }

    /// Keeps a face as the next version of what is kept under its name.
    ///
    /// # Errors
    /// Somebody has kept another version since version `seen` (0: since there was none), or the database does not answer.
    pub async fn keep_own_face(&self, kept: &OwnFace, seen: i32, author: &str) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let named = own_face::Entity::find().filter(own_face::Column::Name.eq(&kept.name));
        let newest = named.order_by_desc(own_face::Column::Version).one(&transaction).await?;
        let version = newest.as_ref().map_or(0, |row| row.version);
        let overtaken = |who: &str| {
            Problem::Overtaken(format!(
                "{who} has kept another lettering face “{}” meanwhile; yours was not kept. Look at it, or keep yours under \
                 another name.",
                kept.name
            ))
        };
        if version != seen {
            return Err(overtaken(newest.as_ref().map_or("Somebody", |row| &row.author)));
        }
        let row = own_face::ActiveModel {
            name: Set(kept.name.clone()),
            version: Set(version + 1),
            author: Set(author.into()),
            at: Set(OffsetDateTime::now_utc()),
            document: Set(serde_json::to_value(kept).expect("a face has string keys and finite numbers")),
            gone: Set(false),
        };
        match row.insert(&transaction).await {
            Ok(_) => {}
            Err(e) if matches!(e.sql_err(), Some(SqlErr::UniqueConstraintViolation(_))) => {
                return Err(overtaken("Somebody"));
            }
            Err(e) => return Err(e.into()),
        }
        own_face::Entity::update_many()
            .col_expr(own_face::Column::Gone, Expr::value(false))
            .filter(own_face::Column::Name.eq(&kept.name))
            .exec(&transaction)
            .await?;
        done(&transaction, author, &format!("lettering face “{}” kept, version {}", kept.name, version + 1)).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Takes a face off the list, or puts it back.
    ///
    /// # Errors
    /// There is none, or the database does not answer.
    pub async fn set_own_face_gone(&self, name: &str, gone: bool, author: &str) -> Result<(), Problem> {
        let transaction = self.database.begin().await?;
        let all = own_face::Entity::update_many()
            .col_expr(own_face::Column::Gone, Expr::value(gone))
            .filter(own_face::Column::Name.eq(name))
            .exec(&transaction)
            .await?;
        if all.rows_affected == 0 {
            return Err(none(name));
        }
        let word = if gone { "archived" } else { "restored" };
        done(&transaction, author, &format!("lettering face “{name}” {word}")).await?;
        transaction.commit().await?;
        Ok(())
    }
}
