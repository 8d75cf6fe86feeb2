//! A file that was made for a row of a job's roster.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "variant_file")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub job: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub digest: String,
    /// Its name in the handoff.
    #[sea_orm(primary_key, auto_increment = false)]
    pub name: String,
    pub bytes: Vec<u8>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
