//! What stands in the proof, from the first page to the lines that are signed.

use crate::{
    face::Face,
    figure,
    flow::{Cell, Column, Flow, LEADING, LEFT, SIZE, WIDTH},
    ink::{Colour, FAIL, INK, LINE, MARGINAL, Op, SOFT, dot},
    picture::{Shot, of_outcome},
    section::{Window, drawn},
    stands,
    strips::strips,
    views::{View, front, views},
    with_unit,
};
use glam::DVec3;
use inspection::{Finding, Witness};
use rayon::prelude::*;
use record::{MarkRecord, Record};
use relief::BuiltMark;
use std::sync::Arc;
use trade::limits::{Side, State};
use workbench::{
    Bench, Outcome,
    section::{Lie, Plane, Through, of_outcome as cut, square_to, through},
};

/// Pixels to the point of a picture.
const FINE: f32 = 2.6;
const GAP: f32 = 12.0;

/// All pages.
#[must_use]
pub fn pages(record: &Record, bench: &Bench, outcome: &Outcome) -> Vec<Vec<Op>> {
    let mut flow = Flow::default();
    head(&mut flow, record);
    part(&mut flow, record, bench, outcome);
    figures(&mut flow, record);
    evidence(&mut flow, record, bench, outcome);
    sections(&mut flow, record, bench, outcome);
    reading(&mut flow, record, outcome);
    rows(&mut flow, record);
    waivers(&mut flow, record);
    files(&mut flow, record);
    signatures(&mut flow);
    flow.pages()
}

fn of_state(state: State) -> Colour {
    match state {
        State::Fails => FAIL,
        State::Marginal => MARGINAL,
        State::NotChecked => INK,
        State::Passes | State::DoesNotApply => SOFT,
    }
}

fn line(text: &str) -> String {
    text.replace('\n', " / ")
}

fn head(flow: &mut Flow, record: &Record) {
    flow.heading(&record.job.name, 20.0);
    flow.paragraph("Proof of inspection: raised and sunken lettering, measured on the finished solid", SOFT);
    let verdict = verdict(record);
    let all = [
        ("record", record.number.map_or("without a number, by the command line".into(), |n| n.to_string())),
        ("made", format!("{} by {} ({})", record.day, record.by, record.at)),
        ("part", format!("{}, {} bytes, SHA-256 {}", record.part.file, record.part.bytes, record.part.sha256)),
        (
            "row",
            record
                .row
                .as_ref()
                .map_or(String::new(), |r| format!("{} of the roster: {}", r.place, r.cells.join(" · "))),
        ),
        ("limits", format!("{}, read from {:.0} mm", record.sheet, record.job.reading_distance)),
        ("program", record.program.clone()),
        ("result", verdict),
    ];
    for (what, says) in all.iter().filter(|(_, says)| !says.is_empty()) {
        flow.need(2.0 * SIZE);
        let y = flow.y();
        flow.beside(what, [LEFT, y], 60.0, Face::Text, SOFT);
        let face = if *what == "result" { Face::Strong } else { Face::Text };
        let colour = if *what == "result" { of_state(record.verdict) } else { INK };
        let end = flow.beside(says, [LEFT + 62.0, y], WIDTH - 62.0, face, colour);
        flow.down(end - y + 1.5);
    }
    flow.down(4.0);
}

fn verdict(record: &Record) -> String {
    let count = |state: State, one: &str, more: &str| match record.count(state) {
        0 => None,
        1 => Some(format!("1 {one}")),
        n => Some(format!("{n} {more}")),
    };
    let waived = record.waived();
    let fails = count(State::Fails, "finding fails", "findings fail")
        .map(|s| if waived > 0 { format!("{s}, {waived} of them waived") } else { s });
    let all: Vec<String> = [
        fails,
        count(State::NotChecked, "could not be checked", "could not be checked"),
        count(State::Marginal, "is marginal", "are marginal"),
    ]
    .into_iter()
    .flatten()
    .collect();
    if !all.is_empty() {
        all.join("; ")
    } else if record.marks.is_empty() {
        "no mark is on: there was nothing to check".into()
    } else {
        format!("all {} findings that apply pass", record.count(State::Passes))
    }
}

/// The part from the sides on which it has marks.
fn part(flow: &mut Flow, record: &Record, bench: &Bench, outcome: &Outcome) {
    let built = outcome.marks.iter().enumerate().filter_map(|(at, m)| Some((at, m.built.as_deref()?)));
    let mut seen = views(built);
    if seen.is_empty() {
        seen.push(View { out: DVec3::new(0.0, -0.6, 0.8), up: DVec3::Z, marks: Vec::new() });
    }
    let columns = if seen.len() == 1 { 1 } else { 2 };
    let wide = (WIDTH - GAP * (columns as f32 - 1.0)) / columns as f32;
    let tall = if columns == 1 { 230.0 } else { 165.0 };
    let shots: Vec<_> = seen
        .par_iter()
        .map(|view| {
            let shot = view.shot((wide * FINE) as usize, (tall * FINE) as usize);
            Arc::new(of_outcome(bench, outcome, &shot))
        })
        .collect();
    for (views, pixels) in seen.chunks(columns).zip(shots.chunks(columns)) {
        flow.need(tall + 24.0);
        let (y, mut end) = (flow.y(), flow.y());
        for (k, (view, pixels)) in views.iter().zip(pixels).enumerate() {
            let x = LEFT + k as f32 * (wide + GAP);
            flow.put(Op::Image { pixels: pixels.clone(), at: [x, y], size: [wide, tall] });
            let marks = view.marks.iter().filter_map(|&at| {
                let id = &outcome.marks.get(at)?.id;
                record.marks.iter().find(|m| m.mark == *id)
            });
            let says: Vec<String> = marks.map(|m| format!("“{}”", line(&m.text))).collect();
            end = end.max(flow.caption(&says.join(", "), [x, y + tall + 2.0], wide));
        }
        flow.down(end - y + 6.0);
    }
}

fn limit(finding: &Finding) -> String {
    finding.limit.as_ref().map_or("–".into(), |l| {
        let side = if l.side == Side::AtLeast { "≥" } else { "≤" };
        format!("{side} {}", with_unit(&l.value.to_string(), finding.unit))
    })
}

/// Every figure against its limit.
fn figures(flow: &mut Flow, record: &Record) {
    let columns = [
        Column { head: "check", width: 88.0, right: false },
        Column { head: "measured", width: 72.0, right: true },
        Column { head: "limit", width: 74.0, right: true },
        Column { head: "result", width: 66.0, right: false },
        Column { head: "source of the limit", width: WIDTH - 300.0, right: false },
    ];
    flow.heading("Figures", 13.0);
    let says = format!(
        "Each is the worst of its mark, measured on the finished solid. Marginal: it passes by less than its limit’s margin. Limits of {}, where nothing else is said.",
        record.sheet
    );
    flow.paragraph(&says, SOFT);
    for mark in &record.marks {
        flow.heading(&format!("“{}” ({})", line(&mark.text), mark.mark), 10.5);
        if let Some(problem) = &mark.problem {
            flow.paragraph(&format!("It could not be built: {problem}."), FAIL);
        }
        let asked = mark.findings.iter().filter(|f| f.state != State::DoesNotApply);
        let row = |f: &Finding| {
            let loud = !matches!(f.state, State::Passes | State::DoesNotApply);
            let colour = if loud { of_state(f.state) } else { INK };
            let source = f.limit.as_ref().map_or(String::new(), |l| match l.sheet == record.sheet {
                true => l.source.clone(),
                false => format!("{} ({})", l.source, l.sheet),
            });
            vec![
                Cell::of(f.check.name()),
                Cell {
                    strong: loud,
                    ..Cell::of(f.measured.map_or("–".into(), |m| figure(m, f.unit))).coloured(colour)
                },
                Cell::of(limit(f)),
                Cell { strong: loud, ..Cell::of(stands(f)).coloured(colour) },
                Cell::of(source).coloured(SOFT),
            ]
        };
        flow.table(&columns, asked.map(row).collect());
        let none: Vec<&str> =
            mark.findings.iter().filter(|f| f.state == State::DoesNotApply).map(|f| f.check.name()).collect();
        if !none.is_empty() {
            flow.paragraph(&format!("Nothing to ask: {}.", none.join(", ")), SOFT);
        }
    }
}

/// For each finding that does not simply pass: where it was measured, and a section there.
fn evidence(flow: &mut Flow, record: &Record, bench: &Bench, outcome: &Outcome) {
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
    pixels: Arc<crate::ink::Pixels>,
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
fn sections(flow: &mut Flow, record: &Record, bench: &Bench, outcome: &Outcome) {
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

/// How each mark looks under the eight lights, the worst first, and by how much each letter stands out.
fn reading(flow: &mut Flow, record: &Record, outcome: &Outcome) {
    const SIDES: [&str; 8] =
        ["the right", "above right", "above", "above left", "the left", "below left", "below", "below right"];
    let strips = strips(record, outcome);
    if strips.is_empty() {
        return;
    }
    flow.heading("Reading test", 13.0);
    let says = format!(
        "Each letter, as its shadows show it under eight raking lights from {:.0} mm, held against the others of its face: by how much it matches itself better than the next. It is a comparison under a stated light and eye, not a promise.",
        record.job.reading_distance
    );
    flow.paragraph(&says, SOFT);
    let wide = (WIDTH - 3.0 * 8.0) / 4.0;
    for strip in strips {
        let Some((mark, read)) =
            record.marks.iter().find(|m| m.mark == strip.mark).and_then(|m| Some((m, m.reading.as_ref()?)))
        else {
            continue;
        };
        let tall = strip
            .lights
            .iter()
            .map(|(.., p)| wide * p.height as f32 / p.width as f32)
            .fold(0.0_f32, f32::max)
            .min(90.0);
        flow.need(2.0 * (tall + 16.0) + 50.0);
        let y = flow.y();
        let title = format!("“{}”: {} ({:.3})", line(&mark.text), read.verdict.word(), read.margin);
        let end = flow.beside(&title, [LEFT, y], WIDTH, Face::Strong, of_state(read.verdict));
        flow.down(end - y + 2.0);
        for four in strip.lights.chunks(4) {
            let y = flow.y();
            for (k, (from, margin, pixels)) in four.iter().enumerate() {
                let x = LEFT + k as f32 * (wide + 8.0);
                let scale = (wide / pixels.width as f32).min(tall / pixels.height as f32);
                let size = [pixels.width as f32 * scale, pixels.height as f32 * scale];
                flow.put(Op::Image { pixels: pixels.clone(), at: [x, y], size });
                let side = SIDES[(from / 45.0).round() as usize % 8];
                flow.caption(&format!("from {side}: {margin:.2}"), [x, y + tall + 1.0], wide);
            }
            flow.down(tall + 14.0);
        }
        let letters: Vec<String> =
            read.letters.iter().map(|l| format!("{} {:.2} (next {})", l.text, l.margin, l.rival)).collect();
        flow.paragraph(&letters.join("   "), INK);
        if read.shadow > reading::LONG_SHADOW {
            let says =
                format!("Its shadows are {:.1} capitals long: too tall for this size under flat light.", read.shadow);
            flow.paragraph(&says, MARGINAL);
        }
        flow.down(4.0);
    }
}

/// The worst of each row of the roster.
fn rows(flow: &mut Flow, record: &Record) {
    if record.rows.is_empty() {
        return;
    }
    let columns = [
        Column { head: "row", width: 30.0, right: true },
        Column { head: "cells", width: 120.0, right: false },
        Column { head: "result", width: 70.0, right: false },
        Column { head: "what matters most", width: WIDTH - 220.0, right: false },
    ];
    flow.heading("All rows of the roster", 13.0);
    let row = |r: &record::RowRecord| {
        // of those that are alike the first
        let worst = r.found.as_ref().and_then(|f| f.marks.iter().rev().max_by_key(|m| m.state));
        let state = worst.map_or(State::NotChecked, |m| m.state);
        let says = worst.and_then(|m| m.worst.as_ref().map(|w| format!("“{}”: {}", line(&m.text), w.sentence)));
        vec![
            Cell::of(r.row.place.to_string()),
            Cell::of(r.row.cells.join(" · ")),
            Cell::of(state.word()).coloured(of_state(state)),
            Cell::of(says.or(r.problem.clone()).unwrap_or_default()),
        ]
    };
    flow.table(&columns, record.rows.iter().map(row).collect());
}

fn waivers(flow: &mut Flow, record: &Record) {
    let waived = record.findings().filter_map(|f| Some((f, f.waived.as_ref()?))).collect::<Vec<_>>();
    if waived.is_empty() {
        return;
    }
    let columns = [
        Column { head: "finding", width: 130.0, right: false },
        Column { head: "figure", width: 60.0, right: true },
        Column { head: "waived by", width: 110.0, right: false },
        Column { head: "until", width: 62.0, right: false },
        Column { head: "reason", width: WIDTH - 362.0, right: false },
    ];
    flow.heading("Waivers", 13.0);
    flow.paragraph("A waived finding fails; somebody answers for it as it is.", SOFT);
    let row = |(f, w): (&Finding, &trade::WaivedBy)| {
        let reason = match &w.lapsed {
            Some(why) => format!("{} Holds no more: {why}.", w.reason),
            None => w.reason.clone(),
        };
        vec![
            Cell::of(format!("{}: {}", f.mark, f.check.name())),
            Cell::of(f.measured.map_or("–".into(), |m| figure(m, f.unit))),
            Cell::of(format!("{}, {}", w.by, w.on)),
            Cell::of(w.until.clone().unwrap_or("left open".into())),
            Cell::of(reason),
        ]
    };
    flow.table(&columns, waived.into_iter().map(row).collect());
}

fn files(flow: &mut Flow, record: &Record) {
    if record.files.is_empty() {
        return;
    }
    let columns = [
        Column { head: "file", width: 128.0, right: false },
        Column { head: "bytes", width: 52.0, right: true },
        Column { head: "SHA-256", width: WIDTH - 180.0, right: false },
    ];
    flow.heading("Files", 13.0);
    if let Some(solid) = &record.solid {
        flow.paragraph(&solid.sentence, of_state(solid.state));
    }
    let row = |f: &record::FileRecord| {
        vec![Cell::of(f.name.as_str()), Cell::of(f.bytes.to_string()), Cell::of(f.sha256.as_str()).coloured(SOFT)]
    };
    flow.table(&columns, record.files.iter().map(row).collect());
}

fn signatures(flow: &mut Flow) {
    const TALL: f32 = 44.0;
    flow.need(3.0 * TALL + 40.0);
    flow.heading("Signed", 13.0);
    for who in ["made", "checked", "accepted"] {
        let y = flow.y() + TALL - 12.0;
        flow.beside(who, [LEFT, y - SIZE - 2.0], 60.0, Face::Text, SOFT);
        for (from, to, says) in [(62.0, 300.0, "name and signature"), (320.0, WIDTH, "day")] {
            flow.put(Op::Line { points: vec![[LEFT + from, y], [LEFT + to, y]], width: 0.6, colour: INK });
            flow.caption(says, [LEFT + from, y + 1.0], to - from);
        }
        flow.down(TALL);
    }
}
