//! `tinbadge run`, `faces`, `mend`, `read`, `map`, `letter`, `exact`, `tool-side`,
//! `steel-changes` and `record`: a job file and its part file in; the handoff's files, what would
//! mend the job, how its marks read, what was measured where, or its inspection frozen out, without server or database.

pub mod exact;
pub mod lies;
pub mod looking;
pub mod say;
pub mod tool_side;

use reading::Reading;
use record::{Making, PartFile, Record};
use std::{
    fs,
    path::{Path, PathBuf},
    sync::atomic::AtomicBool,
    time::{Duration, Instant},
};
use time::{Date, OffsetDateTime};
use trade::{
    Job, Mark,
    limits::{Limit, State, Subject},
};
use workbench::{
    Bench, Outcome, Scope, Steps, faces_kept,
    mending::{self, AllMends, Patience},
};

#[derive(Debug, thiserror::Error)]
pub enum RunError {
    #[error("{path}: {source}", path = .path.display())]
    File { path: PathBuf, source: std::io::Error },
    #[error("{path}: {source}", path = .path.display())]
    Job { path: PathBuf, source: trade::JobError },
    #[error("{path}: {source}", path = .path.display())]
    Part { path: PathBuf, source: solid::PartError },
    #[error("{path} is not the file the job was made for: its SHA-256 is {found}, the job names {wanted}", path = .path.display())]
    OtherPart { path: PathBuf, found: String, wanted: String },
    #[error("the roster of this job has {rows} rows and no row {row}")]
    NoRow { row: usize, rows: usize },
    /// What was asked for isn't there.
    #[error("{0}")]
    Nothing(String),
    #[error(transparent)]
    Handoff(#[from] handoff::HandoffError),
    #[error(transparent)]
    Proof(#[from] proof::ProofError),
}

/// What a run made.
pub struct Ran {
    pub job: Job,
    pub outcome: Outcome,
    /// What was found on the finished solid and on its files, read again.
    pub checked: handoff::Checked,
    /// The worst of all of it.
    pub state: State,
    pub written: Vec<PathBuf>,
}

/// Runs the job file at `path`; its part file lies beside it or at `part`. Files go to `out`, which
/// is made if need be. Recipes are filled from the `row`-th row of its roster, from 1 on and the first where none is
/// given, and for the day `made`.
///
/// # Errors
/// A file that can't be read or written, a job or part that is wrong, or nothing to hand off.
pub fn run_file(path: &Path, part: Option<&Path>, out: &Path, made: Date, row: Option<usize>) -> Result<Ran, RunError> {
    let Opened { job, bench, .. } = opened(path, part, made, row)?;
    let handed = handoff::files(&job, &bench, &made.to_string())?;
    let state = handed.state();
    fs::create_dir_all(out).map_err(|source| RunError::File { path: out.into(), source })?;
    remove_what_was_written(out)?;
    let names: Vec<&str> = handed.files.iter().map(|file| file.name.as_str()).collect();
    let list = out.join(WRITTEN);
    fs::write(&list, names.join("\n") + "\n").map_err(|source| RunError::File { path: list, source })?;
    let mut written = Vec::new();
    for file in handed.files {
        let path = out.join(&file.name);
        fs::write(&path, file.bytes).map_err(|source| RunError::File { path: path.clone(), source })?;
        written.push(path);
    }
    Ok(Ran { job, outcome: handed.outcome, checked: handed.checked, state, written })
}

/// A job file with its part on its bench.
struct Opened {
    /// As it is kept.
    kept: Job,
    /// Filled from a row, by its id.
    job: Job,
    row: Option<u32>,
    bench: Bench,
    /// The part's own file where that is STEP.
    step_file: Option<Vec<u8>>,
}

fn opened(path: &Path, part: Option<&Path>, made: Date, row: Option<usize>) -> Result<Opened, RunError> {
    let read = |path: &Path| fs::read(path).map_err(|source| RunError::File { path: path.into(), source });
    let mut kept = Job::from_json(&read(path)?).map_err(|source| RunError::Job { path: path.into(), source })?;
    let rows = &kept.roster.rows;
    let id = match row {
        None => kept.first_row(),
        Some(row) => {
            let found = row.checked_sub(1).and_then(|at| rows.get(at));
            Some(found.ok_or(RunError::NoRow { row, rows: rows.len() })?.id)
        }
    };
    let part_path = part.map_or_else(|| path.with_file_name(&kept.part.file), Path::to_path_buf);
    let bytes = read(&part_path)?;
    let name = part_path.to_string_lossy();
    let part = step::read_part(&name, &bytes, &kept.part)
        .map_err(|source| RunError::Part { path: part_path.clone(), source })?;
    if let Some(wanted) = &kept.part.sha256
        && *wanted != part.sha256
    {
        return Err(RunError::OtherPart { path: part_path, found: part.sha256, wanted: wanted.clone() });
    }
    let bench = Bench::new(part);
    faces_kept::find_again(&mut kept, &bench);
    let job = kept.filled(id, made);
    let step_file = step::is_step(&name).then_some(bytes);
    Ok(Opened { kept, job, row: id, bench, step_file })
}

/// What would mend a job.
pub struct Mended {
    pub all: AllMends,
    /// The job with all of it, as it is kept.
    pub job: Job,
}

/// Mends of all that fails or is close in the job file at `path`, one after another. As [`run_file`].
///
/// # Errors
/// As [`run_file`].
pub fn mend_file(
    path: &Path,
    part: Option<&Path>,
    made: Date,
    row: Option<usize>,
    within: Duration,
) -> Result<Mended, RunError> {
    let Opened { kept, job, row, bench, .. } = opened(path, part, made, row)?;
    let now = Instant::now();
    let until = now + within;
    let patience = Patience { until, soft: now, enough: until, stopped: &AtomicBool::new(false) };
    let all = mending::all(&job, &bench, &mending::other_rows(&kept, row, made), patience);
    let mut mended = kept;
    for mend in &all.steps {
        mend.put_into(&mut mended);
    }
    Ok(Mended { all, job: mended })
}

/// How a mark reads by its shadows.
pub struct Read {
    pub mark: String,
    pub text: String,
    /// Or why it has no reading test.
    pub reading: Result<Reading, String>,
}

/// The reading test of all marks that are on in the job file at `path`, and the limit that it is judged by. As [`run_file`].
///
/// # Errors
/// As [`run_file`].
pub fn read_file(
    path: &Path,
    part: Option<&Path>,
    made: Date,
    row: Option<usize>,
) -> Result<(Vec<Read>, Limit), RunError> {
    let Opened { job, bench, .. } = opened(path, part, made, row)?;
    let outcome = bench.joined(&job, Scope::NearMarks);
    let read = |(at, mark): (usize, &Mark)| {
        let reading = match outcome.on_solid(at) {
            Some((solid, built)) => reading::reading(solid, built, reading::View::of(&job)),
            None => Err(outcome.marks[at].problem.clone().unwrap_or_else(|| "it is not built".into())),
        };
        Read { mark: mark.id.clone(), text: mark.text.clone(), reading }
    };
    let marks = job.marks.iter().enumerate().filter(|(_, mark)| mark.on).map(read).collect();
    Ok((marks, job.limit_set().limit(Subject::Reading)))
}

/// Freezes what [`run_file`] finds as a record, with all its figures as a table and the proof; the files that were written.
///
/// # Errors
/// As [`run_file`].
pub fn record_file(
    path: &Path,
    part: Option<&Path>,
    out: &Path,
    by: &str,
    at: OffsetDateTime,
    made: Date,
    row: Option<usize>,
) -> Result<(Record, Vec<PathBuf>), RunError> {
    let Opened { kept, job, row, bench, .. } = opened(path, part, made, row)?;
    let outcome = bench.outcome(&job, Scope::NearMarks);
    let handed = match handoff::files(&job, &bench, &made.to_string()) {
        Ok(handed) => Some(handed),
        Err(handoff::HandoffError::NothingBuilt(_)) => None,
        Err(other) => return Err(other.into()),
    };
    let recorded = bench.part();
    let part_path = part.map_or_else(|| path.with_file_name(&kept.part.file), Path::to_path_buf);
    let bytes = fs::metadata(&part_path).map_err(|source| RunError::File { path: part_path, source })?.len();
    let record = record::made(Making {
        number: None,
        by,
        at,
        day: made,
        program: server::records::PROGRAM,
        state: None,
        job: &kept,
        row,
        part: PartFile { file: kept.part.file.clone(), sha256: recorded.sha256.clone(), bytes },
        outcome: &outcome,
        handed: handed.as_ref(),
        sections: Vec::new(),
        rows: Vec::new(),
    });
    let proof = proof::pdf(&record, &bench, &outcome)?;
    fs::create_dir_all(out).map_err(|source| RunError::File { path: out.into(), source })?;
    let files = [("record.json", record.to_json()), ("figures.csv", record::csv(&record)), ("proof.pdf", proof)];
    let mut written = Vec::new();
    for (name, bytes) in files {
        let path = out.join(name);
        fs::write(&path, bytes).map_err(|source| RunError::File { path: path.clone(), source })?;
        written.push(path);
    }
    Ok((record, written))
}

/// Lists the files that a run wrote into its folder.
const WRITTEN: &str = "written-files.txt";

/// Takes what an earlier run wrote out of its folder, so that nothing of marks that are gone stays; other files are left.
fn remove_what_was_written(out: &Path) -> Result<(), RunError> {
    let Ok(names) = fs::read_to_string(out.join(WRITTEN)) else { return Ok(()) };
    // what leads elsewhere was not written here
    for name in names.lines().filter(|name| !name.is_empty() && !name.contains(['/', '\\']) && *name != "..") {
        let path = out.join(name);
        match fs::remove_file(&path) {
            Err(source) if source.kind() != std::io::ErrorKind::NotFound => {
                return Err(RunError::File { path, source });
            }
            _ => {}
        }
    }
    Ok(())
}

/// Exit code of a run: 0 everything passes (marginal counts as passing), 1 something fails, 3 nothing
/// fails but something could not be checked, or there was nothing to check. (2 is for runs that could not be made.)
#[must_use]
pub fn exit_code(state: State) -> u8 {
    match state {
        State::Fails => 1,
        State::NotChecked => 3,
        State::DoesNotApply | State::Passes | State::Marginal => 0,
    }
}
