//! Marks that draw something in place of a text, out of characters like those of a text.

mod artwork;
mod dial;
mod tally;

use crate::{
    error::LetteringError,
    lettered::{Character, Lettered},
    set::set,
};
use flat::{FLATTENED_TO, Island, Region, thin};
use glam::{DAffine2, DVec2};
use std::f64::consts::{PI, TAU};
use trade::{Figure, Lettering, Mark, figure::day};

/// What a mark draws: its text, or its figure for the date that its text is.
///
/// # Errors
/// As [`set`]; a figure that its settings leave no room for.
pub fn drawn(mark: &Mark) -> Result<Lettered, LetteringError> {
    let date = || day(&mark.text).map_err(LetteringError::Figure);
    match &mark.figure {
        None => set(&mark.text, &mark.lettering, &mark.letters),
        Some(Figure::Dial(dial)) => dial::drawn(dial, date()?, &mark.lettering),
        Some(Figure::Tally(tally)) => tally::drawn(tally, date()?, &mark.lettering),
        Some(Figure::Artwork(artwork)) => artwork::drawn(artwork, &mark.lettering),
        Some(Figure::Pocket(pocket)) => {
            let radius = pocket.diameter / 2.0 + pocket.gap;
            let mut pen = Pen::new(&mark.lettering);
            pen.put(&mark.text, disc(DVec2::splat(radius), radius), 0.0);
            Ok(Lettered { round: true, ..pen.of_size(DVec2::splat(2.0 * radius)) })
        }
    }
}

/// Draws a figure, piece by piece.
struct Pen<'a> {
    lettering: Lettering,
    given: &'a Lettering,
    characters: Vec<Character>,
    /// What is drawn now belongs to the core of a dial.
    core: bool,
}

impl<'a> Pen<'a> {
    fn new(given: &'a Lettering) -> Self {
        // a fitted length is that of a text
        let lettering = Lettering { fit: None, ..given.clone() };
        Self { lettering, given, characters: Vec::new(), core: false }
    }

    /// Width of lines and arrows, mm.
    fn stroke(&self) -> f64 {
        self.given.cutter_width()
    }

    /// A piece of the figure, turned by so many radians about itself.
    fn put(&mut self, text: &str, region: Region, turn: f64) {
        let at = self.characters.len() as u32;
        // nothing of a figure reaches over its capitals
        let capitals = [f64::NEG_INFINITY, f64::INFINITY];
        self.characters.push(Character { at, text: text.into(), line: 0, region, turn, capitals, core: self.core });
    }

    /// A short text as one region.
    fn label(&self, text: String) -> Result<Label, LetteringError> {
        let set = set(&text, &self.lettering, &[])?;
        let islands = set.characters.into_iter().flat_map(|c| c.region.islands).collect();
        // there are many of them, and they are small
        Ok(Label { text, region: thin::thinned(&Region { islands }, FLATTENED_TO), size: set.size })
    }

    /// The same as one character, the middle of its box at a place and turned about it.
    fn put_label(&mut self, label: &Label, middle: DVec2, turn: f64) {
        let there = placed(middle, turn);
        self.put(&label.text, label.region.mapped(|p| there.transform_point2(p - label.size / 2.0)), turn);
    }

    fn of_size(self, size: DVec2) -> Lettered {
        let Lettering { cap_height, width, spacing, .. } = self.lettering;
        let characters = self.characters;
        Lettered { characters, size, cap_height, width, spacing, whole: true, round: false, fields: Vec::new() }
    }
}

/// A short text as one region in its box.
struct Label {
    text: String,
    region: Region,
    /// mm.
    size: DVec2,
}

/// Of labels the widest, mm.
fn widest(labels: &[Label]) -> f64 {
    labels.iter().map(|l| l.size.x).fold(0.0, f64::max)
}

/// What carries the origin to a place, turned there.
fn placed(at: DVec2, turn: f64) -> DAffine2 {
    DAffine2::from_angle_translation(turn, at)
}

/// A disc, its edge no farther inside than outlines are flattened to.
fn disc(middle: DVec2, radius: f64) -> Region {
    Region { islands: vec![Island { outer: circle(middle, radius), counters: Vec::new() }] }
}

/// A line of width `stroke` whose outer edge is a circle.
fn ring(middle: DVec2, radius: f64, stroke: f64) -> Region {
    let mut counter = circle(middle, radius - stroke);
    counter.reverse();
    Region { islands: vec![Island { outer: circle(middle, radius), counters: vec![counter] }] }
}

/// Counter-clockwise.
fn circle(middle: DVec2, radius: f64) -> Vec<DVec2> {
    let step = (1.0 - FLATTENED_TO / radius).clamp(-1.0, 1.0).acos();
    let pieces = (PI / step).ceil().clamp(12.0, 4000.0) as u32;
    (0..pieces).map(|k| middle + DVec2::from_angle(TAU * f64::from(k) / f64::from(pieces)) * radius).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::faces;
    use flat::signed_area;
    use trade::{
        Tops,
        figure::{Dial, DialOf, DialRing, Pocket, Tally},
        recipe::DateFrom,
    };

    const TEXT: &str = "2026-11-26";

    fn mark(figure: Figure, cap: f64) -> Mark {
        let lettering = Lettering { cap_height: cap, ..Lettering::default() };
        Mark { text: TEXT.into(), figure: Some(figure), lettering, ..Mark::default() }
    }

    fn dial(of: &[DialOf], diameter: f64) -> Dial {
        let rings = of.iter().map(|of| DialRing { of: *of, every: 1 }).collect();
        Dial { from: DateFrom::Handoff, diameter, rings, tops: Tops::Out, gap: 0.3, year: 2, core_apart: false }
    }

    fn middle(c: &Character) -> DVec2 {
        let (low, high) = c.region.bounds().unwrap();
        (low + high) / 2.0
    }

    /// Degrees clockwise from the top about the middle of a figure.
    fn clock(at: DVec2, set: &Lettered) -> f64 {
        let p = at - set.size / 2.0;
        p.x.atan2(p.y).to_degrees().rem_euclid(360.0)
    }

    /// The outermost point of a character from the middle of its figure.
    fn tip(c: &Character, set: &Lettered) -> DVec2 {
        let from = |p: &DVec2| p.distance(set.size / 2.0);
        *c.region.contours().flatten().max_by(|a, b| from(a).total_cmp(&from(b))).unwrap()
    }

    #[test]
    fn months_stand_like_the_hours_of_a_clock_and_the_arrow_points_at_one() {
        for tops in [Tops::Out, Tops::In] {
            let set = drawn(&mark(Figure::Dial(Dial { tops, ..dial(&[DialOf::Months], 12.0) }), 1.2)).unwrap();
            let find = |text: &str| set.characters.iter().find(|c| c.text == text).unwrap();
            for month in 1..=12 {
                let c = find(&month.to_string());
                let off = (clock(middle(c), &set) - f64::from(month) * 30.0 + 180.0).rem_euclid(360.0) - 180.0;
                assert!(off.abs() < 4.0, "{month} is {off} off");
                // the tops of an unturned number point up: away from the middle at 12, to it at 6
                let up = DVec2::from_angle(c.turn).perp();
                let out = DVec2::new(
                    (f64::from(month) * 30.0).to_radians().sin(),
                    (f64::from(month) * 30.0).to_radians().cos(),
                );
                assert!((up.dot(out) - if tops == Tops::Out { 1.0 } else { -1.0 }).abs() < 1e-9);
            }
            let arrow = find("↑");
            assert!((clock(tip(arrow, &set), &set) - 330.0).abs() < 1.5, "November");
            assert!((clock(DVec2::from_angle(arrow.turn).perp() + set.size / 2.0, &set) - 330.0).abs() < 1e-6);
            // the year stands left and right of the arrow, as it is read with the arrow up
            let beside = |text: &str| DVec2::from_angle(-arrow.turn).rotate(middle(find(text)) - set.size / 2.0).x;
            // "2" and "6" of the year are of the core, those of the ring are not
            let core: Vec<&Character> = set.characters.iter().filter(|c| c.core).collect();
            assert_eq!(core.iter().map(|c| c.text.as_str()).collect::<Vec<_>>(), ["↑", "2", "6"]);
            let x = |c: &Character| DVec2::from_angle(-arrow.turn).rotate(middle(c) - set.size / 2.0).x;
            assert!(x(core[1]) < -0.3 && x(core[2]) > 0.3 && beside("↑").abs() < 0.05);
        }
    }

    #[test]
    fn every_piece_of_a_dial_keeps_its_gap_and_the_whole_has_its_diameter() {
        let three = [DialOf::Weeks, DialOf::Days, DialOf::Months];
        for (of, diameter) in [(&three[2..], 12.0), (&three[1..], 30.0), (&three[..], 52.0)] {
            let set = drawn(&mark(Figure::Dial(dial(of, diameter)), 1.0)).unwrap();
            assert_eq!(set.size, DVec2::splat(diameter));
            let (low, high) = set.characters[0].region.bounds().unwrap();
            assert!(low.length() < 0.01 && high.distance(DVec2::splat(diameter)) < 0.01);
            let lines: Vec<(f64, f64)> = set
                .characters
                .iter()
                .filter(|c| c.text == "○")
                .map(|c| {
                    let radius = |ring: &Vec<DVec2>| (signed_area(ring).abs() / PI).sqrt();
                    (radius(&c.region.islands[0].outer), radius(&c.region.islands[0].counters[0]))
                })
                .collect();
            assert_eq!(lines.len(), of.len() + 1);
            for c in set.characters.iter().filter(|c| c.text != "○") {
                let away = |p: &DVec2| p.distance(set.size / 2.0);
                let far = c.region.contours().flatten().map(away).fold(0.0, f64::max);
                let near = c.region.contours().flatten().map(away).fold(f64::INFINITY, f64::min);
                for (outer, inner) in &lines {
                    assert!(far < inner - 0.29 || near > outer + 0.25, "{}: {near} {far} at {inner} {outer}", c.text);
                }
            }
            // what is 53, 31, 12
            let numbers = of.iter().map(|of| usize::from(of.divisions())).sum::<usize>();
            let pointers = of.len() - 1;
            assert_eq!(set.characters.len(), lines.len() + numbers + pointers + 3);
        }
    }

    #[test]
    fn the_pointer_of_each_ring_is_at_its_number() {
        let set = drawn(&mark(Figure::Dial(dial(&[DialOf::Days, DialOf::Months], 30.0)), 1.0)).unwrap();
        let pointer = set.characters.iter().find(|c| c.text == "▲").unwrap();
        assert!((clock(tip(pointer, &set), &set) - 26.0 / 31.0 * 360.0).abs() < 0.5);
        assert!(!pointer.core);
    }

    #[test]
    fn numbers_between_may_be_dots() {
        let mut weeks = dial(&[DialOf::Weeks], 24.0);
        weeks.rings[0].every = 4;
        let set = drawn(&mark(Figure::Dial(weeks), 1.0)).unwrap();
        let texts = |t: &str| set.characters.iter().filter(|c| c.text == t).count();
        assert_eq!(texts("●"), 40);
        assert_eq!(set.characters.iter().filter(|c| c.text.parse::<u32>().is_ok_and(|n| n % 4 == 0)).count(), 13);
    }

    #[test]
    fn what_has_no_room_says_so() {
        for (figure, cap, says) in [
            (Figure::Dial(dial(&[DialOf::Days], 12.0)), 1.2, "the 31 numbers"),
            (Figure::Dial(dial(&[DialOf::Months], 7.0)), 1.2, "arrow"),
            (Figure::Dial(dial(&[DialOf::Months], 2.0)), 1.2, "no room"),
            (tally(2026, 1, 1.0), 1.2, "months stand"),
            (tally(2020, 5, 3.0), 1.2, "ends with 2024"),
        ] {
            let error = drawn(&mark(figure, cap)).unwrap_err().to_string();
            assert!(error.contains(says), "{error} should say {says}");
        }
    }

    fn tally(first_year: i32, years: u8, pitch: f64) -> Figure {
        Figure::Tally(Tally { from: DateFrom::Handoff, first_year, years, pitch, dot: 0.8, labels: true })
    }

    #[test]
    fn a_tally_has_a_dot_for_every_month_that_is_over_and_a_field_for_every_other() {
        let set = drawn(&mark(tally(2025, 3, 2.5), 1.2)).unwrap();
        let dots: Vec<&Character> = set.characters.iter().filter(|c| c.text == "●").collect();
        // 12 of 2025 and 11 of 2026
        assert_eq!((dots.len(), set.fields.len()), (23, 13));
        assert!(dots.iter().all(|d| (d.region.area() - PI * 0.16).abs() < 0.01));
        let find = |text: &str| middle(set.characters.iter().find(|c| c.text == text).unwrap());
        // November of 2026: under the 11, beside the 26
        let last = middle(dots[22]);
        assert!((last.x - find("11").x).abs() < 0.1 && (last.y - find("26").y).abs() < 0.1);
        // the first year is the uppermost row
        assert!(find("25").y > find("26").y && find("26").y > find("27").y && find("1").y > find("25").y);
        let (low, high) = set.fields[0].bounds().unwrap();
        assert!(((low + high) / 2.0).distance(last + DVec2::X * 2.5) < 1e-9, "December follows");
        // before its first year nothing is dotted
        assert_eq!(drawn(&mark(tally(2027, 2, 2.5), 1.2)).unwrap().fields.len(), 24);
    }

    #[test]
    fn a_pocket_is_the_insert_and_its_gap() {
        let set = drawn(&mark(Figure::Pocket(Pocket { diameter: 6.0, gap: 0.1 }), 1.0)).unwrap();
        assert!((set.characters[0].region.area() - PI * 3.1 * 3.1).abs() < 0.05 && set.round);
    }

    #[test]
    fn figures_are_drawn_in_every_face() {
        for face in faces::faces() {
            let mut dial = mark(Figure::Dial(dial(&[DialOf::Months], 16.0)), 1.2);
            dial.lettering.face = face.id.into();
            assert_eq!(drawn(&dial).unwrap().characters.len(), 17, "{}", face.id);
        }
    }
}
