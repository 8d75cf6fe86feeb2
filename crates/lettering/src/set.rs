//! Setting a text: lines under one another, justified, each character's region in its place.

use crate::{centre_line, faces, outline, own};
use crate::{
    error::LetteringError,
    fit::fitted,
    lettered::{Character, Lettered},
};
use flat::Region;
use glam::DVec2;
use trade::{Justify, LetterChange, Lettering};

struct Set {
    at: u32,
    text: String,
    region: Region,
    advance: f64,
    turn: f64,
    /// As [`Character::capitals`].
    capitals: [f64; 2],
}

impl Set {
    /// `region` stands on a baseline at 0.
    fn new(text: String, region: Region, advance: f64, cap_height: f64) -> Self {
        let middle = region.bounds().map_or(0.0, |(low, high)| (low.y + high.y) / 2.0);
        Self { at: 0, text, region, advance, turn: 0.0, capitals: [-middle, cap_height - middle] }
    }
}

/// `text` as regions in mm; `letters` differ from the others.
///
/// # Errors
/// A face or a character that isn't there, nothing to set, or a length that can't be fitted.
pub fn set(text: &str, lettering: &Lettering, letters: &[LetterChange]) -> Result<Lettered, LetteringError> {
    match lettering.fit {
        None => set_plain(text, lettering, letters),
        Some(fit) => set_plain(text, &fitted(lettering, fit, |tried| set_plain(text, tried, letters))?, letters),
    }
}

fn set_plain(text: &str, lettering: &Lettering, letters: &[LetterChange]) -> Result<Lettered, LetteringError> {
    let step = lettering.cap_height + lettering.line_gap;
    let mut lines = Vec::new();
    let mut at = 0;
    for line in text.lines() {
        let mut line = set_line(line, lettering)?;
        for set in line.iter_mut().filter(|set| !set.region.islands.is_empty()) {
            set.at = at;
            at += 1;
            if let Some(change) = letters.iter().find(|l| l.at == set.at && l.text == set.text) {
                changed(set, change);
            }
        }
        lines.push(place(line, lettering.spacing));
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
            at: set.at,
            text: set.text,
            line: at,
            region: set.region.mapped(|p| p + shift),
            turn: set.turn,
            capitals: set.capitals,
            core: false,
        }));
    }
    if characters.is_empty() {
        return Err(LetteringError::Empty);
    }
    let Lettering { cap_height, width, spacing, .. } = *lettering;
    Ok(Lettered {
        characters,
        size: DVec2::new(widest, last * step + cap_height),
        cap_height,
        width,
        spacing,
        whole: false,
        round: false,
        fields: Vec::new(),
    })
}

/// One letter larger or smaller from its own baseline, turned about its middle, shifted, or left out.
fn changed(set: &mut Set, change: &LetterChange) {
    set.advance *= change.size;
    set.turn = change.turn.to_radians();
    set.capitals = set.capitals.map(|up| up * change.size);
    let Some((low, high)) = set.region.bounds().filter(|_| !change.left_out) else {
        set.region = Region::default();
        return;
    };
    let middle = (low + high) / 2.0 * change.size;
    let (turn, shift) = (DVec2::from_angle(set.turn), DVec2::new(change.along, change.up));
    set.region = set.region.mapped(|p| turn.rotate(p * change.size - middle) + middle + shift);
}

fn set_line(line: &str, lettering: &Lettering) -> Result<Vec<Set>, LetteringError> {
    if lettering.face == faces::CENTRE_LINE && lettering.own.is_none() {
        return line
            .chars()
            .map(|c| {
                let slope = lettering.slant.to_radians().tan();
                let (stroke, width) = (lettering.cutter_width(), lettering.width);
                let (region, advance) = centre_line::character(c, lettering.cap_height, stroke, width, slope)
                    .ok_or_else(|| LetteringError::MissingGlyph { character: c, face: lettering.face.clone() })?;
                Ok(Set::new(c.to_string(), region, advance, lettering.cap_height))
            })
            .collect();
    }
    let glyphs = match &lettering.own {
        Some(own) => own::line(line, &own.face, lettering)?,
        None => outline::line(line, lettering)?,
    };
    let mut ends: Vec<usize> = glyphs.iter().skip(1).map(|g| g.byte).collect();
    ends.push(line.len());
    Ok(glyphs
        .into_iter()
        .zip(ends)
        .map(|(glyph, end)| {
            let text = line[glyph.byte..end].to_owned();
            Set::new(text, glyph.region, glyph.advance, lettering.cap_height)
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
    use flat::offset;
    use trade::{Fit, FitBy};

    fn set_all(text: &str, lettering: &Lettering) -> Result<Lettered, LetteringError> {
        set(text, lettering, &[])
    }

    fn lettering(face: &str) -> Lettering {
        Lettering { face: face.into(), cap_height: 3.5, ..Lettering::default() }
    }

    #[test]
    fn capitals_are_as_high_as_set_in_every_face() {
        for face in faces::faces() {
            let set = set_all("H", &lettering(face.id)).unwrap();
            let (low, high) = set.characters[0].region.bounds().unwrap();
            assert!(low.y.abs() < 0.003 && (high.y - 3.5).abs() < 0.003, "{}: {low} {high}", face.id);
        }
    }

    #[test]
    fn every_face_sets_a_part_number_with_all_its_counters() {
        for face in faces::faces() {
            let set = set_all("VB-20-07\nR6 A8", &lettering(face.id)).unwrap();
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
        let width = |text: &str| set_all(text, &lettering("overpass")).unwrap().size.x;
        let apart = width("HAH") + width("HVH") - width("HH");
        assert!(width("HAVH") < apart - 0.1, "{} {apart}", width("HAVH"));
    }

    #[test]
    fn composed_characters_are_one_character() {
        let set = set_all("E\u{301}É", &lettering("overpass")).unwrap();
        assert_eq!(set.characters.len(), 2);
        let areas: Vec<f64> = set.characters.iter().map(|c| c.region.area()).collect();
        assert!((areas[0] - areas[1]).abs() < 1e-6 && set.characters[0].region.islands.len() == 2);
    }

    #[test]
    fn a_missing_glyph_is_named() {
        let error = set_all("VB 漢", &lettering("overpass")).unwrap_err();
        assert_eq!(error, LetteringError::MissingGlyph { character: '漢', face: "overpass".into() });
        assert!(error.to_string().contains("“漢” (U+6F22)"));
        assert!(set_all("vb", &lettering("centre-line")).unwrap_err().to_string().contains("“v”"));
        assert_eq!(set_all(" \n ", &lettering("overpass")), Err(LetteringError::Empty));
    }

    #[test]
    fn every_face_has_the_signs_as_bold_as_its_letters() {
        for face in faces::faces() {
            for sign in crate::centre_line::signs() {
                let text = format!("I{sign}I");
                let set = set_all(&text, &lettering(face.id)).unwrap();
                assert_eq!(set.characters.len(), 3, "{} {sign}", face.id);
                let sides = |at: usize| set.characters[at].region.bounds().unwrap();
                let gaps = [sides(1).0.x - sides(0).1.x, sides(2).0.x - sides(1).1.x];
                assert!(gaps.iter().all(|gap| *gap > 0.0), "{} {sign}: {gaps:?}", face.id);
            }
            // a set stroke is that of signs too
            let bold = Lettering { stroke: Some(0.3), ..lettering(face.id) };
            if face.id == "overpass" {
                let region = &set_all("△", &bold).unwrap().characters[0].region;
                assert!(offset::grown(region, -0.16).area() < 0.05 * region.area());
                assert!(offset::grown(region, -0.13).area() > 0.05 * region.area());
            }
        }
    }

    /// Height, width, slant, stroke and spacing are independent of one another.
    #[test]
    fn changing_one_setting_changes_no_other() {
        for face in ["barlow", "overpass", "centre-line"] {
            let plain = lettering(face);
            // the stem of the I, by its area, and the height of the H
            let look = |l: &Lettering| {
                let bounds = |text: &str| set_all(text, l).unwrap().characters[0].region.bounds().unwrap();
                let (low, high) = bounds("H");
                (
                    high.y - low.y,
                    set_all("HH", l).unwrap().size.x - 2.0 * set_all("H", l).unwrap().size.x,
                    high.x - low.x,
                )
            };
            let (high, gap, broad) = look(&plain);
            let wide = look(&Lettering { width: 1.5, ..plain.clone() });
            assert!((wide.0 - high).abs() < 0.003 && wide.2 > 1.3 * broad, "{face} {wide:?}");
            let bold = look(&Lettering { stroke: Some(0.6), ..plain.clone() });
            assert!((bold.0 - high).abs() < 0.003, "{face} {bold:?}");
            if face != "centre-line" {
                assert!((bold.1 - gap).abs() < 0.2 * gap, "{face} {bold:?} {gap}");
            }
            let leaning = Lettering { slant: 15.0, ..plain.clone() };
            let [upright, slanted] = [&plain, &leaning].map(|l| set_all("I", l).unwrap().characters[0].region.clone());
            assert!((upright.area() - slanted.area()).abs() < 0.05 * upright.area());
            let (low, high_at) = slanted.bounds().unwrap();
            assert!((high_at.y - low.y - high).abs() < 0.003, "{face}");
            assert!((set_all("H", &Lettering { spacing: 1.0, ..plain.clone() }).unwrap().size.x - broad).abs() < 1e-9);
        }
    }

    #[test]
    fn a_set_stroke_is_the_stems_width() {
        for face in ["barlow", "overpass", "osifont"] {
            for stroke in [0.3, 0.45, 0.7] {
                let set = set_all("H", &Lettering { stroke: Some(stroke), ..lettering(face) }).unwrap();
                let region = &set.characters[0].region;
                let level = 0.8;
                let mut xs: Vec<f64> = region
                    .contours()
                    .flat_map(|c| (0..c.len()).map(|k| (c[k], c[(k + 1) % c.len()])))
                    .filter(|(a, b)| (a.y > level) != (b.y > level))
                    .map(|(a, b)| a.x + (b.x - a.x) * (level - a.y) / (b.y - a.y))
                    .collect();
                xs.sort_by(f64::total_cmp);
                assert!((xs[1] - xs[0] - stroke).abs() < 0.003, "{face} {stroke}: {xs:?}");
                assert!((set.size.y - 3.5).abs() < 1e-9);
            }
        }
        let with =
            |text: &str, stroke| set_all(text, &Lettering { stroke: Some(stroke), ..lettering("barlow") }).map(|_| ());
        // the counters fill up
        assert_eq!(with("@", 1.1), Err(LetteringError::TooBold));
        assert_eq!(with("B", 0.2), Ok(()));
    }

    #[test]
    fn a_length_is_fitted_by_what_was_chosen_and_by_nothing_else() {
        for face in ["overpass", "centre-line"] {
            for by in [FitBy::Spacing, FitBy::Width, FitBy::Height] {
                let wish = Lettering { fit: Some(Fit { length: 20.0, by }), ..lettering(face) };
                let found = set_all("VB-20-07", &wish).unwrap();
                assert!((found.size.x - 20.0).abs() < 1e-5, "{face} {by:?} {}", found.size.x);
                let same = (found.spacing == 0.0, found.width == 1.0, found.cap_height == 3.5);
                let expected = (by != FitBy::Spacing, by != FitBy::Width, by != FitBy::Height);
                assert_eq!(same, expected, "{by:?}");
            }
        }
        let one = Lettering { fit: Some(Fit { length: 20.0, by: FitBy::Spacing }), ..lettering("overpass") };
        assert!(set_all("V", &one).unwrap_err().to_string().contains("makes no difference"));
        let long = Lettering { fit: Some(Fit { length: 900.0, by: FitBy::Width }), ..lettering("overpass") };
        assert!(set_all("VB", &long).unwrap_err().to_string().contains("outside 0.3 to 3.0"));
    }

    #[test]
    fn spacing_widens_and_leaves_the_letters_alone() {
        let plain = set_all("AB8", &lettering("barlow")).unwrap();
        let wide = set_all("AB8", &Lettering { spacing: 0.5, ..lettering("barlow") }).unwrap();
        assert!((wide.size.x - plain.size.x - 1.0).abs() < 1e-9);
        for (a, b) in plain.characters.iter().zip(&wide.characters) {
            assert!((a.region.area() - b.region.area()).abs() < 1e-9);
        }
    }

    #[test]
    fn a_letter_is_changed_by_itself_and_those_after_it_make_room() {
        let with = |letters: &[LetterChange]| set("VB 8", &lettering("overpass"), letters).unwrap();
        let plain = with(&[]);
        let bounds = |set: &Lettered, k: usize| set.characters[k].region.bounds().unwrap();
        // the 8 is the third letter: the blank does not count
        let large = with(&[LetterChange { size: 1.5, ..LetterChange::plain(1, "B") }]);
        let (low, high) = bounds(&large, 1);
        assert!((high.y - low.y - 1.5 * 3.5).abs() < 0.01 && low.y.abs() < 0.01, "{low} {high}");
        let wider = bounds(&large, 2).0.x - bounds(&plain, 2).0.x;
        assert!(wider > 0.4 * (bounds(&plain, 1).1.x - bounds(&plain, 1).0.x), "{wider}");
        assert_eq!(bounds(&large, 0), bounds(&plain, 0));
        // shifted and turned, the others stay
        let moved = with(&[LetterChange { along: 0.5, up: -0.25, turn: 90.0, ..LetterChange::plain(2, "8") }]);
        let middle = |set: &Lettered| (bounds(set, 2).0 + bounds(set, 2).1) / 2.0;
        assert!((middle(&moved) - middle(&plain) - DVec2::new(0.5, -0.25)).length() < 0.01);
        assert!(bounds(&moved, 2).1.x - bounds(&moved, 2).0.x > 3.4);
        assert_eq!(bounds(&moved, 1), bounds(&plain, 1));
        // left out, its place stays empty
        let out = with(&[LetterChange { left_out: true, ..LetterChange::plain(1, "B") }]);
        assert_eq!(out.characters.iter().map(|c| c.at).collect::<Vec<_>>(), [0, 2]);
        assert!((bounds(&out, 1).0.x - bounds(&plain, 2).0.x).abs() < 1e-9);
        // a change of another character is none of this one's
        assert_eq!(with(&[LetterChange { size: 2.0, ..LetterChange::plain(1, "8") }]), plain);
    }
}
