//! The day that a date is of.

use super::{Source, known};
use crate::{date_code, roster::Roster};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use time::Date;

/// Which day a date code is of.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "date", deny_unknown_fields)]
pub enum DateFrom {
    /// A day that is set: 2026-11-26.
    Set { day: String },
    /// The day on which the job is handed off.
    Handoff,
    /// A cell of the roster.
    Column { column: String },
}

impl DateFrom {
    /// Is the day one, and the column there?
    pub(crate) fn check(&self, roster: &Roster) -> Result<(), String> {
        match self {
            Self::Set { day } => date_code::read(day).map(|_| ()),
            Self::Column { column } => known(column, roster),
            Self::Handoff => Ok(()),
        }
    }

    /// The day; none where its cell is empty.
    pub(crate) fn day(&self, source: Source<'_>) -> Result<Option<Date>, String> {
        match self {
            Self::Handoff => Ok(Some(source.today)),
            Self::Set { day } => date_code::read(day).map(Some),
            Self::Column { column } => match source.cell(column)? {
                "" => Ok(None),
                cell => date_code::read(cell).map(Some),
            },
        }
    }

    /// The roster's column that it is read from.
    #[must_use]
    pub fn column(&self) -> Option<&str> {
        match self {
            Self::Column { column } => Some(column),
            _ => None,
        }
    }

    pub(crate) fn column_mut(&mut self) -> Option<&mut String> {
        match self {
            Self::Column { column } => Some(column),
            _ => None,
        }
    }
}
