//! What can be done to a part file that is no closed solid.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A mend of the part's mesh that changes no more than it says.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PartMend {
    /// Facets that lie on one another are dropped: of a pair that faces both ways both, of copies all
    /// but one.
    DropDoubles,
    /// Separate bits far smaller than the part are dropped.
    DropLoose,
    /// Facets are turned so that the skin faces one way everywhere, outward; hollows inward.
    Turn,
    /// Flat holes in the skin are closed.
    CloseHoles,
}

impl PartMend {
    /// In the order in which they help one another.
    pub const ALL: [Self; 4] = [Self::DropDoubles, Self::DropLoose, Self::Turn, Self::CloseHoles];
}
