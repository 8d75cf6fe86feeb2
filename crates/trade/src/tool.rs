//! The tool: which way its halves leave the part, and where they meet.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Two halves that part along one line.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Tool {
    /// Direction along which the first half leaves the part, in part coordinates; any length but
    /// zero. The second half leaves the other way. `None`: not set yet.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub pull: Option<[f64; 3]>,
    /// Where the halves meet; several may be set.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub parting: Vec<Parting>,
}

/// One way of drawing the parting line on the part.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "kind", deny_unknown_fields)]
pub enum Parting {
    /// The part cut by the plane square to the pull at `height` mm along it from the part's origin.
    Plane { height: f64 },
    /// The outline of the part seen along the pull.
    Silhouette,
}
