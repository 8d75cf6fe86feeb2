//! A date, written as a date code.

use super::{DateFrom, Says, Source};
use crate::{date_code::DateForm, roster::Roster};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DateCode {
    pub from: DateFrom,
    pub form: DateForm,
}

impl Says for DateCode {
    fn name(&self) -> String {
        self.from.column().map_or_else(|| "the date".into(), |column| format!("“{column}”"))
    }

    fn column(&self) -> Option<&str> {
        self.from.column()
    }

    fn column_mut(&mut self) -> Option<&mut String> {
        self.from.column_mut()
    }

    fn check(&self, roster: &Roster) -> Result<(), String> {
        self.form.check()?;
        self.from.check(roster)
    }

    fn write(&self, source: Source<'_>) -> Result<String, String> {
        Ok(self.from.day(source)?.map(|date| self.form.write(date)).unwrap_or_default())
    }
}
