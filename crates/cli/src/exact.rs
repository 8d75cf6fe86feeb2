//! A job file's exact geometry, written as STEP.

use crate::{Opened, RunError, opened};
use handoff::exact::{Exact, Holds, Manner, exact};
use solid::Unwatched;
use std::{
    fs,
    path::{Path, PathBuf},
};
use time::Date;

/// What could be written, where, or why not.
pub type Made = (Holds, Result<(PathBuf, Exact), handoff::HandoffError>);

/// The STEP files of the job file at `path`, each made, read back and written into the folder `out`.
///
/// # Errors
/// As [`crate::run_file`].
pub fn exact_files(
    path: &Path,
    part: Option<&Path>,
    out: &Path,
    made: Date,
    row: Option<usize>,
    manner: Manner,
) -> Result<Vec<Made>, RunError> {
    let Opened { job, bench, step_file, .. } = opened(path, part, made, row)?;
    let day = format!("{made}T00:00:00");
    let mut all = Vec::new();
    for holds in Holds::ALL {
        let exact = exact(&job, &bench, holds, step_file.as_deref(), (&day, manner), &Unwatched);
        let exact = match exact {
            Ok(exact) => {
                let path = out.join(&exact.file.name);
                let put = fs::create_dir_all(out).and_then(|()| fs::write(&path, &exact.file.bytes));
                put.map_err(|source| RunError::File { path: path.clone(), source })?;
                Ok((path, exact))
            }
            Err(why) => Err(why),
        };
        all.push((holds, exact));
    }
    Ok(all)
}
