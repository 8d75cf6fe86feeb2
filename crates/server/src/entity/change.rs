//! The history: rows are added and never altered. A row with a document is a change; a row
//! without one is an undo or redo, and `state` says where it led.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "change")]
pub struct Model {
    #[sea_orm(primary_key)]
    pub id: i64,
    pub job: Uuid,
    /// The state this change was made from; steps back go there.
    pub from_state: Option<i64>,
    /// The state that holds after this row: its own id for changes.
    pub state: Option<i64>,
    /// Under which its window sent it.
    pub key: Option<Uuid>,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    /// What was done, in the user's words.
    pub label: String,
    /// The whole job after the change.
    pub document: Option<Json>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
