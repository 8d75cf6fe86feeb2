//! What came out for each row of the roster, in short, and the least and the greatest of each figure over all.

use crate::{MarkOutcome, Outcome};
use inspection::{Check, Finding};
use serde::{Deserialize, Serialize};
use time::Date;
use trade::{
    Job,
    limits::{Side, State},
    waiver::Asked,
};

/// A row as it was measured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct RowFound {
    /// Those that are on, in the job's order.
    pub marks: Vec<MarkFound>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct MarkFound {
    /// Its id.
    pub mark: String,
    pub text: String,
    pub state: State,
    /// The finding that matters most, where one does not hold.
    pub worst: Option<Worst>,
    pub figures: Vec<Figure>,
    /// All findings that fail.
    pub failing: Vec<Failing>,
}

/// A finding that fails, as far as a waiver asks.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Failing {
    pub check: Check,
    pub measured: Option<f64>,
    pub error: f64,
    pub limit: Option<(Side, f64)>,
    pub sentence: String,
}

impl MarkFound {
    /// Does it fail, with somebody to answer for each of its findings that do? `job` is the one with the roster.
    #[must_use]
    pub fn is_waived(&self, job: &Job, row: u32, day: Date) -> bool {
        let waived = |f: &Failing| {
            let asked = Asked {
                mark: &self.mark,
                check: f.check,
                state: State::Fails,
                measured: f.measured,
                error: f.error,
                limit: f.limit,
                sentence: &f.sentence,
            };
            job.waived(&asked, Some(row), Some(day)).is_some_and(|w| w.lapsed.is_none())
        };
        self.state == State::Fails && self.failing.iter().all(waived)
    }
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Worst {
    pub check: Check,
    pub sentence: String,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Figure {
    pub check: Check,
    pub state: State,
    /// In the unit.
    pub measured: f64,
    pub unit: String,
    /// The limit and its side.
    pub limit: Option<(Side, f64)>,
    /// The letter that it was measured at, where it is one's.
    pub letter: Option<LetterAt>,
}

/// A letter by its place in the mark.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct LetterAt {
    pub character: u32,
    pub text: String,
}

/// The least and the greatest figure of a check over all rows and marks.
#[derive(Clone, Debug, PartialEq)]
pub struct Range {
    pub check: Check,
    pub unit: String,
    /// How many figures fail or are close.
    pub fails: usize,
    pub marginal: usize,
    pub least: At,
    pub greatest: At,
}

/// A figure and where it was measured.
#[derive(Clone, Debug, PartialEq)]
pub struct At {
    pub measured: f64,
    pub state: State,
    pub limit: Option<(Side, f64)>,
    /// Id of the row.
    pub row: u32,
    pub mark: String,
    pub letter: Option<LetterAt>,
}

/// What an outcome of `job`, filled for a row, came to.
#[must_use]
pub fn found(job: &Job, outcome: &Outcome) -> RowFound {
    let figure = |f: &Finding| {
        Some(Figure {
            check: f.check,
            state: f.state,
            measured: f.measured?,
            unit: f.unit.into(),
            limit: f.limit.as_ref().map(|l| (l.side, l.value)),
            letter: f
                .letters
                .iter()
                .find(|l| l.measured == f.measured)
                .map(|l| LetterAt { character: l.character, text: l.text.clone() }),
        })
    };
    let failing = |f: &Finding| Failing {
        check: f.check,
        measured: f.measured,
        error: f.error,
        limit: f.limit.as_ref().map(|l| (l.side, l.value)),
        sentence: f.sentence.clone(),
    };
    let short = |(mark, found): (&trade::Mark, &MarkOutcome)| MarkFound {
        mark: mark.id.clone(),
        text: mark.text.clone(),
        state: found.state(),
        worst: found.worst().map(|f| Worst { check: f.check, sentence: f.sentence.clone() }),
        figures: found.findings.iter().filter_map(figure).collect(),
        failing: found.findings.iter().filter(|f| f.state == State::Fails).map(failing).collect(),
    };
    RowFound { marks: job.marks.iter().zip(&outcome.marks).filter(|(m, _)| m.on).map(short).collect() }
}

/// The range of each check that has figures, in the order of the checks. Of figures that tie the first is named.
#[must_use]
pub fn ranges<'a>(rows: impl IntoIterator<Item = (u32, &'a RowFound)>) -> Vec<Range> {
    let mut ranges: Vec<Range> = Vec::new();
    for (row, found) in rows {
        for (mark, figure) in found.marks.iter().flat_map(|m| m.figures.iter().map(move |f| (m, f))) {
            let at = || At {
                measured: figure.measured,
                state: figure.state,
                limit: figure.limit,
                row,
                mark: mark.mark.clone(),
                letter: figure.letter.clone(),
            };
            let known = ranges.iter().position(|r| r.check == figure.check);
            let range = match known {
                Some(known) => &mut ranges[known],
                None => {
                    let (check, unit) = (figure.check, figure.unit.clone());
                    ranges.push(Range { check, unit, fails: 0, marginal: 0, least: at(), greatest: at() });
                    let last = ranges.len() - 1;
                    &mut ranges[last]
                }
            };
            range.fails += usize::from(figure.state == State::Fails);
            range.marginal += usize::from(figure.state == State::Marginal);
            if figure.measured < range.least.measured {
                range.least = at();
            }
            if figure.measured > range.greatest.measured {
                range.greatest = at();
            }
        }
    }
    ranges.sort_by_key(|r| r.check);
    ranges
}

#[cfg(test)]
mod tests {
    use super::*;

    fn row(figures: &[(Check, f64, State)]) -> RowFound {
        let figure = |&(check, measured, state): &(Check, f64, State)| Figure {
            check,
            state,
            measured,
            unit: "mm".into(),
            limit: Some((Side::AtLeast, 0.2)),
            letter: Some(LetterAt { character: 2, text: format!("{measured}") }),
        };
        let figures = figures.iter().map(figure).collect();
        RowFound {
            marks: vec![MarkFound {
                mark: "m".into(),
                text: String::new(),
                state: State::Passes,
                worst: None,
                figures,
                failing: Vec::new(),
            }],
        }
    }

    #[test]
    fn ranges_name_the_first_row_of_the_least_and_the_greatest_figure() {
        let rows = [
            row(&[(Check::Gap, 0.3, State::Passes), (Check::Draft, 3.0, State::Passes)]),
            row(&[(Check::Gap, 0.1, State::Fails)]),
            row(&[(Check::Gap, 0.1, State::Fails), (Check::Gap, 0.5, State::Marginal)]),
        ];
        let ranges = ranges((10..).zip(&rows));
        assert_eq!(ranges.iter().map(|r| r.check).collect::<Vec<_>>(), [Check::Draft, Check::Gap]);
        let gap = &ranges[1];
        assert_eq!((gap.fails, gap.marginal), (2, 1));
        assert_eq!((gap.least.measured, gap.least.row, gap.least.state), (0.1, 11, State::Fails));
        assert_eq!((gap.greatest.measured, gap.greatest.row), (0.5, 12));
        assert_eq!(ranges[0].least, ranges[0].greatest);
        assert_eq!(gap.least.letter, Some(LetterAt { character: 2, text: "0.1".into() }));
    }

    #[test]
    fn what_is_kept_is_read_back_as_it_was() {
        let row = row(&[(Check::Gap, 0.3, State::Passes)]);
        let kept = serde_json::to_string(&row).expect("plain data");
        assert_eq!(serde_json::from_str::<RowFound>(&kept).expect("it was just written"), row);
    }
}
