//! A change of a job made, kept, and held against what others have changed meanwhile.

use crate::{
    app::App,
    edits::Edit,
    merge::merged,
    newest::hold,
    overtaken::{self, Theirs},
    problem::{Problem, sentence},
    store::{By, Entry, Of, OwnStep, Standing, Way},
    views::Made,
};
use std::sync::{Arc, Mutex};
use trade::Job;
use uuid::Uuid;
use workbench::Bench;

/// On what an edit is made.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Condition {
    /// The newest row of the history that its window had seen: what somebody else has changed since is not written over.
    pub seen: Option<i64>,
    /// The newest row of the history at which the job has to stand.
    pub wanted: Option<i64>,
}

/// Times that a change is worked out anew since another server was faster.
const TRIES: usize = 8;

/// `job` with all of these made.
fn all(edits: &[Edit], job: &Job, bench: &Bench) -> Result<Job, Problem> {
    edits.iter().try_fold(job.clone(), |job, edit| edit.apply(&job, bench))
}

/// What several edits of a job are, for the history: what is done to several marks is told once.
fn label(edits: &[Edit], job: &Job) -> String {
    /// Of a row of the history, characters.
    const LONGEST: usize = 200;
    let mut told: Vec<(Vec<String>, String)> = Vec::new();
    for label in edits.iter().map(|edit| edit.label(job)) {
        let (whose, what) = label.rsplit_once(": ").map_or((None, &*label), |(whose, what)| (Some(whose), what));
        match (told.last_mut(), whose) {
            (Some((all, last)), Some(whose)) if last == what && !all.is_empty() => all.push(whose.to_owned()),
            _ => told.push((whose.map(str::to_owned).into_iter().collect(), what.to_owned())),
        }
    }
    let one = |(whose, what): (Vec<String>, String)| match whose[..] {
        [] => what,
        _ => format!("{}: {what}", whose.join(", ")),
    };
    let all = told.into_iter().map(one).collect::<Vec<_>>().join("; ");
    if all.chars().count() <= LONGEST {
        return all;
    }
    format!("{} …", all.chars().take(LONGEST).collect::<String>())
}

impl App {
    /// Makes a change to a job as it stands, which `alter` gets and may refuse. Changes to one job wait for one another,
    /// and hold nothing of the database meanwhile. What it is called is asked once it is made.
    ///
    /// # Errors
    /// What `alter` says, no such job, other servers change it all the time, or the database does not answer.
    pub async fn edit<F>(
        &self,
        id: Uuid,
        by: By<'_>,
        label: impl Fn() -> String,
        mut alter: impl FnMut(Standing) -> F,
    ) -> Result<(), Problem>
    where
        F: Future<Output = Result<Job, Problem>> + Send,
    {
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
            let label = label();
            let entry = Entry { by, label: &label, of: Of::Itself };
            if after == standing.job || self.store.keep_change(id, standing.state, entry, after).await? {
                return Ok(());
            }
        }
        Err(Problem::Busy)
    }

    /// Makes edits one after another in one step, all or none; what they made.
    ///
    /// # Errors
    /// Why it can't be made, the condition does not hold, no such job, or the database does not answer.
    pub(crate) async fn make(
        self: &Arc<Self>,
        id: Uuid,
        by: By<'_>,
        edits: Vec<Edit>,
        on: Condition,
    ) -> Result<Made, Problem> {
        let made = Arc::new(Mutex::new((Made::default(), String::new())));
        let edits = Arc::new(edits);
        let alter = |standing: Standing| {
            let (app, edits, author, made) = (self.clone(), edits.clone(), by.author.to_owned(), made.clone());
            async move {
                if let Some(wanted) = on.wanted
                    && wanted != standing.latest
                {
                    return Err(Problem::Moved { latest: standing.latest });
                }
                if let Some(seen) = on.seen {
                    app.not_overtaken(&standing, seen, &author, &edits).await?;
                }
                let kept = standing.job;
                let mut job = kept.clone();
                let bench = app.bench(&mut job).await?;
                let was = job.clone();
                let label = label(&edits, &job);
                let edited = app.heavy(move || all(&edits, &job, &bench)).await??;
                *hold(&made) = (Made::between(&kept, &edited), label);
                // of what makes no part no place is found: it is refused before anything is kept
                if edited == was { Ok(kept) } else { app.placed(edited).await }
            }
        };
        self.edit(id, by, || hold(&made).1.clone(), alter).await?;
        Ok(std::mem::take(&mut hold(&made).0))
    }

    /// Undoes the newest change of one's own, or makes it again; what others did meanwhile stays.
    ///
    /// # Errors
    /// There is none, somebody else has changed the same since, no such job, or the database does not answer.
    pub async fn step(&self, id: Uuid, by: By<'_>, way: Way) -> Result<(), Problem> {
        self.store.stands(id).await?;
        let turns = self.turns(id);
        let _turn = turns.editing.lock().await;
        if self.store.is_kept(id, by.key).await? {
            return Ok(());
        }
        for _ in 0..TRIES {
            let stands = self.store.stands(id).await?;
            let own = self.store.own_steps(id, by.author).await?;
            let step = match (way, self.store.standing(id).await) {
                // out of a state that can't be read everybody may step
                (Way::Undo, Err(Problem::Unreadable(_))) => stands.last(),
                (Way::Undo, _) => own.undo,
                (Way::Redo, _) => own.redo,
            };
            let Some(step) = step else {
                let word = way.word();
                return Err(Problem::Wrong(format!(
                    "There is nothing of yours to {word}. What others changed stands in the history, and the job can be \
                     brought back from there."
                )));
            };
            let label = format!("{}: {}", way.word(), step.label);
            let entry = Entry { by, label: &label, of: way.of(step.change) };
            let kept = match stands.straight(way, &step) {
                Some(to) => self.store.keep_step(id, stands.state(), to, entry).await?,
                None => {
                    let after = self.stepped(id, stands.state(), by.author, way, &step).await?;
                    self.store.keep_change(id, stands.state(), entry, after).await?
                }
            };
            if kept {
                return Ok(());
            }
        }
        Err(Problem::Busy)
    }

    /// A state with a change taken out of it, or put into it again.
    async fn stepped(&self, id: Uuid, state: i64, author: &str, way: Way, step: &OwnStep) -> Result<Job, Problem> {
        let document = async |state| self.store.state_of(id, state).await.map(|(job, _)| job);
        let (present, after, before) =
            (document(state).await?, document(step.change).await?, document(step.before).await?);
        let (from, to) = if way == Way::Undo { (after, before) } else { (before, after) };
        let value = |job: &Job| serde_json::to_value(job).unwrap_or_default();
        let stepped = match merged(&value(&present), &value(&from), &value(&to)) {
            Ok(document) => Job::from_kept(document).and_then(|job| job.check().map(|()| job)),
            Err(_) => {
                let (_, others) = self.store.since(id, step.change, author).await?;
                let (who, what) = overtaken::meets(&[[from, to]], &others)
                    .map_or_else(Default::default, |o| (o.author.clone(), format!(" ({})", o.label)));
                let who = if who.is_empty() { "Somebody" } else { &who };
                return Err(Problem::Between {
                    says: format!(
                        "{who} has changed the same since{what}, so your change alone can't be {}.",
                        way.done()
                    ),
                    before: (way == Way::Undo).then_some(step.before),
                });
            }
        };
        let stepped = stepped.map_err(|e| Problem::Between {
            says: format!(
                "With what others did since, your change alone can't be {}: {}",
                way.done(),
                sentence(&e.to_string())
            ),
            before: (way == Way::Undo).then_some(step.before),
        })?;
        self.placed(stepped).await
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
        edits: &Arc<Vec<Edit>>,
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
        let edits = edits.clone();
        self.heavy(move || {
            // what can't be done any more is told when it is tried on what stands there now
            let made = on.into_iter().filter_map(|(job, bench)| Some([all(&edits, &job, &bench).ok()?, job]));
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
