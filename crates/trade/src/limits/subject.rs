//! What limits are about.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What a limit is about. The names are those of the columns at Inspect.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Subject {
    /// Least draft of the walls of raised lettering, and of sunken where that isn't asked otherwise, degrees.
    Draft,
    /// Least draft of the walls of sunken lettering, degrees.
    SunkenDraft,
    /// Spread of the relief height (greatest − least) / nominal, percent.
    UniformDepth,
    /// Least height of raised lettering, and depth of sunken where that isn't asked otherwise, mm.
    ReliefHeight,
    /// Least depth of sunken lettering, mm.
    SunkenDepth,
    /// Least cap height, mm.
    CapHeight,
    /// Least angle the cap height subtends at the reading distance, minutes of arc.
    ReadingAngle,
    /// Least stroke on top or floor, mm.
    Stroke,
    /// Least counter opening at the root, mm.
    Counter,
    /// Least gap between characters at the root, in strokes.
    Gap,
    /// Least gap between words at the root, in mean widths of a character.
    WordGap,
    /// Least gap between lines at the root, in cap heights.
    LineGap,
    /// Least stroke over relief height.
    StrokeToHeight,
    /// Least stroke over cap height: a face that is finer is not fit for the size.
    StrokeToCap,
    /// Least relief height over cap height.
    ReliefToCap,
    /// Least piece of a character, mm: diameter of the disc with its area.
    Island,
    /// Least steel that stands between raised letters and in their counters, mm.
    SteelBetween,
    /// Least steel that makes sunken letters, mm.
    SteelOfLetters,
    /// Least radius where walls meet ground or floor, mm; 0 requires none.
    InnerCorner,
    /// Least distance to the parting line, mm.
    Parting,
    /// Least distance to the edges of the face and to other marks, in cap heights.
    Clearance,
    /// Least wall left under sunken lettering, percent of the wall before.
    WallLeft,
    /// Least wall left under sunken lettering, mm.
    WallLeast,
    /// Most added to the wall by raised lettering, percent of the wall before.
    WallAdded,
    /// Least distance to a polished face, mm; the margins of the other kinds of keep-out likewise.
    FromPolished,
    FromSealing,
    FromClamping,
    FromGate,
    FromEjectorPin,
    FromWeldLine,
    /// Least margin by which a letter stands out from the others of its face in the reading test.
    Reading,
}

impl Subject {
    /// What is asked instead of it of sunken lettering.
    #[must_use]
    pub fn of_sunken(self) -> Self {
        match self {
            Self::Draft => Self::SunkenDraft,
            Self::ReliefHeight => Self::SunkenDepth,
            other => other,
        }
    }

    /// What is asked where it isn't stated by itself: sunken lettering has what raised has.
    #[must_use]
    pub fn falls_back_on(self) -> Option<Self> {
        match self {
            Self::SunkenDraft => Some(Self::Draft),
            Self::SunkenDepth => Some(Self::ReliefHeight),
            _ => None,
        }
    }

    /// Does a texture ask for more of it?
    #[must_use]
    pub(crate) fn is_moved_by_texture(self) -> bool {
        matches!(self, Self::Draft | Self::SunkenDraft | Self::ReliefHeight | Self::SunkenDepth)
    }

    /// Values that make sense in the subject's unit.
    #[must_use]
    pub fn range(self) -> std::ops::RangeInclusive<f64> {
        match self {
            Self::Draft | Self::SunkenDraft => 0.0..=60.0,
            Self::UniformDepth | Self::WallLeft | Self::WallAdded => 0.0..=100.0,
            Self::ReadingAngle => 0.0..=600.0,
            Self::Reading => 0.0..=1.0,
            _ => 0.0..=1000.0,
        }
    }
}
