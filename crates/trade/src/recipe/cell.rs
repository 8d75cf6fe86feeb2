//! A cell of the roster.

use super::{Says, Source, known};
use crate::roster::Roster;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A cell of the roster.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Cell {
    pub column: String,
}

impl Says for Cell {
    fn name(&self) -> String {
        format!("“{}”", self.column)
    }

    fn column(&self) -> Option<&str> {
        Some(&self.column)
    }

    fn column_mut(&mut self) -> Option<&mut String> {
        Some(&mut self.column)
    }

    fn check(&self, roster: &Roster) -> Result<(), String> {
        known(&self.column, roster)
    }

    fn write(&self, source: Source<'_>) -> Result<String, String> {
        source.cell(&self.column).map(str::to_owned)
    }
}
