//! A record made of a job as it stands, with its proof; and one that was kept, opened and repeated.

use crate::{
    app::{App, today},
    problem::{Problem, sentence},
    rows::Kept,
    store::Standing,
};
use ::record::{Making, PartFile, Record, Repeated, RowRecord, SectionWish, made, repeated, rows_at, section};
use std::collections::HashMap;
use time::OffsetDateTime;
use trade::Job;
use uuid::Uuid;
use workbench::Steps;

/// The program's version, and what it was made from.
pub const PROGRAM: &str = concat!(env!("CARGO_PKG_VERSION"), " (", env!("TINBADGE_MADE_FROM"), ")");

/// What is to be recorded.
pub struct Wish<'a> {
    pub author: &'a str,
    /// The state that its window shows.
    pub state: i64,
    pub row: Option<u32>,
    /// With what all rows of the roster came to.
    pub all_rows: bool,
    /// Cuts that were kept for it.
    pub sections: Vec<SectionWish>,
}

impl App {
    /// Makes a record of a job as it stands and keeps it; its number.
    ///
    /// # Errors
    /// The job was changed meanwhile, rows are not measured yet, the part can't be read, or the database does not answer.
    pub async fn make_record(&self, id: Uuid, wish: Wish<'_>) -> Result<i64, Problem> {
        let (standing, bench, outcome) = self.outcome(id, wish.row).await?;
        let mut kept = self.store.standing(id).await?;
        if standing.state != wish.state || kept.state != wish.state {
            return Err(Problem::Wrong(
                "The job was changed while you looked at it. Look at its findings again, then record them.".into(),
            ));
        }
        let (day, at) = (today(), OffsetDateTime::now_utc());
        self.bench(&mut kept.job).await?;
        // where nothing can be handed off, that is no reason to record nothing
        let handed = match self.files(id, wish.row).await {
            Ok((of, handed)) if of.state == wish.state => Some(handed),
            Ok(_) | Err(Problem::Wrong(_)) => None,
            Err(other) => return Err(other),
        };
        let rows = if wish.all_rows { self.all_rows(id, &kept).await? } else { Vec::new() };
        let sha256 = kept.job.part.sha256.clone().unwrap_or_default();
        let bytes = self.store.kept(&sha256).await?.len() as u64;
        let number = self.store.next_record().await?;
        let row = wish.row.or(kept.job.first_row());
        let (by, state, wishes) = (wish.author.to_owned(), wish.state, wish.sections);
        let filled = standing.job;
        let on = bench.clone();
        let (record, proof) = self
            .later(on.part(), move || {
                let cuts = wishes.iter().filter_map(|wish| section(&bench, &outcome, &filled, wish));
                let record = made(Making {
                    sections: cuts.collect(),
                    number: Some(number),
                    by: &by,
                    at,
                    day,
                    program: PROGRAM,
                    state: Some(state),
                    job: &kept.job,
                    row,
                    part: PartFile { file: kept.job.part.file.clone(), sha256, bytes },
                    outcome: &outcome,
                    handed: handed.as_deref(),
                    rows,
                });
                let proof = proof::pdf(&record, &bench, &outcome);
                (record, proof)
            })
            .await?;
        let proof = proof.map_err(|e| Problem::Wrong(sentence(&e.to_string())))?;
        self.store.keep_record(id, state, at, &record, proof).await?;
        Ok(number)
    }

    /// What every row came to.
    ///
    /// # Errors
    /// Some are not measured as the job stands.
    async fn all_rows(&self, id: Uuid, standing: &Standing) -> Result<Vec<RowRecord>, Problem> {
        let planned = self.planned(standing, today()).await?;
        let kept: HashMap<String, Kept> = self.store.kept_rows(id).await?;
        let rows = rows_at(&standing.job, today()).into_iter().zip(&planned);
        let rows: Vec<Option<RowRecord>> = rows
            .map(|(row, planned)| {
                let kept = kept.get(&planned.digest)?;
                let (found, problem) = (kept.found.clone(), kept.problem.clone());
                (found.is_some() || problem.is_some()).then_some(RowRecord { row, found, problem })
            })
            .collect();
        let open = rows.iter().filter(|r| r.is_none()).count();
        if open > 0 {
            return Err(Problem::Wrong(format!(
                "{open} of {} rows are not checked as the job stands now. Check all rows first, then record them.",
                rows.len()
            )));
        }
        Ok(rows.into_iter().flatten().collect())
    }

    /// A record as it was kept.
    ///
    /// # Errors
    /// There is none, it can't be read, or the database does not answer.
    pub async fn record(&self, id: Uuid, number: i64) -> Result<Record, Problem> {
        read(number, &self.store.record(id, number).await?.json)
    }

    /// Inspects what was recorded once more.
    ///
    /// # Errors
    /// As [`App::record`], or its part can't be read.
    pub async fn repeat_record(&self, id: Uuid, number: i64) -> Result<Repeated, Problem> {
        let record = self.record(id, number).await?;
        let mut job: Job = record.job.clone();
        let bench = self.bench(&mut job).await?;
        let on = bench.clone();
        let repeat = self.later(on.part(), move || repeated(&record, &bench)).await?;
        repeat.map_err(|e| Problem::Wrong(sentence(&e)))
    }
}

/// A record of what was kept of it.
///
/// # Errors
/// What can't be read.
pub(crate) fn read(number: i64, json: &[u8]) -> Result<Record, Problem> {
    Record::from_json(json).map_err(|e| Problem::Wrong(format!("Record {number} can't be read: {e}.")))
}
