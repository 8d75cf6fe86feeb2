//! Part files by content hash, compressed.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "blob")]
pub struct Model {
    /// SHA-256 of the bytes, hexadecimal.
    #[sea_orm(primary_key, auto_increment = false)]
    pub sha256: String,
    /// zstd.
    pub bytes: Vec<u8>,
    pub size: i64,
    /// When it came, or was asked for last.
    pub at: TimeDateTimeWithTimeZone,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
