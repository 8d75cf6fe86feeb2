//! The sheet of one mark: flat on its seat with its dimensions, where it is on the part, a section through a letter, and in words
//! all that the toolmaker asks.

use crate::{
    dimension::{End, upright, wide as wide_of},
    flat_on_seat, line,
    overview::{fitting, ring, scale_word},
    sheet::{MM, SIZE, SMALL, Sheets},
};
use flat::neck::narrowest;
use glam::{DVec2, DVec3};
use paper::{
    face::Face,
    ink::{At, INK, Op, SOFT},
    picture::{Shot, of_outcome},
    section::{Window, drawn},
    views::front,
};
use relief::{BuiltMark, Role, Tag};
use std::sync::Arc;
use toolside::{Frame, cutting};
use trade::{Baseline, EdgeShape, Finish, InSteel, Mark, MeasuredAt, PadForm, Placement, Sense, Tie, Walls};
use workbench::{
    Steps,
    section::{Lie, Section, Through, of_outcome as cut, through},
};

const FINE: f32 = 3.0;
/// Of the sheet the drawing takes this much across, and of that as much down.
const DRAWN: [f32; 2] = [0.61, 0.60];

pub fn mark_sheet(sheets: &mut Sheets<'_>, at: usize, number: usize) {
    let outcome = sheets.of.outcome;
    let Some(built) = outcome.marks[at].built.as_deref() else { return };
    let [corner, field] = sheets.field();
    sheets.begin(&format!("{number}: “{}”", line(&built.mark.text)), "as stated");
    sheets.put_all(ring(number, [corner[0] + 8.0, corner[1] + 8.0]));
    let wide = field[0] * DRAWN[0];
    let tall = field[1] * DRAWN[1];
    let scale = flat_on_seat::drawn(sheets, built, corner, [wide - 6.0, tall]);
    let caption = |what: &str, scale: &str| format!("{what}, {scale}");
    let under = |sheets: &mut Sheets<'_>, text: String, at: At| {
        sheets.put(Op::Text { at, size: SMALL, face: Face::Text, colour: SOFT, text });
    };
    under(sheets, caption("flat on its unrolled seat", &scale_word(scale)), [corner[0], corner[1] + tall + 8.0]);
    // below: where it is on the part, and the section
    let top = corner[1] + tall + 20.0;
    let size = [(wide - 40.0) / 2.0, field[1] - tall - 36.0];
    let scale = located(sheets, built, [corner[0], top], size);
    under(sheets, caption("square to it on the part", &scale_word(scale)), [corner[0], top + size[1] + 9.0]);
    let section = [corner[0] + size[0] + 14.0, top];
    let measured = sectioned(sheets, at, built, section, [size[0] - 30.0, size[1]]);
    if let Some((times, _)) = &measured {
        under(sheets, caption("section through a letter", &scale_word(*times)), [section[0], top + size[1] + 9.0]);
    }
    let says = values(sheets, at, built, measured.and_then(|(_, height)| height));
    let x = corner[0] + wide + 4.0;
    let column = field[0] - wide - 4.0;
    let mut y = corner[1];
    for (what, value) in says {
        const LABEL: f32 = 74.0;
        let end = sheets.words(what, [x, y], LABEL - 4.0, SMALL, (Face::Text, SOFT));
        y = sheets.words(&value, [x + LABEL, y - 1.0], column - LABEL, SIZE, (Face::Text, INK)).max(end) + 1.5;
    }
}

/// The part square to the mark, with a frame round it; the scale.
fn located(sheets: &mut Sheets<'_>, built: &BuiltMark, at: At, size: At) -> f64 {
    let (_, out, up) = front(built);
    let right = up.cross(out);
    let along = |way: DVec3| {
        let all = sheets.of.bench.part().mesh.vertices.iter().map(|p| p.dot(way));
        all.fold([f64::INFINITY, f64::NEG_INFINITY], |[a, b], v| [a.min(v), b.max(v)])
    };
    let [x, y] = [along(right), along(up)];
    let scale = fitting(DVec2::new(x[1] - x[0], y[1] - y[0]), size);
    let middle = right * ((x[0] + x[1]) / 2.0) + up * ((y[0] + y[1]) / 2.0);
    let own = [(x[1] - x[0]), (y[1] - y[0])].map(|mm| (mm * scale) as f32 * MM);
    let shot = Shot {
        out,
        up,
        at: Some((middle, 1.0 / (scale * f64::from(MM * FINE)))),
        width: (own[0] * FINE).ceil() as usize,
        height: (own[1] * FINE).ceil() as usize,
    };
    let pixels = Arc::new(of_outcome(sheets.of.bench, sheets.of.outcome, &shot));
    let place = [at[0] + (size[0] - own[0]) / 2.0, at[1] + (size[1] - own[1]) / 2.0];
    let drawn = [pixels.width as f32 / FINE, pixels.height as f32 / FINE];
    sheets.put(Op::Image { pixels, at: place, size: drawn });
    let (low, high) = built.bounds();
    let corners =
        (0..8).map(|k| DVec3::new(pick(k, 0, low.x, high.x), pick(k, 1, low.y, high.y), pick(k, 2, low.z, high.z)));
    let flat = corners.map(|p| DVec2::new((p - middle).dot(right), (p - middle).dot(up)) * scale * f64::from(MM));
    let (a, b) = flat.fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(a, b), p| (a.min(p), b.max(p)));
    let to = |p: DVec2| [place[0] + own[0] / 2.0 + p.x as f32, place[1] + own[1] / 2.0 - p.y as f32];
    let points = vec![
        to(a - 2.0),
        to(DVec2::new(b.x + 2.0, a.y - 2.0)),
        to(b + 2.0),
        to(DVec2::new(a.x - 2.0, b.y + 2.0)),
        to(a - 2.0),
    ];
    sheets.put(Op::Line { points, width: 0.6, colour: [0x1d, 0x5c, 0x86] });
    scale
}

fn pick(k: usize, bit: usize, low: f64, high: f64) -> f64 {
    if k >> bit & 1 == 0 { low } else { high }
}

/// A section along the text through its first letter that has an end there; how many times as large it is drawn, and how high
/// or deep the letter is there as it was measured.
fn sectioned(sheets: &mut Sheets<'_>, at: usize, built: &BuiltMark, place: At, size: At) -> Option<(f64, Option<f64>)> {
    let chart = &built.seat.chart;
    let outcome = sheets.of.outcome;
    let found = built.placed.characters.iter().enumerate().find_map(|(letter, c)| {
        let through = through(built, chart.point(c.middle, 0.0), Lie { turn_deg: 0.0, tilt_deg: 0.0, shift: 0.0 });
        let section = cut(sheets.of.bench, outcome, through.plane, built.pull);
        let end = end_of(&section, at, letter)?;
        Some((through, section, end))
    });
    let (through, section, end) = found?;
    let deep = 5.0 * built.mark.relief.height.max(0.05) + built.mark.relief.pad.map_or(0.0, |pad| 2.0 * pad.height);
    let scale = fitting(DVec2::new(deep, deep), size);
    let wide = f64::from(size[0] / MM) / scale;
    let height = built.seat.height(end);
    let through = Through { at: on_plane(&through, end), ..through };
    let window = Window { at: place, size, wide };
    sheets.put_all(drawn(&section, &through, &window, &[]));
    // of what has no relief only the surface is seen
    if !built.mark.relief.sense.has_relief() {
        return Some((scale, None));
    }
    // its height beside the picture, from the seat to the end
    let up = |p: DVec3| place[1] + size[1] / 2.0 - ((p - through.at).dot(through.up) * scale) as f32 * MM;
    let seat = end - built.seat.normal(end) * height;
    let x = place[0] + size[0] + 12.0;
    let edge = place[0] + size[0];
    let text = sheets.manner.length(height.abs());
    sheets.put_all(upright(End::at([edge, up(end)]), End::at([edge, up(seat)]), x + wide_of(&text), &text));
    Some((scale, Some(height.abs())))
}

/// A place moved into the plane of a section.
fn on_plane(through: &Through, p: DVec3) -> DVec3 {
    p - through.plane.normal * (p.dot(through.plane.normal) - through.plane.height)
}

/// The middle of the top or floor of a letter in a section.
fn end_of(section: &Section, mark: usize, letter: usize) -> Option<DVec3> {
    let ends = section.edges.iter().filter(|edge| {
        matches!(edge.of, Tag::Relief { mark: m, character, role: Role::Top | Role::Floor }
            if m as usize == mark && character as usize == letter)
    });
    let longest = ends.max_by(|a, b| a.length.total_cmp(&b.length))?;
    let (first, last) = (longest.points.first()?, longest.points.last()?);
    Some((*first + *last) / 2.0)
}

/// What stands beside the drawing.
fn values(sheets: &Sheets<'_>, at: usize, built: &BuiltMark, measured: Option<f64>) -> Vec<(&'static str, String)> {
    let (of, manner) = (sheets.of, sheets.manner);
    let mark = &of.job.marks[at];
    let own = &built.mark;
    let (relief, placed) = (&own.relief, &built.placed);
    let scale = of.job.process.steel_scale();
    let length = |mm: f64| manner.with_unit(mm);
    let mut all = vec![("reads", format!("“{}”", line(&own.text)))];
    let told = look_alikes(&own.text);
    if !told.is_empty() {
        all.push(("not to be mistaken", told));
    }
    let (sense, height) = match relief.sense {
        Sense::Raised => ("raised on the part, cut into the steel", "height"),
        Sense::Sunken => ("sunken on the part, standing in the steel", "depth"),
        Sense::Inlay => ("sunken and filled flush with a second colour", "depth"),
        Sense::Surface => ("on the surface only, without relief", ""),
        Sense::Stamp => ("a field kept free for what is struck in later", ""),
    };
    all.push(("sense", sense.into()));
    if relief.sense.has_relief() {
        let through = if relief.through { "through the wall".to_owned() } else { length(relief.height) };
        let found = measured.map_or(String::new(), |mm| format!("; on the finished solid {}", length(mm)));
        all.push((height, format!("{through}, square to the seat{found}")));
        let walls = match relief.walls {
            Walls::Seat => "from square to the seat",
            Walls::Pull => "from the pull",
        };
        all.push(("draft", format!("{}° {walls}", relief.draft)));
        let level = match (relief.measured_at, relief.sense.sinks()) {
            (MeasuredAt::Top, false) => "top",
            (MeasuredAt::Top, true) => "floor",
            (MeasuredAt::Root, false) => "root",
            (MeasuredAt::Root, true) => "rim",
        };
        all.push(("sizes are those at its", level.into()));
        let edge = match (relief.edge > 0.0, relief.edge_shape) {
            (false, _) => "sharp".into(),
            (true, EdgeShape::Round) => format!("R {}", length(relief.edge)),
            (true, EdgeShape::Bevel) => format!("{} × 45°", length(relief.edge)),
        };
        let root = if relief.root > 0.0 { format!("R {}", length(relief.root)) } else { "sharp".into() };
        all.push(("outer edge, inner corner", format!("{edge}, {root}")));
    }
    if let Some(pad) = relief.pad {
        let form = if pad.form == PadForm::Raised { "raised" } else { "recessed" };
        all.push((
            "pad",
            format!(
                "{form} {}, draft {}°, {} round the text",
                length(pad.height),
                pad.draft,
                length(relief.field.margin)
            ),
        ));
    }
    if let Some(note) = &mark.note {
        all.push(("the drawing says", shortened(&line(note))));
        let differs = trade::note::differs(own);
        if !differs.is_empty() {
            all.push(("otherwise here", differs.join("; ")));
        }
    }
    all.push(("cap height", length(placed.cap_height)));
    all.push(("length, height over all", format!("{} × {}", length(placed.length), length(placed.height))));
    all.push(("face", face(mark, placed.width, placed.spacing, &length)));
    let strokes = placed.characters.iter().filter_map(|c| narrowest(&rings(&c.region)));
    let stroke = strokes.map(|d| d.diameter).fold(f64::INFINITY, f64::min);
    if stroke.is_finite() {
        all.push(("narrowest stroke", length(stroke)));
    }
    all.push(("place", place(&of.job.marks, mark, &length)));
    let middle = built.ground.chart.point(placed.middle, 0.0);
    let three = |p: DVec3| p.to_array().map(|mm| manner.length(mm)).join(", ");
    all.push(("middle on the part", format!("{} {}", three(middle), manner.unit())));
    let steel = of.outcome.marks[at].steel.as_ref();
    if let Some(Ok(frame)) = steel.map(|steel| Frame::of(of.job, &of.bench.part().mesh, steel)) {
        all.push(("middle in the steel", format!("{} {} from its zero", three(frame.to_steel(middle)), manner.unit())));
    }
    all.push(("way round", "reads rightly on the part; mirrored in the steel".into()));
    if let Some(steel) = &of.outcome.marks[at].steel {
        all.push(("formed by", format!("{}, {}", steel.name(), in_steel(&mark.in_steel))));
    }
    if let Some(cutter) = cutting(built, 1.0) {
        let size = scale.map_or(String::new(), |s| format!(", {} in the steel", length(cutter.widest * s)));
        all.push(("widest cutter that passes", format!("Ø {}{size}", length(cutter.widest))));
    }
    match (scale, of.job.process.shrinkage()) {
        (Some(scale), Some((percent, source))) => {
            all.push(("steel", format!("× {scale:.4}: shrinkage {percent} %, {source}")));
        }
        _ => all.push(("steel", "no shrinkage is set".into())),
    }
    let process = &of.job.process;
    let finish = if process.finish == Finish::Matt { "matt" } else { "satin" };
    let texture =
        if process.texture > 0.0 { format!(", texture {} deep", length(process.texture)) } else { String::new() };
    all.push(("finish", format!("{finish}{texture}")));
    all
}

/// A note as it stands on the sheet; a long one is kept whole with the mark.
fn shortened(note: &str) -> String {
    /// Characters.
    const LONGEST: usize = 220;
    let begins: String = note.chars().take(LONGEST).collect();
    if begins.len() < note.len() { format!("{} … (goes on in the job)", begins.trim_end()) } else { begins }
}

fn rings(region: &flat::Region) -> Vec<Vec<DVec2>> {
    region.contours().cloned().collect()
}

/// Signs of a text that are taken for others, by what they are.
fn look_alikes(text: &str) -> String {
    const NAMES: [(char, &str); 12] = [
        ('0', "zero"),
        ('O', "letter O"),
        ('1', "one"),
        ('I', "letter I"),
        ('l', "small letter L"),
        ('2', "two"),
        ('Z', "letter Z"),
        ('5', "five"),
        ('S', "letter S"),
        ('8', "eight"),
        ('B', "letter B"),
        ('6', "six"),
    ];
    let told: Vec<String> =
        NAMES.iter().filter(|(c, _)| text.contains(*c)).map(|(c, name)| format!("{c} {name}")).collect();
    told.join(", ")
}

fn face(mark: &Mark, width: f64, spacing: f64, length: &dyn Fn(f64) -> String) -> String {
    let lettering = &mark.lettering;
    let known = lettering::faces().iter().find(|f| f.id == lettering.face);
    let mut says = known.map_or_else(|| format!("{}, the shop’s own", lettering.face), |f| f.name.to_owned());
    if let Some(stroke) = lettering.stroke {
        says += &format!(", stroke {}", length(stroke));
    }
    if (width - 1.0).abs() > 1e-9 {
        says += &format!(", {:.0} % wide", width * 100.0);
    }
    if spacing.abs() > 1e-9 {
        says += &format!(", {} between letters", length(spacing));
    }
    if lettering.slant != 0.0 {
        says += &format!(", slanted {}°", lettering.slant);
    }
    says
}

fn place(marks: &[Mark], mark: &Mark, length: &dyn Fn(f64) -> String) -> String {
    let tie = |tie: &Tie, start: &str, end: &str| match tie {
        Tie::Middle => "in the middle".to_owned(),
        Tie::Between { .. } => "midway between the nearest edges".to_owned(),
        Tie::FromStart { distance } => format!("{} from the {start} edge", length(*distance)),
        Tie::FromEnd { distance } => format!("{} from the {end} edge", length(*distance)),
        Tie::At { position } => format!("at {} on the strip", length(*position)),
        Tie::Point { distance, .. } => format!("{} on from a point of the part", length(*distance)),
        Tie::Mark { id, distance, .. } => {
            let other = marks.iter().find(|m| m.id == *id).map_or_else(|| id.clone(), Mark::called);
            format!("{} on from mark “{other}”", length(*distance))
        }
    };
    let place = &mark.place;
    let mut says = format!("along: {}; up: {}", tie(&place.along, "left", "right"), tie(&place.up, "lower", "upper"));
    if place.turn != 0.0 {
        says += &format!("; turned {}° counter-clockwise", place.turn);
    }
    match &place.baseline {
        Baseline::Straight => {}
        Baseline::Arc { radius, .. } => says += &format!("; on an arc of R {}", length(*radius)),
        Baseline::Ring { .. } => says += "; round the seat",
        Baseline::Edge { .. } => says += "; along an edge of the face",
    }
    if place.placement != Placement::Wrapped {
        says += "; laid on as it is seen, not wrapped";
    }
    says
}

fn in_steel(way: &InSteel) -> String {
    match way {
        InSteel::Cut => "cut into it".into(),
        InSteel::Electrode { gap, .. } => format!("sunk by an electrode, spark gap {gap} mm"),
        InSteel::Insert { .. } => "on an insert".into(),
    }
}
