//! The job's revision.

use super::{Says, Source};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The job's revision.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Revision {}

impl Says for Revision {
    fn name(&self) -> String {
        "the revision".into()
    }

    fn write(&self, source: Source<'_>) -> Result<String, String> {
        Ok(source.revision.unwrap_or_default().to_owned())
    }
}
