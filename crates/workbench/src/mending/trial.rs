//! A bench on which changes are tried: what it has at hand is used, and what is tried does not pass for the newest state.

use crate::{
    Bench, Outcome,
    asked::Asked,
    bench::Latest,
    blocks::Block,
    joining, line,
    outcome::{Group, Members, Scope},
    steps::Steps,
    workpiece::{Ground, Workpiece},
};
use glam::DVec3;
use inspection::{Check, Finding, inspect_for};
use relief::{BuiltMark, MarkedSolid, PlacedMark, ReliefError, Seat, marked::Stock};
use std::sync::{
    Arc,
    atomic::{AtomicUsize, Ordering},
};
use tool::{Region, Steels, Verdict, parting::Line};
use trade::{Area, Job, Mark, SeatRef, Tool};

pub(super) struct Trial<'a> {
    bench: &'a Bench,
    /// What was joined last here: of marks that lie together only the one that is changed is joined anew.
    latest: Latest,
    count: AtomicUsize,
}

impl<'a> Trial<'a> {
    pub(super) fn new(bench: &'a Bench) -> Self {
        Self { bench, latest: Latest::default(), count: AtomicUsize::new(0) }
    }

    /// How many jobs were built and inspected.
    pub(super) fn count(&self) -> usize {
        self.count.load(Ordering::Relaxed)
    }

    pub(super) fn outcome(&self, job: &Job) -> Outcome {
        self.count.fetch_add(1, Ordering::Relaxed);
        line::run(job, self, Scope::NearMarks)
    }

    /// The job as far as the marks beside the one at `at` go: those that lie elsewhere have the findings that they had.
    pub(super) fn beside(&self, job: &Job, at: usize, before: &Outcome) -> Outcome {
        self.count.fetch_add(1, Ordering::Relaxed);
        let mut outcome = line::joined_at(job, self, at);
        for (mark, was) in outcome.marks.iter_mut().zip(&before.marks).filter(|(mark, _)| mark.built.is_some()) {
            mark.findings.clone_from(&was.findings);
        }
        line::inspect(job, self, &mut outcome);
        outcome
    }

    /// The one finding that is asked for; the job is built like any other, and nothing else is measured.
    pub(super) fn finding(&self, job: &Job, at: usize, check: Check) -> Option<Finding> {
        self.count.fetch_add(1, Ordering::Relaxed);
        let outcome = line::joined_at(job, self, at);
        line::on_site(job, self, &outcome, at, |site| inspect_for(site, check))
    }
}

impl Steps for Trial<'_> {
    fn work(&self) -> &Workpiece {
        self.bench.work()
    }

    fn seat(&self, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String> {
        self.bench.seat(seat, pull)
    }

    fn parting(&self, tool: &Tool) -> Arc<Vec<Line>> {
        self.bench.parting(tool)
    }

    fn region(&self, area: &Area) -> Arc<Region> {
        self.bench.region(area)
    }

    fn steels(&self, tool: &Tool) -> Arc<Steels> {
        self.bench.steels(tool)
    }

    fn release(&self, tool: &Tool) -> Arc<Vec<Verdict>> {
        self.bench.release(tool)
    }

    fn built(
        &self,
        mark: &Mark,
        seat: &Arc<Seat>,
        placed: &PlacedMark,
        pull: Option<DVec3>,
    ) -> Result<Arc<BuiltMark>, String> {
        self.bench.built(mark, seat, placed, pull)
    }

    fn blocks(&self) -> Vec<Block> {
        let mut blocks = self.bench.blocks();
        blocks.extend(self.latest.blocks());
        blocks
    }

    fn piece(&self, stock: &Stock, block: Block) -> Arc<Stock> {
        self.latest.cut(block);
        self.bench.kept_piece(stock, block)
    }

    fn marked_piece(&self, stock: &Stock, block: Block, members: &Members) -> Result<MarkedSolid, ReliefError> {
        self.latest.marked_piece(self, stock, block, members)
    }

    fn group(&self, ground: &Ground, block: Option<Block>, members: &Members) -> Result<Arc<Group>, String> {
        self.bench.kept_group(ground, block, members, || joining::group(self, ground, block, members).map(Arc::new))
    }

    fn findings(&self, asked: &Asked<'_>) -> Arc<Vec<Vec<Finding>>> {
        self.bench.findings(asked)
    }
}
