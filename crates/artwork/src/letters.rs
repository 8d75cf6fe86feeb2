//! Letter shapes in a drawing: each character a layer or group of its own, named after it.

use crate::{
    ArtworkError, Drawn, LARGEST, MOST_ON_THE_WAY, Wish, dxf, faults, faults::Fault, ink, svg, svg_text, tall,
};
use lettering::{Region, clean};
use trade::own_face::MOST_LETTERS;

/// A character as it lies in its drawing.
#[derive(Clone, Debug, PartialEq)]
pub struct Letter {
    pub character: char,
    /// In the drawing's units, y up; all letters of a drawing have one origin.
    pub region: Region,
    /// Their places as the region's.
    pub faults: Vec<Fault>,
}

/// The characters of a drawing: capitals and other letters, digits, signs.
#[derive(Clone, Debug, PartialEq)]
pub struct Letters {
    pub letters: Vec<Letter>,
    /// What was left out and why, in sentences.
    pub told: Vec<String>,
}

/// A name that stands for a character, and what is drawn under it, or why that can't be drawn.
pub type DrawnLetter = (String, Result<Drawn, ArtworkError>);

/// What is drawn under each name that stands for a character, in the drawing's order.
pub struct DrawnLetters {
    pub letters: Vec<DrawnLetter>,
    /// Names of layers or groups that stand for none.
    pub other: Vec<String>,
}

/// Most names of other layers that are told.
const MOST_TOLD: usize = 8;

/// Draws each of the layers or groups by itself.
///
/// # Errors
/// There are too many, or they ask too much; a letter that can't be drawn otherwise says so by itself.
pub fn drawn_each<'a>(
    names: impl Iterator<Item = &'a str>,
    mut draw: impl FnMut(&str, &Wish) -> Result<Drawn, ArtworkError>,
) -> Result<Vec<DrawnLetter>, ArtworkError> {
    let names: Vec<&str> = names.collect();
    if names.len() > MOST_LETTERS {
        return Err(ArtworkError::Letters(format!(
            "it has {} letters; a face has at most {MOST_LETTERS}",
            names.len()
        )));
    }
    let mut letters = Vec::new();
    let mut points = 0;
    for name in names {
        let drawn = draw(name, &Wish { layers: Some(vec![name.into()]), ..Wish::default() });
        match &drawn {
            Ok(drawn) => points += crate::points(&drawn.region),
            Err(e @ (ArtworkError::Tangled | ArtworkError::TooFine(_))) => {
                return Err(ArtworkError::Letters(format!("“{name}”: {}", without_drawing(&e.to_string()))));
            }
            Err(_) => {}
        }
        if points > MOST_ON_THE_WAY {
            return Err(ArtworkError::TooFine(points));
        }
        letters.push((name.to_owned(), drawn));
    }
    Ok(letters)
}

/// Glyph names as fonts have them (Adobe Glyph List), of characters that names of layers can't hold or that programs
/// don't like at their beginning.
const NAMES: &[(&str, char)] = &[
    ("zero", '0'),
    ("one", '1'),
    ("two", '2'),
    ("three", '3'),
    ("four", '4'),
    ("five", '5'),
    ("six", '6'),
    ("seven", '7'),
    ("eight", '8'),
    ("nine", '9'),
    ("ampersand", '&'),
    ("asterisk", '*'),
    ("at", '@'),
    ("backslash", '\\'),
    ("bar", '|'),
    ("colon", ':'),
    ("comma", ','),
    ("degree", '°'),
    ("equal", '='),
    ("exclam", '!'),
    ("greater", '>'),
    ("hyphen", '-'),
    ("less", '<'),
    ("numbersign", '#'),
    ("parenleft", '('),
    ("parenright", ')'),
    ("percent", '%'),
    ("period", '.'),
    ("plus", '+'),
    ("question", '?'),
    ("quotedbl", '"'),
    ("quotesingle", '\''),
    ("semicolon", ';'),
    ("slash", '/'),
    ("underscore", '_'),
];

/// The character that a layer or group is named after: itself, `U+0041` or `uni0041`, the name that fonts have for it,
/// or an escape of drawing programs such as `_x37_`.
#[must_use]
pub fn character(name: &str) -> Option<char> {
    let name = name.trim();
    let mut chars = name.chars();
    let drawn = |c: &char| !c.is_whitespace() && !c.is_control();
    if let (Some(only), None) = (chars.next(), chars.next()) {
        return Some(only).filter(drawn);
    }
    if let Some((_, c)) = NAMES.iter().find(|(known, _)| *known == name) {
        return Some(*c);
    }
    let code = ["U+", "u+", "uni"]
        .iter()
        .find_map(|prefix| name.strip_prefix(prefix))
        .or_else(|| name.strip_prefix("_x")?.strip_suffix('_'))?;
    let hexadecimal = (2..=6).contains(&code.len()) && code.bytes().all(|b| b.is_ascii_hexdigit());
    hexadecimal.then(|| u32::from_str_radix(code, 16).ok()).flatten().and_then(char::from_u32).filter(drawn)
}

/// The characters that are drawn in a file.
///
/// # Errors
/// It can't be read, or none of its layers or groups is named after a character.
pub fn letters(file: &str, bytes: &[u8]) -> Result<Letters, ArtworkError> {
    if bytes.len() > LARGEST {
        return Err(ArtworkError::TooLarge(bytes.len() >> 20));
    }
    // a reader that stumbles over a file takes nothing else down
    std::panic::catch_unwind(|| {
        let drawn = if dxf::begins(bytes) { dxf::letters(bytes) } else { svg::letters(svg_text(file, bytes)?) };
        put_together(drawn?)
    })
    .unwrap_or_else(|_| Err(ArtworkError::Unreadable("the reader stumbled over it".into())))
}

fn put_together(drawn: DrawnLetters) -> Result<Letters, ArtworkError> {
    let mut letters: Vec<Letter> = Vec::new();
    let mut told = Vec::new();
    for (name, drawn) in drawn.letters {
        let Some(c) = character(&name) else { continue };
        if letters.iter().any(|l| l.character == c) {
            told.push(format!("“{c}” is drawn once more as “{name}”; that is left out."));
            continue;
        }
        match drawn.and_then(|drawn| letter(c, drawn)) {
            Ok(letter) => letters.push(letter),
            Err(why) => told.push(format!("“{c}” is left out: {}.", without_drawing(&why.to_string()))),
        }
    }
    if letters.is_empty() {
        return Err(ArtworkError::Letters(match &told[..] {
            [] => "none of its layers or groups is named after a character; draw each letter on a layer or in a group \
                   of its own, named A, B or 7, or U+002F for what a name can't hold"
                .into(),
            told => format!("none of its letters can be drawn. {}", told.join(" ")),
        }));
    }
    let (bare, other): (Vec<&String>, Vec<&String>) = drawn.other.iter().partition(|n| n.is_empty());
    let named: Vec<String> = other.iter().take(MOST_TOLD).map(|n| format!("“{n}”")).collect();
    if !named.is_empty() {
        let more = if other.len() > named.len() { " and others" } else { "" };
        told.push(format!("{}{more}: named after no character, left out.", named.join(", ")));
    }
    if !bare.is_empty() {
        told.push("What lies in no group is left out.".into());
    }
    let kind = |c: char| (!c.is_alphabetic(), !c.is_numeric(), c);
    letters.sort_by_key(|l| kind(l.character));
    Ok(Letters { letters, told })
}

/// What is wrong with a letter, not with the drawing.
fn without_drawing(why: &str) -> String {
    why.replacen("the drawing's outlines", "its outlines", 1).replacen("the drawing has", "it has", 1)
}

fn letter(character: char, drawn: Drawn) -> Result<Letter, ArtworkError> {
    let Drawn { region, placed, mut faults, layers, .. } = drawn;
    let region = clean::thinned(&region, ink::FLAT / 2.0);
    let region = faults::mended(region, &mut faults);
    tall(&region).ok_or(ArtworkError::Nothing(layers))?;
    let there = |p| placed.back(p);
    Ok(Letter { character, region: region.mapped(there), faults: faults.told(None, there) })
}
