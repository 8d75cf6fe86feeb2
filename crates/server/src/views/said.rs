//! What marks say over all rows of the roster.

use lettering::LetteringError;
use serde::Serialize;
use std::collections::HashMap;
use trade::{
    Job, Mark,
    limits::State,
    roster::CellFault,
    said::{SaidFault, faults, texts},
};
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct SaidView {
    pub state: i64,
    /// Marks that are made from pieces or drawn, in order.
    pub marks: Vec<MarkSays>,
    pub faults: Vec<SaidFault>,
    /// Cells that don't fit their columns.
    pub cells: Vec<CellFault>,
}

#[derive(Serialize, ToSchema)]
pub struct MarkSays {
    pub id: String,
    /// What it says in each row; nothing where its recipe gives no text.
    pub texts: Vec<Option<String>>,
    /// It says the same in every row.
    pub same: bool,
    /// Of the fewest and of the most characters.
    pub shortest: Option<String>,
    pub longest: Option<String>,
    pub widest: Option<Widest>,
}

#[derive(Serialize, ToSchema)]
pub struct Widest {
    pub text: String,
    /// Of its ink, mm.
    pub length: f64,
}

/// What the marks of a job say on a day.
#[must_use]
pub fn said(state: i64, job: &Job, today: time::Date) -> SaidView {
    let mut found = faults(job, today);
    let mut marks = Vec::new();
    for (mark, texts) in job.marks.iter().zip(texts(job, today)).filter(|(m, _)| m.is_made()) {
        let texts: Vec<Option<String>> = texts.into_iter().map(Result::ok).collect();
        let mut distinct: Vec<&str> = texts.iter().flatten().map(String::as_str).collect();
        distinct.sort_unstable();
        distinct.dedup();
        let lettered = mark.figure.is_none();
        let advances = if lettered { advances(mark, &distinct, &mut found) } else { HashMap::new() };
        let count = |text: &&&str| text.chars().count();
        marks.push(MarkSays {
            id: mark.id.clone(),
            same: distinct.len() < 2,
            shortest: distinct.iter().min_by_key(count).map(|t| (*t).to_owned()),
            longest: distinct.iter().max_by_key(count).map(|t| (*t).to_owned()),
            widest: if lettered { widest(mark, &distinct, &advances) } else { None },
            texts,
        });
    }
    found.sort_by_key(|f| std::cmp::Reverse(f.state));
    SaidView { state, marks, faults: found, cells: job.roster.faults() }
}

/// How wide each character is by itself, mm. Those that the lettering face lacks are faults.
fn advances(mark: &Mark, texts: &[&str], faults: &mut Vec<SaidFault>) -> HashMap<char, f64> {
    let mut all: Vec<char> = texts.iter().flat_map(|t| t.chars()).filter(|c| !c.is_whitespace()).collect();
    all.sort_unstable();
    all.dedup();
    // a fitted length would make each of them as long as the text
    let lettering = trade::Lettering { fit: None, ..mark.lettering.clone() };
    let mut advances = HashMap::new();
    for character in all {
        match lettering::set(&character.to_string(), &lettering, &[]) {
            Ok(set) => drop(advances.insert(character, set.size.x + lettering.spacing)),
            Err(lack @ LetteringError::MissingGlyph { .. }) if mark.on => faults.push(SaidFault {
                mark: Some(mark.id.clone()),
                state: State::Fails,
                rows: Vec::new(),
                sentence: lack.to_string(),
            }),
            Err(_) => {}
        }
    }
    advances
}

/// The text that is laid longest.
fn widest(mark: &Mark, texts: &[&str], advances: &HashMap<char, f64>) -> Option<Widest> {
    /// Letters by themselves are not quite what they are in a text: so many that are nearly the widest are laid.
    const TRIED: usize = 12;
    let blank = 0.3 * mark.lettering.cap_height;
    let rough = |text: &str| {
        let line = |l: &str| l.chars().map(|c| advances.get(&c).copied().unwrap_or(blank)).sum::<f64>();
        text.lines().map(line).fold(0.0, f64::max)
    };
    let mut tried: Vec<(f64, &str)> = texts.iter().map(|t| (rough(t), *t)).collect();
    tried.sort_by(|a, b| b.0.total_cmp(&a.0));
    tried
        .into_iter()
        .take(TRIED)
        .filter_map(|(_, text)| {
            let length = lettering::set(text, &mark.lettering, &[]).ok()?.size.x;
            Some(Widest { text: text.into(), length })
        })
        .max_by(|a, b| a.length.total_cmp(&b.length))
}
