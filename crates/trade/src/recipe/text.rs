//! A fixed text.

use super::{Says, Source};
use crate::roster::Roster;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Longest fixed text of one piece, characters.
pub(super) const LONGEST: usize = 100;

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FixedText {
    pub text: String,
}

/// # Errors
/// It is too long, or more than one line.
pub(super) fn check(text: &str) -> Result<(), String> {
    if text.chars().count() > LONGEST || text.chars().any(char::is_control) {
        return Err(format!("a fixed text of a recipe has at most {LONGEST} characters and one line"));
    }
    Ok(())
}

impl Says for FixedText {
    fn name(&self) -> String {
        "its text".into()
    }

    fn check(&self, _: &Roster) -> Result<(), String> {
        check(&self.text)
    }

    fn write(&self, _: Source<'_>) -> Result<String, String> {
        Ok(self.text.clone())
    }
}
