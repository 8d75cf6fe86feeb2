//! The first sheet: the part in three views to one scale, its extents, and a number at each mark that is seen.

use crate::{
    Projection,
    dimension::{End, FIRST, across, upright},
    sheet::{MM, SIZE, SMALL, Sheets},
};
use glam::{DVec2, DVec3};
use paper::{
    face::Face,
    ink::{At, INK, Op, SOFT, dot},
    picture::{Shot, of_outcome},
    views::front,
};
use relief::BuiltMark;
use std::sync::Arc;
use workbench::Steps;

/// Scales that drawings have: ISO 5455, from memory.
const SCALES: [f64; 13] = [50.0, 20.0, 10.0, 5.0, 2.0, 1.0, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01, 0.005];
/// Between views, and round them: for figures and numbers.
const GAP: f32 = 48.0;
/// Over, between and under views that lie one over another.
const ROOM: f32 = GAP + 42.0;
/// Pixels to the point.
const FINE: f32 = 3.0;
/// Of the ring round a number.
const RING: f32 = 7.5;
/// A mark is seen where its seat looks to the eye by more than this, cosine.
const FACING: f64 = 0.5;

/// As it is written.
pub fn scale_word(scale: f64) -> String {
    if scale >= 1.0 { format!("{scale:.0} : 1") } else { format!("1 : {:.0}", 1.0 / scale) }
}

/// The largest scale at which lengths, mm, fit, points.
pub fn fitting(mm: DVec2, points: At) -> f64 {
    let fits = |scale: &f64| {
        mm.x * scale * f64::from(MM) <= f64::from(points[0]) && mm.y * scale * f64::from(MM) <= f64::from(points[1])
    };
    SCALES.into_iter().find(fits).unwrap_or(SCALES[SCALES.len() - 1])
}

/// A view: to the right, up and to the eye, and where it lies on the sheet.
struct View {
    axes: [DVec3; 3],
    at: At,
    size: At,
    says: &'static str,
}

/// The part along a direction, mm.
fn extent(sheets: &Sheets<'_>, way: DVec3) -> [f64; 2] {
    let along = sheets.of.bench.part().mesh.vertices.iter().map(|p| p.dot(way));
    along.fold([f64::INFINITY, f64::NEG_INFINITY], |[low, high], v| [low.min(v), high.max(v)])
}

pub fn overview(sheets: &mut Sheets<'_>, built: &[usize]) {
    let marks: Vec<(usize, &BuiltMark)> = built
        .iter()
        .enumerate()
        .filter_map(|(k, &at)| Some((k + 1, sheets.of.outcome.marks[at].built.as_deref()?)))
        .collect();
    let Some((_, first)) = marks.first() else { return };
    // the part's own axes that lie nearest to how the first mark is seen
    let (_, out, up) = front(first);
    let axis = |way: DVec3, but: DVec3| {
        let all = [DVec3::X, DVec3::Y, DVec3::Z].into_iter().flat_map(|a| [a, -a]).filter(|a| a.dot(but).abs() < 0.5);
        all.max_by(|a, b| a.dot(way).total_cmp(&b.dot(way))).unwrap_or(DVec3::Z)
    };
    let out = axis(out, DVec3::ZERO);
    let up = axis(up, out);
    let right = up.cross(out);
    let long = |way: DVec3| {
        let [low, high] = extent(sheets, way);
        high - low
    };
    let size = DVec3::new(long(right), long(up), long(out));
    let [at, field] = sheets.field();
    let all = DVec2::new(size.x + size.z, size.y + size.z);
    let scale = fitting(all, [field[0] - 3.0 * GAP, field[1] - ROOM]);
    let points = size.to_array().map(|mm| (mm * scale) as f32 * MM);
    sheets.begin("the part with its marks", &scale_word(scale));
    let third = sheets.manner.projection == Projection::ThirdAngle;
    let whole = [points[0] + points[2] + GAP, points[1] + points[2] + GAP];
    let corner = [at[0] + (field[0] - whole[0]) / 2.0, at[1] + (field[1] - whole[1]) / 2.0];
    let main = [corner[0], corner[1] + if third { points[2] + GAP } else { 0.0 }];
    let side = [corner[0] + points[0] + GAP, main[1]];
    let above = [corner[0], if third { corner[1] } else { corner[1] + points[1] + GAP }];
    let (beside, seen) =
        if third { ([-out, up, right], "seen from the right") } else { ([out, up, -right], "seen from the left") };
    let views = [
        View { axes: [right, up, out], at: main, size: [points[0], points[1]], says: "seen from the front" },
        View { axes: beside, at: side, size: [points[2], points[1]], says: seen },
        View { axes: [right, -out, up], at: above, size: [points[0], points[2]], says: "seen from above" },
    ];
    let mut unseen: Vec<usize> = marks.iter().map(|(number, _)| *number).collect();
    for view in &views {
        for number in drawn(sheets, view, scale, &marks) {
            unseen.retain(|n| *n != number);
        }
    }
    let manner = sheets.manner;
    let below = |view: &View| view.at[1] + view.size[1];
    let corner_of =
        |view: &View, x: f32, y: f32| End::at([view.at[0] + x * view.size[0], view.at[1] + y * view.size[1]]);
    for (view, mm) in [(&views[0], size.x), (&views[1], size.z)] {
        let (from, to) = (corner_of(view, 0.0, 1.0), corner_of(view, 1.0, 1.0));
        sheets.put_all(across(from, to, below(view) + FIRST, &manner.length(mm)));
    }
    let (from, to) = (corner_of(&views[0], 0.0, 0.0), corner_of(&views[0], 0.0, 1.0));
    sheets.put_all(upright(from, to, views[0].at[0] - FIRST, &manner.length(size.y)));
    // under what is drawn, beside the title block
    let at = [at[0], at[1] + field[1] + 14.0];
    let mut says = String::from("Each numbered mark has a sheet of its own.");
    if !unseen.is_empty() {
        let numbers: Vec<String> = unseen.iter().map(ToString::to_string).collect();
        says += &format!(" Not seen in these views: {}.", numbers.join(", "));
    }
    sheets.words(&says, at, 220.0, SIZE, (Face::Text, INK));
}

/// Draws a view, and the numbers of the marks that are seen in it; which these are.
fn drawn(sheets: &mut Sheets<'_>, view: &View, scale: f64, marks: &[(usize, &BuiltMark)]) -> Vec<usize> {
    let [right, up, out] = view.axes;
    let [x, y, _] = view.axes.map(|way| extent(sheets, way));
    let middle = right * ((x[0] + x[1]) / 2.0) + up * ((y[0] + y[1]) / 2.0);
    let shot = Shot {
        out,
        up,
        at: Some((middle, 1.0 / (scale * f64::from(MM * FINE)))),
        width: (view.size[0] * FINE).ceil() as usize,
        height: (view.size[1] * FINE).ceil() as usize,
    };
    let pixels = Arc::new(of_outcome(sheets.of.bench, sheets.of.outcome, &shot));
    let size = [pixels.width as f32 / FINE, pixels.height as f32 / FINE];
    sheets.put(Op::Image { pixels, at: view.at, size });
    let place = |p: DVec3| -> At {
        let flat = DVec2::new((p - middle).dot(right), (p - middle).dot(up)) * scale * f64::from(MM);
        [view.at[0] + view.size[0] / 2.0 + flat.x as f32, view.at[1] + view.size[1] / 2.0 - flat.y as f32]
    };
    let queries = sheets.of.bench.queries();
    let seen = |built: &BuiltMark| {
        let (at, normal, _) = front(built);
        let from = at + normal * 0.05;
        normal.dot(out) > FACING && queries.first_hit(from, out, 0.01, 1e6, |_| true).is_none()
    };
    let mut here: Vec<(usize, At)> =
        marks.iter().filter(|(_, m)| seen(m)).map(|(number, m)| (*number, place(front(m).0))).collect();
    here.sort_by(|a, b| a.1[1].total_cmp(&b.1[1]));
    // in a column beside the view, in the order of the marks, none over another
    let column = view.at[0] + view.size[0] + GAP / 2.0;
    let mut next = f32::NEG_INFINITY;
    let mut found = Vec::new();
    for (number, at) in here {
        let y = at[1].max(next);
        next = y + 2.0 * RING + 3.0;
        let from = [column - RING, y];
        sheets.put(Op::Line { points: vec![at, from], width: 0.4, colour: INK });
        sheets.put(dot(at, 1.3, INK));
        sheets.put_all(ring(number, [column, y]));
        found.push(number);
    }
    let width = Face::Text.width(view.says, SMALL);
    let at = [view.at[0] + (view.size[0] - width) / 2.0, view.at[1] - 12.0];
    sheets.put(Op::Text { at, size: SMALL, face: Face::Text, colour: SOFT, text: view.says.to_owned() });
    found
}

/// A number in its ring.
pub fn ring(number: usize, [x, y]: At) -> Vec<Op> {
    let at = |k: u8| {
        let a = std::f32::consts::TAU * f32::from(k) / 36.0;
        [x + RING * a.cos(), y + RING * a.sin()]
    };
    let text = number.to_string();
    let width = Face::Strong.width(&text, SIZE);
    vec![
        Op::Area { rings: vec![(0..36).map(at).collect()], colour: [0xff, 0xff, 0xff] },
        Op::Line { points: (0..=36).map(at).collect(), width: 0.7, colour: INK },
        Op::Text { at: [x - width / 2.0, y + 3.1], size: SIZE, face: Face::Strong, colour: INK, text },
    ]
}
