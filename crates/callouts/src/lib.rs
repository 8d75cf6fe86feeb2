//! The callout sheet: on which the toolmaker finds of every mark where it is, how large, how deep, which way round, with which
//! cutter, and what changes from row to row. Drawings to a stated scale, made for print. Dimensions after ISO 129-1, title
//! block after ISO 7200, projections after ISO 5456-2, lettering heights after ISO 3098-1, all from memory.

mod dimension;
mod flat_on_seat;
mod mark_sheet;
mod overview;
mod sheet;
mod table;

use paper::{About, PaperError, pdf};
use sheet::Sheets;
use trade::Job;
use workbench::{Bench, Outcome};

/// How large a sheet is; both lie broad side down.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Paper {
    #[default]
    A4,
    A3,
}

impl Paper {
    /// Points.
    fn size(self) -> [f32; 2] {
        match self {
            Self::A4 => [841.89, 595.28],
            Self::A3 => [1190.55, 841.89],
        }
    }
}

/// How views lie about the first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Projection {
    /// What is seen from above lies below, what is seen from the left to the right.
    #[default]
    FirstAngle,
    /// What is seen from above lies above, what is seen from the right to the right.
    ThirdAngle,
}

/// How a callout sheet is drawn.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Manner {
    pub paper: Paper,
    pub projection: Projection,
    /// Dimensions in inches; else in mm.
    pub inch: bool,
}

impl Manner {
    /// A length as it is written, without its unit.
    fn length(self, mm: f64) -> String {
        let said = if self.inch { format!("{:.4}", mm / 25.4) } else { format!("{mm:.2}") };
        // −0 is 0
        match said.strip_prefix('-') {
            Some(size) if size.chars().all(|c| "0.".contains(c)) => size.to_owned(),
            Some(size) => format!("−{size}"),
            None => said,
        }
    }

    fn unit(self) -> &'static str {
        if self.inch { "in" } else { "mm" }
    }

    fn with_unit(self, mm: f64) -> String {
        format!("{} {}", self.length(mm), self.unit())
    }
}

/// What is drawn.
pub struct Callouts<'a> {
    /// Filled for the row that is drawn.
    pub job: &'a Job,
    pub row: Option<u32>,
    /// Its marks built on the bench.
    pub outcome: &'a Outcome,
    pub bench: &'a Bench,
    /// The text of each mark in each row, as [`trade::said::texts`] has them.
    pub texts: &'a [Vec<Result<String, String>>],
    pub by: &'a str,
    /// As it is printed.
    pub day: &'a str,
    /// The state of the job, where it is kept, and the record of its inspection, where there is one.
    pub state: Option<i64>,
    pub record: Option<i64>,
    pub program: &'a str,
}

#[derive(Debug, thiserror::Error)]
pub enum CalloutError {
    #[error("no mark could be built, so there is nothing to call out: {0}")]
    NothingBuilt(String),
    #[error("the callout sheet could not be written: {0}")]
    Pdf(#[from] PaperError),
}

/// The callout sheet as PDF.
///
/// # Errors
/// No mark is built, or the PDF could not be put together.
pub fn callouts(of: &Callouts<'_>, manner: Manner) -> Result<Vec<u8>, CalloutError> {
    let built: Vec<usize> = (0..of.outcome.marks.len()).filter(|&at| of.outcome.marks[at].built.is_some()).collect();
    if built.is_empty() {
        let why = of.outcome.marks.iter().find_map(|m| m.problem.clone());
        return Err(CalloutError::NothingBuilt(why.unwrap_or_else(|| "none is on".into())));
    }
    let mut sheets = Sheets::new(of, manner);
    overview::overview(&mut sheets, &built);
    for (number, &at) in built.iter().enumerate() {
        mark_sheet::mark_sheet(&mut sheets, at, number + 1);
    }
    table::rows(&mut sheets, &built);
    let about = About {
        title: format!("{}: callout sheet", of.job.name),
        author: Some(of.by.to_owned()),
        program: format!("Tin Badge {}", of.program),
        id: format!("{} {:?} {:?} {}", of.job.name, of.state, of.row, of.day),
        at: None,
    };
    Ok(pdf(&about, &sheets.pages())?)
}

/// A text in one line.
fn line(text: &str) -> String {
    text.replace('\n', " / ")
}
