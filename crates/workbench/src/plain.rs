//! The steps as plain functions, and a part on which each is made anew whenever it is required;
//! [`Bench`](crate::Bench) makes the same and keeps what they come to.

use crate::{
    asked::Asked,
    blocks::Block,
    cleared, inspecting, joining,
    outcome::{Group, Members},
    steps::Steps,
    through,
    workpiece::{Ground, Workpiece},
};
use glam::DVec3;
use inspection::Finding;
use relief::{BuiltMark, MarkedSolid, PlacedMark, ReliefError, Seat, marked::Stock};
use solid::Part;
use std::sync::Arc;
use tool::{Region, Steels, Verdict, parting::Line, release};
use trade::{Area, Mark, SeatRef, Tool};

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

    fn seat(&self, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String> {
        self::seat(self, seat, pull)
    }

    fn parting(&self, tool: &Tool) -> Arc<Vec<Line>> {
        parting(self, tool)
    }

    fn region(&self, area: &Area) -> Arc<Region> {
        region(self, area)
    }

    fn steels(&self, tool: &Tool) -> Arc<Steels> {
        steels(self, tool)
    }

    fn release(&self, tool: &Tool) -> Arc<Vec<Verdict>> {
        release(self, tool)
    }

    fn built(
        &self,
        mark: &Mark,
        seat: &Arc<Seat>,
        placed: &PlacedMark,
        pull: Option<DVec3>,
    ) -> Result<Arc<BuiltMark>, String> {
        built(self, mark, seat, placed, pull)
    }

    fn piece(&self, stock: &Stock, block: Block) -> Arc<Stock> {
        piece(stock, block)
    }

    fn marked_piece(&self, stock: &Stock, block: Block, members: &Members) -> Result<MarkedSolid, ReliefError> {
        marked_piece(self, stock, block, members)
    }

    fn group(&self, ground: &Ground, block: Option<Block>, members: &Members) -> Result<Arc<Group>, String> {
        joining::group(self, ground, block, members).map(Arc::new)
    }

    fn findings(&self, asked: &Asked<'_>) -> Arc<Vec<Vec<Finding>>> {
        Arc::new(inspecting::findings(self, asked))
    }
}

pub(crate) fn seat(steps: &impl Steps, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String> {
    Seat::over(steps.part(), &seat.faces(), pull).map(Arc::new).map_err(|e| e.to_string())
}

pub(crate) fn parting(steps: &impl Steps, tool: &Tool) -> Arc<Vec<Line>> {
    Arc::new(tool::parting::lines(steps.part(), tool))
}

pub(crate) fn region(steps: &impl Steps, area: &Area) -> Arc<Region> {
    Arc::new(Region::new(area, steps.part(), steps.queries()))
}

pub(crate) fn steels(steps: &impl Steps, tool: &Tool) -> Arc<Steels> {
    Arc::new(Steels::new(steps.part().clone(), steps.queries().clone(), tool))
}

pub(crate) fn release(steps: &impl Steps, tool: &Tool) -> Arc<Vec<Verdict>> {
    Arc::new(release::release(&steps.steels(tool), steps.surface()))
}

pub(crate) fn built(
    steps: &impl Steps,
    mark: &Mark,
    seat: &Arc<Seat>,
    placed: &PlacedMark,
    pull: Option<DVec3>,
) -> Result<Arc<BuiltMark>, String> {
    let mark = cleared::high(steps, through::deep(steps, mark, seat, placed)?, seat, placed);
    BuiltMark::of(&mark, seat.clone(), placed.clone(), pull).map(Arc::new).map_err(|e| e.to_string())
}

pub(crate) fn piece(stock: &Stock, block: Block) -> Arc<Stock> {
    Arc::new(stock.split(block.low, block.high).0.thinned())
}

pub(crate) fn marked_piece(
    steps: &impl Steps,
    stock: &Stock,
    block: Block,
    members: &Members,
) -> Result<MarkedSolid, ReliefError> {
    let marks: Vec<(u32, &BuiltMark)> = members.iter().map(|(at, b)| (*at, &**b)).collect();
    steps.piece(stock, block).marked(&marks)
}
