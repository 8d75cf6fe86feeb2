//! What the commands for the toolmaker say.

use std::path::Path;
use tinbadge::say;
use trade::limits::State;

pub fn exact(
    job: &Path,
    part: Option<&Path>,
    out: &Path,
    row: Option<usize>,
    manner: handoff::exact::Manner,
) -> Result<u8, anyhow::Error> {
    let made = tinbadge::exact::exact_files(job, part, out, server::app::today(), row, manner)?;
    for (_, made) in &made {
        match made {
            Ok((path, exact)) => {
                say!("wrote {}", path.display());
                say!("  {}", exact.read.sentence);
                exact.read.faceted.iter().for_each(|told| say!("  {told}."));
            }
            Err(why) => say!("{why}"),
        }
    }
    Ok(u8::from(made.iter().any(|(_, made)| made.is_err())))
}

pub fn tool_side(job: &Path, part: Option<&Path>, out: &Path, row: Option<usize>) -> Result<u8, anyhow::Error> {
    let side = tinbadge::tool_side::tool_side_files(job, part, out, server::app::today(), row)?;
    for mark in &side.marks {
        say!("{}, {}", mark.mark, mark.steel.as_deref().unwrap_or("no steel"));
        mark.says.iter().for_each(|told| say!("  {told}"));
        mark.cutters.iter().for_each(|by| say!("  {}: {}", by.cutter, by.says));
        mark.refused.iter().for_each(|why| say!("  NOT MADE: {why}"));
    }
    for file in &side.files {
        say!("wrote {}", out.join(&file.name).display());
    }
    let wrong = side.read.iter().filter(|read| read.state != State::Passes);
    wrong.clone().for_each(|read| say!("{}: {}", read.file, read.sentence));
    Ok(u8::from(wrong.count() > 0 || side.marks.iter().any(|mark| !mark.refused.is_empty())))
}

pub fn steel_changes(
    before: &Path,
    after: &Path,
    part: Option<&Path>,
    row: Option<usize>,
) -> Result<u8, anyhow::Error> {
    let all = tinbadge::tool_side::steel_changes(before, after, part, server::app::today(), row)?;
    for change in &all {
        let text =
            |k: usize| change.texts[k].as_deref().map_or("–".into(), |t| format!("“{}”", t.replace('\n', " / ")));
        let differs: Vec<&str> = change.differs.iter().map(|d| d.word()).collect();
        let texts = if change.texts[0] == change.texts[1] { text(1) } else { format!("{} → {}", text(0), text(1)) };
        let what = if differs.is_empty() { "the same".to_owned() } else { differs.join(", ") };
        say!("{} {texts}: {what}", change.mark);
        say!("  {}", change.says);
    }
    Ok(0)
}

pub fn callouts(
    job: &Path,
    part: Option<&Path>,
    out: &Path,
    row: Option<usize>,
    drawn: (&str, callouts::Manner),
) -> Result<u8, anyhow::Error> {
    tinbadge::tool_side::callout_sheet(job, part, out, server::app::today(), row, drawn)?;
    say!("wrote {}", out.display());
    Ok(0)
}
