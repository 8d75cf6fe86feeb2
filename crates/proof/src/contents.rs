//! What stands in the proof, from the first page to the lines that are signed.

use crate::{
    evidence, figure,
    flow::{Cell, Column, Flow, LEFT, SIZE, WIDTH},
    stands,
    strips::reading,
    with_unit,
};
use glam::DVec3;
use inspection::Finding;
use paper::{
    face::Face,
    ink::{Colour, FAIL, INK, MARGINAL, Op, SOFT},
    picture::of_outcome,
    views::{View, views},
};
use rayon::prelude::*;
use record::Record;
use std::sync::Arc;
use trade::limits::{Side, State};
use workbench::{Bench, Outcome};

/// Pixels to the point of a picture.
pub const FINE: f32 = 2.6;
/// Between drawings, points.
pub const GAP: f32 = 12.0;

/// All pages.
#[must_use]
pub fn pages(record: &Record, bench: &Bench, outcome: &Outcome) -> Vec<Vec<Op>> {
    let mut flow = Flow::default();
    head(&mut flow, record);
    part(&mut flow, record, bench, outcome);
    figures(&mut flow, record);
    evidence::evidence(&mut flow, record, bench, outcome);
    evidence::sections(&mut flow, record, bench, outcome);
    reading(&mut flow, record, outcome);
    rows(&mut flow, record);
    waivers(&mut flow, record);
    files(&mut flow, record);
    signatures(&mut flow);
    flow.pages()
}

pub fn of_state(state: State) -> Colour {
    match state {
        State::Fails => FAIL,
        State::Marginal => MARGINAL,
        State::NotChecked => INK,
        State::Passes | State::DoesNotApply => SOFT,
    }
}

pub fn line(text: &str) -> String {
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

pub fn limit(finding: &Finding) -> String {
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
