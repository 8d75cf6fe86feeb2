//! A row that a run has still to do.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "run_row")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub job: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub digest: String,
    /// How often a worker began it.
    pub begun: i32,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
