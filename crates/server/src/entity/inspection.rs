//! What the inspection of a state came to, for lists and station names.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "inspection")]
pub struct Model {
    /// The change that was inspected.
    #[sea_orm(primary_key, auto_increment = false)]
    pub state: i64,
    pub fails: i32,
    /// How many of those somebody answers for.
    pub waived: i32,
    #[sea_orm(column_name = "close")]
    pub marginal: i32,
    #[sea_orm(column_name = "unchecked")]
    pub not_checked: i32,
    /// The finding that matters most, if any does not hold.
    pub worst: Option<String>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
