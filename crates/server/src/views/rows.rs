//! All rows of the roster: what each says and came to, and the range of each figure over all.

use crate::{
    app::today,
    rows::{Kept, Planned, Work},
    store::Standing,
};
use serde::Serialize;
use std::collections::{HashMap, HashSet};
use trade::limits::{Side, State};
use utoipa::ToSchema;
use workbench::rows::{At, Range, ranges};

#[derive(Serialize, ToSchema)]
pub struct RowsView {
    pub state: i64,
    /// How many rows are measured, and how many have all files that are wanted.
    pub measured: usize,
    pub built: usize,
    pub running: Option<RunView>,
    pub rows: Vec<RowView>,
    pub ranges: Vec<RangeView>,
}

#[derive(Serialize, ToSchema)]
pub struct RunView {
    pub work: Work,
    /// Rows that are alike are done once and count once.
    pub done: usize,
    pub total: usize,
}

#[derive(Serialize, ToSchema)]
pub struct RowView {
    /// Id of the row.
    pub row: u32,
    /// What its files are called; where they have no name, why.
    pub name: Option<String>,
    pub nameless: Option<String>,
    /// Why its files could not be made.
    pub problem: Option<String>,
    /// One for each mark that is on, in the job's order.
    pub marks: Vec<RowMark>,
}

#[derive(Serialize, ToSchema)]
pub struct RowMark {
    pub mark: String,
    /// Empty where its recipe gives no text.
    pub text: String,
    /// Nothing while it is not measured.
    pub state: Option<State>,
    /// It fails, and somebody answers for all of it that does.
    pub waived: bool,
    /// The check whose finding matters most, and its sentence, where one does not hold.
    pub check: Option<inspection::Check>,
    pub sentence: Option<String>,
}

#[derive(Serialize, ToSchema)]
pub struct RangeView {
    pub check: inspection::Check,
    pub unit: String,
    /// How many figures fail, and how many are close.
    pub fails: usize,
    pub marginal: usize,
    pub least: AtView,
    pub greatest: AtView,
}

#[derive(Serialize, ToSchema)]
pub struct AtView {
    pub measured: f64,
    pub state: State,
    pub limit: Option<f64>,
    pub side: Option<Side>,
    /// Id of the row.
    pub row: u32,
    pub mark: String,
    /// The letter that it was measured at, where it is one's, by its place in the mark, and what it is.
    pub character: Option<u32>,
    pub text: Option<String>,
}

impl From<At> for AtView {
    fn from(at: At) -> Self {
        let (side, limit) = at.limit.unzip();
        let (character, text) = at.letter.map(|letter| (letter.character, letter.text)).unzip();
        Self { measured: at.measured, state: at.state, limit, side, row: at.row, mark: at.mark, character, text }
    }
}

impl From<Range> for RangeView {
    fn from(range: Range) -> Self {
        Self {
            check: range.check,
            unit: range.unit,
            fails: range.fails,
            marginal: range.marginal,
            least: range.least.into(),
            greatest: range.greatest.into(),
        }
    }
}

/// The rows of a job with what is kept of them.
#[must_use]
pub fn rows(
    standing: &Standing,
    planned: &[Planned],
    kept: &HashMap<String, Kept>,
    wanted: &[String],
    run: Option<Work>,
) -> RowsView {
    let day = today();
    let mut names = standing.job.file_names(day).into_iter();
    let row = |planned: &Planned| {
        let kept = kept.get(&planned.digest);
        let found = kept.and_then(|k| k.found.as_ref());
        let (name, nameless) = match names.next() {
            Some(Ok(name)) => (Some(name), None),
            Some(Err(why)) => (None, Some(why)),
            None => (None, None),
        };
        let mark = |mark: &trade::Mark| {
            let found = found.and_then(|f| f.marks.iter().find(|m| m.mark == mark.id));
            let worst = found.and_then(|f| f.worst.as_ref());
            RowMark {
                mark: mark.id.clone(),
                text: mark.text.clone(),
                state: found.map(|f| f.state),
                waived: found.is_some_and(|f| f.is_waived(&standing.job, planned.row, day)),
                check: worst.map(|w| w.check),
                sentence: worst.map(|w| w.sentence.clone()),
            }
        };
        RowView {
            row: planned.row,
            name,
            nameless,
            problem: kept.and_then(|k| k.problem.clone()),
            marks: planned.job.marks.iter().filter(|m| m.on).map(mark).collect(),
        }
    };
    let done = |work| {
        let done = |p: &&Planned| kept.get(&p.digest).is_some_and(|k| k.is_done(work, wanted));
        planned.iter().filter(done).count()
    };
    // rows that are alike are one for the ranges: the first is named
    let mut seen = HashSet::new();
    let alike = planned.iter().filter(|p| seen.insert(&p.digest));
    let found = alike.filter_map(|p| Some((p.row, kept.get(&p.digest)?.found.as_ref()?)));
    let ranges = ranges(found).into_iter().map(RangeView::from).collect();
    RowsView {
        state: standing.state,
        measured: done(Work::Measure),
        built: done(Work::Build),
        running: run.map(|work| {
            // rows that are alike are done once
            let mut alike = HashSet::new();
            let each: Vec<&Planned> = planned.iter().filter(|p| alike.insert(&p.digest)).collect();
            let done = |p: &&&Planned| kept.get(&p.digest).is_some_and(|k| k.is_done(work, wanted));
            RunView { work, done: each.iter().filter(done).count(), total: each.len() }
        }),
        rows: planned.iter().map(row).collect(),
        ranges,
    }
}
