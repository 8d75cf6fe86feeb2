//! A mark: what it says, how it is lettered, where it lies on its seat, how it stands out.

mod checked;
mod fixed;
mod letter;
mod lettering;
mod seat_ref;

use crate::{Figure, InSteel, Piece, Place, Relief, Sense};
pub use fixed::Fixed;
pub use letter::{Colour, LetterChange};
pub use lettering::{Fit, FitBy, Justify, Lettering};
use schemars::JsonSchema;
pub use seat_ref::{MOST_SEAT_FACES, SeatRef};
use serde::{Deserialize, Serialize};

/// Longest text of one mark, characters. Far above any real mark; it keeps a slip of the
/// clipboard from building ten thousand letters.
pub const LONGEST_TEXT: usize = 400;

/// Cap heights outside this range, mm, are slips of the unit.
pub const CAP_HEIGHTS: std::ops::RangeInclusive<f64> = 0.2..=500.0;

/// One piece of lettering on a seat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Mark {
    /// Stable name of the mark inside its job.
    pub id: String,
    /// How it is called; left out, by what it says.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// Name of the group that it is shown, hidden and picked with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub group: Option<String>,
    /// What the drawing says of it, word for word.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
    /// Shown and handed off in a colour of its own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub colour: Option<Colour>,
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
    /// Why its recipe gives no text, in a job filled by [`Job::filled`](crate::Job::filled).
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
    /// Name of the style that its lettering and relief are shared under: all marks of one style are alike
    /// in both.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub style: Option<String>,
    /// How it comes into the tool; left out, it is cut into it.
    #[serde(default, skip_serializing_if = "InSteel::is_cut")]
    pub in_steel: InSteel,
    /// What stays as it is set: no mend changes it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub fixed: Vec<Fixed>,
}

impl Default for Mark {
    /// A mark without an id or a text on face 0, to be filled.
    fn default() -> Self {
        Self {
            id: String::new(),
            name: None,
            group: None,
            note: None,
            colour: None,
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
            style: None,
            in_steel: InSteel::default(),
            fixed: Vec::new(),
        }
    }
}

impl Mark {
    /// How a person calls it: by its name, else by what it says; nobody ever gave it its id.
    #[must_use]
    pub fn called(&self) -> String {
        self.name.clone().unwrap_or_else(|| self.by_text())
    }

    /// What it says, for sentences about it; its id where that is nothing.
    #[must_use]
    pub fn by_text(&self) -> String {
        /// Characters.
        const LONGEST: usize = 40;
        let text = self.text.replace('\n', " / ");
        if text.trim().is_empty() {
            return self.id.clone();
        }
        if text.chars().count() > LONGEST {
            return text.chars().take(LONGEST).chain(['…']).collect();
        }
        text
    }

    /// The mark without what builds nothing and is judged by nothing: how it is called and grouped, its drawing's
    /// note, what mends leave alone, how it comes into the steel.
    #[must_use]
    pub fn bare(&self) -> Self {
        Self { name: None, group: None, note: None, fixed: Vec::new(), in_steel: InSteel::default(), ..self.clone() }
    }

    /// Is it that already?
    #[must_use]
    pub fn is_bare(&self) -> bool {
        self.name.is_none()
            && self.group.is_none()
            && self.note.is_none()
            && self.fixed.is_empty()
            && self.in_steel.is_cut()
    }

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

    /// The colour that a letter has: its own, or its mark's.
    #[must_use]
    pub fn colour_of(&self, at: u32, text: &str) -> Option<&Colour> {
        self.letter_colour(at, text).or(self.colour.as_ref())
    }

    /// The colour that a letter has of its own.
    #[must_use]
    pub fn letter_colour(&self, at: u32, text: &str) -> Option<&Colour> {
        self.change(at, text)?.colour.as_ref()
    }
}

fn yes() -> bool {
    true
}
