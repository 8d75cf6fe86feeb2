//! The search along one lever: the nearest step at which the finding passes.

use super::{Patience, levers::Lever, moves, trial::Trial};
use crate::Outcome;
use inspection::{Check, Finding};
use std::{
    sync::atomic::{AtomicBool, Ordering},
    time::Instant,
};
use trade::{
    Job, Mark,
    limits::{Side, State},
};

pub(super) struct Search<'a> {
    pub(super) trial: &'a Trial<'a>,
    pub(super) job: &'a Job,
    /// The mark's place in the job.
    pub(super) at: usize,
    /// What is to be brought where it is wanted: it is what is measured step by step.
    pub(super) check: Check,
    /// How that finding stands in `job`.
    pub(super) began: &'a Finding,
    pub(super) wanted: Wanted<'a>,
    /// The finding of the mark that has to pass in the end.
    pub(super) goal: Check,
    /// What nothing may be worse than.
    pub(super) before: &'a Outcome,
    pub(super) patience: Patience<'a>,
    /// Something was found that is offered.
    pub(super) found: &'a AtomicBool,
}

/// How a finding has to stand.
#[derive(Clone, Copy)]
pub(super) enum Wanted<'a> {
    Passing,
    /// Than it was.
    NoWorse(&'a Finding),
}

impl Wanted<'_> {
    fn is_met(self, finding: &Finding) -> bool {
        match self {
            Self::Passing => finding.state == State::Passes,
            Self::NoWorse(was) => !moves::is_worse(was, finding),
        }
    }
}

/// What a change came to.
pub(super) enum Found {
    /// The goal passes and nothing is worse.
    Holds {
        mark: Box<Mark>,
        outcome: Box<Outcome>,
        steps: u32,
    },
    /// The goal passes, and something else is worse.
    Against {
        mark: Box<Mark>,
        outcome: Box<Outcome>,
        steps: u32,
        why: String,
    },
    Nothing,
}

/// Steps that are tried past the first one that passes, where something else is worse there.
const PAST: u32 = 3;
/// Steps in a row that bring the figure no nearer to its limit, after which a lever is given up; each is twice as far as
/// the one before.
const IDLE: u32 = 3;
/// In the finding's unit.
const NEARER: f64 = 1e-6;

impl Search<'_> {
    fn is_over(&self) -> bool {
        let enough = || self.found.load(Ordering::Relaxed) && Instant::now() > self.patience.enough;
        self.patience.is_over() || enough()
    }

    /// The nearest step at which the finding stands as wanted; nothing else is looked at.
    pub(super) fn nearest(&self, lever: Lever) -> Option<u32> {
        let most = lever.most_steps();
        let began = self.began;
        // towards the limit is up
        let towards = |finding: &Finding| {
            let side = began.limit.as_ref().map_or(Side::AtLeast, |limit| limit.side);
            finding.measured.map(|figure| if side == Side::AtLeast { figure } else { -figure })
        };
        let mut best = towards(began);
        // farther and farther, until it passes; only that finding is measured
        let (mut failed, mut passed, mut idle) = (0, 1, 0);
        loop {
            if self.is_over() {
                return None;
            }
            let finding = self.finding_at(lever, passed);
            if finding.as_ref().is_some_and(|f| self.wanted.is_met(f)) {
                break;
            }
            // what can't be set or built brings nothing nearer either
            let figure = finding.as_ref().and_then(towards);
            let nearer = figure.is_some_and(|figure| best.is_none_or(|best| figure > best + NEARER));
            idle = if nearer { 0 } else { idle + 1 };
            best = if nearer { figure } else { best };
            failed = passed;
            if passed >= most || idle >= IDLE {
                return None;
            }
            passed = (2 * passed).min(most);
        }
        // back to the nearest that passes
        while passed - failed > 1 {
            if self.is_over() {
                return None;
            }
            let middle = failed.midpoint(passed);
            match self.finding_at(lever, middle) {
                Some(finding) if self.wanted.is_met(&finding) => passed = middle,
                _ => failed = middle,
            }
        }
        Some(passed)
    }

    /// What the step, or one a little past it, does to all findings of all marks.
    pub(super) fn whole(&self, lever: Lever, passed: u32) -> Found {
        let most = lever.most_steps();
        let mut against = None;
        for steps in passed..=(passed + PAST).min(most) {
            if self.is_over() {
                break;
            }
            let Some((mark, job)) = self.job_at(lever, steps) else { break };
            let mut outcome = self.trial.beside(&job, self.at, self.before);
            let passes =
                outcome.marks[self.at].findings.iter().any(|f| f.check == self.goal && f.state == State::Passes);
            if !passes {
                break;
            }
            // what is worse nearby is found sooner
            if moves::worse(self.before, &outcome).is_none() {
                outcome = self.trial.outcome(&job);
            }
            match moves::worse(self.before, &outcome) {
                None => return Found::Holds { mark: Box::new(mark), outcome: Box::new(outcome), steps },
                Some(worse) if against.is_none() => {
                    let why = worse.told(&job);
                    against = Some((mark, outcome, steps, why));
                }
                Some(_) => {}
            }
        }
        against.map_or(Found::Nothing, |(mark, outcome, steps, why)| Found::Against {
            mark: Box::new(mark),
            outcome: Box::new(outcome),
            steps,
            why,
        })
    }

    fn job_at(&self, lever: Lever, steps: u32) -> Option<(Mark, Job)> {
        let mark = lever.moved(self.trial, self.job, self.at, steps)?;
        let job = with(self.job, self.at, mark.clone());
        job.check().ok()?;
        Some((mark, job))
    }

    fn finding_at(&self, lever: Lever, steps: u32) -> Option<Finding> {
        let (_, job) = self.job_at(lever, steps)?;
        self.trial.finding(&job, self.at, self.check)
    }
}

/// The job with another mark at a place; marks of its style go with it.
pub(super) fn with(job: &Job, at: usize, mark: Mark) -> Job {
    let mut job = job.clone();
    if mark.style.is_some() {
        for other in job.marks.iter_mut().filter(|m| m.style == mark.style) {
            other.lettering.clone_from(&mark.lettering);
            other.relief = mark.relief;
        }
    }
    job.marks[at] = mark;
    job
}
