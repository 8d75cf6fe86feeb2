//! Records of inspections: written once.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "record")]
pub struct Model {
    #[sea_orm(primary_key)]
    pub number: i64,
    pub job: Uuid,
    /// The state of the job that was recorded.
    pub state: i64,
    pub author: String,
    pub at: TimeDateTimeWithTimeZone,
    /// What a list tells of it.
    pub summary: Json,
    /// Of the document.
    pub sha256: String,
    /// The record as JSON, zstd.
    pub document: Vec<u8>,
    /// The proof as PDF.
    pub proof: Vec<u8>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
