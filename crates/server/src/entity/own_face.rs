//! Lettering faces of the shop's own.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "own_face")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub name: String,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    /// Its letters.
    pub document: Json,
    /// Taken off the list; it is kept.
    pub gone: bool,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
