//! What the commands say that build and measure: run, mend, read, map, letter, record.

use crate::command::Looked;
use std::{path::Path, time::Duration};
use tinbadge::{exit_code, looking, mend_file, read_file, record_file, run_file, say};
use trade::{
    Check,
    limits::{Side, State},
};

pub fn mend(
    job: &Path,
    part: Option<&Path>,
    out: Option<&Path>,
    row: Option<usize>,
    within: Duration,
) -> Result<u8, anyhow::Error> {
    let mended = mend_file(job, part, server::app::today(), row, within)?;
    let all = &mended.all;
    for mend in &all.steps {
        say!("{}: {}", mend.mark, mend.says);
    }
    for finding in &all.left {
        say!("left: {}: {} {}", finding.mark, finding.state.word(), finding.sentence);
    }
    if all.cut_short {
        say!("the search ran out of time");
    }
    if let Some(out) = out {
        std::fs::write(out, serde_json::to_vec_pretty(&mended.job)?)
            .map_err(|source| tinbadge::RunError::File { path: out.into(), source })?;
    }
    let worst = all.left.iter().map(|f| f.state).max().unwrap_or(State::Passes);
    Ok(exit_code(worst))
}

pub fn read(job: &Path, part: Option<&Path>, row: Option<usize>) -> Result<u8, anyhow::Error> {
    let (marks, limit) = read_file(job, part, server::app::today(), row)?;
    let mut states = Vec::new();
    for mark in &marks {
        let text = mark.text.replace('\n', " / ");
        let reading = match &mark.reading {
            Ok(reading) => reading,
            Err(why) => {
                say!("{} “{text}”: {}: {why}", mark.mark, word(State::NotChecked));
                continue;
            }
        };
        let state = limit.judge(reading.margin(), 0.0);
        states.push(state);
        say!("{} “{text}”: {}, {:.3}", mark.mark, word(state), reading.margin());
        for letter in &reading.letters {
            let state = limit.judge(letter.margin(), 0.0);
            say!("  {:14} “{}” {:.3}, next “{}”", word(state), letter.text, letter.margin(), letter.rival);
        }
        if reading.shadow > reading::LONG_SHADOW {
            say!("  its shadows are {:.1} capitals long: too tall for this size under flat light", reading.shadow);
        }
    }
    say!("from {} on it reads, below {} it doesn't: {}", limit.value + limit.margin, limit.value, limit.sheet);
    Ok(exit_code(states.into_iter().max().unwrap_or(State::NotChecked)))
}

pub fn run(job: &Path, part: Option<&Path>, out: &Path, row: Option<usize>) -> Result<u8, anyhow::Error> {
    let ran = run_file(job, part, out, server::app::today(), row)?;
    for (mark, found) in ran.job.marks.iter().zip(&ran.outcome.marks) {
        say!("{} “{}”", mark.id, mark.text.replace('\n', " / "));
        if !found.on {
            say!("  switched off");
        }
        for finding in &found.findings {
            say!("  {:14} {:?}: {}", word(finding.state), finding.check, finding.sentence);
            if let Some(waived) = &finding.waived {
                let holds = waived.lapsed.as_ref().map_or(String::new(), |why| format!("; it holds no more: {why}"));
                say!("                 waived by {} on {}: {}{holds}", waived.by, waived.on, waived.reason);
            }
        }
    }
    if !ran.outcome.marks.iter().any(|m| m.on) {
        say!("No mark is on: there was nothing to check.");
    }
    if let Some(solid) = &ran.checked.solid {
        say!("{:16} {}", word(solid.state), solid.sentence);
    }
    for path in &ran.written {
        say!("wrote {}", path.display());
        let name = path.file_name().unwrap_or_default();
        if let Some(read) = ran.checked.files.iter().find(|f| name == f.file.as_str()) {
            say!("  {:14} {}", word(read.state), read.sentence);
        }
    }
    Ok(exit_code(ran.state))
}

pub fn record(job: &Path, part: Option<&Path>, out: &Path, row: Option<usize>, by: &str) -> Result<u8, anyhow::Error> {
    let at = time::OffsetDateTime::now_utc();
    let (record, written) = record_file(job, part, out, by, at, server::app::today(), row)?;
    let count = |state| record.count(state);
    say!(
        "{} fail ({} waived), {} not checked, {} marginal",
        count(State::Fails),
        record.waived(),
        count(State::NotChecked),
        count(State::Marginal)
    );
    for path in written {
        say!("wrote {}", path.display());
    }
    Ok(exit_code(record.verdict))
}

pub fn map(of: &Looked, check: Check, out: Option<&Path>) -> Result<u8, anyhow::Error> {
    let map = looking::map_of(&of.of(), check)?;
    let ([beyond, area], unit) = (map.beyond(), map.unit);
    let side = if map.limit.side == Side::AtLeast { "at least" } else { "at most" };
    say!("{}: {} {side} {} {unit} ({})", of.mark, check.name(), map.limit.value, map.limit.source);
    if let Some((worst, piece)) = map.worst() {
        let [x, y, z] = ((piece.corners[0] + piece.corners[1] + piece.corners[2]) / 3.0).to_array();
        say!("the worst is {worst:.3} {unit}, about x {x:.3}, y {y:.3}, z {z:.3} mm");
    }
    say!("{beyond:.3} of {area:.3} mm² don't keep the limit");
    if let Some(out) = out {
        std::fs::write(out, looking::csv(&map))
            .map_err(|source| tinbadge::RunError::File { path: out.into(), source })?;
        say!("wrote {}", out.display());
    }
    Ok(u8::from(map.pieces.iter().any(|p| p.character.is_some() && map.is_beyond(p))))
}

pub fn laid_flat(of: &Looked, letter: usize, cutter: Option<f64>) -> Result<u8, anyhow::Error> {
    let (flat, uncut) = looking::letter_of(&of.of(), letter, cutter)?;
    let size = |rings: &[Vec<glam::DVec2>]| {
        let points = || rings.iter().flatten().copied();
        let (low, high) = (points().reduce(glam::DVec2::min), points().reduce(glam::DVec2::max));
        low.zip(high)
            .map_or("nothing".into(), |(low, high)| format!("{:.3} × {:.3} mm", high.x - low.x, high.y - low.y))
    };
    say!("“{}” of {}", flat.text, of.mark);
    say!("top or floor {}, root or rim {}", size(&flat.top), size(&flat.root));
    if let Some(h) = flat.heights {
        say!("{:.3} mm high or deep, {:.3} to {:.3}", h.mean, h.least.0, h.greatest.0);
    }
    if let Some(stroke) = flat.stroke {
        say!("narrowest stroke {:.3} mm", stroke.width);
    }
    for space in &flat.spaces {
        say!("counter or space {:.3} mm", space.width);
    }
    for gap in &flat.gaps {
        say!("{:.3} mm to “{}”", gap.width, gap.text);
    }
    if let Some(left) = uncut {
        say!(
            "a cutter of {} mm leaves {:.4} mm² in {} places in steel × {:.4}",
            left.diameter,
            left.area,
            left.places,
            left.scale
        );
        say!(
            "{}",
            left.largest.map_or("every cutter leaves something".to_owned(), |largest| format!(
                "{largest:.2} mm is the largest that leaves nothing wider than 0.01 mm"
            ))
        );
    }
    Ok(0)
}

fn word(state: State) -> &'static str {
    match state {
        State::Fails => "FAILS",
        state => state.word(),
    }
}
