//! Limits of a job's own.

use super::Subject;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A limit that one job sets otherwise than its set.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OwnLimit {
    pub subject: Subject,
    pub value: f64,
    /// Who asks for it: a drawing note, a customer's standard.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub source: String,
}

impl OwnLimit {
    pub(crate) fn check(&self) -> Result<(), String> {
        let range = self.subject.range();
        if !range.contains(&self.value) {
            return Err(format!(
                "a limit set for the job is {}; it must lie between {} and {}",
                self.value,
                range.start(),
                range.end()
            ));
        }
        if self.source.chars().count() > 200 {
            return Err("the source of a limit has at most 200 characters".into());
        }
        Ok(())
    }
}
