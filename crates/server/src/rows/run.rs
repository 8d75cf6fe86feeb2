//! A run over all rows of a job, in the background: any worker does any row.

use super::{
    kept::{Kept, Work},
    plan::{Planned, plan, planned, wanted},
    tasks::DoRow,
};
use crate::{
    app::{App, today},
    handlers::handoff::archive,
    problem::{Problem, sentence},
    store::Standing,
};
use std::{collections::HashSet, sync::Arc};
use time::Date;
use trade::{limits::State, row_files::TOOL_SIDE};
use uuid::Uuid;
use workbench::{Bench, Outcome, Scope, Steps, rows::found};

/// Times that a row is begun; one that a worker ended at each time is left.
const MOST_BEGINS: i32 = 3;

impl App {
    /// Begins a run over the rows that are not done yet.
    ///
    /// # Errors
    /// One is under way, or there is no such job or no row.
    pub async fn begin_rows(&self, id: Uuid, work: Work) -> Result<(), Problem> {
        let standing = self.store.standing(id).await?;
        if standing.job.roster.rows.is_empty() {
            return Err(Problem::Wrong("The roster has no rows yet.".into()));
        }
        if !self.store.begin_run(id, standing.state, work).await? {
            return Err(Problem::Wrong("The rows are already being checked or built; wait, or stop it.".into()));
        }
        Ok(())
    }

    /// Puts the rows into the queue that are not done as the job stands; what was put there before and is done, or is of
    /// the job as it stands no more, is taken out.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn plan_rows(&self, id: Uuid) -> Result<(), Problem> {
        let Some(work) = self.store.run(id).await? else { return Ok(()) };
        match self.open_rows(id, work).await {
            Ok(()) => Ok(()),
            Err(problem @ Problem::Database(_)) => Err(problem),
            // a job or part that can't be read has no rows to do
            Err(problem) => {
                tracing::warn!("the rows of job {id}: {problem}");
                self.store.end_run(id).await
            }
        }
    }

    async fn open_rows(&self, id: Uuid, work: Work) -> Result<(), Problem> {
        let mut standing = self.store.standing(id).await?;
        let bench = self.bench(&mut standing.job).await?;
        let (wanted, day) = (wanted(&standing.job, &bench), today());
        let planned = self.planned(&standing, day).await?;
        let digests: Vec<String> = planned.iter().map(|p| p.digest.clone()).collect();
        self.store.forget_rows(id, &digests).await?;
        let mut seen = HashSet::new();
        let rows = planned.into_iter().filter(|p| seen.insert(p.digest.clone())).map(|p| DoRow {
            job: id,
            state: standing.state,
            row: p.row,
            digest: p.digest,
            day,
        });
        self.store.open_rows(id, standing.state, rows.collect(), |kept| kept.is_done(work, &wanted)).await
    }

    /// Does a row, where that is still wanted.
    ///
    /// # Errors
    /// The database does not answer.
    pub(super) async fn do_row(&self, task: DoRow) -> Result<(), Problem> {
        let Some(work) = self.store.run(task.job).await? else { return Ok(()) };
        if self.store.stands(task.job).await?.state() != task.state {
            return self.store.plan_run(task.job).await;
        }
        let Some(begun) = self.store.begin_row(task.job, &task.digest).await? else { return Ok(()) };
        let made = if begun > MOST_BEGINS {
            Err(Problem::Panicked("the program was ended at this row, three times".into()))
        } else {
            self.made_of_row(&task, work).await
        };
        let (kept, files) = match made {
            Ok(Some(made)) => made,
            Ok(None) => return self.store.plan_run(task.job).await,
            Err(problem @ Problem::Database(_)) => return Err(problem),
            // a fault of the program ends this row only
            Err(problem) => (Kept { problem: Some(problem.to_string()), ..Kept::default() }, Vec::new()),
        };
        self.store.keep_row(task.job, task.state, &task.digest, &kept, files).await
    }

    /// What a row comes to, and its files; nothing where the job has it no more as it was to be done.
    async fn made_of_row(&self, task: &DoRow, work: Work) -> Result<Option<(Kept, Vec<handoff::Named>)>, Problem> {
        let mut standing = self.store.standing(task.job).await?;
        let bench = self.bench(&mut standing.job).await?;
        let names = wanted(&standing.job, &bench);
        let DoRow { row, digest, day, .. } = task.clone();
        let on = bench.clone();
        self.later(on.part(), move || {
            let row = planned(&standing.job, row, day).filter(|p| p.digest == digest);
            row.map(|p| made(&p.job, &bench, work, names, day))
        })
        .await
    }

    /// Every row of a job as it is on a day.
    ///
    /// # Errors
    /// Working it out failed.
    pub async fn planned(&self, standing: &Standing, day: Date) -> Result<Vec<Planned>, Problem> {
        let job = standing.job.clone();
        self.heavy(move || plan(&job, day)).await
    }
}

/// The tool's side of a row in one archive; a sentence on why there is none.
fn archive_of(job: &trade::Job, on: &Arc<Bench>, outcome: &Outcome) -> Result<handoff::Named, String> {
    let side = handoff::tool_side::tool_side_of(job, on, outcome).map_err(|e| sentence(&e.to_string()))?;
    if let Some(wrong) = side.read.iter().find(|read| read.state == State::Fails) {
        return Err(format!("{}: {}", wrong.file, wrong.sentence));
    }
    let bytes = archive(&side.files).map_err(|e| e.to_string())?;
    Ok(handoff::Named { name: TOOL_SIDE.into(), bytes })
}

fn made(job: &trade::Job, on: &Arc<Bench>, work: Work, names: Vec<String>, day: Date) -> (Kept, Vec<handoff::Named>) {
    match work {
        Work::Measure => {
            let found = found(job, &on.outcome(job, Scope::NearMarks));
            (Kept { found: Some(found), ..Kept::default() }, Vec::new())
        }
        Work::Build => match handoff::chosen(job, on, &day.to_string(), &|name| names.iter().any(|n| n == name)) {
            Ok(handed) => {
                // files that are not what was made are not handed over
                let mut problem = handed.checked.fault();
                let mut files = handed.files;
                if problem.is_none() && names.iter().any(|n| n == TOOL_SIDE) {
                    match archive_of(job, on, &handed.outcome) {
                        Ok(archive) => files.push(archive),
                        Err(why) => problem = Some(why),
                    }
                }
                if problem.is_some() {
                    files.clear();
                }
                (Kept { found: Some(found(job, &handed.outcome)), asked: names, problem }, files)
            }
            Err(problem) => {
                // what was measured is told; of the files there are none
                let found = found(job, &on.outcome(job, Scope::NearMarks));
                let problem = Some(sentence(&problem.to_string()));
                (Kept { found: Some(found), asked: names, problem }, Vec::new())
            }
        },
    }
}
