//! A text as it was lettered.

use flat::Region;
use glam::DVec2;

/// One character with its region. Blanks have none and are left out.
#[derive(Clone, Debug, PartialEq)]
pub struct Character {
    /// Which one of the text it is, from 0, blanks not counted.
    pub at: u32,
    /// What it is: one character, or a base with the marks composed on it.
    pub text: String,
    pub line: usize,
    /// mm; the origin is the lower left corner of the text's box.
    pub region: Region,
    /// Turned by itself, radians counter-clockwise.
    pub turn: f64,
    /// Where its face has capitals stand and end, mm up from the middle of its own extents before it was turned.
    pub capitals: [f64; 2],
    /// It belongs to the core of a dial, which turns in the tool.
    pub core: bool,
}

/// A text set in mm. Its box runs from the outermost ink left and right, and from the lowest
/// baseline to the top of the first line's capitals.
#[derive(Clone, Debug, PartialEq)]
pub struct Lettered {
    pub characters: Vec<Character>,
    pub size: DVec2,
    /// What was set in the end: differs from what was asked for where a length was to be fitted.
    pub cap_height: f64,
    pub width: f64,
    pub spacing: f64,
    /// One piece: a baseline carries it as it is.
    pub whole: bool,
    /// The field round it is a circle.
    pub round: bool,
    /// Kept free for what is struck in later.
    pub fields: Vec<Region>,
}
