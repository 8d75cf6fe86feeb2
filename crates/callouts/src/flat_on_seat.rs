//! A mark laid flat on its unrolled seat to a stated scale, with the dimensions that place and size it.

use crate::{
    dimension::{End, FIRST, LANE_DOWN, LANE_LEFT, across, upright},
    overview::fitting,
    sheet::{MM, SMALL, Sheets},
};
use glam::DVec2;
use paper::{
    face::Face,
    ink::{At, INK, Op, SOFT, corners},
};
use relief::BuiltMark;
use trade::{Baseline, Tie};

/// Round the mark as much is drawn as this share of it.
const ROUND: f64 = 0.35;

/// What is seen of the strip: its middle, mm, and how it lies on the sheet.
struct Window {
    middle: DVec2,
    scale: f64,
    at: At,
    size: At,
}

impl Window {
    fn place(&self, p: DVec2) -> At {
        let flat = (p - self.middle) * self.scale * f64::from(MM);
        [self.at[0] + self.size[0] / 2.0 + flat.x as f32, self.at[1] + self.size[1] / 2.0 - flat.y as f32]
    }

    /// A place, or where the window ends before it.
    fn end(&self, p: DVec2) -> End {
        let [x, y] = self.place(p);
        let [low, high] = [self.at, [self.at[0] + self.size[0], self.at[1] + self.size[1]]];
        let inside = (low[0]..=high[0]).contains(&x) && (low[1]..=high[1]).contains(&y);
        End { at: [x.clamp(low[0], high[0]), y.clamp(low[1], high[1])], drawn: inside }
    }
}

/// Rooms that the dimensions need, to the left and below, and to the right the arrow to the tops.
const RIGHT: f32 = 26.0;
const LEFT: f32 = 2.0 * LANE_LEFT + 12.0;
const BELOW: f32 = FIRST + 2.0 * LANE_DOWN;

/// Least and greatest corner of places.
fn bounds(of: impl Iterator<Item = DVec2>) -> Option<(DVec2, DVec2)> {
    of.fold(None, |all, p| Some(all.map_or((p, p), |(low, high): (DVec2, DVec2)| (low.min(p), high.max(p)))))
}

/// Draws the mark in a field; the scale that it has there.
pub fn drawn(sheets: &mut Sheets<'_>, built: &BuiltMark, at: At, size: At) -> f64 {
    let (seat, placed) = (&built.ground, &built.placed);
    let letters = placed.characters.iter().flat_map(|c| c.region.contours()).flatten().copied();
    let pad = placed.pad.iter().flat_map(flat::Region::contours).flatten().copied();
    let own = bounds(letters.chain(pad).chain(placed.outline.iter().copied()));
    let Some((low, high)) = own else { return 1.0 };
    let space = [size[0] - LEFT - RIGHT, size[1] - BELOW];
    // edges that run round are drawn on every turn that may be seen
    let turns = |k: usize| if seat.closed()[k] { -1..=1 } else { 0..=0 };
    let period = seat.chart.period();
    let by = |k: i32, once: f64| if k == 0 { 0.0 } else { f64::from(k) * once };
    let shifts: Vec<DVec2> =
        turns(0).flat_map(|x| turns(1).map(move |y| DVec2::new(by(x, period.x), by(y, period.y)))).collect();
    let mut edges: Vec<Vec<DVec2>> = Vec::new();
    for ring in &seat.outline {
        edges.extend(shifts.iter().map(|&by| ring.iter().map(|p| seat.chart.off_grid(*p + by)).collect()));
    }
    let whole = bounds(edges.iter().flatten().copied()).filter(|(a, b)| {
        // the face whole, where that takes no reducing
        fitting((*b - *a) * 1.04, space) >= 1.0
    });
    let around = (high - low) * (1.0 + 2.0 * ROUND);
    let (middle, fits) = match whole {
        Some((a, b)) => ((a + b) / 2.0, fitting((b - a) * 1.04, space)),
        None => ((low + high) / 2.0, fitting(around, space)),
    };
    let window = Window { middle, scale: fits, at: [at[0] + LEFT, at[1]], size: space };
    let frame = corners(window.at, window.size);
    let mut inside = Vec::new();
    for ring in &edges {
        inside.push(Op::Line { points: ring.iter().map(|p| window.place(*p)).collect(), width: 0.7, colour: INK });
    }
    if let Some(pad) = &placed.pad {
        for ring in pad.contours() {
            let mut points: Vec<At> = ring.iter().map(|p| window.place(*p)).collect();
            points.extend(points.first().copied());
            inside.push(Op::Line { points, width: 0.5, colour: INK });
        }
    }
    for c in &placed.characters {
        let rings = c.region.contours().map(|ring| ring.iter().map(|p| window.place(*p)).collect()).collect();
        inside.push(Op::Area { rings, colour: INK });
    }
    sheets.put(Op::Within { rings: vec![frame.clone()], ops: inside });
    let border = frame.iter().chain(&frame[..1]).copied().collect();
    sheets.put(Op::Line { points: border, width: 0.25, colour: SOFT });
    up_arrow(sheets, &window, placed.along.perp());
    dimensions(sheets, built, &window);
    fits
}

/// Where the tops of the letters point.
fn up_arrow(sheets: &mut Sheets<'_>, window: &Window, up: DVec2) {
    let up = [up.x as f32, -up.y as f32];
    let middle = [window.at[0] + window.size[0] + RIGHT / 2.0 + 1.0, window.at[1] + 14.0];
    let tip = [middle[0] + 11.0 * up[0], middle[1] + 11.0 * up[1]];
    let foot = [middle[0] - 11.0 * up[0], middle[1] - 11.0 * up[1]];
    sheets.put(Op::Line { points: vec![foot, tip], width: 0.9, colour: INK });
    let side = [-up[1] * 2.6, up[0] * 2.6];
    let back = [tip[0] - 7.0 * up[0], tip[1] - 7.0 * up[1]];
    let rings = vec![vec![tip, [back[0] + side[0], back[1] + side[1]], [back[0] - side[0], back[1] - side[1]]]];
    sheets.put(Op::Area { rings, colour: INK });
    let text = "tops".to_owned();
    let at = [middle[0] - Face::Text.width(&text, SMALL) / 2.0, middle[1] + 22.0];
    sheets.put(Op::Text { at, size: SMALL, face: Face::Text, colour: INK, text });
}

/// Does the strip's grid run straight across and up here?
fn is_straight(built: &BuiltMark, places: [DVec2; 2]) -> bool {
    let chart = &built.ground.chart;
    let shift = chart.grid(places[0]) - places[0];
    places.iter().all(|p| (chart.grid(*p) - *p - shift).length() < 1e-6)
}

fn dimensions(sheets: &mut Sheets<'_>, built: &BuiltMark, window: &Window) {
    let (manner, mark) = (sheets.manner, &built.mark);
    let (seat, placed) = (&built.ground, &built.placed);
    let straight = matches!(mark.place.baseline, Baseline::Straight);
    let Some((low, high)) = bounds(placed.outline.iter().copied()) else { return };
    let floor = window.at[1] + window.size[1];
    let wall = window.at[0];
    let along_x = placed.along.y.abs() < 1e-9;
    let turned = placed.along.x.abs() < 1e-9;
    // the box of a straight text that runs along the strip or across it; of others the table says what they are
    if straight && (along_x || turned) {
        let lanes = [floor + FIRST, wall - FIRST];
        let long =
            across(window.end(low), window.end(DVec2::new(high.x, low.y)), lanes[0], &manner.length(high.x - low.x));
        sheets.put_all(long);
        let tall =
            upright(window.end(low), window.end(DVec2::new(low.x, high.y)), lanes[1], &manner.length(high.y - low.y));
        sheets.put_all(tall);
    }
    // from the edges of the face, on its grid: where that runs straight it is what is drawn
    let closed = seat.closed();
    if !is_straight(built, [low, high]) {
        return;
    }
    let [left, right, below, above] = placed.margins(seat);
    let middle = (low + high) / 2.0;
    if !closed[0] {
        let y = floor + FIRST + LANE_DOWN;
        let from_end = matches!(mark.place.along, Tie::FromEnd { .. });
        let (edge, side, mm) = if from_end {
            (DVec2::new(high.x + right, middle.y), DVec2::new(high.x, low.y), right)
        } else {
            (DVec2::new(low.x - left, middle.y), low, left)
        };
        put_down(sheets, window, edge, side, y, &manner.length(mm));
    }
    if !closed[1] {
        let x = wall - FIRST - LANE_LEFT;
        let from_end = matches!(mark.place.up, Tie::FromEnd { .. });
        let (edge, side, mm) = if from_end {
            (DVec2::new(middle.x, high.y + above), DVec2::new(low.x, high.y), above)
        } else {
            (DVec2::new(middle.x, low.y - below), low, below)
        };
        let edge = End { at: [window.place(low)[0].max(wall), window.end(edge).at[1]], ..window.end(edge) };
        sheets.put_all(upright(edge, window.end(side), x, &manner.length(mm)));
    }
}

fn put_down(sheets: &mut Sheets<'_>, window: &Window, edge: DVec2, side: DVec2, y: f32, text: &str) {
    let floor = window.at[1] + window.size[1];
    let edge = window.end(edge);
    // the extension line begins at the foot of the picture: above it the face's own edge is drawn
    let edge = End { at: [edge.at[0], floor], ..edge };
    sheets.put_all(across(edge, window.end(side), y, text));
}
