//! Where findings were measured: the place on the solid, and a section there; and the cuts that were kept.

use crate::{
    contents::{FINE, GAP, limit, line, of_state},
    figure,
    flow::{Flow, LEADING, LEFT, SIZE, WIDTH},
    stands, with_unit,
};
use glam::DVec3;
use inspection::{Finding, Witness};
use paper::{
    face::Face,
    ink::{FAIL, INK, LINE, Op, Pixels, dot},
    picture::{Shot, of_outcome},
    section::{Window, drawn},
    views::front,
};
use rayon::prelude::*;
use record::{MarkRecord, Record};
use relief::BuiltMark;
use std::sync::Arc;
use trade::limits::State;
use workbench::{
    Bench, Outcome,
    section::{Lie, Plane, Through, of_outcome as cut, square_to, through},
};

/// For each finding that does not simply pass: where it was measured, and a section there.
pub fn evidence(flow: &mut Flow, record: &Record, bench: &Bench, outcome: &Outcome) {
    let mut all: Vec<(&MarkRecord, &Finding)> =
        record.marks.iter().flat_map(|m| m.findings.iter().map(move |f| (m, f))).collect();
    all.retain(|(_, f)| f.state > State::Passes);
    if all.is_empty() {
        return;
    }
    all.sort_by_key(|(_, f)| std::cmp::Reverse(f.state));
    flow.heading("Findings", 13.0);
    // drawn side by side, laid down one after another
    let drawings: Vec<Option<Drawing>> = all
        .par_iter()
        .map(|(mark, finding)| {
            let at = outcome.marks.iter().position(|m| m.id == mark.mark)?;
            drawing(bench, outcome, at, finding)
        })
        .collect();
    for ((mark, finding), drawing) in all.into_iter().zip(drawings) {
        block(flow, mark, finding, drawing);
    }
}

/// A place where something was measured: the solid there, where in the picture it is, and the section.
struct Drawing {
    pixels: Arc<Pixels>,
    /// Points from the picture's upper left corner.
    marked: Vec<[f32; 2]>,
    section: Vec<Op>,
    times: f64,
}

const PICTURE: [f32; 2] = [(WIDTH - GAP) / 2.0, 118.0];
const SECTION: [f32; 2] = PICTURE;

fn places(witness: &Witness) -> Vec<DVec3> {
    match witness {
        Witness::Point { at } => vec![*at],
        Witness::Pair { from, to } => vec![*from, *to],
        Witness::Facet { corners } => vec![corners.iter().sum::<DVec3>() / 3.0],
    }
}

/// The finding of the mark at this place of the job.
fn drawing(bench: &Bench, outcome: &Outcome, mark: usize, finding: &Finding) -> Option<Drawing> {
    let built: &BuiltMark = outcome.marks[mark].built.as_deref()?;
    let witness = finding.witnesses.first()?;
    let places = places(witness);
    let middle = places.iter().sum::<DVec3>() / places.len() as f64;
    let apart = places.iter().map(|p| p.distance(middle)).fold(0.0, f64::max);
    let (_, out, up) = front(built);
    let right = up.cross(out);
    let tall = (3.2 * built.placed.cap_height).max(3.0 * apart);
    let mm = tall / f64::from(PICTURE[1] * FINE);
    let shot = Shot {
        out: out - 0.16 * right - 0.3 * up,
        up,
        at: Some((middle, mm)),
        width: (PICTURE[0] * FINE) as usize,
        height: (PICTURE[1] * FINE) as usize,
    };
    let [along, upright, _] = shot.frame();
    let marked = places
        .iter()
        .map(|p| {
            let off = |axis: DVec3| ((*p - middle).dot(axis) / mm) as f32 / FINE;
            [PICTURE[0] / 2.0 + off(along), PICTURE[1] / 2.0 - off(upright)]
        })
        .collect();
    let turn_deg = square_to(outcome, mark, &places);
    let through = through(built, middle, Lie { turn_deg, tilt_deg: 0.0, shift: 0.0 });
    let section = cut(bench, outcome, through.plane, built.pull);
    let deep = (8.0 * built.mark.relief.height).max(3.0 * apart).max(2.0);
    let wide = deep * f64::from(SECTION[0] / SECTION[1]);
    let window = Window { at: [0.0, 0.0], size: SECTION, wide };
    Some(Drawing {
        pixels: Arc::new(of_outcome(bench, outcome, &shot)),
        marked,
        times: window.times(),
        section: drawn(&section, &through, &window, &places),
    })
}

/// Cuts that were kept with the inspection, and what was measured in them.
pub fn sections(flow: &mut Flow, record: &Record, bench: &Bench, outcome: &Outcome) {
    const TALL: f32 = 150.0;
    if record.sections.is_empty() {
        return;
    }
    flow.heading("Sections", 13.0);
    for (at, kept) in record.sections.iter().enumerate() {
        let plane = Plane { normal: kept.normal.into(), height: kept.height };
        let through = Through { plane, at: kept.at.into(), eye: kept.eye.into(), up: kept.up.into() };
        let built = outcome.marks.iter().find(|m| m.id == kept.mark).and_then(|m| m.built.as_deref());
        let cut = cut(bench, outcome, plane, built.and_then(|b| b.pull));
        let text = record.marks.iter().find(|m| m.mark == kept.mark).map_or(String::new(), |m| line(&m.text));
        flow.need(TALL + 40.0 + kept.says.len() as f32 * SIZE * LEADING);
        let y = flow.y();
        let end = flow.beside(&format!("{}: cut through “{text}”", at + 1), [LEFT, y], WIDTH, Face::Strong, INK);
        let window = Window { at: [LEFT, end + 3.0], size: [WIDTH, TALL], wide: kept.wide * f64::from(WIDTH / TALL) };
        let places: Vec<DVec3> = kept.places.iter().map(|&p| p.into()).collect();
        for op in drawn(&cut, &through, &window, &places) {
            flow.put(op);
        }
        let mut end = flow.caption(&format!("{:.0} times true size", window.times()), [LEFT, end + TALL + 5.0], WIDTH);
        for says in &kept.says {
            end = flow.beside(says, [LEFT, end + 1.0], WIDTH, Face::Text, INK);
        }
        flow.down(end - y + 10.0);
    }
}

/// The same further right and down.
fn moved(op: Op, by: [f32; 2]) -> Op {
    let at = |[x, y]: [f32; 2]| [x + by[0], y + by[1]];
    let rings = |rings: Vec<Vec<[f32; 2]>>| rings.into_iter().map(|r| r.into_iter().map(at).collect()).collect();
    match op {
        Op::Text { at: p, size, face, colour, text } => Op::Text { at: at(p), size, face, colour, text },
        Op::Line { points, width, colour } => Op::Line { points: points.into_iter().map(at).collect(), width, colour },
        Op::Area { rings: all, colour } => Op::Area { rings: rings(all), colour },
        Op::Within { rings: all, ops } => {
            Op::Within { rings: rings(all), ops: ops.into_iter().map(|op| moved(op, by)).collect() }
        }
        Op::Image { pixels, at: p, size } => Op::Image { pixels, at: at(p), size },
    }
}

fn block(flow: &mut Flow, mark: &MarkRecord, finding: &Finding, drawing: Option<Drawing>) {
    let told = finding.measured.map_or(String::new(), |m| {
        format!(
            " {}{}",
            figure(m, finding.unit),
            finding.limit.as_ref().map_or(String::new(), |_| format!(", limit {}", limit(finding)))
        )
    });
    let title = format!("“{}”, {}: {}", line(&mark.text), finding.check.name(), stands(finding));
    let mut says =
        format!("{}{}", finding.sentence, if told.is_empty() { String::new() } else { format!(" Measured{told}.") });
    if finding.error > 0.0 && finding.measured.is_some() {
        says += &format!(
            " The measurement is accurate to within {}.",
            with_unit(&format!("{:.3}", finding.error), finding.unit)
        );
    }
    if let Some(waived) = &finding.waived {
        let until = waived.until.as_ref().map(|u| format!(", until {u}")).unwrap_or_default();
        says += &format!(" Waived by {} on {}{until}: {}.", waived.by, waived.on, waived.reason);
        if let Some(why) = &waived.lapsed {
            says += &format!(" The waiver holds no more: {why}.");
        }
    }
    let lines = Face::Text.lines(&says, SIZE, WIDTH).len() as f32;
    let drawn = if drawing.is_some() { PICTURE[1] + 24.0 } else { 0.0 };
    flow.need(18.0 + lines * SIZE * LEADING + drawn);
    let y = flow.y();
    let end = flow.beside(&title, [LEFT, y], WIDTH, Face::Strong, of_state(finding.state));
    let end = flow.beside(&says, [LEFT, end], WIDTH, Face::Text, INK);
    flow.down(end - y + 4.0);
    if let Some(Drawing { pixels, marked, section, times }) = drawing {
        let y = flow.y();
        flow.put(Op::Image { pixels, at: [LEFT, y], size: PICTURE });
        if let [from, to] = marked[..] {
            let points = vec![[LEFT + from[0], y + from[1]], [LEFT + to[0], y + to[1]]];
            flow.put(Op::Line { points, width: 1.1, colour: FAIL });
        }
        for [dx, dy] in marked {
            flow.put(dot([LEFT + dx, y + dy], 2.2, FAIL));
        }
        let x = LEFT + PICTURE[0] + GAP;
        for op in section {
            flow.put(moved(op, [x, y]));
        }
        flow.caption("where it was measured", [LEFT, y + PICTURE[1] + 2.0], PICTURE[0]);
        let said = format!("cut square to the surface there, {times:.0} times true size");
        flow.caption(&said, [x, y + SECTION[1] + 2.0], SECTION[0]);
        flow.down(PICTURE[1] + 20.0);
    }
    let y = flow.y();
    flow.rule(y - 2.0, LINE);
    flow.down(4.0);
}
