//! Lettering faces of the shop's own: letter shapes that were drawn become a face, and lines of text are set in it.

use crate::{
    centre_line,
    error::LetteringError,
    faces,
    glyph::{Glyph, Stroked, stem_at},
};
use flat::{FLATTENED_TO, Region, overlay, region::contours_of, thin};
use glam::DVec2;
use trade::{
    Lettering, OwnFace, OwnLetter,
    own_face::{BEARING, BLANK, CAPITALS},
};

/// Characters that stand flat on the baseline, and whose tops are flat at the height of capitals. Common practice.
const FLAT: &str = "HEIFTLNMKXZBDPRA147";
/// Characters that stand on the baseline, though some reach below it by a hair, round as they are.
const STANDING: &str = "VWYCGOSU023568963abcdehiklmnorstuvwxz";
/// Signs that stand on the baseline, for rows of nothing but signs.
const STANDING_SIGNS: &str = "&%#!?.$€+";
/// How far a sign may lie off its row, as a share of the row's height.
const BESIDE: f64 = 0.3;
/// Characters with an upright stem a quarter of the way up, the best to measure first.
const STEMMED: &str = "HIEFLNTMKRBDPU14hiklnmru";

/// Where letters of a drawing stand, and how high its capitals are, in the drawing's units.
#[derive(Clone, Debug, PartialEq)]
pub struct Measured {
    /// The baseline of each letter.
    pub baselines: Vec<f64>,
    /// How many lines the letters were drawn in.
    pub rows: usize,
    pub cap_height: f64,
    /// The character whose height that is.
    pub capital: char,
}

/// Finds baselines and cap height of letters that lie in one drawing, y up. Letters that lie beside or overlapping
/// share a baseline.
///
/// # Errors
/// There are no letters, or none of them has a height.
pub fn measured(letters: &[(char, Region)]) -> Result<Measured, String> {
    let boxes: Vec<(char, DVec2, DVec2)> =
        letters.iter().filter_map(|(c, region)| region.bounds().map(|(low, high)| (*c, low, high))).collect();
    if boxes.len() < letters.len() || boxes.is_empty() {
        return Err("the drawing has no letters".into());
    }
    // rows are begun by letters and digits, the tallest first: signs may float, and join the row that they lie at
    let mut order: Vec<usize> = (0..boxes.len()).collect();
    order.sort_by(|&a, &b| {
        let (c, d) = (&boxes[a], &boxes[b]);
        d.0.is_alphanumeric().cmp(&c.0.is_alphanumeric()).then((d.2.y - d.1.y).total_cmp(&(c.2.y - c.1.y)))
    });
    let mut rows: Vec<(f64, f64, Vec<usize>)> = Vec::new();
    for k in order {
        let (c, low, high) = boxes[k];
        let shared = |row: &(f64, f64, Vec<usize>)| row.1.min(high.y) - row.0.max(low.y);
        let best = rows.iter_mut().max_by(|a, b| shared(a).total_cmp(&shared(b)));
        match best {
            Some(row) if shared(row) >= 0.5 * (high.y - low.y) => row.2.push(k),
            // a line below its row, a stroke above it
            Some(row) if !c.is_alphanumeric() && shared(row) > -BESIDE * (row.1 - row.0) => row.2.push(k),
            _ => rows.push((low.y, high.y, vec![k])),
        }
    }
    let mut baselines = vec![0.0; boxes.len()];
    for (_, _, members) in &rows {
        let lows = |of: &dyn Fn(char) -> bool| -> Vec<f64> {
            members.iter().map(|&k| boxes[k]).filter(|b| of(b.0)).map(|b| b.1.y).collect()
        };
        let all = |_: char| true;
        let kinds: [&dyn Fn(char) -> bool; 5] = [
            &|c| FLAT.contains(c),
            &|c| STANDING.contains(c),
            &char::is_alphanumeric,
            &|c| STANDING_SIGNS.contains(c),
            &all,
        ];
        let mut standing = kinds.into_iter().map(lows).find(|lows| !lows.is_empty()).unwrap_or_default();
        standing.sort_by(f64::total_cmp);
        let baseline = standing[standing.len() / 2];
        members.iter().for_each(|&k| baselines[k] = baseline);
    }
    let height = |k: usize| boxes[k].2.y - baselines[k];
    let flat = FLAT.chars().find_map(|c| boxes.iter().position(|b| b.0 == c));
    let tallest = |letters: bool| {
        let of = (0..boxes.len()).filter(|&k| !letters || boxes[k].0.is_alphanumeric());
        of.max_by(|&a, &b| height(a).total_cmp(&height(b)))
    };
    let of = flat.or_else(|| tallest(true)).or_else(|| tallest(false)).unwrap_or_default();
    let cap_height = height(of);
    if !(cap_height.is_finite() && cap_height > 0.0) {
        return Err(format!(
            "“{}”, which the cap height is measured on, has no height above its baseline",
            boxes[of].0
        ));
    }
    Ok(Measured { baselines, rows: rows.len(), cap_height, capital: boxes[of].0 })
}

/// Letters of a drawing as a face, with the bearings that new faces have.
#[must_use]
pub fn face(name: &str, file: &str, letters: &[(char, Region)], measured: &Measured) -> OwnFace {
    let to = CAPITALS / measured.cap_height;
    let letter = |((character, region), baseline): (&(char, Region), &f64)| {
        let left = region.bounds().map_or(0.0, |(low, _)| low.x);
        let origin = DVec2::new(left, *baseline);
        let outline = region.mapped(|p| (p - origin) * to).path_data(4);
        OwnLetter { character: *character, outline, left: BEARING, right: BEARING, rise: 0.0 }
    };
    let letters = letters.iter().zip(&measured.baselines).map(letter).collect();
    OwnFace { name: name.into(), file: file.into(), letters, blank: BLANK }
}

/// A face that can be kept and lettered in: its settings are in range, no face that ships is called so, and every
/// letter of it can be drawn.
///
/// # Errors
/// What is wrong with it.
pub fn check(face: &OwnFace) -> Result<(), String> {
    face.check()?;
    let known = |f: &&faces::FaceInfo| [f.id, f.name].iter().any(|n| n.eq_ignore_ascii_case(&face.name));
    if let Some(shipped) = faces::faces().iter().find(known) {
        return Err(format!("“{}” is a face that ships; call this one something else", shipped.name));
    }
    face.letters.iter().try_for_each(|l| drawn(l, face, 1.0).map(drop)).map_err(|e| e.to_string())
}

/// A letter as it is drawn, its ink from x = 0 on, scaled.
fn drawn(letter: &OwnLetter, face: &OwnFace, scale: f64) -> Result<Region, LetteringError> {
    let unreadable = || LetteringError::NoOutline { character: letter.character, face: face.name.clone() };
    let contours = contours_of(&letter.outline, scale).ok_or_else(unreadable)?;
    let region = overlay::joined(&contours);
    if region.islands.is_empty() { Err(unreadable()) } else { Ok(region) }
}

/// Width of a stem as a share of the capitals' height.
pub(crate) fn stem(face: &OwnFace) -> Option<f64> {
    let letter = STEMMED.chars().find_map(|c| face.letter(c))?;
    let region = drawn(letter, face, 1.0).ok()?;
    Some(stem_at(&region, 0.25 * CAPITALS)? / CAPITALS)
}

/// The letters of `line`, each region placed relative to its own start on the baseline, mm.
pub(crate) fn line(line: &str, face: &OwnFace, lettering: &Lettering) -> Result<Vec<Glyph>, LetteringError> {
    let share = || stem(face);
    let stroked = Stroked::new(lettering, lettering.stroke.and_then(|_| share()))?;
    let scale = stroked.drawn_high / CAPITALS;
    let mut glyphs = Vec::new();
    for (byte, c) in line.char_indices() {
        let glyph = match face.letter(c) {
            Some(letter) => {
                // what was one point more or less at another size
                let region = thin::thinned(&drawn(letter, face, scale)?, FLATTENED_TO / 2.0);
                let right = region.bounds().map_or(0.0, |(_, high)| high.x);
                let shift = DVec2::new(letter.left, letter.rise) * scale;
                let advance = right + (letter.left + letter.right) * scale;
                Glyph { byte, region: region.mapped(|p| p + shift), advance }
            }
            None if c == ' ' => Glyph { byte, region: Region::default(), advance: face.blank * scale },
            None => {
                let stroke = share().unwrap_or(0.1) * stroked.drawn_high;
                let (region, advance) = centre_line::sign(c, stroked.drawn_high, stroke)
                    .ok_or_else(|| LetteringError::MissingGlyph { character: c, face: face.name.clone() })?;
                Glyph { byte, region, advance }
            }
        };
        glyphs.push(glyph);
    }
    stroked.finish(&mut glyphs, lettering)?;
    Ok(glyphs)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{lettered::Lettered, set};
    use trade::{HeldFace, LetterChange};

    fn block(low: DVec2, high: DVec2) -> Region {
        let ring = vec![low, DVec2::new(high.x, low.y), high, DVec2::new(low.x, high.y)];
        Region::from_contours(vec![ring])
    }

    /// Bars: H and I stand, O reaches a little over both lines, Q hangs, - floats, each ten wide and 30 apart.
    fn bars(at: DVec2) -> Vec<(char, Region)> {
        let spans = [('H', 0.0, 70.0), ('I', 0.0, 70.0), ('O', -1.5, 71.5), ('Q', -20.0, 71.5), ('-', 30.0, 40.0)];
        let bar = |(k, (c, low, high)): (usize, (char, f64, f64))| {
            let left = 30.0 * k as f64;
            (c, block(at + DVec2::new(left, low), at + DVec2::new(left + 10.0, high)))
        };
        spans.into_iter().enumerate().map(bar).collect()
    }

    fn own(face: &OwnFace, cap_height: f64) -> Lettering {
        let own = Some(HeldFace::new(face));
        Lettering { face: face.name.clone(), own, cap_height, ..Lettering::default() }
    }

    fn face_of(letters: &[(char, Region)]) -> OwnFace {
        face("Bars", "bars.svg", letters, &measured(letters).unwrap())
    }

    fn boxes(set: &Lettered) -> Vec<[f64; 4]> {
        // outlines are kept to four places of a hundredth
        let tidy = |v: f64| (v * 1e4).round() / 1e4 + 0.0;
        let bounds = set.characters.iter().map(|c| c.region.bounds().unwrap());
        bounds.map(|(low, high)| [low.x, low.y, high.x, high.y].map(tidy)).collect()
    }

    #[test]
    fn letters_stand_on_the_baseline_of_their_row_as_high_as_set() {
        let found = measured(&bars(DVec2::new(400.0, -33.0))).unwrap();
        assert_eq!((found.rows, found.cap_height, found.capital), (1, 70.0, 'H'));
        assert!(found.baselines.iter().all(|b| *b == -33.0));
        // 7 mm high a unit is 0.1 mm; bearings of 0.7 mm on each side
        let face = face_of(&bars(DVec2::new(400.0, -33.0)));
        let set = set("HO-Q", &own(&face, 7.0), &[]).unwrap();
        assert_eq!(
            boxes(&set),
            [[0.0, 0.0, 1.0, 7.0], [2.4, -0.15, 3.4, 7.15], [4.8, 3.0, 5.8, 4.0], [7.2, -2.0, 8.2, 7.15]]
        );
        assert!(set.size.distance(DVec2::new(8.2, 7.0)) < 1e-5);
    }

    #[test]
    fn rows_have_baselines_of_their_own_and_signs_begin_none() {
        let mut letters = bars(DVec2::ZERO);
        let lower = bars(DVec2::new(7.0, -150.0)).into_iter().zip("LTCJ_".chars());
        letters.extend(lower.map(|((_, region), c)| (c, region)));
        // far below its row, as a line under it is
        let last = letters.last_mut().unwrap();
        last.1 = last.1.mapped(|p| p - DVec2::Y * 50.0);
        let found = measured(&letters).unwrap();
        assert_eq!(found.rows, 2);
        assert_eq!(found.baselines, [[0.0; 5], [-150.0; 5]].concat());
        // all overlapping
        let upon: Vec<_> = bars(DVec2::ZERO)
            .into_iter()
            .map(|(c, r)| {
                let left = r.bounds().unwrap().0.x;
                (c, r.mapped(|p| p - DVec2::X * left))
            })
            .collect();
        assert_eq!(face_of(&upon), face_of(&bars(DVec2::ZERO)));
    }

    #[test]
    fn the_cap_height_is_that_of_the_best_letter_there_is() {
        let of = |texts: &str| {
            let letters: Vec<_> = bars(DVec2::ZERO).into_iter().zip(texts.chars()).map(|((_, r), c)| (c, r)).collect();
            measured(&letters).map(|m| (m.capital, m.cap_height, m.baselines[0]))
        };
        assert_eq!(of("HI").unwrap(), ('H', 70.0, 0.0));
        assert_eq!(of("xE").unwrap(), ('E', 70.0, 0.0));
        assert_eq!(of("wo8").unwrap(), ('8', 71.5, 0.0), "the tallest, from where most stand");
        assert_eq!(of("-").unwrap(), ('-', 70.0, 0.0));
        assert!(measured(&[]).unwrap_err().contains("no letters"));
        let flat = vec![('.', block(DVec2::ZERO, DVec2::new(1.0, 1.0))), ('H', Region::default())];
        assert!(measured(&flat).unwrap_err().contains("no letters"));
    }

    #[test]
    fn bearings_rise_blank_and_changes_of_letters_move_what_they_say() {
        let mut face = face_of(&bars(DVec2::ZERO));
        face.letters[1].left = 30.0;
        face.letters[1].right = -10.0;
        face.letters[1].rise = 20.0;
        face.blank = 50.0;
        let seven = own(&face, 7.0);
        let placed = |text: &str, lettering: &Lettering| boxes(&set(text, lettering, &[]).unwrap());
        assert_eq!(placed("HIH", &seven), [[0.0, 0.0, 1.0, 7.0], [3.8, 1.4, 4.8, 8.4], [4.8, 0.0, 5.8, 7.0]]);
        assert_eq!(placed("H H", &seven), [[0.0, 0.0, 1.0, 7.0], [5.9, 0.0, 6.9, 7.0]]);
        let wide = Lettering { width: 2.0, spacing: 0.5, ..seven.clone() };
        assert_eq!(placed("HH", &wide), [[0.0, 0.0, 2.0, 7.0], [5.3, 0.0, 7.3, 7.0]]);
        let change = LetterChange { size: 0.5, ..LetterChange::plain(0, "H") };
        assert_eq!(boxes(&set("H", &seven, &[change]).unwrap()), [[0.0, 0.0, 0.5, 3.5]]);
        let leaning = placed("H", &Lettering { slant: 45.0, ..seven });
        assert_eq!(leaning, [[0.0, 0.0, 8.0, 7.0]]);
    }

    #[test]
    fn strokes_are_as_wide_as_set_where_there_is_a_stem() {
        let face = face_of(&bars(DVec2::ZERO));
        let lettering = own(&face, 7.0);
        assert!((crate::stem(&lettering, 7.0).unwrap() - 1.0).abs() < 1e-5);
        for stroke in [0.6, 1.0, 1.8] {
            let set = set("HH", &Lettering { stroke: Some(stroke), ..lettering.clone() }, &[]).unwrap();
            for [left, low, right, high] in boxes(&set) {
                assert!((right - left - stroke).abs() < 0.01, "{left} to {right}");
                assert!(low.abs() < 0.01 && (high - 7.0).abs() < 0.01, "{low} to {high}");
            }
        }
        let signs: Vec<_> = bars(DVec2::ZERO).into_iter().skip(4).collect();
        let signs = own(&face_of(&signs), 7.0);
        let error = set("-", &Lettering { stroke: Some(1.0), ..signs }, &[]).unwrap_err();
        assert_eq!(error, LetteringError::NoStem("Bars".into()));
    }

    #[test]
    fn what_the_face_lacks_is_named_and_signs_are_drawn_for_it() {
        let mut face = face_of(&bars(DVec2::ZERO));
        let lack = set("H7", &own(&face, 7.0), &[]).unwrap_err();
        assert_eq!(lack, LetteringError::MissingGlyph { character: '7', face: "Bars".into() });
        let sign = centre_line::signs().next().unwrap();
        let set = set(&format!("H{sign}"), &own(&face, 7.0), &[]).unwrap();
        assert_eq!(set.characters.len(), 2);
        check(&face).unwrap();
        for outline in ["", "M0 0", "M0 0Q1 1 2 2Z", "rubbish", "M0 0L1e9 0L0 5Z"] {
            face.letters[2].outline = outline.into();
            let error = LetteringError::NoOutline { character: 'O', face: "Bars".into() };
            assert_eq!(crate::set("HO", &own(&face, 7.0), &[]).unwrap_err(), error, "{outline}");
            let refused = check(&face).unwrap_err();
            assert!(refused == error.to_string() || outline.is_empty(), "{refused}");
        }
    }
}
