//! A section as it is drawn: hatched body by body, its edge, what was measured there, and a scale.

use crate::{
    face::Face,
    ink::{At, FAIL, INK, Op, SAND, SOFT, corners, dot},
};
use glam::{DVec2, DVec3};
use workbench::section::{Section, Through};

/// Lines of the hatching are so far apart, points.
const HATCH: f32 = 4.2;

/// How a plane is laid on a page.
pub struct Window {
    pub at: At,
    pub size: At,
    /// So many mm are seen from left to right.
    pub wide: f64,
}

impl Window {
    fn scale(&self) -> f64 {
        f64::from(self.size[0]) / self.wide
    }

    /// How many times larger than it is.
    #[must_use]
    pub fn times(&self) -> f64 {
        const POINT: f64 = 25.4 / 72.0; // mm
        self.scale() * POINT
    }
}

/// Points of the part to points of the page.
struct Laid<'a> {
    window: &'a Window,
    middle: DVec3,
    right: DVec3,
    up: DVec3,
}

impl Laid<'_> {
    fn at(&self, p: DVec3) -> At {
        let Window { at, size, .. } = self.window;
        let flat = DVec2::new((p - self.middle).dot(self.right), (p - self.middle).dot(self.up)) * self.window.scale();
        [at[0] + size[0] / 2.0 + flat.x as f32, at[1] + size[1] / 2.0 - flat.y as f32]
    }

    fn seen(&self, points: &[At]) -> bool {
        let Window { at, size, .. } = self.window;
        (0..2).all(|k| points.iter().any(|p| p[k] >= at[k]) && points.iter().any(|p| p[k] <= at[k] + size[k]))
    }
}

/// The drawing of a section, with the places that were measured in it; two are joined by a line.
#[must_use]
pub fn drawn(section: &Section, through: &Through, window: &Window, places: &[DVec3]) -> Vec<Op> {
    let laid = Laid { window, middle: through.at, right: through.up.cross(through.eye), up: through.up };
    let frame = corners(window.at, window.size);
    let mut inside = vec![Op::Area { rings: vec![frame.clone()], colour: [0xff, 0xff, 0xff] }];
    for body in &section.bodies {
        let triangles = body.triangles.iter().map(|t| t.map(|p| laid.at(p)).to_vec());
        // all of one turn: together they are one area
        let rings: Vec<Vec<At>> = triangles.filter(|t| laid.seen(t)).map(one_way).collect();
        if !rings.is_empty() {
            inside.push(Op::Within { ops: hatched(window, body.filling), rings });
        }
    }
    for edge in &section.edges {
        let mut points: Vec<At> = edge.points.iter().map(|&p| laid.at(p)).collect();
        if edge.closed {
            points.extend(points.first().copied());
        }
        if laid.seen(&points) {
            inside.push(Op::Line { points, width: 0.9, colour: INK });
        }
    }
    let marked: Vec<At> = places.iter().map(|&p| laid.at(p)).collect();
    if marked.len() == 2 {
        inside.push(Op::Line { points: marked.clone(), width: 1.1, colour: FAIL });
    }
    inside.extend(marked.into_iter().map(|p| dot(p, 2.0, FAIL)));
    let border = frame.iter().chain(&frame[..1]).copied().collect();
    let mut ops = vec![Op::Within { rings: vec![frame.clone()], ops: inside }];
    ops.push(Op::Line { points: border, width: 0.5, colour: SOFT });
    ops.extend(scale(window));
    ops
}

fn one_way(mut triangle: Vec<At>) -> Vec<At> {
    let [a, b, c] = [triangle[0], triangle[1], triangle[2]];
    if (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) < 0.0 {
        triangle.swap(1, 2);
    }
    triangle
}

/// The window hatched at 45°, a filling the other way.
fn hatched(window: &Window, filling: bool) -> Vec<Op> {
    let Window { at: [x, y], size: [w, h], .. } = *window;
    let mut ops = vec![Op::Area { rings: vec![corners(window.at, window.size)], colour: SAND }];
    for k in 0..((w + h) / HATCH) as usize + 1 {
        let from = x - h + k as f32 * HATCH;
        let (low, high) = if filling { (y, y + h) } else { (y + h, y) };
        ops.push(Op::Line { points: vec![[from, low], [from + h, high]], width: 0.35, colour: SOFT });
    }
    ops
}

/// A bar of a round length.
fn scale(window: &Window) -> Vec<Op> {
    const LENGTHS: [f64; 12] = [0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0];
    let wide = |mm: f64| (mm * window.scale()) as f32;
    let mm = LENGTHS.into_iter().rfind(|&mm| wide(mm) < 0.3 * window.size[0]).unwrap_or(LENGTHS[0]);
    let [x, y] = [window.at[0] + 6.0, window.at[1] + window.size[1] - 6.0];
    let text = format!("{mm} mm");
    let label = [x + wide(mm) + 4.0, y + 2.0];
    let ground = corners([x - 3.0, y - 6.0], [wide(mm) + 10.0 + Face::Text.width(&text, 7.0), 10.0]);
    vec![
        Op::Area { rings: vec![ground], colour: [0xff, 0xff, 0xff] },
        Op::Line { points: vec![[x, y], [x + wide(mm), y]], width: 1.4, colour: INK },
        Op::Text { at: label, size: 7.0, face: Face::Text, colour: INK, text },
    ]
}
