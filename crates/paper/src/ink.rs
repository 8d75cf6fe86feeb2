//! What stands on a page: in points of 1/72 inch from its upper left corner.

use crate::face::Face;
use std::sync::Arc;

/// Red, green, blue.
pub type Colour = [u8; 3];

pub const INK: Colour = [0x22, 0x30, 0x2d];
pub const SOFT: Colour = [0x5d, 0x66, 0x5f];
pub const FAIL: Colour = [0xa3, 0x22, 0x1c];
pub const MARGINAL: Colour = [0x8a, 0x5a, 0x00];
pub const LINE: Colour = [0xd0, 0xc9, 0xb4];
pub const SAND: Colour = [0xf3, 0xee, 0xdf];

pub type At = [f32; 2];

/// Pixels row by row from above: red, green, blue, cover.
#[derive(Debug, PartialEq, Eq)]
pub struct Pixels {
    pub width: usize,
    pub height: usize,
    pub rgba: Vec<u8>,
}

#[derive(Clone, Debug, PartialEq)]
pub enum Op {
    /// `at` is where its baseline begins.
    Text {
        at: At,
        size: f32,
        face: Face,
        colour: Colour,
        text: String,
    },
    Line {
        points: Vec<At>,
        width: f32,
        colour: Colour,
    },
    /// Rings, filled as one.
    Area {
        rings: Vec<Vec<At>>,
        colour: Colour,
    },
    /// What stands inside of rings.
    Within {
        rings: Vec<Vec<At>>,
        ops: Vec<Op>,
    },
    Image {
        pixels: Arc<Pixels>,
        at: At,
        size: At,
    },
}

/// The four corners of a box.
#[must_use]
pub fn corners(at: At, size: At) -> Vec<At> {
    let [x, y] = at;
    let [w, h] = size;
    vec![[x, y], [x + w, y], [x + w, y + h], [x, y + h]]
}

/// A dot of this radius.
#[must_use]
pub fn dot([x, y]: At, radius: f32, colour: Colour) -> Op {
    let at = |k: u8| {
        let a = std::f32::consts::TAU * f32::from(k) / 24.0;
        [x + radius * a.cos(), y + radius * a.sin()]
    };
    Op::Area { rings: vec![(0..24).map(at).collect()], colour }
}
