//! What was done with the shop's own things: rows are added and never altered.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "shop_step")]
pub struct Model {
    #[sea_orm(primary_key)]
    pub id: i64,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    /// What was done, in the user's words.
    pub says: String,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
