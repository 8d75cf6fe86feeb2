//! Setting a text: lines under one another, justified, each character's region in its place.

use crate::{centre_line, faces, outline, region::Region};
use glam::DVec2;
use trade::{Justify, Lettering};

/// One character with its region. Blanks have none and are left out.
#[derive(Clone, Debug, PartialEq)]
pub struct Character {
    /// What it is: one character, or a base with the marks composed on it.
    pub text: String,
    pub line: usize,
    /// mm; the origin is the lower left corner of the text's box.
    pub region: Region,
}

/// A text set in mm. Its box runs from the outermost ink left and right, and from the lowest
/// baseline to the top of the first line's capitals.
#[derive(Clone, Debug, PartialEq)]
pub struct Lettered {
    pub characters: Vec<Character>,
    pub size: DVec2,
}

#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum LetteringError {
    #[error("there is no lettering face “{0}”")]
    NoFace(String),
    #[error("the lettering face “{face}” has no “{character}” (U+{code:04X}); choose another face or another character", code = u32::from(*character))]
    MissingGlyph { character: char, face: String },
    #[error("the text is empty; type what the mark says")]
    Empty,
    #[error("the font file of the lettering face “{0}” can't be read")]
    Unusable(String),
}

struct Set {
    text: String,
    region: Region,
    advance: f64,
}

/// `text` as regions in mm.
///
/// # Errors
/// A face or a character that isn't there, or nothing to set.
pub fn set(text: &str, lettering: &Lettering) -> Result<Lettered, LetteringError> {
    let step = lettering.cap_height + lettering.line_gap;
    let mut lines = Vec::new();
    for line in text.lines() {
        lines.push(place(set_line(line, lettering)?, lettering.spacing));
    }
    let widest = lines.iter().map(|(_, width)| *width).fold(0.0, f64::max);
    let last = lines.len().saturating_sub(1) as f64;
    let mut characters = Vec::new();
    for (at, (line, width)) in lines.into_iter().enumerate() {
        let left = match lettering.justify {
            Justify::Start => 0.0,
            Justify::Middle => (widest - width) / 2.0,
            Justify::End => widest - width,
        };
        let shift = DVec2::new(left, (last - at as f64) * step);
        characters.extend(line.into_iter().map(|set| Character {
            text: set.text,
            line: at,
            region: set.region.mapped(|p| p + shift),
        }));
    }
    if characters.is_empty() {
        return Err(LetteringError::Empty);
    }
    Ok(Lettered { characters, size: DVec2::new(widest, last * step + lettering.cap_height) })
}

fn set_line(line: &str, lettering: &Lettering) -> Result<Vec<Set>, LetteringError> {
    if lettering.face == faces::CENTRE_LINE {
        return line
            .chars()
            .map(|c| {
                let (region, advance) = centre_line::character(c, lettering.cap_height, lettering.cutter_width())
                    .ok_or_else(|| LetteringError::MissingGlyph { character: c, face: lettering.face.clone() })?;
                Ok(Set { text: c.to_string(), region, advance })
            })
            .collect();
    }
    let glyphs = outline::line(&lettering.face, line, lettering.cap_height)?;
    let mut ends: Vec<usize> = glyphs.iter().skip(1).map(|g| g.byte).collect();
    ends.push(line.len());
    Ok(glyphs
        .into_iter()
        .zip(ends)
        .map(|(glyph, end)| Set {
            text: line[glyph.byte..end].to_owned(),
            region: glyph.region,
            advance: glyph.advance,
        })
        .collect())
}

/// Characters one after the other, the first one's ink at x = 0; and the width of the ink.
fn place(line: Vec<Set>, spacing: f64) -> (Vec<Set>, f64) {
    let mut at = 0.0;
    let mut placed = Vec::new();
    let (mut left, mut right) = (f64::INFINITY, f64::NEG_INFINITY);
    for mut set in line {
        if let Some((low, high)) = set.region.bounds() {
            (left, right) = (left.min(at + low.x), right.max(at + high.x));
            set.region = set.region.mapped(|p| p + DVec2::X * at);
        }
        at += set.advance + spacing;
        if !set.region.islands.is_empty() {
            placed.push(set);
        }
    }
    if placed.is_empty() {
        return (placed, 0.0);
    }
    for set in &mut placed {
        set.region = set.region.mapped(|p| p - DVec2::X * left);
    }
    (placed, right - left)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn lettering(face: &str) -> Lettering {
        Lettering { face: face.into(), cap_height: 3.5, ..Lettering::default() }
    }

    #[test]
    fn capitals_are_as_high_as_set_in_every_face() {
        for face in faces::faces() {
            let set = set("H", &lettering(face.id)).unwrap();
            let (low, high) = set.characters[0].region.bounds().unwrap();
            assert!(low.y.abs() < 0.003 && (high.y - 3.5).abs() < 0.003, "{}: {low} {high}", face.id);
        }
    }

    #[test]
    fn every_face_sets_a_part_number_with_all_its_counters() {
        for face in faces::faces() {
            let set = set("VB-20-07\nR6 A8", &lettering(face.id)).unwrap();
            assert_eq!(set.characters.len(), 12, "{}", face.id);
            assert!((set.size.y - (2.0 * 3.5 + 1.75)).abs() < 1e-9);
            let stencil = face.id.contains("stencil");
            for character in &set.characters {
                let counters = match character.text.as_str() {
                    "B" | "8" => 2,
                    "0" | "A" | "6" | "R" => 1,
                    _ => 0,
                };
                // a stencil opens its counters
                assert!(stencil || character.region.counters() == counters, "{} {}", face.id, character.text);
                assert!(character.region.area() > 0.2, "{} {}", face.id, character.text);
            }
        }
    }

    #[test]
    fn kerning_pulls_a_and_v_together() {
        let width = |text: &str| set(text, &lettering("overpass")).unwrap().size.x;
        let apart = width("HAH") + width("HVH") - width("HH");
        assert!(width("HAVH") < apart - 0.1, "{} {apart}", width("HAVH"));
    }

    #[test]
    fn composed_characters_are_one_character() {
        let set = set("E\u{301}É", &lettering("overpass")).unwrap();
        assert_eq!(set.characters.len(), 2);
        let areas: Vec<f64> = set.characters.iter().map(|c| c.region.area()).collect();
        assert!((areas[0] - areas[1]).abs() < 1e-6 && set.characters[0].region.islands.len() == 2);
    }

    #[test]
    fn a_missing_glyph_is_named() {
        let error = set("VB 漢", &lettering("overpass")).unwrap_err();
        assert_eq!(error, LetteringError::MissingGlyph { character: '漢', face: "overpass".into() });
        assert!(error.to_string().contains("“漢” (U+6F22)"));
        assert!(set("vb", &lettering("centre-line")).unwrap_err().to_string().contains("“v”"));
        assert_eq!(set(" \n ", &lettering("overpass")), Err(LetteringError::Empty));
    }

    #[test]
    fn spacing_widens_and_leaves_the_letters_alone() {
        let plain = set("AB8", &lettering("barlow")).unwrap();
        let wide = set("AB8", &Lettering { spacing: 0.5, ..lettering("barlow") }).unwrap();
        assert!((wide.size.x - plain.size.x - 1.0).abs() < 1e-9);
        for (a, b) in plain.characters.iter().zip(&wide.characters) {
            assert!((a.region.area() - b.region.area()).abs() < 1e-9);
        }
    }
}
