//! The history: rows are added and never altered. A row with a document or a patch is a state of the
//! job; a row without led to a state that there had been before, which `state` names.

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
    /// The change that this row undoes.
    pub undoes: Option<i64>,
    /// The change that this row, a redo, makes again.
    pub redoes: Option<i64>,
    /// Under which its window sent what is typed into a field until the field is left.
    pub typing: Option<Uuid>,
    /// The change before it that was typed into the same field: the two are one step.
    pub continues: Option<i64>,
    /// Under which its window sent it.
    pub key: Option<Uuid>,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    /// What was done, in the user's words.
    pub label: String,
    /// The whole job after the change.
    pub document: Option<Json>,
    /// Or what it changed of the state that it was made from: a JSON Patch (RFC 6902).
    pub patch: Option<Json>,
    /// The whole state on which the patches before this one stand.
    pub base: Option<i64>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
