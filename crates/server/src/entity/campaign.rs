//! One change that is tried on many jobs, and made where it is taken.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "campaign")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    /// What is changed, in the user's words.
    pub says: String,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    pub edit: Json,
    /// Nothing of it is tried or made until it goes on.
    pub stopped: bool,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
