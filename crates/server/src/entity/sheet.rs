//! Sheets of limits of the shop's own: a row for each version.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "sheet")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub name: String,
    #[sea_orm(primary_key, auto_increment = false)]
    pub version: i32,
    /// Id of the shipped set that it was made over.
    pub limits: String,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    pub document: Json,
    /// Taken off the list with all its versions; it is kept.
    pub gone: bool,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
