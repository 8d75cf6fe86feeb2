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
}

impl Fixed {
    /// As one reads it: “the … stays as it is”.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Draft => "draft",
            Self::ReliefHeight => "relief height",
            Self::Sense => "raised or sunken",
            Self::Walls => "walls",
            Self::MeasuredAt => "level of the size",
            Self::Root => "root radius",
            Self::Face => "lettering face",
            Self::CapHeight => "cap height",
            Self::Stroke => "stroke",
            Self::Width => "width of the letters",
            Self::Spacing => "spacing",
            Self::LineGap => "gap between lines",
            Self::Place => "place",
            Self::Turn => "turn",
            Self::Placement => "wrapped or projected",
        }
    }
}
