//! A run over all rows of a job, in the background.

use super::kept::{Kept, Work};
use super::plan::{Planned, plan, wanted};
use crate::{
    app::{App, today},
    newest::hold,
    problem::{Problem, sentence},
    store::{Happened, Standing, Told},
};
use futures::{StreamExt, stream};
use std::{
    collections::HashSet,
    sync::{
        Arc,
        atomic::{AtomicBool, AtomicUsize, Ordering},
    },
};
use uuid::Uuid;
use workbench::{Bench, Scope, rows::found};

/// A run over all rows of a job.
pub struct Run {
    pub work: Work,
    done: AtomicUsize,
    total: AtomicUsize,
    stop: AtomicBool,
}

impl Run {
    /// How many of how many.
    #[must_use]
    pub fn progress(&self) -> (usize, usize) {
        (self.done.load(Ordering::Relaxed), self.total.load(Ordering::Relaxed))
    }
}

impl App {
    #[must_use]
    pub fn run_of(&self, id: Uuid) -> Option<Arc<Run>> {
        hold(&self.runs).get(&id).cloned()
    }

    /// Begins a run over the rows that are not done yet.
    ///
    /// # Errors
    /// One is under way, or there is no such job or no row.
    pub async fn begin_rows(self: &Arc<Self>, id: Uuid, work: Work) -> Result<(), Problem> {
        let standing = self.store.standing(id).await?;
        if standing.job.roster.rows.is_empty() {
            return Err(Problem::Wrong("The roster has no rows yet.".into()));
        }
        let run =
            Arc::new(Run { work, done: AtomicUsize::new(0), total: AtomicUsize::new(0), stop: AtomicBool::new(false) });
        {
            let mut runs = hold(&self.runs);
            if runs.contains_key(&id) {
                return Err(Problem::Wrong("The rows are already being checked or built; wait, or stop it.".into()));
            }
            runs.insert(id, run.clone());
        }
        let app = self.clone();
        tokio::spawn(async move {
            let ended = app.run_rows(id, &run).await;
            hold(&app.runs).remove(&id);
            if let Err(problem) = ended {
                tracing::warn!("the rows of job {id}: {problem}");
            }
            app.tell_rows(id, standing.state);
        });
        Ok(())
    }

    /// Stops the run of a job, if there is one; rows that are done stay so.
    pub fn stop_rows(&self, id: Uuid) {
        if let Some(run) = self.run_of(id) {
            run.stop.store(true, Ordering::Relaxed);
        }
    }

    fn tell_rows(&self, job: Uuid, state: i64) {
        // nobody listening is no fault
        let _ = self.events.send(Told { job, state, what: Happened::Rows });
    }

    async fn run_rows(&self, id: Uuid, run: &Run) -> Result<(), Problem> {
        let at_once = std::thread::available_parallelism().map_or(2, usize::from);
        'anew: loop {
            let mut standing = self.store.standing(id).await?;
            let bench = self.bench(&mut standing.job).await?;
            let wanted = wanted(&standing.job, &bench);
            let planned = self.planned(&standing).await?;
            let digests: Vec<String> = planned.iter().map(|p| p.digest.clone()).collect();
            self.store.forget_rows(id, &digests).await?;
            let kept = self.store.kept_rows(id).await?;
            let mut seen = HashSet::new();
            let all = planned.into_iter().filter(|p| seen.insert(p.digest.clone()));
            let (done, open): (Vec<_>, Vec<_>) =
                all.partition(|p| kept.get(&p.digest).is_some_and(|k| k.is_done(run.work, &wanted)));
            run.done.store(done.len(), Ordering::Relaxed);
            run.total.store(done.len() + open.len(), Ordering::Relaxed);
            self.tell_rows(id, standing.state);
            let each = open.into_iter().map(|planned| self.one_row(id, &bench, planned, run.work, &wanted));
            let mut works = stream::iter(each).buffer_unordered(at_once);
            while let Some(done) = works.next().await {
                done?;
                run.done.fetch_add(1, Ordering::Relaxed);
                self.tell_rows(id, standing.state);
                if run.stop.load(Ordering::Relaxed) {
                    return Ok(());
                }
                if self.store.standing(id).await?.state != standing.state {
                    continue 'anew;
                }
            }
            return Ok(());
        }
    }

    /// Every row of a job as it is today.
    ///
    /// # Errors
    /// Working it out failed.
    pub async fn planned(&self, standing: &Standing) -> Result<Vec<Planned>, Problem> {
        let job = standing.job.clone();
        self.heavy(move || plan(&job, today())).await
    }

    async fn one_row(
        &self,
        id: Uuid,
        bench: &Arc<Bench>,
        planned: Planned,
        work: Work,
        wanted: &[String],
    ) -> Result<(), Problem> {
        let Planned { digest, job, .. } = planned;
        let (on, names) = (bench.clone(), wanted.to_vec());
        let made = self
            .heavy(move || match work {
                Work::Measure => {
                    let found = found(&job, &on.outcome(&job, Scope::NearMarks));
                    (Kept { found: Some(found), ..Kept::default() }, Vec::new())
                }
                Work::Build => {
                    let chosen =
                        handoff::chosen(&job, &on, &today().to_string(), &|name| names.iter().any(|n| n == name));
                    match chosen {
                        Ok(handed) => {
                            // files that are not what was made are not handed over
                            let problem = handed.checked.fault();
                            let files = if problem.is_some() { Vec::new() } else { handed.files };
                            (Kept { found: Some(found(&job, &handed.outcome)), asked: names, problem }, files)
                        }
                        Err(problem) => {
                            // what was measured is told; of the files there are none
                            let found = found(&job, &on.outcome(&job, Scope::NearMarks));
                            let problem = Some(sentence(&problem.to_string()));
                            (Kept { found: Some(found), asked: names, problem }, Vec::new())
                        }
                    }
                }
            })
            .await;
        let (kept, files) = match made {
            Ok(made) => made,
            // a fault of the program ends this row only
            Err(problem) => (Kept { problem: Some(problem.to_string()), ..Kept::default() }, Vec::new()),
        };
        self.store.keep_row(id, &digest, &kept, files).await
    }
}
