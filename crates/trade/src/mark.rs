//! A mark: what it says, how it is lettered, where it lies on its seat, how it stands out.

use crate::{Figure, HeldFace, Piece, Place, Relief, Sense};
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
    /// One line of lettering for each line of the text. Where the mark has a recipe, that is what counts.
    pub text: String,
    /// Pieces that the text is put together from, row by row of the roster; none where the text stands fixed.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub recipe: Vec<Piece>,
    /// What it draws in place of a text; its recipe waits meanwhile. Single letters of it have no
    /// changes of their own.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub figure: Option<Figure>,
    /// Why its recipe makes no text, in a job filled by [`Job::filled`](crate::Job::filled).
    #[serde(skip)]
    #[cfg_attr(feature = "openapi", schema(ignore))]
    pub unsaid: Option<String>,
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
    /// Raised, sunken or otherwise than the others.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub sense: Option<Sense>,
    /// Shown and handed off in a colour of its own.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub colour: Option<Colour>,
}

/// A colour as six hexadecimal digits of red, green and blue (sRGB).
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(try_from = "String", into = "String")]
pub struct Colour(#[schemars(regex(pattern = "^#[0-9A-Fa-f]{6}$"))] String);

impl TryFrom<String> for Colour {
    type Error = String;

    fn try_from(text: String) -> Result<Self, String> {
        let digits = text.strip_prefix('#').filter(|d| d.len() == 6 && d.bytes().all(|b| b.is_ascii_hexdigit()));
        match digits {
            Some(digits) => Ok(Self(format!("#{}", digits.to_ascii_uppercase()))),
            None => Err(format!("“{text}” is no colour; write # and six hexadecimal digits, for instance #B3261E")),
        }
    }
}

impl From<Colour> for String {
    fn from(colour: Colour) -> Self {
        colour.0
    }
}

impl Colour {
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }

    /// Red, green and blue, 0 to 255.
    #[must_use]
    pub fn rgb(&self) -> [u8; 3] {
        [1, 3, 5].map(|at| u8::from_str_radix(&self.0[at..at + 2], 16).unwrap_or_default())
    }
}

impl LetterChange {
    /// A letter that is like the others.
    #[must_use]
    pub fn plain(at: u32, text: &str) -> Self {
        Self {
            at,
            text: text.into(),
            size: 1.0,
            along: 0.0,
            up: 0.0,
            turn: 0.0,
            left_out: false,
            sense: None,
            colour: None,
        }
    }

    /// Is the letter like the others?
    #[must_use]
    pub fn is_none(&self) -> bool {
        *self == Self::plain(self.at, &self.text)
    }
}

impl Default for Mark {
    /// A mark without an id or a text on face 0, to be filled.
    fn default() -> Self {
        Self {
            id: String::new(),
            on: true,
            text: String::new(),
            recipe: Vec::new(),
            figure: None,
            unsaid: None,
            seat: SeatRef::on(0),
            place: Place::default(),
            lettering: Lettering::default(),
            relief: Relief::default(),
            letters: Vec::new(),
            manner: None,
        }
    }
}

impl Mark {
    /// Is what it says made from pieces or drawn, rather than typed?
    #[must_use]
    pub fn is_made(&self) -> bool {
        self.figure.is_some() || !self.recipe.is_empty()
    }

    /// The columns of the roster that what it says is made from; those of what waits are among them.
    pub fn columns(&self) -> impl Iterator<Item = &str> {
        let date = self.figure.as_ref().and_then(Figure::date).and_then(|from| from.column());
        self.recipe.iter().filter_map(|piece| piece.of.column()).chain(date)
    }

    /// The same, to be called otherwise.
    pub fn columns_mut(&mut self) -> impl Iterator<Item = &mut String> {
        let date = self.figure.as_mut().and_then(Figure::date_mut).and_then(|from| from.column_mut());
        self.recipe.iter_mut().filter_map(|piece| piece.of.column_mut()).chain(date)
    }

    fn change(&self, at: u32, text: &str) -> Option<&LetterChange> {
        if self.figure.is_some() {
            return None;
        }
        self.letters.iter().find(|l| l.at == at && l.text == text)
    }

    /// The relief of one letter, by its place in the text and what it is.
    #[must_use]
    pub fn relief_of(&self, at: u32, text: &str) -> Relief {
        let sense = self.change(at, text).and_then(|l| l.sense).unwrap_or(self.relief.sense);
        // what is no longer sunken goes through nothing
        Relief { sense, through: self.relief.through && sense == Sense::Sunken, ..self.relief }
    }

    /// The colour of its own that a letter has.
    #[must_use]
    pub fn colour_of(&self, at: u32, text: &str) -> Option<&Colour> {
        self.change(at, text)?.colour.as_ref()
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
