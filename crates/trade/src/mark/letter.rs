//! Single letters that differ from the others of their mark.

use super::lettering::own;
use crate::Sense;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

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
            None => Err(format!("“{text}” is not a colour; write # and six hexadecimal digits, for instance #B3261E")),
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
