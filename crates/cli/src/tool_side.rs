//! The tool's side of a job file, written as files; and what changes in steel from one job file to another.

use crate::{Opened, RunError, WRITTEN, opened, remove_what_was_written};
use callouts::{Callouts, Manner, callouts};
use handoff::tool_side::{ToolSide, tool_side};
use std::{fs, path::Path};
use time::Date;
use toolside::changes::{Built, MarkChange, changes};
use workbench::{Scope, Steps};

/// The tool's side of the job file at `path`, written into the folder `out`.
///
/// # Errors
/// As [`crate::run_file`].
pub fn tool_side_files(
    path: &Path,
    part: Option<&Path>,
    out: &Path,
    made: Date,
    row: Option<usize>,
) -> Result<ToolSide, RunError> {
    let Opened { job, bench, .. } = opened(path, part, made, row)?;
    let side = tool_side(&job, &bench)?;
    let failed = |path: &Path| {
        let path = path.to_path_buf();
        move |source| RunError::File { path, source }
    };
    fs::create_dir_all(out).map_err(failed(out))?;
    remove_what_was_written(out)?;
    let names: Vec<&str> = side.files.iter().map(|file| file.name.as_str()).collect();
    let list = out.join(WRITTEN);
    fs::write(&list, names.join("\n") + "\n").map_err(failed(&list))?;
    for file in &side.files {
        let path = out.join(&file.name);
        fs::write(&path, &file.bytes).map_err(failed(&path))?;
    }
    Ok(side)
}

/// What changes in steel that was cut after the job file `before`, to make it as the job file `after` has it.
///
/// # Errors
/// As [`crate::run_file`], or a mark that is on could not be built.
pub fn steel_changes(
    before: &Path,
    after: &Path,
    part: Option<&Path>,
    made: Date,
    row: Option<usize>,
) -> Result<Vec<MarkChange>, RunError> {
    let (was, is) = (opened(before, part, made, row)?, opened(after, part, made, row)?);
    let joined = |of: &Opened| of.bench.joined(&of.job, Scope::NearMarks);
    let (then, now) = (joined(&was), joined(&is));
    let scale = is.job.process.steel_scale().unwrap_or(1.0);
    let built = |job, outcome, part| Built { job, outcome, part };
    changes(built(&was.job, &then, was.bench.part()), built(&is.job, &now, is.bench.part()), scale)
        .map_err(|e| RunError::Nothing(e.to_string()))
}

/// The callout sheet of the job file at `path`, drawn for somebody, written to `out`.
///
/// # Errors
/// As [`crate::run_file`], or no mark could be built.
pub fn callout_sheet(
    path: &Path,
    part: Option<&Path>,
    out: &Path,
    made: Date,
    row: Option<usize>,
    (by, manner): (&str, Manner),
) -> Result<(), RunError> {
    let Opened { kept, job, row, bench, .. } = opened(path, part, made, row)?;
    let outcome = bench.joined(&job, Scope::NearMarks);
    let texts = trade::said::texts(&kept, made);
    let of = Callouts {
        job: &job,
        row,
        outcome: &outcome,
        bench: &bench,
        texts: &texts,
        by,
        day: &made.to_string(),
        state: None,
        record: None,
        program: env!("CARGO_PKG_VERSION"),
    };
    let bytes = callouts(&of, manner).map_err(|e| RunError::Nothing(e.to_string()))?;
    fs::write(out, bytes).map_err(|source| RunError::File { path: out.into(), source })
}
