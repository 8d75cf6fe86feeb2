//! Lettering faces of the shop's own.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "own_face")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub name: String,
    /// From 1; the greatest is the one that the shop letters in.
    #[sea_orm(primary_key, auto_increment = false)]
    pub version: i32,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    /// Its letters.
    pub document: Json,
    /// Taken off the list with all its versions; they are kept.
    pub gone: bool,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
