//! A record repeated: the same job on the same part, inspected anew.

use crate::{Difference, Record, compare::findings};
use time::{Date, format_description::BorrowedFormatItem, macros::format_description};
use workbench::{Bench, Scope, faces_kept};

const DAY: &[BorrowedFormatItem<'static>] = format_description!("[year]-[month]-[day]");

/// What a repetition came to.
#[derive(Clone, Debug, PartialEq)]
pub struct Repeated {
    /// Figures that are the same to the last digit.
    pub same: usize,
    /// Figures that are not, but lie within the error that was stated with them.
    pub within: usize,
    /// Everything that came out otherwise.
    pub otherwise: Vec<Difference>,
}

/// Inspects what was recorded once more; `bench` holds the part as it was recorded.
///
/// # Errors
/// The day of the record can't be read.
pub fn repeated(record: &Record, bench: &Bench) -> Result<Repeated, String> {
    let day = Date::parse(&record.day, DAY).map_err(|e| format!("the day “{}” can't be read: {e}", record.day))?;
    let mut job = record.job.clone();
    job.hold_faces();
    faces_kept::find_again(&mut job, bench);
    let filled = job.filled(record.row.as_ref().map(|r| r.id), day);
    let outcome = bench.outcome(&filled, Scope::NearMarks);
    let now: Vec<_> = outcome.findings().cloned().collect();
    let was: Vec<_> = record.findings().cloned().collect();
    let same = |f: &inspection::Finding| {
        now.iter().any(|n| (&n.mark, n.check) == (&f.mark, f.check) && n.measured == f.measured && n.state == f.state)
    };
    let equal = was.iter().filter(|f| f.measured.is_some() && same(f)).count();
    let differences = findings(&was, &now);
    let within = differences.iter().filter(|d| d.within_error).count();
    let otherwise = differences.into_iter().filter(|d| !d.within_error).collect();
    Ok(Repeated { same: equal, within, otherwise })
}
