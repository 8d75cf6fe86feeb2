//! What a round cutter leaves of one letter in the steel, at the level on which its tip runs: of a raised letter the
//! bottom of its pocket, which is the letter's top; round a sunken one, which stands in the steel, the surface beside it.

use crate::letter_flat::LetterFlat;
use flat::{
    Region,
    cutter::{largest, left_beside, left_in, touching},
    overlay,
};
use glam::DVec2;

/// Places are those of the letter laid flat, mm; figures are those in the steel.
#[derive(Clone, Debug, PartialEq)]
pub struct Uncut {
    /// Of the cutter, mm.
    pub diameter: f64,
    /// How many times as large as the part the steel is.
    pub scale: f64,
    /// Rings of what is left, material to the left.
    pub rings: Vec<Vec<DVec2>>,
    /// mm².
    pub area: f64,
    /// How many pieces it is in.
    pub places: usize,
    /// The largest cutter that leaves nothing wider than [`flat::cutter::SEEN`], mm; `None` where none does.
    pub largest: Option<f64>,
}

/// No cutter that is looked for is larger, mm.
const LARGEST: f64 = 6.0;

/// What a cutter of `diameter` mm leaves of a letter in steel that is `scale` times as large as the part; `None` where it has
/// no level on which a tip could run.
#[must_use]
pub fn uncut(letter: &LetterFlat, diameter: f64, scale: f64) -> Option<Uncut> {
    let in_steel = |rings: &[Vec<DVec2>]| -> Region {
        let larger = |ring: &Vec<DVec2>| ring.iter().map(|p| *p * scale).collect();
        overlay::joined(&rings.iter().map(larger).collect::<Vec<_>>())
    };
    let own = in_steel(if letter.sunken { &letter.root } else { &letter.top });
    if own.islands.is_empty() {
        return None;
    }
    // what stands beside it keeps the cutter out too
    let all = letter.beside.iter().fold(own.clone(), |all, beside| overlay::with(&all, &in_steel(beside)));
    let left = |diameter: f64| {
        if letter.sunken { touching(&left_beside(&all, diameter), &own) } else { left_in(&own, diameter) }
    };
    let found = left(diameter);
    Some(Uncut {
        diameter,
        scale,
        rings: found.contours().map(|ring| ring.iter().map(|p| *p / scale).collect()).collect(),
        // a sum of nothing is −0.0
        area: if found.islands.is_empty() { 0.0 } else { found.area() },
        places: found.islands.len(),
        largest: largest(LARGEST, left),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn letter(sunken: bool) -> LetterFlat {
        // an angle 2 × 2, its arms 0.5 wide
        let ring = [(0.0, 0.0), (2.0, 0.0), (2.0, 0.5), (0.5, 0.5), (0.5, 2.0), (0.0, 2.0)];
        let ring: Vec<DVec2> = ring.iter().map(|&(x, y)| DVec2::new(x, y)).collect();
        let bar: Vec<DVec2> = [(2.3, 0.0), (2.8, 0.0), (2.8, 2.0), (2.3, 2.0)].map(|(x, y)| DVec2::new(x, y)).to_vec();
        LetterFlat {
            character: 0,
            text: "L".into(),
            top: vec![ring.clone()],
            root: vec![ring],
            stroke: None,
            spaces: Vec::new(),
            gaps: Vec::new(),
            beside: vec![vec![bar]],
            heights: None,
            stretch: 0.0,
            sunken,
        }
    }

    #[test]
    fn a_pocket_keeps_its_outer_corners_and_what_stands_its_inner_one() {
        // (1 − π/4) r² of each square corner, in steel 1.02 times as large
        let corner = (1.0 - std::f64::consts::FRAC_PI_4) * 0.15 * 0.15;
        let pocket = uncut(&letter(false), 0.3, 1.02).unwrap();
        assert_eq!(pocket.places, 5);
        assert!((pocket.area / (5.0 * corner) - 1.0).abs() < 0.03, "{}", pocket.area);
        // its neighbour lies 0.3 off, 0.306 in the steel: with 0.3 the cutter goes through, with 0.32 it doesn't
        let standing = uncut(&letter(true), 0.3, 1.02).unwrap();
        assert_eq!(standing.places, 1);
        assert!((standing.area / corner - 1.0).abs() < 0.03, "{}", standing.area);
        let between = uncut(&letter(true), 0.32, 1.02).unwrap();
        assert!(between.places == 2 && between.area > 0.1, "{between:?}");
        assert!(uncut(&letter(true), 0.32, 1.1).unwrap().places == 1, "0.33 in the steel");
        // in square corners something is always left, but for what is too small to be told
        assert!(pocket.largest.unwrap() < 0.08, "{:?}", pocket.largest);
        let nothing = LetterFlat { top: Vec::new(), ..letter(false) };
        assert_eq!(uncut(&nothing, 0.3, 1.0), None);
    }
}
