//! What a row of a job's roster came to, under the digest of all that it was made from: rows that are alike have one.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "variant")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub job: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub digest: String,
    /// A `workbench::rows::RowFound`, or why there is none.
    pub found: Json,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
