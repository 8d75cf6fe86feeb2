//! Dimensions: extension lines, arrows, figures. Figures stand upright on every one, beside the geometry: those across below it,
//! those upright to its left, each in a lane of its own, so that none lies over another.

use crate::sheet::SMALL;
use paper::{
    face::Face,
    ink::{At, INK, Op},
};

/// From the geometry to the first lane, and from lane to lane.
pub const FIRST: f32 = 16.0;
pub const LANE_DOWN: f32 = 15.0;
pub const LANE_LEFT: f32 = 40.0;
const ARROW: f32 = 6.0;
const THIN: f32 = 0.4;
/// Extension lines begin so far off the geometry, and end so far past the lane.
const OFF: f32 = 1.5;
const PAST: f32 = 2.5;

/// One end of a dimension: where on the sheet, and whether there is something to extend from; what lies farther off than is
/// drawn has an arrow that runs out of the picture.
#[derive(Clone, Copy, Debug)]
pub struct End {
    pub at: At,
    pub drawn: bool,
}

impl End {
    pub fn at(at: At) -> Self {
        Self { at, drawn: true }
    }
}

fn line(points: Vec<At>) -> Op {
    Op::Line { points, width: THIN, colour: INK }
}

/// The tip at a place, coming along a unit vector.
fn arrow([x, y]: At, [dx, dy]: At) -> Op {
    let back = [x - ARROW * dx, y - ARROW * dy];
    let side = [ARROW / 6.0 * -dy, ARROW / 6.0 * dx];
    let rings = vec![vec![[x, y], [back[0] + side[0], back[1] + side[1]], [back[0] - side[0], back[1] - side[1]]]];
    Op::Area { rings, colour: INK }
}

fn figure(text: &str, at: At) -> Op {
    Op::Text { at, size: SMALL, face: Face::Text, colour: INK, text: text.to_owned() }
}

/// How wide a dimension's figure is.
pub fn wide(text: &str) -> f32 {
    Face::Text.width(text, SMALL)
}

/// A dimension across, from left to right, whose line lies at `y`.
pub fn across(from: End, to: End, y: f32, text: &str) -> Vec<Op> {
    let (from, to) = if from.at[0] <= to.at[0] { (from, to) } else { (to, from) };
    let [a, b] = [from.at[0], to.at[0]];
    let mut ops: Vec<Op> = [from, to]
        .iter()
        .filter(|end| end.drawn)
        .map(|end| line(vec![[end.at[0], end.at[1] + OFF], [end.at[0], y + PAST]]))
        .collect();
    let width = wide(text);
    let inside = b - a > width + 2.0 * ARROW + 4.0;
    let tight = b - a < 2.0 * ARROW + 2.0;
    if tight {
        // arrows from outside
        ops.push(line(vec![[a - 2.0 * ARROW, y], [b + 2.0 * ARROW, y]]));
        ops.push(arrow([a, y], [1.0, 0.0]));
        ops.push(arrow([b, y], [-1.0, 0.0]));
    } else {
        ops.push(line(vec![[a, y], [b, y]]));
        ops.push(arrow([a, y], [-1.0, 0.0]));
        ops.push(arrow([b, y], [1.0, 0.0]));
    }
    ops.push(if inside {
        figure(text, [(a + b - width) / 2.0, y - 2.0])
    } else {
        figure(text, [b + if tight { 2.0 * ARROW } else { 0.0 } + 3.0, y + 2.4])
    });
    ops
}

/// A dimension upright, whose line lies at `x`; its figure stands to the left of it.
pub fn upright(from: End, to: End, x: f32, text: &str) -> Vec<Op> {
    let (from, to) = if from.at[1] <= to.at[1] { (from, to) } else { (to, from) };
    let [a, b] = [from.at[1], to.at[1]];
    let mut ops: Vec<Op> = [from, to]
        .iter()
        .filter(|end| end.drawn)
        .map(|end| {
            let side = if end.at[0] >= x { 1.0 } else { -1.0 };
            line(vec![[end.at[0] - side * OFF, end.at[1]], [x - side * PAST, end.at[1]]])
        })
        .collect();
    if b - a < 2.0 * ARROW + 2.0 {
        ops.push(line(vec![[x, a - 2.0 * ARROW], [x, b + 2.0 * ARROW]]));
        ops.push(arrow([x, a], [0.0, 1.0]));
        ops.push(arrow([x, b], [0.0, -1.0]));
    } else {
        ops.push(line(vec![[x, a], [x, b]]));
        ops.push(arrow([x, a], [0.0, -1.0]));
        ops.push(arrow([x, b], [0.0, 1.0]));
    }
    ops.push(figure(text, [x - 3.0 - wide(text), (a + b) / 2.0 + 2.4]));
    ops
}
