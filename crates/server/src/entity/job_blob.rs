//! A part file that some state of a job is made of.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "job_blob")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub job: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub sha256: String,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
