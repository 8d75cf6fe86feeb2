//! How a figure stands against its limit.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How a figure stands against its limit; what matters more is greater.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum State {
    /// There is nothing to ask; the finding says why.
    DoesNotApply,
    Passes,
    Marginal,
    /// The check could not be made, or not everywhere; the finding says why. Nobody knows whether it passes.
    NotChecked,
    Fails,
}

impl State {
    /// As one reads it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::DoesNotApply => "does not apply",
            Self::Passes => "passes",
            Self::Marginal => "marginal",
            Self::NotChecked => "not checked",
            Self::Fails => "fails",
        }
    }
}
