//! Lettering faces of the shop's own in the database. Jobs hold what they are lettered in; here it is for others.

use crate::{entity::own_face, problem::Problem, store::Store};
use sea_orm::{ActiveModelTrait, ActiveValue::Set, EntityTrait, IntoActiveModel, QueryOrder, sea_query::OnConflict};
use time::OffsetDateTime;
use trade::OwnFace;

fn none(name: &str) -> Problem {
    Problem::Missing(format!("The shop has no lettering face “{name}”."))
}

/// A face, and whether it was taken off the list.
pub struct KeptFace {
    pub face: OwnFace,
    pub gone: bool,
}

fn read(row: own_face::Model) -> Result<KeptFace, Problem> {
    let face = serde_json::from_value(row.document)
        .map_err(|e| Problem::Wrong(format!("The lettering face “{}” can't be read: {e}.", row.name)))?;
    Ok(KeptFace { face, gone: row.gone })
}

impl Store {
    /// All faces by name, those that were taken off the list too.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn own_faces(&self) -> Result<Vec<KeptFace>, Problem> {
        let rows = own_face::Entity::find().order_by_asc(own_face::Column::Name).all(&self.database).await?;
        rows.into_iter().map(read).collect()
    }

    /// # Errors
    /// There is none, or the database does not answer.
    pub async fn own_face(&self, name: &str) -> Result<OwnFace, Problem> {
        let row = own_face::Entity::find_by_id(name).one(&self.database).await?.ok_or_else(|| none(name))?;
        Ok(read(row)?.face)
    }

    /// Keeps a face under its name, in the place of what was kept under it.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn keep_own_face(&self, kept: &OwnFace, author: &str) -> Result<(), Problem> {
        use own_face::Column::{At, Author, Document, Gone, Name};
        let row = own_face::ActiveModel {
            name: Set(kept.name.clone()),
            author: Set(author.into()),
            at: Set(OffsetDateTime::now_utc()),
            document: Set(serde_json::to_value(kept).expect("a face has string keys and finite numbers")),
            gone: Set(false),
        };
        own_face::Entity::insert(row)
            .on_conflict(OnConflict::column(Name).update_columns([Author, At, Document, Gone]).to_owned())
            .exec_without_returning(&self.database)
            .await?;
        Ok(())
    }

    /// Takes a face off the list, or puts it back.
    ///
    /// # Errors
    /// There is none, or the database does not answer.
    pub async fn set_own_face_gone(&self, name: &str, gone: bool) -> Result<(), Problem> {
        let row = own_face::Entity::find_by_id(name).one(&self.database).await?.ok_or_else(|| none(name))?;
        let mut row = row.into_active_model();
        row.gone = Set(gone);
        row.update(&self.database).await?;
        Ok(())
    }
}
