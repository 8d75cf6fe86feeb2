//! A job and where its history stands.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "job")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    /// The change whose document is the present state.
    pub state: i64,
    /// The newest row of the history.
    pub latest: i64,
    /// Taken off the list; everything is kept.
    pub gone: bool,
    /// Where it is kept on the list; empty, in none.
    pub folder: String,
    /// Ids that its things have had ([`trade::Given`]); unknown of jobs from before this was kept.
    pub given: Option<Json>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
