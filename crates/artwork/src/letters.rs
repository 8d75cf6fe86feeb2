//! Letter shapes in a drawing: each character a layer or group of its own, named after it.

use crate::{
    bounds::FLAT,
    drawing::{Drawn, tall},
    error::ArtworkError,
    faults::{self, Fault},
    glyph_names::character,
    letter_layers::{DrawnLetters, without_drawing},
    reader,
};
use flat::{Region, thin};
use serde::{Deserialize, Serialize};

/// A character as it lies in its drawing.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Letter {
    pub character: char,
    /// In the drawing's units, y up; all letters of a drawing have one origin.
    pub region: Region,
    /// Their places as the region's.
    pub faults: Vec<Fault>,
}

/// The characters of a drawing: capitals and other letters, digits, signs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Letters {
    pub letters: Vec<Letter>,
    /// What was left out and why, in sentences.
    pub told: Vec<String>,
}

/// Most names of other layers that are told.
const MOST_TOLD: usize = 8;

/// The characters that are drawn in a file.
///
/// # Errors
/// It can't be read, or none of its layers or groups is named after a character.
pub fn letters(file: &str, bytes: &[u8]) -> Result<Letters, ArtworkError> {
    reader::guarded(bytes, |reader| put_together((reader.letters)(file, bytes)?))
}

fn put_together(drawn: DrawnLetters) -> Result<Letters, ArtworkError> {
    let mut letters: Vec<Letter> = Vec::new();
    let mut told = Vec::new();
    for (name, drawn) in drawn.letters {
        let Some(c) = character(&name) else { continue };
        if letters.iter().any(|l| l.character == c) {
            told.push(format!("“{c}” is drawn again as “{name}”; the second is left out."));
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

fn letter(character: char, drawn: Drawn) -> Result<Letter, ArtworkError> {
    let Drawn { region, placed, mut faults, layers, .. } = drawn;
    let region = thin::thinned(&region, FLAT / 2.0);
    let region = faults::mended(region, &mut faults);
    tall(&region).ok_or(ArtworkError::Nothing(layers))?;
    let there = |p| placed.back(p);
    Ok(Letter { character, region: region.mapped(there), faults: faults.told(None, there) })
}
