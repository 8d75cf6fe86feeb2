//! How the text of a mark is lettered.

use crate::HeldFace;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How the text is lettered, mm.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Lettering {
    /// Id of one of the shipped faces, or name of one of the job's own.
    pub face: String,
    /// The job's own face of that name, which the job keeps: see [`crate::Job::hold_faces`].
    #[serde(skip)]
    #[cfg_attr(feature = "openapi", schema(ignore))]
    pub own: Option<HeldFace>,
    /// True height of the capitals (measured on the H of the face).
    pub cap_height: f64,
    /// Stroke: the cutter's width of the centre-line alphabet, the width of an upright stem of outline
    /// faces. Left out, a tenth of the height, or the face's own.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub stroke: Option<f64>,
    /// Breadth of the letters as a share of the face's own; strokes that are set stay.
    #[serde(default = "own")]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub width: f64,
    /// Degrees that uprights lean to the right.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub slant: f64,
    /// The longest line is made this long by changing one of the other settings.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub fit: Option<Fit>,
    /// Added between characters, beyond what the face itself gives.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub spacing: f64,
    /// Clear height between the capitals of one line and the baseline above.
    pub line_gap: f64,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub justify: Justify,
}

impl Default for Lettering {
    fn default() -> Self {
        Self {
            face: "centre-line".into(),
            own: None,
            cap_height: 3.5,
            stroke: None,
            width: 1.0,
            slant: 0.0,
            fit: None,
            spacing: 0.0,
            line_gap: 1.75,
            justify: Justify::Middle,
        }
    }
}

impl Lettering {
    /// Stroke of the centre-line alphabet when none is set: cap height / 10 (ISO 3098 type B).
    #[must_use]
    pub fn cutter_width(&self) -> f64 {
        self.stroke.unwrap_or(self.cap_height / 10.0)
    }
}

pub(super) fn own() -> f64 {
    1.0
}

/// A length that a text is to have.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Fit {
    /// Of the ink of the longest line, mm.
    pub length: f64,
    pub by: FitBy,
}

/// What is changed to fit a length.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FitBy {
    Spacing,
    Width,
    /// Cap height, with a set stroke and the spacing as they are.
    Height,
}

/// Where shorter lines stand against the longest.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Justify {
    Start,
    #[default]
    Middle,
    End,
}
