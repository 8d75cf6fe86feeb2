//! A recipe: how a mark's text is put together from pieces, so that nobody types a part number twice.

mod date_from;

pub use date_from::DateFrom;

use crate::roster::{Roster, Row};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use time::Date;

pub const MOST_PIECES: usize = 40;
/// Widest that a piece is padded to, characters.
pub const WIDEST: u32 = 40;

/// A piece of a recipe.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Piece {
    pub of: PieceOf,
    /// So many characters: what is shorter is padded, what is longer is an error and never cut.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub width: Option<u32>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub pad: Padding,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub case: Case,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub empty: Empty,
}

/// What a kind of piece says.
trait Says {
    /// What it is called where it is empty.
    fn name(&self) -> String;

    /// The roster's column that it reads.
    fn column(&self) -> Option<&str> {
        None
    }

    fn column_mut(&mut self) -> Option<&mut String> {
        None
    }

    /// # Errors
    /// What is out of range, or not in the roster.
    fn check(&self, _: &Roster) -> Result<(), String> {
        Ok(())
    }

    /// # Errors
    /// What it reads can't be written.
    fn write(&self, source: Source<'_>) -> Result<String, String>;

    /// It is never padded, and its case is what it is.
    fn bare(&self) -> bool {
        false
    }
}

/// The kinds of pieces, each in a file of its own.
macro_rules! pieces {
    ($($kind:ident($piece:ident) in $file:ident;)*) => {
        $(
            mod $file;
            pub use $file::$piece;
        )*

        /// What a piece says.
        #[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case", tag = "piece")]
        pub enum PieceOf {
            $($kind($piece),)*
        }

        impl PieceOf {
            fn says(&self) -> &dyn Says {
                match self {
                    $(Self::$kind(piece) => piece,)*
                }
            }

            fn says_mut(&mut self) -> &mut dyn Says {
                match self {
                    $(Self::$kind(piece) => piece,)*
                }
            }
        }
    };
}

pieces! {
    Text(FixedText) in text;
    Column(Cell) in cell;
    Revision(Revision) in revision;
    Date(DateCode) in date;
    Material(MaterialCode) in material;
    LineEnd(LineEnd) in line_end;
}

/// What shorter pieces are filled up with.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Padding {
    /// Zeros before it.
    #[default]
    Zeros,
    BlanksBefore,
    BlanksAfter,
}

#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Case {
    #[default]
    AsItIs,
    Capitals,
    Small,
}

/// What becomes of a piece whose cell is empty.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "empty", deny_unknown_fields)]
pub enum Empty {
    #[default]
    Error,
    Nothing,
    Text {
        text: String,
    },
}

/// What recipes are filled from.
#[derive(Clone, Copy)]
pub struct Source<'a> {
    pub roster: &'a Roster,
    pub row: Option<&'a Row>,
    pub revision: Option<&'a str>,
    /// The day of handoff.
    pub today: Date,
}

impl<'a> Source<'a> {
    /// A cell of the row.
    fn cell(&self, name: &str) -> Result<&'a str, String> {
        let at = self.roster.column(name).ok_or_else(|| format!("the roster has no column “{name}”"))?;
        let row = self.row.ok_or_else(|| format!("the roster has no row to take “{name}” from"))?;
        let cell = row.cells[at].as_str();
        self.roster.columns[at].kind.fits(cell).map_err(|e| format!("“{name}”: {e}"))?;
        Ok(cell)
    }
}

/// Does the roster have a column?
fn known(column: &str, roster: &Roster) -> Result<(), String> {
    match roster.column(column) {
        Some(_) => Ok(()),
        None => Err(format!("its recipe reads the column “{column}”, which the roster doesn't have")),
    }
}

impl PieceOf {
    #[must_use]
    pub fn text(text: impl Into<String>) -> Self {
        Self::Text(FixedText { text: text.into() })
    }

    #[must_use]
    pub fn cell(column: impl Into<String>) -> Self {
        Self::Column(Cell { column: column.into() })
    }

    /// The roster's column that it reads.
    #[must_use]
    pub fn column(&self) -> Option<&str> {
        self.says().column()
    }

    /// The same, to be called otherwise.
    pub fn column_mut(&mut self) -> Option<&mut String> {
        self.says_mut().column_mut()
    }
}

impl Piece {
    /// A piece without settings of its own.
    #[must_use]
    pub fn plain(of: PieceOf) -> Self {
        Self { of, width: None, pad: Padding::default(), case: Case::default(), empty: Empty::default() }
    }

    /// # Errors
    /// What is out of range.
    pub fn check(&self, roster: &Roster) -> Result<(), String> {
        if let Some(width) = self.width
            && !(1..=WIDEST).contains(&width)
        {
            return Err(format!("a piece is {width} characters wide; it must lie between 1 and {WIDEST}"));
        }
        if let Empty::Text { text } = &self.empty {
            text::check(text)?;
        }
        self.of.says().check(roster)
    }

    /// What it says.
    ///
    /// # Errors
    /// Its cell is empty and must not be, doesn't fit, or is longer than the piece.
    fn write(&self, source: Source<'_>) -> Result<String, String> {
        let says = self.of.says();
        let written = says.write(source)?;
        if says.bare() {
            return Ok(written);
        }
        if written.is_empty() {
            return match &self.empty {
                Empty::Nothing => Ok(String::new()),
                Empty::Text { text } => Ok(text.clone()),
                Empty::Error => Err(format!("{} is empty", says.name())),
            };
        }
        let written = match self.case {
            Case::AsItIs => written,
            Case::Capitals => written.to_uppercase(),
            Case::Small => written.to_lowercase(),
        };
        let Some(width) = self.width.map(|w| w as usize) else { return Ok(written) };
        let length = written.chars().count();
        if length > width {
            return Err(format!("“{written}” has {length} characters; the piece is {width} wide"));
        }
        let fill = |with: &str| with.repeat(width - length);
        Ok(match self.pad {
            Padding::Zeros => format!("{}{written}", fill("0")),
            Padding::BlanksBefore => format!("{}{written}", fill(" ")),
            Padding::BlanksAfter => format!("{written}{}", fill(" ")),
        })
    }
}

/// A text as the pieces that make it, line by line.
#[must_use]
pub fn of_text(text: &str) -> Vec<Piece> {
    let mut pieces = Vec::new();
    for (at, line) in text.split('\n').enumerate() {
        if at > 0 {
            pieces.push(Piece::plain(PieceOf::LineEnd(LineEnd {})));
        }
        let line: Vec<char> = line.chars().filter(|c| !c.is_control()).collect();
        let fixed = line.chunks(text::LONGEST).map(|chunk| chunk.iter().collect());
        pieces.extend(fixed.map(|text: String| Piece::plain(PieceOf::text(text))));
    }
    pieces
}

/// The text that pieces make.
///
/// # Errors
/// The first piece that can't be written, and why.
pub fn write(pieces: &[Piece], source: Source<'_>) -> Result<String, String> {
    pieces.iter().map(|piece| piece.write(source)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{
        date_code::{DateForm, DateOf, YearPlace},
        roster::{Column, ColumnKind},
    };
    use proptest::prelude::*;

    const TODAY: Date = time::macros::date!(2026 - 11 - 26);

    fn roster(kind: ColumnKind, cell: &str) -> Roster {
        Roster {
            columns: vec![Column { name: "part".into(), kind }],
            rows: vec![Row { id: 1, cells: vec![cell.into()] }],
        }
    }

    fn column() -> Piece {
        Piece::plain(PieceOf::cell("part"))
    }

    fn made(pieces: &[Piece], roster: &Roster) -> Result<String, String> {
        pieces.iter().try_for_each(|p| p.check(roster))?;
        write(pieces, Source { roster, row: roster.rows.first(), revision: Some("D"), today: TODAY })
    }

    #[test]
    fn a_text_is_put_together_from_its_pieces() {
        let text = |text: &str| Piece::plain(PieceOf::text(text));
        let week = DateForm { of: DateOf::Week, year: YearPlace::First, digits: 2, between: String::new() };
        let pieces = [
            text("VB-"),
            Piece { width: Some(3), ..column() },
            text(" "),
            Piece::plain(PieceOf::Revision(Revision {})),
            Piece::plain(PieceOf::LineEnd(LineEnd {})),
            Piece::plain(PieceOf::Material(MaterialCode { code: "PA66-GF30".into() })),
            text(" "),
            Piece::plain(PieceOf::Date(DateCode { from: DateFrom::Handoff, form: week })),
        ];
        assert_eq!(made(&pieces, &roster(ColumnKind::Number { width: 3 }, "7")).unwrap(), "VB-007 D\n>PA66-GF30< 2648");
    }

    #[test]
    fn what_is_empty_or_too_long_is_said_or_replaced_as_the_piece_wishes() {
        let with = |empty| [Piece { empty, ..column() }];
        let none = roster(ColumnKind::Text, "");
        assert_eq!(made(&with(Empty::Nothing), &none).unwrap(), "");
        assert_eq!(made(&with(Empty::Text { text: "--".into() }), &none).unwrap(), "--");
        assert_eq!(made(&with(Empty::Error), &none).unwrap_err(), "“part” is empty");
        let wide = [Piece { width: Some(2), ..column() }];
        assert!(
            made(&wide, &roster(ColumnKind::Text, "123")).unwrap_err().contains("3 characters; the piece is 2 wide")
        );
        for (pad, made_of_it) in [(Padding::Zeros, "0a"), (Padding::BlanksBefore, " a"), (Padding::BlanksAfter, "a ")] {
            assert_eq!(made(&[Piece { pad, ..wide[0].clone() }], &roster(ColumnKind::Text, "a")).unwrap(), made_of_it);
        }
        assert_eq!(made(&[Piece { case: Case::Capitals, ..column() }], &roster(ColumnKind::Text, "ab")).unwrap(), "AB");
        assert!(
            made(&[column()], &roster(ColumnKind::Number { width: 1 }, "x"))
                .unwrap_err()
                .contains("not a whole number")
        );
        let other = Piece::plain(PieceOf::cell("variant"));
        assert!(made(&[other], &none).unwrap_err().contains("“variant”, which the roster doesn't have"));
    }

    #[test]
    fn a_piece_with_a_field_that_it_does_not_have_is_refused() {
        for sound in [r#""piece":"revision""#, r#""piece":"line_end""#, r#""piece":"column","column":"part""#] {
            assert!(serde_json::from_str::<PieceOf>(&format!("{{{sound}}}")).is_ok(), "{sound}");
            let said = serde_json::from_str::<PieceOf>(&format!("{{{sound},\"colum\":\"part\"}}")).unwrap_err();
            assert!(said.to_string().contains("unknown field `colum`"), "{said}");
        }
    }

    proptest! {
        /// A cell of text is never shortened, cut or made a number of.
        #[test]
        fn a_recipe_never_loses_a_character_of_a_text_cell(
            cell in "[ -~°äΩ]{1,24}",
            width in proptest::option::of(1u32..=WIDEST),
            pad in prop_oneof![Just(Padding::Zeros), Just(Padding::BlanksBefore), Just(Padding::BlanksAfter)],
        ) {
            let piece = Piece { width, pad, ..column() };
            match made(&[piece], &roster(ColumnKind::Text, &cell)) {
                Ok(text) => {
                    let filled = match pad {
                        Padding::Zeros => text.strip_suffix(cell.as_str()).map(|f| f.chars().all(|c| c == '0')),
                        Padding::BlanksBefore => text.strip_suffix(cell.as_str()).map(|f| f.chars().all(|c| c == ' ')),
                        Padding::BlanksAfter => text.strip_prefix(cell.as_str()).map(|f| f.chars().all(|c| c == ' ')),
                    };
                    prop_assert_eq!(filled, Some(true));
                    prop_assert!(width.is_none_or(|w| text.chars().count() == w as usize));
                }
                Err(_) => prop_assert!(width.is_some_and(|w| cell.chars().count() > w as usize)),
            }
        }
    }
}
