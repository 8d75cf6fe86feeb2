//! A record made of what an inspection came to.

use crate::{
    FileRecord, Found, LetterRead, LimitLine, MarkRecord, PartFile, ReadingRecord, Record, RowAt, RowRecord,
    SectionRecord, VERSION,
};
use handoff::Handed;
use inspection::Finding;
use sha2::{Digest, Sha256};
use time::{Date, OffsetDateTime, format_description::well_known::Rfc3339};
use trade::{
    Job,
    limits::{State, Subject},
    waiver,
};
use workbench::{MarkOutcome, Outcome};

/// What a record is made of.
pub struct Making<'a> {
    pub number: Option<i64>,
    pub by: &'a str,
    pub at: OffsetDateTime,
    pub day: Date,
    pub program: &'a str,
    pub state: Option<i64>,
    /// As it is kept, not filled for a row.
    pub job: &'a Job,
    /// By its id.
    pub row: Option<u32>,
    pub part: PartFile,
    /// Of the job filled for the row, with findings.
    pub outcome: &'a Outcome,
    /// What is handed off of that; nothing where nothing can be.
    pub handed: Option<&'a Handed>,
    pub sections: Vec<SectionRecord>,
    pub rows: Vec<RowRecord>,
}

/// SHA-256, hexadecimal.
#[must_use]
pub fn sha256(bytes: &[u8]) -> String {
    Sha256::digest(bytes).iter().map(|b| format!("{b:02x}")).collect()
}

/// The record.
#[must_use]
pub fn made(making: Making<'_>) -> Record {
    let Making { number, by, at, day, program, state, job, row, part, outcome, handed, sections, rows } = making;
    let filled = job.filled(row, day);
    let limits = job.limit_set();
    let marks = filled.marks.iter().zip(&outcome.marks).enumerate().filter(|(_, (_, found))| found.on);
    let marks: Vec<MarkRecord> = marks
        .map(|(at, (mark, found))| MarkRecord {
            mark: mark.id.clone(),
            text: mark.text.clone(),
            verdict: found.state(),
            problem: found.problem.clone(),
            findings: found.findings.iter().map(plain).collect(),
            reading: read(job, outcome, at, found),
        })
        .collect();
    let checked = handed.map(|h| &h.checked);
    Record {
        version: VERSION,
        number,
        by: by.into(),
        at: at.replace_nanosecond(0).unwrap_or(at).format(&Rfc3339).unwrap_or_default(),
        day: waiver::written(day),
        program: program.into(),
        state,
        part,
        row: row.and_then(|id| rows_at(job, day).into_iter().find(|r| r.id == id)),
        sheet: job.limit_sheet(),
        limits: limits.limits.iter().map(|l| LimitLine { subject: l.subject, limit: l.clone().into() }).collect(),
        verdict: outcome.state().max(checked.map_or(State::DoesNotApply, handoff::Checked::state)),
        marks,
        solid: checked.and_then(|c| c.solid.as_ref()).map(|s| Found { state: s.state, sentence: s.sentence.clone() }),
        sections,
        files: handed.map(files).unwrap_or_default(),
        rows,
        job: job.clone(),
    }
}

/// A figure that is no number can't be written down.
fn plain(finding: &Finding) -> Finding {
    Finding { measured: finding.measured.filter(|m| m.is_finite()), ..finding.clone() }
}

/// All rows of a roster in order.
#[must_use]
pub fn rows_at(job: &Job, day: Date) -> Vec<RowAt> {
    let rows = job.roster.rows.iter().zip(job.file_names(day)).enumerate();
    rows.map(|(at, (row, name))| RowAt { id: row.id, place: at + 1, name: name.ok(), cells: row.cells.clone() })
        .collect()
}

fn read(job: &Job, outcome: &Outcome, at: usize, found: &MarkOutcome) -> Option<ReadingRecord> {
    found.built.as_ref()?;
    let (solid, built) = outcome.on_solid(at)?;
    let reading = reading::reading(solid, built, reading::View::of(job)).ok()?;
    let margin = reading.margin();
    Some(ReadingRecord {
        verdict: job.limit_set().limit(Subject::Reading).judge(margin, 0.0),
        margin,
        lights: reading.lights,
        shadow: reading.shadow,
        letters: reading
            .letters
            .iter()
            .map(|l| LetterRead { text: l.text.clone(), margin: l.margin(), rival: l.rival.clone() })
            .collect(),
    })
    .filter(|r| r.margin.is_finite())
}

fn files(handed: &Handed) -> Vec<FileRecord> {
    let read = |name: &str| handed.checked.files.iter().find(|f| f.file == name);
    let file = |f: &handoff::Named| FileRecord {
        name: f.name.clone(),
        bytes: f.bytes.len() as u64,
        sha256: sha256(&f.bytes),
        read: read(&f.name).map(|f| Found { state: f.state, sentence: f.sentence.clone() }),
    };
    handed.files.iter().map(file).collect()
}
