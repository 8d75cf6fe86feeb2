//! What the marks of a job say over all rows of its roster, and what of that can be mistaken.

use crate::{
    Job, Mark,
    limits::State,
    look_alikes,
    roster::{ColumnKind, Row},
};
use serde::Serialize;
use std::collections::HashMap;
use time::Date;

/// What is wrong over several rows, or in one.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SaidFault {
    /// The mark that says it; none where the rows themselves are meant.
    pub mark: Option<String>,
    pub state: State,
    /// Ids of the rows.
    pub rows: Vec<u32>,
    pub sentence: String,
}

/// The text of each mark in each row, `[mark][row]`, or why its recipe makes none. Marks without a recipe say the
/// same in every row. Without rows there is one text.
#[must_use]
pub fn texts(job: &Job, today: Date) -> Vec<Vec<Result<String, String>>> {
    let rows = &job.roster.rows;
    let each = |mark: &Mark| match rows.len() {
        0 => vec![job.says(mark, None, today)],
        _ => rows.iter().map(|row| job.says(mark, Some(row), today)).collect(),
    };
    job.marks.iter().map(each).collect()
}

/// Faults of what is said over all rows: the worst first.
#[must_use]
pub fn faults(job: &Job, today: Date) -> Vec<SaidFault> {
    let mut faults = Vec::new();
    let texts = texts(job, today);
    let ids: Vec<u32> = job.roster.rows.iter().map(|r| r.id).collect();
    let number: HashMap<u32, usize> = ids.iter().enumerate().map(|(at, id)| (*id, at + 1)).collect();
    let row_of = |id: u32| &job.roster.rows[number[&id] - 1];
    let marks: Vec<(&Mark, &Vec<Result<String, String>>)> =
        job.marks.iter().zip(&texts).filter(|(m, _)| m.on && m.is_made()).collect();
    for (mark, texts) in &marks {
        let mut fault = |state, rows: Vec<u32>, sentence: String| {
            faults.push(SaidFault { mark: Some(mark.id.clone()), state, rows, sentence });
        };
        unsaid(texts, &ids, &mut fault);
        let said: Vec<(u32, &str)> =
            ids.iter().zip(*texts).filter_map(|(id, t)| Some((*id, t.as_deref().ok()?))).collect();
        // the first row of each text
        let mut firsts: Vec<(&str, u32)> = Vec::new();
        let mut seen: HashMap<&str, u32> = HashMap::new();
        for &(row, text) in &said {
            match seen.get(text) {
                None => {
                    seen.insert(text, row);
                    firsts.push((text, row));
                }
                Some(&first) if key(job, mark, row_of(first)) != key(job, mark, row_of(row)) => fault(
                    State::Fails,
                    vec![first, row],
                    format!("rows {} and {} differ and both say “{}”", number[&first], number[&row], line(text)),
                ),
                Some(_) => {}
            }
        }
        // a figure is read as a whole
        if mark.figure.is_none() {
            beginnings(&firsts, &mut fault);
            mistaken(&firsts, &mut fault);
        }
    }
    faults.extend(alike(job, &marks, &ids, &number));
    faults.extend(backwards(job, &number));
    faults.sort_by_key(|f| std::cmp::Reverse(f.state));
    faults
}

fn unsaid(texts: &[Result<String, String>], ids: &[u32], fault: &mut impl FnMut(State, Vec<u32>, String)) {
    // one sentence for each reason, in the order in which they come
    let mut why: Vec<(&str, Vec<u32>)> = Vec::new();
    for (at, text) in texts.iter().enumerate() {
        let Err(reason) = text else { continue };
        let row = ids.get(at).copied();
        match why.iter_mut().find(|(r, _)| r == reason) {
            Some((_, rows)) => rows.extend(row),
            None => why.push((reason, row.into_iter().collect())),
        }
    }
    for (reason, rows) in why {
        let where_ = if rows.len() > 1 { format!(", in {} rows", rows.len()) } else { String::new() };
        fault(State::Fails, rows, format!("its recipe gives no text: {reason}{where_}"));
    }
}

/// The cells that what a mark says is made from in a row.
fn key<'a>(job: &Job, mark: &Mark, row: &'a Row) -> Vec<&'a str> {
    mark.columns().filter_map(|column| job.roster.column(column)).map(|at| row.cells[at].as_str()).collect()
}

/// A text in one line, for a sentence.
fn line(text: &str) -> String {
    text.replace('\n', " / ")
}

/// Lines of which one is the beginning of another: 1, 10, 101.
fn beginnings(firsts: &[(&str, u32)], fault: &mut impl FnMut(State, Vec<u32>, String)) {
    let lines = firsts.iter().map(|(text, _)| text.lines().count()).max().unwrap_or(0);
    for at in 0..lines {
        let mut sorted: Vec<(&str, u32)> =
            firsts.iter().filter_map(|(text, row)| Some((text.lines().nth(at)?, *row))).collect();
        sorted.sort_unstable();
        sorted.dedup_by_key(|(line, _)| *line);
        for pair in sorted.windows(2) {
            let [(short, a), (long, b)] = pair else { continue };
            if !short.is_empty() && long.starts_with(short) {
                let sentence = format!("“{short}” is the beginning of “{long}”: a worn “{long}” can be read as it");
                fault(State::Marginal, vec![*a, *b], sentence);
            }
        }
    }
}

/// Texts that are taken for one another, as they are or upside down.
fn mistaken(firsts: &[(&str, u32)], fault: &mut impl FnMut(State, Vec<u32>, String)) {
    let mut folded: HashMap<String, (&str, u32)> = HashMap::new();
    for &(text, row) in firsts {
        match folded.get(&look_alikes::folded(text)) {
            Some(&(other, first)) => {
                let sentence =
                    format!("“{}” is easily read as “{}”: they differ in look-alikes only", line(text), line(other));
                fault(State::Marginal, vec![first, row], sentence);
            }
            None => drop(folded.insert(look_alikes::folded(text), (text, row))),
        }
    }
    let by_text: HashMap<&str, u32> = firsts.iter().copied().collect();
    for &(text, row) in firsts {
        if let Some(turned) = look_alikes::upside_down(text)
            && let Some(&other) = by_text.get(turned.as_str())
            && text < turned.as_str()
        {
            fault(State::Marginal, vec![row, other], format!("“{}” is “{}” upside down", line(text), line(&turned)));
        }
    }
}

/// Rows that no mark tells apart.
fn alike(
    job: &Job,
    marks: &[(&Mark, &Vec<Result<String, String>>)],
    ids: &[u32],
    number: &HashMap<u32, usize>,
) -> Option<SaidFault> {
    if marks.is_empty() {
        return None;
    }
    let mut seen: HashMap<Vec<&str>, u32> = HashMap::new();
    let mut rows = Vec::new();
    for (at, &id) in ids.iter().enumerate() {
        let says: Option<Vec<&str>> = marks.iter().map(|(_, t)| t[at].as_deref().ok()).collect();
        let Some(says) = says else { continue };
        match seen.get(&says) {
            Some(&first) => rows.push((first, id)),
            None => drop(seen.insert(says, id)),
        }
    }
    let &(first, second) = rows.first()?;
    let more = if rows.len() > 1 { format!(", and {} more rows have a twin", rows.len() - 1) } else { String::new() };
    let cells = |id: u32| job.roster.row(id).map(|r| &r.cells);
    // the same row twice is a slip; rows that differ where no mark shows it may be meant
    let state = if cells(first) == cells(second) { State::Fails } else { State::Marginal };
    Some(SaidFault {
        mark: None,
        state,
        rows: rows.iter().flat_map(|(a, b)| [*a, *b]).collect(),
        sentence: format!("no mark tells rows {} and {} apart{more}", number[&first], number[&second]),
    })
}

/// Revisions that go back from a row to the next of the same part, by the roster's first column.
fn backwards(job: &Job, number: &HashMap<u32, usize>) -> Vec<SaidFault> {
    let roster = &job.roster;
    let revisions = roster.columns.iter().enumerate().filter(|(_, c)| c.kind == ColumnKind::Revision);
    let mut faults = Vec::new();
    for (at, column) in revisions {
        if at == 0 {
            continue;
        }
        let mut last: HashMap<&str, (u32, u32)> = HashMap::new();
        for row in &roster.rows {
            let Ok(rank) = crate::revision::rank(&row.cells[at]) else { continue };
            if let Some((before, earlier)) = last.insert(&row.cells[0], (rank, row.id))
                && rank < before
            {
                faults.push(SaidFault {
                    mark: None,
                    state: State::Marginal,
                    rows: vec![earlier, row.id],
                    sentence: format!(
                        "“{}” goes back from {} in row {} to {} in row {}",
                        column.name,
                        crate::revision::at(before),
                        number[&earlier],
                        row.cells[at],
                        number[&row.id]
                    ),
                });
            }
        }
    }
    faults
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{
        Column, Piece, Roster,
        recipe::{LineEnd, PieceOf},
    };
    use proptest::prelude::*;

    const TODAY: Date = time::macros::date!(2026 - 11 - 26);

    /// A job with columns of text `a`, `b`, … and a mark for each recipe, which names them one after the other.
    fn job(rows: &[&[&str]], recipes: &[&str]) -> Job {
        let mut job = Job::default();
        let columns = rows.first().map_or(0, |r| r.len());
        let name = |at: usize| char::from(b'a' + at as u8).to_string();
        let roster = Roster {
            columns: (0..columns).map(|at| Column { name: name(at), kind: ColumnKind::Text }).collect(),
            rows: rows
                .iter()
                .enumerate()
                .map(|(at, cells)| Row { id: at as u32 + 1, cells: cells.iter().map(|c| (*c).into()).collect() })
                .collect(),
        };
        job.roster = roster.into();
        for recipe in recipes {
            job.marks.push(Mark {
                id: format!("mark {recipe}"),
                recipe: recipe.chars().map(|c| Piece::plain(PieceOf::cell(c))).collect(),
                ..Mark::default()
            });
        }
        job.check().unwrap();
        job
    }

    fn sentences(job: &Job) -> Vec<String> {
        faults(job, TODAY).into_iter().map(|f| f.sentence).collect()
    }

    #[test]
    fn what_can_be_mistaken_between_rows_is_named_with_its_rows() {
        let says = |cells: &[&str], sentence: &str| {
            let rows: Vec<[&str; 1]> = cells.iter().map(|c| [*c]).collect();
            let rows: Vec<&[&str]> = rows.iter().map(|r| &r[..]).collect();
            let found = sentences(&job(&rows, &["a"]));
            assert!(found.iter().any(|s| s.contains(sentence)), "{cells:?}: {found:?} should say {sentence}");
        };
        says(&["1", "10", "101"], "“1” is the beginning of “10”");
        says(&["1", "10", "101"], "“10” is the beginning of “101”");
        says(&["B20", "820"], "“820” is easily read as “B20”");
        says(&["66", "99"], "“66” is “99” upside down");
        says(&["A", ""], "its recipe gives no text: “a” is empty");
        says(&["A", "A"], "no mark tells rows 1 and 2 apart");
        // line by line
        let mut two = job(&[&["1"], &["10"]], &["a"]);
        let week = Piece::plain(PieceOf::text("2648"));
        two.marks[0].recipe.extend([Piece::plain(PieceOf::LineEnd(LineEnd {})), week]);
        assert_eq!(sentences(&two), ["“1” is the beginning of “10”: a worn “10” can be read as it"]);
        assert_eq!(sentences(&job(&[&["02"], &["03"], &["12"]], &["a"])), Vec::<String>::new());
    }

    #[test]
    fn rows_that_differ_and_say_the_same_fail_and_come_first() {
        let found = faults(&job(&[&["1", "12"], &["11", "2"], &["3", "3"]], &["ab"]), TODAY);
        assert_eq!((found[0].state, found[0].rows.as_slice()), (State::Fails, &[1, 2][..]));
        assert!(found[0].sentence.contains("rows 1 and 2 differ and both say “112”"));
        // a mark that is the same in all rows by its own cells is no fault where another tells them apart
        assert_eq!(sentences(&job(&[&["VB", "A"], &["VB", "C"]], &["a", "b"])), Vec::<String>::new());
    }

    #[test]
    fn a_revision_that_goes_back_is_said() {
        let mut job = job(&[&["VB", "D"], &["VB", "C"], &["SN", "A"]], &["ab"]);
        std::sync::Arc::make_mut(&mut job.roster).columns[1].kind = ColumnKind::Revision;
        let found = sentences(&job);
        assert!(found.contains(&"“b” goes back from D in row 1 to C in row 2".to_owned()), "{found:?}");
    }

    proptest! {
        #[test]
        fn rows_with_other_keys_never_share_a_mark_without_a_finding(
            cells in proptest::collection::vec(("[01A]{1,2}", "[01A]{1,2}"), 2..6),
        ) {
            let rows: Vec<[&str; 2]> = cells.iter().map(|(a, b)| [a.as_str(), b.as_str()]).collect();
            let rows: Vec<&[&str]> = rows.iter().map(|r| &r[..]).collect();
            let job = job(&rows, &["ab"]);
            let found = faults(&job, TODAY);
            for (at, a) in cells.iter().enumerate() {
                for (k, b) in cells.iter().enumerate().skip(at + 1) {
                    let same = format!("{}{}", a.0, a.1) == format!("{}{}", b.0, b.1);
                    if same && a != b {
                        let named = found.iter().any(|f| f.state == State::Fails && f.rows.contains(&(k as u32 + 1)));
                        // the later of two equal rows is compared with the first that says so
                        prop_assert!(named || cells[..k].iter().any(|c| c == b), "{:?}", found);
                    }
                }
            }
        }
    }
}
