//! Mends: the nearest changes of a mark with which a finding that fails or is close passes.
//!
//! Nothing is foretold: a change is proposed, the job with it built and inspected like any other, and the mend is offered
//! only where its finding passes then and no other finding of any mark is worse. Values are searched step by step on what
//! a drawing would carry (0.5°, 0.05 mm), from the nearest on.

mod levers;
mod moves;
mod search;
mod trial;

pub use moves::Move;
use search::{Found, Search, Wanted};

use crate::{Bench, Outcome, Steps, section::said::Names};
use inspection::{Check, Finding};
use levers::Lever;
use rayon::prelude::*;
use serde_json::Value;
use std::{
    cmp::Reverse,
    collections::HashSet,
    sync::atomic::{AtomicBool, Ordering},
    time::Instant,
};
use time::Date;
use trade::{Fixed, Job, Mark, Row, limits::State};
use trial::Trial;

/// How long may be searched at most, and whether anybody still waits.
#[derive(Clone, Copy)]
pub struct Patience<'a> {
    pub until: Instant,
    /// From when on what was found is enough: nothing more is begun.
    pub soft: Instant,
    /// From when on what is being tried is left off too, once something was found.
    pub enough: Instant,
    pub stopped: &'a AtomicBool,
}

impl Patience<'_> {
    pub(crate) fn is_over(&self) -> bool {
        self.stopped.load(Ordering::Relaxed) || Instant::now() > self.until
    }

    fn is_short(&self) -> bool {
        Instant::now() > self.soft
    }
}

/// A change of a mark after which its finding passes.
#[derive(Clone, Debug)]
pub struct Mend {
    /// Id of the mark.
    pub mark: String,
    /// The change in a few words: `draft 3.0° → 5.5°`.
    pub says: String,
    /// The values that it changes: one, or two where what stood against the one is mended by the other.
    pub changes: Vec<Fixed>,
    /// The mark with it.
    pub to: Mark,
    /// What is set otherwise, as a merge patch (RFC 7396) of the mark.
    pub settings: Value,
    /// Findings that come out otherwise, those that change their state first.
    pub moves: Vec<Move>,
    /// How far it is from what was set; the nearest is offered first.
    pub cost: f64,
    /// Other rows of the roster in which it was tried, and its finding passes.
    pub rows: usize,
}

impl Mend {
    /// Sets it in a job that is kept, whose marks say what they say.
    pub fn put_into(&self, job: &mut Job) {
        if let Some(at) = job.marks.iter().position(|m| m.id == self.mark) {
            *job = search::with(job, at, saying(&job.marks[at], &self.to));
        }
    }
}

/// A mark with what is set in another one, saying what it says.
fn saying(kept: &Mark, to: &Mark) -> Mark {
    Mark { text: kept.text.clone(), unsaid: kept.unsaid.clone(), ..to.clone() }
}

/// Other rows of a roster in which a mend is tried.
const ROWS: usize = 3;

/// A job in other rows of its roster in which its marks say something else than in the row `shown`, those with the longest
/// texts first; a few of many.
#[must_use]
pub fn other_rows(kept: &Job, shown: Option<u32>, day: Date) -> Vec<Job> {
    if !kept.marks.iter().any(Mark::is_made) {
        return Vec::new();
    }
    let says = |row: &Row| -> Vec<String> {
        kept.texts_made(Some(row), day).into_iter().map(|text| text.and_then(Result::ok).unwrap_or_default()).collect()
    };
    let mut told: HashSet<Vec<String>> = shown.and_then(|id| kept.roster.row(id)).map(says).into_iter().collect();
    let mut rows: Vec<(usize, u32)> = Vec::new();
    for row in &kept.roster.rows {
        let texts = says(row);
        let length = texts.iter().map(String::len).sum();
        if told.insert(texts) {
            rows.push((length, row.id));
        }
    }
    rows.sort_by_key(|(length, _)| Reverse(*length));
    rows.into_iter().take(ROWS).map(|(_, id)| kept.filled(Some(id), day)).collect()
}

/// The mends of a finding.
#[derive(Clone, Debug, Default)]
pub struct Mends {
    /// The nearest first.
    pub offers: Vec<Mend>,
    /// Changes that would do it if something else did not stand against them, in sentences, and what they change.
    pub against: Vec<(Fixed, String)>,
    /// Changes that were built and inspected.
    pub tried: usize,
    /// The search was ended before all was tried.
    pub cut_short: bool,
}

/// Offers of one finding; more would have to be read.
const OFFERS: usize = 4;
/// Ways of changing a mark that are searched before it is asked whether that is enough.
const AT_ONCE: usize = 3;

/// The mends of what `check` finds on the mark at `at`. The job is filled for a row; `others` are the same job filled for
/// other rows of the roster, in which the finding must pass with it too.
///
/// # Panics
/// The job has no such mark.
#[must_use]
pub fn mends(job: &Job, bench: &Bench, at: usize, check: Check, others: &[Job], patience: Patience<'_>) -> Mends {
    let trial = Trial::new(bench);
    let before = trial.outcome(job);
    let Some(target) = before.marks[at].findings.iter().find(|f| f.check == check).filter(|f| stands_open(f)) else {
        return Mends::default();
    };
    let found = AtomicBool::new(false);
    let search = Search {
        trial: &trial,
        job,
        at,
        check,
        began: target,
        wanted: Wanted::Passing,
        goal: check,
        before: &before,
        patience,
        found: &found,
    };
    let levers = levers::of(target, &trial, job, at);
    let names = Names { job, part: bench.part(), outcome: None };
    let mut mends = Mends::default();
    let mut against: Vec<StoodAgainst> = Vec::new();
    // the likeliest first; what comes after them is looked at where they bring nothing, or there is time
    for some in levers.chunks(AT_ONCE) {
        if mends.offers.len() >= OFFERS || patience.is_over() || (!mends.offers.is_empty() && patience.is_short()) {
            break;
        }
        let tried =
            some.par_iter().filter_map(|lever| Some((*lever, search.nearest(*lever)?))).map(|(lever, steps)| {
                match search.whole(lever, steps) {
                    Found::Holds { mark, outcome, steps } => {
                        let mend = Mend {
                            mark: mark.id.clone(),
                            says: lever.says(&job.marks[at], &mark, steps, names),
                            changes: vec![lever.changes()],
                            settings: levers::settings(&job.marks[at], &mark),
                            moves: moves::between(&before, &outcome),
                            cost: lever.cost(steps),
                            rows: 0,
                            to: *mark,
                        };
                        let mend = in_rows(mend, &trial, at, check, others, patience);
                        found.fetch_or(mend.is_some(), Ordering::Relaxed);
                        mend.map(Tried::Offer)
                    }
                    Found::Against { mark, outcome, steps, why } => {
                        let change = lever.says(&job.marks[at], &mark, steps, names);
                        Some(Tried::Against(StoodAgainst { lever, change, mark: *mark, outcome: *outcome, steps }, why))
                    }
                    Found::Nothing => None,
                }
            });
        for tried in tried.collect::<Vec<Option<Tried>>>().into_iter().flatten() {
            match tried {
                Tried::Offer(mend) => mends.offers.push(mend),
                Tried::Against(stood, why) => {
                    let says = format!("{} makes it pass, but then {why}.", stood.change);
                    mends.against.push((stood.lever.changes(), says));
                    against.push(stood);
                }
            }
        }
    }
    if mends.offers.is_empty() {
        against.sort_by(|a, b| a.cost().total_cmp(&b.cost()));
        for first in against.iter().take(FIRSTS) {
            if !mends.offers.is_empty() && patience.is_short() || patience.is_over() {
                break;
            }
            let both =
                first.with_another(&search, names).map(|mend| in_rows(mend, &trial, at, check, others, patience));
            mends.offers.extend(both.flatten());
        }
    }
    mends.offers.sort_by(|a, b| a.cost.total_cmp(&b.cost));
    mends.offers.truncate(OFFERS);
    mends.tried = trial.count();
    mends.cut_short = patience.is_over();
    mends
}

/// Changes that something stood against, to which another one is sought.
const FIRSTS: usize = 4;

/// What a change came to.
enum Tried {
    Offer(Mend),
    /// And what is worse with it.
    Against(StoodAgainst, String),
}

/// A change with which the finding passes, and something else is worse.
struct StoodAgainst {
    lever: Lever,
    /// It in words.
    change: String,
    mark: Mark,
    outcome: Outcome,
    steps: u32,
}

impl StoodAgainst {
    fn cost(&self) -> f64 {
        self.lever.cost(self.steps)
    }

    /// The nearest change beside it that leaves what became worse as it was.
    fn with_another(&self, search: &Search<'_>, names: Names<'_>) -> Option<Mend> {
        let Search { trial, job, at, before, .. } = *search;
        let moves::Worse::Finding(worse) = moves::worse(before, &self.outcome)? else { return None };
        // another mark is left alone
        if worse.mark != self.mark.id {
            return None;
        }
        let was = before.marks[at].findings.iter().find(|f| f.check == worse.check)?;
        let changed = search::with(job, at, self.mark.clone());
        let second =
            Search { job: &changed, check: worse.check, began: worse, wanted: Wanted::NoWorse(was), ..*search };
        let levers = levers::of(worse, trial, &changed, at);
        let others: Vec<Lever> = levers.into_iter().filter(|l| l.changes() != self.lever.changes()).collect();
        let found = others.par_iter().filter_map(|lever| {
            let steps = second.nearest(*lever)?;
            match second.whole(*lever, steps) {
                Found::Holds { mark, outcome, steps } => Some((*lever, mark, outcome, steps)),
                Found::Against { .. } | Found::Nothing => None,
            }
        });
        let found: Vec<_> = found.collect();
        let (lever, mark, outcome, steps) = found.into_iter().min_by(|a, b| a.0.cost(a.3).total_cmp(&b.0.cost(b.3)))?;
        Some(Mend {
            mark: mark.id.clone(),
            says: format!("{} and {}", self.change, lever.says(&changed.marks[at], &mark, steps, names)),
            changes: vec![self.lever.changes(), lever.changes()],
            settings: levers::settings(&job.marks[at], &mark),
            moves: moves::between(before, &outcome),
            cost: self.cost() + lever.cost(steps),
            rows: 0,
            to: *mark,
        })
    }
}

/// The mend, where its finding passes in the other rows too, as far as they could be tried.
fn in_rows(
    mend: Mend,
    trial: &Trial<'_>,
    at: usize,
    check: Check,
    others: &[Job],
    patience: Patience<'_>,
) -> Option<Mend> {
    let tried = others.par_iter().filter_map(|row| {
        // a row in which the mark has no text asks for nothing
        if patience.is_over() || row.marks[at].unsaid.is_some() {
            return None;
        }
        let finding = trial.finding(&search::with(row, at, saying(&row.marks[at], &mend.to)), at, check);
        // where it can't be built it is no mend
        Some(finding.is_some_and(|f| f.state == State::Passes))
    });
    let tried: Vec<bool> = tried.collect();
    tried.iter().all(|holds| *holds).then(|| Mend { rows: tried.len(), ..mend })
}

/// Does it ask for a mend?
fn stands_open(finding: &Finding) -> bool {
    matches!(finding.state, State::Fails | State::Marginal)
}

/// Mends of all that fails and is close, one after another, each of the worst that is left.
#[derive(Clone, Debug, Default)]
pub struct AllMends {
    pub steps: Vec<Mend>,
    /// Findings that come out otherwise after all of them.
    pub moves: Vec<Move>,
    /// What still fails or is close.
    pub left: Vec<Finding>,
    pub cut_short: bool,
}

/// Mends that are taken one after another.
const MOST_STEPS: usize = 24;

/// Takes the nearest mend of the worst finding, then of the worst that is left, until nothing is left that can be mended.
#[must_use]
pub fn all(job: &Job, bench: &Bench, others: &[Job], patience: Patience<'_>) -> AllMends {
    let trial = Trial::new(bench);
    let before = trial.outcome(job);
    let (mut job, mut others) = (job.clone(), others.to_vec());
    let mut all = AllMends::default();
    let mut given_up: Vec<(usize, Check)> = Vec::new();
    let mut now = before.clone();
    while all.steps.len() < MOST_STEPS && !patience.is_over() {
        let open = open(&now).into_iter().find(|(at, f)| !given_up.contains(&(*at, f.check)));
        let Some((at, finding)) = open else { break };
        let check = finding.check;
        let soon = Patience { soft: Instant::now(), ..patience };
        match mends(&job, bench, at, check, &others, soon).offers.into_iter().next() {
            Some(mend) => {
                for row in &mut others {
                    *row = search::with(row, at, saying(&row.marks[at], &mend.to));
                }
                job = search::with(&job, at, mend.to.clone());
                now = trial.outcome(&job);
                all.steps.push(mend);
                // what stood against another may be gone
                given_up.clear();
            }
            None => given_up.push((at, check)),
        }
    }
    all.moves = moves::between(&before, &now);
    all.left = open(&now).into_iter().map(|(_, finding)| finding.clone()).collect();
    all.cut_short = patience.is_over();
    all
}

/// What fails or is close, with the places of its marks, the worst first.
fn open(outcome: &Outcome) -> Vec<(usize, &Finding)> {
    let all = outcome.marks.iter().enumerate().flat_map(|(at, m)| m.findings.iter().map(move |f| (at, f)));
    let mut open: Vec<_> = all.filter(|(_, f)| stands_open(f)).collect();
    open.sort_by_key(|(_, f)| Reverse(f.state));
    open
}
