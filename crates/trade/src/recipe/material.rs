//! A material code.

use super::{Says, Source};
use crate::{material_code, roster::Roster};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// After ISO 11469.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MaterialCode {
    pub code: String,
}

impl Says for MaterialCode {
    fn name(&self) -> String {
        "its material".into()
    }

    fn check(&self, _: &Roster) -> Result<(), String> {
        material_code::marked(&self.code).map(|_| ())
    }

    fn write(&self, _: Source<'_>) -> Result<String, String> {
        material_code::marked(&self.code)
    }
}
