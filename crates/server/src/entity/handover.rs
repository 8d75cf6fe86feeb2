//! Which state was handed off, when and by whom.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "handover")]
pub struct Model {
    #[sea_orm(primary_key)]
    pub id: i64,
    pub job: Uuid,
    pub state: i64,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
