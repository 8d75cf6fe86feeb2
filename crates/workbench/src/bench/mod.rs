//! The bench: the steps of the line of calls, with everything kept that a change of a mark leaves alone. It adds
//! nothing but keeping.

mod kept;
mod latest;

use crate::{
    asked::Asked,
    blocks::Block,
    inspecting, joining,
    key::{key, settings_of},
    line,
    outcome::{Group, Members, Outcome, Scope},
    plain,
    steps::Steps,
    workpiece::{Ground, Workpiece},
};
use glam::DVec3;
use inspection::Finding;
use kept::{Kept, Kind};
pub(crate) use latest::Latest;
use relief::{BuiltMark, MarkedSolid, PlacedMark, ReliefError, Seat, marked::Stock};
use solid::{Part, PartError};
use std::sync::Arc;
use tool::{Region, Steels, Verdict, parting::Line};
use trade::{Area, FaceMend, Job, Mark, SeatRef, Tool};

pub struct Bench {
    work: Workpiece,
    kept: Kept,
    latest: Latest,
}

impl Bench {
    #[must_use]
    pub fn new(part: Part) -> Self {
        Self::of(Workpiece::new(part))
    }

    fn of(work: Workpiece) -> Self {
        Self { work, kept: Kept::default(), latest: Latest::default() }
    }

    /// The part with some of its faces joined or divided, on a bench of its own.
    ///
    /// # Errors
    /// See [`Part::mend_faces`].
    pub fn face_mended(&self, mends: &[FaceMend]) -> Result<Self, PartError> {
        let mut part = (**self.work.part()).clone();
        part.mend_faces(mends)?;
        Ok(Self::of(self.work.with_faces_of(part)))
    }

    /// As [`line::run`].
    #[must_use]
    pub fn outcome(&self, job: &Job, scope: Scope) -> Outcome {
        line::run(job, self, scope)
    }

    /// As [`line::joined`].
    #[must_use]
    pub fn joined(&self, job: &Job, scope: Scope) -> Outcome {
        line::joined(job, self, scope)
    }

    /// As [`line::inspect`].
    pub fn inspect(&self, job: &Job, outcome: &mut Outcome) {
        line::inspect(job, self, outcome);
    }
}

impl Bench {
    /// As [`Workpiece::rest`].
    #[must_use]
    pub fn rest(&self, outcome: &Outcome) -> Option<Arc<MarkedSolid>> {
        let blocks: Vec<_> = outcome.groups.iter().map(|g| g.block.map(|b| (b.low, b.high))).collect();
        self.kept.keep(Kind::Rest, key(&blocks), || self.work.rest(outcome).map(Arc::new))
    }

    /// The piece of the part in a block, without its being the one that was joined last.
    pub(crate) fn kept_piece(&self, stock: &Stock, block: Block) -> Arc<Stock> {
        self.kept.keep(Kind::Piece, key(&(block.low, block.high)), || plain::piece(stock, block))
    }

    /// A group that is kept, or made.
    pub(crate) fn kept_group(
        &self,
        ground: &Ground,
        block: Option<Block>,
        members: &Members,
        make: impl FnOnce() -> Result<Arc<Group>, String>,
    ) -> Result<Arc<Group>, String> {
        self.kept.keep(Kind::Group, joining::name(ground, block, members), make)
    }
}

impl Steps for Bench {
    fn work(&self) -> &Workpiece {
        &self.work
    }

    fn seat(&self, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String> {
        self.kept.keep(Kind::Seat, key(&(seat, pull)), || plain::seat(self, seat, pull))
    }

    fn parting(&self, tool: &Tool) -> Arc<Vec<Line>> {
        let key = key(&(tool.pull, &tool.slides, &tool.parting));
        self.kept.keep(Kind::Parting, key, || plain::parting(self, tool))
    }

    fn region(&self, area: &Area) -> Arc<Region> {
        self.kept.keep(Kind::Region, key(area), || plain::region(self, area))
    }

    fn steels(&self, tool: &Tool) -> Arc<Steels> {
        self.kept.keep(Kind::Steels, of_tool(tool), || plain::steels(self, tool))
    }

    fn release(&self, tool: &Tool) -> Arc<Vec<Verdict>> {
        self.kept.keep(Kind::Release, of_tool(tool), || plain::release(self, tool))
    }

    fn built(
        &self,
        mark: &Mark,
        seat: &Arc<Seat>,
        placed: &PlacedMark,
        pull: Option<DVec3>,
    ) -> Result<Arc<BuiltMark>, String> {
        let key = key(&(settings_of(mark), seat.pull, pull));
        self.kept.keep(Kind::Built, key, || plain::built(self, mark, seat, placed, pull))
    }

    fn blocks(&self) -> Vec<Block> {
        self.latest.blocks()
    }

    fn piece(&self, stock: &Stock, block: Block) -> Arc<Stock> {
        self.latest.cut(block);
        self.kept_piece(stock, block)
    }

    fn marked_piece(&self, stock: &Stock, block: Block, members: &Members) -> Result<MarkedSolid, ReliefError> {
        self.latest.marked_piece(self, stock, block, members)
    }

    fn group(&self, ground: &Ground, block: Option<Block>, members: &Members) -> Result<Arc<Group>, String> {
        self.kept_group(ground, block, members, || joining::group(self, ground, block, members).map(Arc::new))
    }

    fn findings(&self, asked: &Asked<'_>) -> Arc<Vec<Vec<Finding>>> {
        self.kept.keep(Kind::Findings, asked.key(), || {
            // where only what stands behind has changed, what looks no farther than the block stays as it is
            let mut new = false;
            let nearby = self.kept.keep(Kind::Nearby, asked.key_nearby(), || {
                new = true;
                Arc::new(inspecting::findings(self, asked))
            });
            if new { nearby } else { Arc::new(inspecting::far(self, asked, &nearby)) }
        })
    }
}

fn of_tool(tool: &Tool) -> String {
    key(&(tool.pull, &tool.slides, &tool.assigned, &tool.parting))
}
