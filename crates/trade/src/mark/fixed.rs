//! Values of a mark that whoever set them wants to stay: no mend changes them.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fixed {
    Draft,
    /// Height of raised, depth of sunken lettering.
    ReliefHeight,
    /// Raised or sunken.
    Sense,
    Walls,
    MeasuredAt,
    Root,
    Face,
    CapHeight,
    Stroke,
    Width,
    Spacing,
    LineGap,
    /// Where it lies on its seat.
    Place,
    Turn,
    /// Wrapped or projected.
    Placement,
    /// The pad that it stands on, or that it stands on none.
    Pad,
    /// The faces that it stands on.
    Seat,
}
