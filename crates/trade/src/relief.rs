//! How a mark stands out of its part or is sunk into it.

use crate::range::Within;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How the lettering stands out of the part, or is sunk into it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Relief {
    pub sense: Sense,
    /// Height (raised) or depth (sunken) along the seat's normal, mm; never negative.
    pub height: f64,
    /// Draft of the walls, degrees.
    pub draft: f64,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub measured_at: MeasuredAt,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub walls: Walls,
    /// Size of what is taken off the outer edge (round the top of raised, the rim of sunken lettering):
    /// the radius of a round edge, the height of a bevel; mm, 0 for a sharp one.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub edge: f64,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub edge_shape: EdgeShape,
    /// Radius in the inner corner (at the root of raised, round the floor of sunken lettering), mm.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub root: f64,
    /// What becomes of edge and root where a letter's strokes are too thin for them.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub rounds: Rounds,
    /// Clearance all round between the pocket of an inlay and its filling, mm.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub gap: f64,
    /// Sunken lettering goes right through the wall under it, whatever its thickness; its depth is not used.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub through: bool,
    /// It may run over the edge of its face: what is sunken is cut on into the air, all else ends at the edge.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub runs_out: bool,
    /// What the lettering stands on, in place of the seat itself.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub pad: Option<Pad>,
    /// The field round the text that a pad or a stamp area takes.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub field: Field,
}

/// A raised or sunken field that a mark stands on, following the seat.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pad {
    pub form: PadForm,
    /// Height of a raised pad, depth of a recessed pad, mm.
    pub height: f64,
    /// Draft of its own walls, degrees.
    pub draft: f64,
    /// What stands on the seat inside a recessed pad (ribs, a pattern) is cut away up to this height, mm; 0 cuts nothing.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub clears: f64,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PadForm {
    /// Raised.
    Raised,
    /// Sunken.
    Recessed,
}

impl PadForm {
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Raised => "raised pad",
            Self::Recessed => "recessed pad",
        }
    }
}

/// How far a field reaches round a text, mm.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Field {
    /// Past the letters, all round.
    pub margin: f64,
    /// Radius of its corners.
    pub corner: f64,
}

impl Default for Field {
    fn default() -> Self {
        Self { margin: 2.0, corner: 1.0 }
    }
}

impl Relief {
    /// Every setting inside its range, and none that has nothing to do?
    pub(crate) fn check(&self, within: Within<'_>) -> Result<(), String> {
        within("relief height", self.height, 0.01..=50.0, " mm")?;
        within("draft", self.draft, 0.0..=60.0, "°")?;
        within("edge", self.edge, 0.0..=self.height, " mm")?;
        within("gap round the filling", self.gap, 0.0..=0.9 * self.height, " mm")?;
        within("root radius", self.root, 0.0..=self.height, " mm")?;
        within("margin of the field", self.field.margin, 0.0..=1e3, " mm")?;
        within("corner radius of the field", self.field.corner, 0.0..=1e3, " mm")?;
        if self.through && self.sense != Sense::Sunken {
            return Err("it goes through the wall, which only sunken lettering can".into());
        }
        if self.runs_out && (self.pad.is_some() || self.sense == Sense::Stamp) {
            let what =
                if self.pad.is_some() { "what stands on a pad ends there" } else { "a stamp area is kept whole" };
            return Err(format!("it may run over the edge of its face, but {what}"));
        }
        if let Some(pad) = &self.pad {
            within("height of the pad", pad.height, 0.01..=50.0, " mm")?;
            within("draft of the pad", pad.draft, 0.0..=60.0, "°")?;
            within("height that the pad clears", pad.clears, 0.0..=100.0, " mm")?;
            if pad.form == PadForm::Raised && pad.clears > 0.0 {
                return Err("a raised pad covers what stands on the seat; only a recessed pad clears it away".into());
            }
            if !self.sense.has_relief() {
                return Err("surface-only lettering and stamp areas lie on the seat itself and have no pad".into());
            }
        }
        Ok(())
    }
}

impl Default for Relief {
    fn default() -> Self {
        Self {
            sense: Sense::Raised,
            height: 0.3,
            draft: 3.0,
            measured_at: MeasuredAt::Top,
            walls: Walls::Seat,
            edge: 0.0,
            edge_shape: EdgeShape::Round,
            root: 0.0,
            rounds: Rounds::default(),
            gap: 0.0,
            through: false,
            runs_out: false,
            pad: None,
            field: Field::default(),
        }
    }
}

/// How an edge is taken off.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum EdgeShape {
    #[default]
    Round,
    /// At 45° to the seat.
    Bevel,
}

/// Whether edge and root are for every letter what they are set to.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Rounds {
    /// A letter that is too thin for them is refused.
    #[default]
    AsSet,
    /// A letter that is too thin for them gets the largest that fit it.
    AsFit,
}

/// A letter that is too thin for the edge or root that is set, and what it has, mm.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LessRound {
    /// Its place in the mark.
    pub character: u32,
    pub text: String,
    pub edge: f64,
    pub root: f64,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sense {
    Raised,
    Sunken,
    /// Sunken, and filled flush with a second colour: a pocket, and a filling as a body of its own.
    Inlay,
    /// A bounded region of the surface, without height: for print, paint or a laser. It changes no geometry.
    Surface,
    /// A field kept free for what is struck in later; the text says what that will be at most. It changes no
    /// geometry and keeps other marks out.
    Stamp,
}

impl Sense {
    /// Lettering that is cut into the solid.
    #[must_use]
    pub fn sinks(self) -> bool {
        matches!(self, Self::Sunken | Self::Inlay)
    }

    /// Lettering that is part of the solid.
    #[must_use]
    pub fn has_relief(self) -> bool {
        !matches!(self, Self::Surface | Self::Stamp)
    }
}

/// The level at which the outline has the size the face gives it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MeasuredAt {
    /// The top of raised, the floor of sunken lettering.
    #[default]
    Top,
    /// The root of raised, the rim of sunken lettering.
    Root,
}

/// Wall sense: what the walls are square to before draft.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Walls {
    #[default]
    Seat,
    Pull,
}
