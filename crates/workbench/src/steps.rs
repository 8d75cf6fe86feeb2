//! The steps of the line of calls, each as a plain function of what comes before it. [`Plain`] makes each anew
//! whenever it is required; [`Bench`](crate::Bench) makes the same and keeps what they come to.

use crate::{
    blocks::Block,
    inspecting::{self, Asked},
    joining,
    outcome::{Group, Members},
    through,
    workpiece::{Ground, Workpiece},
};
use glam::DVec3;
use inspection::Finding;
use relief::{BuiltMark, MarkedSolid, PlacedMark, ReliefError, Seat, marked::Stock};
use solid::{Part, queries::Queries};
use std::sync::Arc;
use tool::{Divided, Region, Steels, Verdict, parting::Line, release, thickness::Thickness};
use trade::{Area, Mark, SeatRef, Tool};

pub trait Steps: Sync + Sized {
    fn work(&self) -> &Workpiece;

    fn part(&self) -> &Arc<Part> {
        self.work().part()
    }

    /// Queries against the bare part.
    fn queries(&self) -> &Arc<Queries> {
        self.work().queries()
    }

    /// The part's surface in pieces.
    fn surface(&self) -> &Divided {
        self.work().surface()
    }

    /// The wall under each piece of the surface.
    fn walls(&self) -> &[Thickness] {
        self.work().walls()
    }

    /// A seat under a pull.
    ///
    /// # Errors
    /// See [`Seat::over`].
    fn seat(&self, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String> {
        plain::seat(self, seat, pull)
    }

    /// The parting lines of `tool` on the bare part, in its order.
    fn parting(&self, tool: &Tool) -> Arc<Vec<Line>> {
        plain::parting(self, tool)
    }

    /// An area of the surface.
    fn region(&self, area: &Area) -> Arc<Region> {
        plain::region(self, area)
    }

    /// The steels of the tool round the part.
    fn steels(&self, tool: &Tool) -> Arc<Steels> {
        plain::steels(self, tool)
    }

    /// Which steel forms each piece of the surface; nothing while no pull is set.
    fn release(&self, tool: &Tool) -> Arc<Vec<Verdict>> {
        plain::release(self, tool)
    }

    /// A placed mark as bodies; `pull` is the unit vector along which its steel leaves.
    ///
    /// # Errors
    /// See [`BuiltMark::of`], or a wall that is too thick to go through.
    fn built(
        &self,
        mark: &Mark,
        seat: &Arc<Seat>,
        placed: &PlacedMark,
        pull: Option<DVec3>,
    ) -> Result<Arc<BuiltMark>, String> {
        plain::built(self, mark, seat, placed, pull)
    }

    /// Blocks whose pieces are at hand: where they serve they are used again.
    fn blocks(&self) -> Vec<Block> {
        Vec::new()
    }

    /// The piece of the part in a block.
    fn piece(&self, stock: &Stock, block: Block) -> Arc<Stock> {
        plain::piece(stock, block)
    }

    /// A piece of the part with its marks.
    ///
    /// # Errors
    /// The boolean failed.
    fn marked_piece(&self, stock: &Stock, block: Block, members: &Members) -> Result<MarkedSolid, ReliefError> {
        plain::marked_piece(self, stock, block, members)
    }

    /// Marks that lie together joined to their piece of the ground.
    ///
    /// # Errors
    /// The boolean failed.
    fn group(&self, ground: &Ground, block: Option<Block>, members: &Members) -> Result<Arc<Group>, String> {
        joining::group(self, ground, block, members).map(Arc::new)
    }

    /// Findings of the marks of a group, in its order.
    fn findings(&self, asked: &Asked<'_>) -> Arc<Vec<Vec<Finding>>> {
        Arc::new(inspecting::findings(self, asked))
    }
}

/// Every step made anew whenever it is required.
pub struct Plain(Workpiece);

impl Plain {
    #[must_use]
    pub fn new(part: Part) -> Self {
        Self(Workpiece::new(part))
    }
}

impl Steps for Plain {
    fn work(&self) -> &Workpiece {
        &self.0
    }
}

/// What the steps do.
pub(crate) mod plain {
    use super::*;

    pub fn seat(steps: &impl Steps, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String> {
        Seat::over(steps.part(), &seat.faces(), pull).map(Arc::new).map_err(|e| e.to_string())
    }

    pub fn parting(steps: &impl Steps, tool: &Tool) -> Arc<Vec<Line>> {
        Arc::new(tool::parting::lines(steps.part(), tool))
    }

    pub fn region(steps: &impl Steps, area: &Area) -> Arc<Region> {
        Arc::new(Region::new(area, steps.part(), steps.queries()))
    }

    pub fn steels(steps: &impl Steps, tool: &Tool) -> Arc<Steels> {
        Arc::new(Steels::new(steps.part().clone(), steps.queries().clone(), tool))
    }

    pub fn release(steps: &impl Steps, tool: &Tool) -> Arc<Vec<Verdict>> {
        Arc::new(release::release(&steps.steels(tool), steps.surface()))
    }

    pub fn built(
        steps: &impl Steps,
        mark: &Mark,
        seat: &Arc<Seat>,
        placed: &PlacedMark,
        pull: Option<DVec3>,
    ) -> Result<Arc<BuiltMark>, String> {
        let mark = through::deep(steps, mark, seat, placed)?;
        BuiltMark::of(&mark, seat.clone(), placed.clone(), pull).map(Arc::new).map_err(|e| e.to_string())
    }

    pub fn piece(stock: &Stock, block: Block) -> Arc<Stock> {
        Arc::new(stock.split(block.low, block.high).0.thinned())
    }

    pub fn marked_piece(
        steps: &impl Steps,
        stock: &Stock,
        block: Block,
        members: &Members,
    ) -> Result<MarkedSolid, ReliefError> {
        let marks: Vec<(u32, &BuiltMark)> = members.iter().map(|(at, b)| (*at, &**b)).collect();
        steps.piece(stock, block).marked(&marks)
    }
}
