//! A mark of a job file looked at closely: what a check finds place by place, and one letter laid flat.

use crate::{Opened, RunError, opened};
use inspection::{
    Check, Site,
    letter_flat::{self, LetterFlat},
    map::{self, Map},
    uncut::{Uncut, uncut},
};
use std::{fmt::Write, path::Path};
use time::Date;
use trade::Job;
use workbench::{Scope, line};

/// Which mark of which job file, and in which row of its roster.
pub struct OfMark<'a> {
    pub job: &'a Path,
    pub part: Option<&'a Path>,
    /// Its id.
    pub mark: &'a str,
    pub row: Option<usize>,
    pub made: Date,
}

/// What a check finds on a mark, place by place over the finished solid.
///
/// # Errors
/// As [`crate::run_file`]; there is no such mark, it can't be built, or the check has no map there.
pub fn map_of(of: &OfMark<'_>, check: Check) -> Result<Map, RunError> {
    look(of, |site| map::of(site, check))?.found.map_err(RunError::Nothing)
}

/// A letter of a mark laid flat at true size, by its place from 1 on, and what a cutter of that diameter, mm, leaves of it.
///
/// # Errors
/// As [`map_of`]; the mark has no such letter, or nothing is left of it.
pub fn letter_of(of: &OfMark<'_>, letter: usize, cutter: Option<f64>) -> Result<(LetterFlat, Option<Uncut>), RunError> {
    let at = letter.checked_sub(1).and_then(|at| u32::try_from(at).ok());
    let Looked { job, found } = look(of, |site| at.and_then(|at| letter_flat::of(site, at)))?;
    let scale = job.process.steel_scale().unwrap_or(1.0);
    let found = found.map(|flat| {
        let left = cutter.and_then(|diameter| uncut(&flat, diameter, scale));
        (flat, left)
    });
    found.ok_or_else(|| RunError::Nothing(format!("nothing of letter {letter} is left on the finished solid")))
}

/// What was seen on a mark of a job.
struct Looked<T> {
    job: Job,
    found: T,
}

fn look<T>(of: &OfMark<'_>, see: impl FnOnce(&Site<'_>) -> T) -> Result<Looked<T>, RunError> {
    let Opened { job, bench, .. } = opened(of.job, of.part, of.made, of.row)?;
    let at = job.marks.iter().position(|m| m.id == of.mark);
    let at = at.ok_or_else(|| {
        let has: Vec<&str> = job.marks.iter().map(|m| m.id.as_str()).collect();
        RunError::Nothing(format!("the job has no mark “{}”; it has {}", of.mark, has.join(", ")))
    })?;
    let outcome = bench.joined(&job, Scope::NearMarks);
    let found = line::on_site(&job, &bench, &outcome, at, see).ok_or_else(|| {
        let why = outcome.marks[at].problem.as_deref().unwrap_or("it is switched off");
        RunError::Nothing(format!("“{}” is not built: {why}", of.mark))
    })?;
    Ok(Looked { job, found })
}

/// A map as a table: corners in mm, the value at each, what is asked, and the letter's place from 1 on.
#[must_use]
pub fn csv(map: &Map) -> String {
    let mut out = format!("letter,x1,y1,z1,x2,y2,z2,x3,y3,z3,value1,value2,value3,limit ({})\n", map.unit);
    for piece in &map.pieces {
        let letter = piece.character.map_or(String::new(), |at| at.wrapping_add(1).to_string());
        let numbers = piece.corners.iter().flat_map(|c| c.to_array()).chain(piece.values).chain([piece.limit]);
        let numbers: Vec<String> = numbers.map(|n| format!("{n:.6}")).collect();
        let _ = writeln!(out, "{letter},{}", numbers.join(","));
    }
    out
}
