//! Our own centre-line alphabet: what a round cutter of the stroke's width engraves in one pass.
//!
//! Drawn on the grid of ISO 3098 type B (from memory): capitals ten units high from centre line
//! edge to edge, the gap between characters two tenths of the height. Capitals, digits and signs.

use flat::{FLATTENED_TO, Region, offset};
use glam::DVec2;
use kurbo::{Affine, BezPath, PathEl};

/// Gap between characters as a share of the cap height (ISO 3098-1 type B, from memory).
const GAP: f64 = 0.2;
/// A blank's advance as a share of the cap height.
const BLANK: f64 = 0.6;

/// Lines of each character in units of a tenth of the centre line's height, y up.
const LINES: &[(char, &str)] = &[
    ('0', "M0 2.5 V7.5 A2.5 2.5 0 0 0 5 7.5 V2.5 A2.5 2.5 0 0 0 0 2.5 Z"),
    ('1', "M0 7.5 L2.5 10 V0"),
    ('2', "M0 7.5 A2.5 2.5 0 1 0 4.5 6 L0 0 H5"),
    ('3', "M0.5 9 A2.5 2.5 0 1 0 2.5 5 A2.5 2.5 0 1 0 0.5 1"),
    ('4', "M4 0 V10 L0 3 H5.5"),
    ('5', "M4.7 10 H0.5 L0.2 5 A2.9 2.9 0 1 0 0.2 0.8"),
    ('6', "M4.5 9 A2.5 2.5 0 0 1 0 7.5 V2.5 A2.5 2.5 0 0 1 5 2.5 V3 A2.5 2.5 0 0 1 0 3"),
    ('7', "M0 10 H5 L1.5 0"),
    ('8', "M2.5 5.2 A2.4 2.4 0 0 1 2.5 10 A2.4 2.4 0 0 1 2.5 5.2 A2.6 2.6 0 0 0 2.5 0 A2.6 2.6 0 0 0 2.5 5.2"),
    ('9', "M0.5 1 A2.5 2.5 0 0 1 5 2.5 V7.5 A2.5 2.5 0 0 1 0 7.5 V7 A2.5 2.5 0 0 1 5 7"),
    ('A', "M0 0 L3 10 L6 0 M0.9 3 H5.1"),
    ('B', "M0 5.2 H3 M0 0 V10 H3 A2.4 2.4 0 0 0 3 5.2 A2.6 2.6 0 0 0 3 0 H0"),
    ('C', "M6.3 8.6 A3.5 3.5 0 0 1 0 6.5 V3.5 A3.5 3.5 0 0 1 6.3 1.4"),
    ('D', "M0 0 V10 H2.5 A3.5 3.5 0 0 0 6 6.5 V3.5 A3.5 3.5 0 0 0 2.5 0 Z"),
    ('E', "M5 10 H0 V0 H5 M0 5.2 H4"),
    ('F', "M5 10 H0 V0 M0 5.2 H4"),
    ('G', "M6.3 8.6 A3.5 3.5 0 0 1 0 6.5 V3.5 A3.5 3.5 0 0 1 7 3.5 V4.8 H4"),
    ('H', "M0 0 V10 M6 0 V10 M0 5.2 H6"),
    ('I', "M0 0 V10"),
    ('J', "M0 2.5 A2.5 2.5 0 0 1 5 2.5 V10"),
    ('K', "M0 0 V10 M5.5 10 L0 4 M2 6.18 L5.8 0"),
    ('L', "M0 10 V0 H5"),
    ('M', "M0 0 V10 L3.5 4 L7 10 V0"),
    ('N', "M0 0 V10 L6 0 V10"),
    ('O', "M0 3.5 V6.5 A3.5 3.5 0 0 0 7 6.5 V3.5 A3.5 3.5 0 0 0 0 3.5 Z"),
    ('P', "M0 0 V10 H3.2 A2.6 2.6 0 0 0 3.2 4.8 H0"),
    ('Q', "M0 3.5 V6.5 A3.5 3.5 0 0 0 7 6.5 V3.5 A3.5 3.5 0 0 0 0 3.5 Z M4.4 2.8 L7 0"),
    ('R', "M0 0 V10 H3.2 A2.6 2.6 0 0 0 3.2 4.8 H0 M3 4.8 L6 0"),
    ('S', "M4.78 8.96 A2.6 2.6 0 1 1 2.7 4.8 A2.4 2.4 0 1 0 0.78 0.96"),
    ('T', "M0 10 H6 M3 10 V0"),
    ('U', "M0 10 V3 A3 3 0 0 1 6 3 V10"),
    ('V', "M0 10 L3 0 L6 10"),
    ('W', "M0 10 L2.2 0 L4.4 8 L6.6 0 L8.8 10"),
    ('X', "M0 0 L6 10 M0 10 L6 0"),
    ('Y', "M0 10 L3 5 L6 10 M3 5 V0"),
    ('Z', "M0 10 H6 L0 0 H6"),
    ('-', "M0 5 H3.5"),
    ('_', "M0 0 H5"),
    ('.', "M0 0 H0.01"),
    (',', "M0.6 0.4 L0 -1.4"),
    (':', "M0 2 H0.01 M0 7 H0.01"),
    ('/', "M0 0 L4.5 10"),
    ('+', "M0 5 H5 M2.5 2.5 V7.5"),
    ('=', "M0 3.5 H5 M0 6.5 H5"),
    ('>', "M0 8.5 L5 5 L0 1.5"),
    ('<', "M5 8.5 L0 5 L5 1.5"),
    ('(', "M1.9 10 A7 7 0 0 1 1.9 0"),
    (')', "M0 10 A7 7 0 0 0 0 0"),
    ('#', "M1 0 L2.2 10 M4 0 L5.2 10 M0 3.3 H5.6 M0.6 6.7 H6.2"),
];

/// Plain signs of our own, on the same grid; they serve in every lettering face that lacks them.
const SIGNS: &[(char, &str)] = &[
    ('↑', "M3 0 V10 M0 6 L3 10 L6 6"),
    ('↓', "M3 10 V0 M0 4 L3 0 L6 4"),
    ('→', "M0 5 H9 M5.6 8.2 L9 5 L5.6 1.8"),
    ('←', "M9 5 H0 M3.4 8.2 L0 5 L3.4 1.8"),
    ('△', "M0 0 H9 L4.5 10 Z"),
    ('⏚', "M4 10 V4.6 M0 4.6 H8 M1.4 2.3 H6.6 M2.8 0 H5.2"),
    ('⊕', "M0 5 A5 5 0 0 0 10 5 A5 5 0 0 0 0 5 Z M2.4 5 H7.6 M5 2.4 V7.6"),
    ('⊖', "M0 5 A5 5 0 0 0 10 5 A5 5 0 0 0 0 5 Z M2.4 5 H7.6"),
];
/// The first of the seven resin triangles; those of the numbers 2 to 7 follow it.
const RESIN: char = '♳';

/// All signs in the order in which they are offered.
pub fn signs() -> impl Iterator<Item = char> {
    let resins = (0..7).filter_map(|n| char::from_u32(RESIN as u32 + n));
    SIGNS.iter().map(|(sign, _)| *sign).chain(resins)
}

/// An equilateral triangle as high as the capitals with its number in the middle (ASTM D7611: the number of the
/// resin inside a solid triangle; proportions are our own).
fn resin(c: char) -> Option<BezPath> {
    let number = (c as u32).checked_sub(RESIN as u32).filter(|n| *n < 7)? + 1;
    let digit = char::from_digit(number, 10)?;
    let mut path = BezPath::from_svg("M0 0 H11.547 L5.7735 10 Z").ok()?;
    let (_, drawn) = LINES.iter().find(|(known, _)| *known == digit)?;
    let mut inner = BezPath::from_svg(drawn).ok()?;
    let wide = kurbo::Shape::bounding_box(&inner);
    // the middle of the triangle lies a third of the way up
    inner.apply_affine(
        Affine::translate((5.7735, 3.3)) * Affine::scale(0.4) * Affine::translate((-wide.center().x, -5.0)),
    );
    path.extend(inner);
    Some(path)
}

/// The centre lines of a character or sign.
fn lines_of(c: char) -> Option<BezPath> {
    let drawn = LINES.iter().chain(SIGNS).find(|(known, _)| *known == c);
    match drawn {
        Some((_, drawn)) => {
            Some(BezPath::from_svg(drawn).expect("a test holds that every line of the alphabet parses"))
        }
        None => resin(c),
    }
}

/// A sign for a face that lacks it: as [`character`], with half of the gap before it.
pub(crate) fn sign(c: char, cap_height: f64, stroke: f64) -> Option<(Region, f64)> {
    signs().any(|s| s == c).then_some(())?;
    let (region, advance) = character(c, cap_height, stroke, 1.0, 0.0)?;
    let before = DVec2::X * (GAP * cap_height / 2.0);
    Some((region.mapped(|p| p + before), advance))
}

/// One character: its swept region with the left edge at x = 0 on the baseline, and how far the
/// next one starts, mm. `width` is a share of the alphabet's own, `slope` how far uprights lean to the
/// right over their height. `None` when the alphabet lacks it.
#[must_use]
pub fn character(c: char, cap_height: f64, stroke: f64, width: f64, slope: f64) -> Option<(Region, f64)> {
    if c == ' ' {
        return Some((Region::default(), BLANK * cap_height * width));
    }
    let mut lines = upright(c, cap_height, stroke, width)?;
    let right = lines.iter().flatten().map(|p| p.x).fold(0.0, f64::max) + stroke / 2.0;
    for p in lines.iter_mut().flatten() {
        p.x += p.y * slope;
    }
    Some((offset::swept(&lines, stroke), right + GAP * cap_height))
}

/// The flattened centre lines of an upright character, mm: half a stroke inside of its box on every side.
fn upright(c: char, cap_height: f64, stroke: f64, width: f64) -> Option<Vec<Vec<DVec2>>> {
    let path = lines_of(c)?;
    // The stroke's outer edge stands on the baseline and reaches the cap height.
    let unit = (cap_height - stroke) / 10.0;
    let mut lines: Vec<Vec<DVec2>> = Vec::new();
    kurbo::flatten(&path, FLATTENED_TO / unit / 2.0, |el| match el {
        PathEl::MoveTo(p) => lines.push(vec![DVec2::new(p.x, p.y)]),
        PathEl::LineTo(p) => lines.last_mut().expect("a path begins with a move").push(DVec2::new(p.x, p.y)),
        PathEl::ClosePath => {
            let line = lines.last_mut().expect("a path begins with a move");
            line.push(line[0]);
        }
        PathEl::QuadTo(..) | PathEl::CurveTo(..) => unreachable!("flattening leaves lines only"),
    });
    let left = lines.iter().flatten().map(|p| p.x).fold(f64::INFINITY, f64::min);
    for p in lines.iter_mut().flatten() {
        *p = DVec2::new((p.x - left) * unit * width + stroke / 2.0, p.y * unit + stroke / 2.0);
    }
    Some(lines)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_character_is_one_stroke_wide_and_as_high_as_the_capitals() {
        for (c, _) in LINES {
            let (region, _) = character(*c, 3.5, 0.35, 1.0, 0.0).unwrap();
            let (low, high) = region.bounds().unwrap();
            if c.is_ascii_alphanumeric() {
                assert!(low.y.abs() < 0.003 && (high.y - 3.5).abs() < 0.003, "{c}: {low} {high}");
                assert_eq!(region.islands.len(), 1, "{c}");
            }
            assert!(low.x.abs() < 0.003, "{c}");
        }
    }

    fn from_lines(p: DVec2, lines: &[Vec<DVec2>]) -> f64 {
        let segments = lines.iter().flat_map(|line| line.windows(2));
        segments.map(|ends| flat::segment::distance(p, [ends[0], ends[1]])).fold(f64::INFINITY, f64::min)
    }

    #[test]
    fn signs_are_as_high_as_the_capitals_and_one_stroke_wide_all_over() {
        let (high, stroke) = (3.5, 0.35);
        for c in signs() {
            let (region, advance) = character(c, high, stroke, 1.0, 0.0).unwrap();
            let (low, top) = region.bounds().unwrap();
            assert!(low.x.abs() < 0.003 && top.y < high + 0.003 && low.y > -0.003, "{c}: {low} {top}");
            assert!(advance > top.x, "{c}");
            // every point of the edge lies half a stroke from the nearest line, so the stroke is nowhere thinner or wider
            let lines = upright(c, high, stroke, 1.0).unwrap();
            for (a, b) in region.contours().flat_map(|edge| edge.iter().zip(edge.iter().cycle().skip(1))) {
                for p in [*a, a.midpoint(*b)] {
                    let away = from_lines(p, &lines);
                    assert!((away - stroke / 2.0).abs() < 0.003, "{c}: {away} at {p}");
                }
            }
        }
        let counters = |c| character(c, high, stroke, 1.0, 0.0).unwrap().0;
        assert_eq!((counters('△').counters(), counters('⏚').islands.len()), (1, 3));
        // the number stands clear of its triangle
        for c in signs().filter(|c| *c >= RESIN) {
            assert_eq!(counters(c).islands.len(), 2, "{c}");
        }
    }

    #[test]
    fn counters_are_those_of_the_letters() {
        for (c, counters) in [
            ('0', 1),
            ('4', 1),
            ('6', 1),
            ('8', 2),
            ('9', 1),
            ('A', 1),
            ('B', 2),
            ('C', 0),
            ('D', 1),
            ('P', 1),
            ('R', 1),
            ('7', 0),
            ('#', 1),
        ] {
            assert_eq!(character(c, 3.5, 0.35, 1.0, 0.0).unwrap().0.counters(), counters, "{c}");
        }
    }

    #[test]
    fn a_straight_stroke_sweeps_a_slot() {
        // a slot: rectangle between the ends plus a disc of the stroke's diameter
        let (region, _) = character('I', 5.0, 0.5, 1.0, 0.0).unwrap();
        let slot = 4.5 * 0.5 + std::f64::consts::PI * 0.25 * 0.25;
        assert!((region.area() - slot).abs() < 0.003 * std::f64::consts::PI * 0.5, "{}", region.area());
    }
}
