//! A mark: what it says, how it is lettered, where it lies on its seat, how it stands out.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One piece of lettering on a seat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Mark {
    /// Stable name of the mark inside its job.
    pub id: String,
    /// Switched off marks are kept but neither built nor checked.
    #[serde(default = "yes")]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub on: bool,
    /// One line of lettering for each line of the text.
    pub text: String,
    pub seat: SeatRef,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub place: Place,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub lettering: Lettering,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub relief: Relief,
    /// Single letters that differ from the others.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub letters: Vec<LetterChange>,
    /// Name of the manner that its lettering and relief are shared under: all marks of one manner are alike
    /// in both.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub manner: Option<String>,
}

/// How one letter differs from the others of its mark.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LetterChange {
    /// Which one, from 0 through the text, blanks not counted.
    pub at: u32,
    /// What it is; a change of another character that stood there is none of this one's.
    pub text: String,
    /// As a share of the others' size; the letters after it make room.
    #[serde(default = "own")]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub size: f64,
    /// Shifted along and up, mm, and turned counter-clockwise about its middle, degrees; the others stay.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub along: f64,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub up: f64,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub turn: f64,
    /// Its place stays empty.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub left_out: bool,
}

impl LetterChange {
    /// Is the letter like the others?
    #[must_use]
    pub fn is_none(&self) -> bool {
        self.size == 1.0 && self.along == 0.0 && self.up == 0.0 && self.turn == 0.0 && !self.left_out
    }
}

fn yes() -> bool {
    true
}

/// What a mark sits on, by the numbers of faces in the part as it was read (faces are numbered the same
/// way each time the same file is read).
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SeatRef {
    pub face: u32,
    /// Neighbouring faces that belong to the seat too: it goes on over their common edges.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub with: Vec<u32>,
}

/// Most faces of one seat.
pub const MOST_SEAT_FACES: usize = 12;

impl SeatRef {
    /// A seat of one face.
    #[must_use]
    pub fn on(face: u32) -> Self {
        Self { face, with: Vec::new() }
    }

    /// All its faces, the first one first.
    #[must_use]
    pub fn faces(&self) -> Vec<u32> {
        std::iter::once(self.face).chain(self.with.iter().copied()).collect()
    }

    pub(crate) fn check(&self) -> Result<(), String> {
        let mut faces = self.faces();
        if faces.len() > MOST_SEAT_FACES {
            return Err(format!("a seat has at most {MOST_SEAT_FACES} faces"));
        }
        faces.sort_unstable();
        if faces.windows(2).any(|pair| pair[0] == pair[1]) {
            return Err("its seat names a face twice".into());
        }
        Ok(())
    }
}

/// Where the mark's box lies on the strip.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Place {
    pub along: Tie,
    pub up: Tie,
    /// Degrees, counter-clockwise as seen on the strip.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub turn: f64,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub baseline: Baseline,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub lay: Lay,
}

impl Default for Place {
    fn default() -> Self {
        Self { along: Tie::Middle, up: Tie::Middle, turn: 0.0, baseline: Baseline::Straight, lay: Lay::Rolled }
    }
}

/// The line that the lowest line of a text stands on.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "line", deny_unknown_fields)]
pub enum Baseline {
    #[default]
    Straight,
    /// A circle on the seat. The mark's place is that of its middle.
    Arc {
        /// From the middle to the lowest baseline along the seat, mm.
        radius: f64,
        tops: Tops,
        /// Where on the circle the text stands, percent of once round in reading direction: 50 is the
        /// highest place of a text whose tops point out, the lowest of one whose tops point in.
        share: f64,
        /// Which place of the text stands there.
        stands: Justify,
        /// Letters bend with the circle; else each stays as it is and is turned.
        bent: bool,
    },
    /// Once round the seat's own axis, through the mark's place: round a cone, a ball or a torus.
    Ring { bent: bool },
}

/// Where the tops of letters on a circle point.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Tops {
    /// Away from the middle: read from outside, clockwise.
    #[default]
    Out,
    /// To the middle: read counter-clockwise.
    In,
}

/// How flat lettering goes on a curved seat.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Lay {
    /// Lengths are kept along the seat.
    #[default]
    Rolled,
    /// Parallel to the seat's normal at the mark's place.
    Dropped,
    /// Parallel to the pull of the halves.
    DroppedAlongPull,
}

/// How the box of a mark is tied in one direction of the strip, mm. Start is left or below, end is
/// right or above.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "tie", deny_unknown_fields)]
pub enum Tie {
    /// Midway between the seat's two edges.
    Middle,
    /// Clear distance from the seat's start edge to the box.
    FromStart { distance: f64 },
    /// Clear distance from the box to the seat's end edge.
    FromEnd { distance: f64 },
    /// The middle of the box at this coordinate of the strip.
    At { position: f64 },
}

/// How the text is lettered, mm.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Lettering {
    /// Name of one of the shipped faces.
    pub face: String,
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

fn own() -> f64 {
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
    pub held: Held,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub walls: Walls,
    /// Size of what is taken off the outer edge (round the land of raised, the rim of sunken lettering):
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
    /// Clearance all round between the pocket of an inlay and its filling, mm.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub gap: f64,
}

impl Default for Relief {
    fn default() -> Self {
        Self {
            sense: Sense::Raised,
            height: 0.3,
            draft: 3.0,
            held: Held::Land,
            walls: Walls::Seat,
            edge: 0.0,
            edge_shape: EdgeShape::Round,
            root: 0.0,
            gap: 0.0,
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

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sense {
    Raised,
    Sunken,
    /// Sunken, and filled flush with a second colour: a pocket, and a filling as a body of its own.
    Inlay,
    /// A bounded region of the skin, without height: for print, paint or a laser. It changes no geometry.
    Surface,
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
        self != Self::Surface
    }
}

/// The level at which the outline has the size the face gives it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Held {
    /// The land of raised, the floor of sunken lettering.
    #[default]
    Land,
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
