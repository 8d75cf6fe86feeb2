//! The end of a line.

use super::{Says, Source};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LineEnd {}

impl Says for LineEnd {
    fn name(&self) -> String {
        "the end of a line".into()
    }

    fn write(&self, _: Source<'_>) -> Result<String, String> {
        Ok("\n".into())
    }

    fn bare(&self) -> bool {
        true
    }
}
