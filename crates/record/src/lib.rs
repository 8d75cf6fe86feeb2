//! A record: an inspection frozen with everything that it was judged by. It can be opened later, held against another one,
//! and repeated.

mod compare;
mod made;
mod repeat;
mod sections;
mod table;

pub use compare::{Difference, differences};
pub use made::{Making, made, rows_at, sha256};
pub use repeat::{Repeated, repeated};
pub use sections::{SectionWish, section};
pub use table::csv;

use inspection::{Finding, LimitShown};
use serde::{Deserialize, Serialize};
use trade::{
    Job,
    limits::{State, Subject},
};
use workbench::rows::RowFound;

/// The version that is written.
pub const VERSION: u32 = 1;

/// An inspection as it was. Lengths are mm, angles degrees; points are in part coordinates.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Record {
    /// Of this form; 1.
    pub version: u32,
    /// None where the command line made it.
    pub number: Option<i64>,
    pub by: String,
    /// When, in universal time (RFC 3339), and which day that was in the shop, as 2026-11-30.
    pub at: String,
    pub day: String,
    /// The program's version, and what it was made from.
    pub program: String,
    /// The state of the job in the application's history.
    pub state: Option<i64>,
    /// The whole job, with its roster, waivers and limits of its own.
    pub job: Job,
    pub part: PartFile,
    /// The row of the roster that it is of.
    pub row: Option<RowAt>,
    /// Name and version of the sheet of limits.
    pub sheet: String,
    pub limits: Vec<LimitLine>,
    /// The worst of all marks, of the solid and of its files.
    pub verdict: State,
    /// Those that are on.
    pub marks: Vec<MarkRecord>,
    pub solid: Option<Found>,
    /// Cuts that were kept for it, with what was measured in them.
    #[serde(default)]
    pub sections: Vec<SectionRecord>,
    /// What is handed off, file by file.
    pub files: Vec<FileRecord>,
    /// What every row of the roster came to, where all were recorded.
    pub rows: Vec<RowRecord>,
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct PartFile {
    pub file: String,
    pub sha256: String,
    pub bytes: u64,
}

/// A row by its id and its place from 1 on, and what its files are called.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct RowAt {
    pub id: u32,
    pub place: usize,
    pub name: Option<String>,
    pub cells: Vec<String>,
}

/// One limit as it counted.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct LimitLine {
    pub subject: Subject,
    pub limit: LimitShown,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct MarkRecord {
    pub mark: String,
    pub text: String,
    pub verdict: State,
    /// Why it could not be built.
    pub problem: Option<String>,
    pub findings: Vec<Finding>,
    pub reading: Option<ReadingRecord>,
}

/// The reading test of a mark: by how much each letter stands out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ReadingRecord {
    pub verdict: State,
    /// That of the letter that reads worst.
    pub margin: f64,
    /// Square-on, under each of the eight lights.
    pub lights: [f64; 8],
    /// Of its shadows, in cap heights.
    pub shadow: f64,
    pub letters: Vec<LetterRead>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct LetterRead {
    pub text: String,
    pub margin: f64,
    /// What stands nearest to it.
    pub rival: String,
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Found {
    pub state: State,
    pub sentence: String,
}

/// A cut through a mark: the plane `normal · p = height`, from where it is looked at, how many mm are looked at, the places that
/// were pressed on it, and what they tell.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct SectionRecord {
    pub mark: String,
    pub normal: [f64; 3],
    pub height: f64,
    pub at: [f64; 3],
    pub eye: [f64; 3],
    pub up: [f64; 3],
    pub wide: f64,
    pub places: Vec<[f64; 3]>,
    pub says: Vec<String>,
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct FileRecord {
    pub name: String,
    pub bytes: u64,
    pub sha256: String,
    /// What it holds, read again.
    pub read: Option<Found>,
}

/// A row of the roster: the worst figure of each check, and where it was measured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct RowRecord {
    pub row: RowAt,
    pub found: Option<RowFound>,
    /// Why it could not be done.
    pub problem: Option<String>,
}

impl Record {
    /// A record as it was written.
    ///
    /// # Errors
    /// What can't be read.
    pub fn from_json(bytes: &[u8]) -> Result<Self, String> {
        let mut record: Self = serde_json::from_slice(bytes).map_err(|e| e.to_string())?;
        if record.version != VERSION {
            return Err(format!("it has version {}; this program reads version {VERSION}", record.version));
        }
        record.job.hold_faces();
        Ok(record)
    }

    /// As it is kept; the same record gives the same bytes.
    ///
    /// # Panics
    /// Never: a record has string keys and finite numbers.
    #[must_use]
    pub fn to_json(&self) -> Vec<u8> {
        serde_json::to_vec_pretty(self).expect("a record has string keys and finite numbers")
    }

    pub fn findings(&self) -> impl Iterator<Item = &Finding> {
        self.marks.iter().flat_map(|m| &m.findings)
    }

    /// How many findings stand so.
    #[must_use]
    pub fn count(&self, state: State) -> usize {
        self.findings().filter(|f| f.state == state).count()
    }

    /// How many of those that fail somebody answers for.
    #[must_use]
    pub fn waived(&self) -> usize {
        self.findings().filter(|f| f.is_waived()).count()
    }

    /// “record 12”; one of the command line has no number.
    #[must_use]
    pub fn name(&self) -> String {
        self.number.map_or_else(|| "record without a number".into(), |n| format!("record {n}"))
    }
}
