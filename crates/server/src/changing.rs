//! A change of a job made, kept, and held against what others have changed meanwhile.

use crate::{
    app::App,
    edits::Edit,
    overtaken::{self, Theirs},
    problem::Problem,
    store::{By, Standing},
};
use std::sync::Arc;
use trade::Job;
use uuid::Uuid;

impl App {
    /// Makes a change to a job as it stands, which `alter` gets and may refuse. Changes to one job wait for one another,
    /// and hold nothing of the database meanwhile.
    ///
    /// # Errors
    /// What `alter` says, no such job, other servers change it all the time, or the database does not answer.
    pub async fn edit<F>(
        &self,
        id: Uuid,
        by: By<'_>,
        label: &str,
        mut alter: impl FnMut(Standing) -> F,
    ) -> Result<(), Problem>
    where
        F: Future<Output = Result<Job, Problem>> + Send,
    {
        /// Times that a change is worked out anew since another server was faster.
        const TRIES: usize = 8;
        // turns are kept for jobs that there are
        self.store.standing(id).await?;
        let turns = self.turns(id);
        let _turn = turns.editing.lock().await;
        if self.store.is_kept(id, by.key).await? {
            return Ok(());
        }
        for _ in 0..TRIES {
            let standing = self.store.standing(id).await?;
            let after = alter(standing.clone()).await?;
            if after == standing.job || self.store.keep_change(id, standing.state, by, label, after).await? {
                return Ok(());
            }
        }
        Err(Problem::Busy)
    }

    /// Refuses what somebody else overtook: a change that was made on what stood there after the row `seen` of the history,
    /// of something that somebody else has changed since.
    ///
    /// # Errors
    /// Who changed it, and what; the job has no such row, or the database does not answer.
    pub(crate) async fn not_overtaken(
        self: &Arc<Self>,
        standing: &Standing,
        seen: i64,
        author: &str,
        edit: &Edit,
    ) -> Result<(), Problem> {
        if seen >= standing.latest {
            return Ok(());
        }
        let (base, others) = self.store.since(standing.id, seen, author).await?;
        if others.is_empty() {
            return Ok(());
        }
        // as it was meant, and as it would come out now: what changes nothing of what was seen may undo what others did
        let mut on = Vec::new();
        for mut job in [base, standing.job.clone()] {
            let bench = self.bench(&mut job).await?;
            on.push((job, bench));
        }
        let edit = edit.clone();
        self.heavy(move || {
            // what can't be done any more is told when it is tried on what stands there now
            let made = on.into_iter().filter_map(|(job, bench)| Some([edit.apply(&job, &bench).ok()?, job]));
            let mine: Vec<[Job; 2]> = made.map(|[after, before]| [before, after]).collect();
            match overtaken::meets(&mine, &others) {
                Some(Theirs { author, label, .. }) => Err(Problem::Overtaken(format!(
                    "{author} has changed the same meanwhile ({label}); yours was not kept. Look at it, and make it anew \
                     if you still want to."
                ))),
                None => Ok(()),
            }
        })
        .await?
    }
}
