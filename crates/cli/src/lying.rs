//! What the commands say that tell where things lie: faces, and run with --dry.

use std::path::Path;
use tinbadge::{
    lies::{FaceThere, LiesAt, StripOf, faces as faces_of, lies},
    say,
};
use trade::Unit;

/// Exit code where a mark can't be laid.
const NOT_LAID: u8 = 1;

pub fn faces(part: &Path, unit: Option<Unit>, json: bool) -> Result<u8, anyhow::Error> {
    let all = faces_of(part, unit)?;
    if json {
        let one = |f: &FaceThere| {
            let (low, high) = f.bounds;
            serde_json::json!({"face": f.face, "says": f.says, "area": f.area, "low": low, "high": high, "surface": f.surface})
        };
        say!("{:#}", serde_json::Value::from_iter(all.iter().map(one)));
        return Ok(0);
    }
    for face in &all {
        let (low, high) = face.bounds;
        say!("{:4}  {}", face.face, face.says);
        say!("      {:.3} mm², from {} to {}", face.area, three(low), three(high));
    }
    say!("{} faces", all.len());
    Ok(0)
}

/// Where marks would lie, and with `explain` the strips of their seats.
pub fn dry(job: &Path, part: Option<&Path>, row: Option<usize>, explain: bool) -> Result<u8, anyhow::Error> {
    let all = lies(job, part, server::app::today(), row)?;
    for one in &all {
        let off = if one.mark.on { "" } else { ", switched off" };
        say!("{} “{}”{off}", one.mark.id, one.mark.text.replace('\n', " / "));
        match &one.found {
            Ok(at) => lying(at, explain),
            Err(why) => say!("  CAN’T BE LAID: {why}"),
        }
    }
    Ok(if all.iter().any(|one| one.found.is_err()) { NOT_LAID } else { 0 })
}

fn lying(at: &LiesAt, explain: bool) {
    let [left, right, below, above] = at.margins.map(|m| number(m, 3));
    say!("  on {}", at.face);
    say!("  middle at {}, outward {}, reads to {}", three(at.at), three(at.out), three(at.reads));
    say!("  {} mm long, capitals of {} mm", number(at.length, 3), number(at.cap_height, 3));
    say!("  to the ends of its face: left {left}, right {right}, below {below}, above {above} mm");
    say!("  laid there its lengths are {} % off at most", number(at.stretch, 3));
    if explain {
        let StripOf { zero, along, up, start, end, round } = &at.strip;
        say!("  its strip: zero at {}, along {}, up {}", three(*zero), three(*along), three(*up));
        let span = |k: usize| {
            let once = round[k].map_or_else(String::new, |r| format!(", once round {} mm", number(r, 3)));
            format!("from {} to {} mm{once}", number(start[k], 3), number(end[k], 3))
        };
        say!("  along {}; up {}", span(0), span(1));
    }
}

/// Three coordinates.
fn three(p: glam::DVec3) -> String {
    p.to_array().map(|c| number(c, 3)).join(" ")
}

/// Without a minus before zero.
fn number(value: f64, places: usize) -> String {
    let said = format!("{value:.places$}");
    let zero = said.strip_prefix('-').filter(|s| s.chars().all(|c| matches!(c, '0' | '.')));
    zero.map_or(said.clone(), str::to_owned)
}
