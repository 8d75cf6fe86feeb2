//! A job of a change of many.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "campaign_job")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub campaign: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub job: Uuid,
    /// In the order in which they were picked.
    pub place: i32,
    /// As it was called then.
    pub name: String,
    /// Under which the change is made: made again after a crash, it is made once.
    pub key: Uuid,
    /// Where it stands, in a word.
    pub phase: String,
    /// The state that it was tried on, or that it came to.
    pub state: Option<i64>,
    /// What the inspection came to before and with it.
    pub before: Option<Json>,
    pub after: Option<Json>,
    /// Why it could not be tried or made.
    pub why: Option<String>,
    /// Who took the change, whose change it is then.
    pub taken_by: Option<String>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
