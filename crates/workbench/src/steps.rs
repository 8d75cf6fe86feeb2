//! The steps of the line of calls, each from what comes before it.

use crate::{
    asked::Asked,
    blocks::Block,
    outcome::{Group, Members},
    workpiece::{Ground, Workpiece},
};
use glam::DVec3;
use inspection::Finding;
use relief::{BuiltMark, MarkedSolid, PlacedMark, ReliefError, Seat, marked::Stock};
use solid::{Part, queries::Queries};
use std::sync::Arc;
use tool::{Divided, Region, Steels, Verdict, parting::Line, thickness::Thickness};
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
    fn seat(&self, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String>;

    /// The parting lines of `tool` on the bare part, in its order.
    fn parting(&self, tool: &Tool) -> Arc<Vec<Line>>;

    /// An area of the surface.
    fn region(&self, area: &Area) -> Arc<Region>;

    /// The steels of the tool round the part.
    fn steels(&self, tool: &Tool) -> Arc<Steels>;

    /// Which steel forms each piece of the surface; nothing while no pull is set.
    fn release(&self, tool: &Tool) -> Arc<Vec<Verdict>>;

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
    ) -> Result<Arc<BuiltMark>, String>;

    /// Blocks whose pieces are at hand: where they serve they are used again.
    fn blocks(&self) -> Vec<Block> {
        Vec::new()
    }

    /// The piece of the part in a block.
    fn piece(&self, stock: &Stock, block: Block) -> Arc<Stock>;

    /// A piece of the part with its marks.
    ///
    /// # Errors
    /// The boolean failed.
    fn marked_piece(&self, stock: &Stock, block: Block, members: &Members) -> Result<MarkedSolid, ReliefError>;

    /// Marks that lie together joined to their piece of the ground.
    ///
    /// # Errors
    /// The boolean failed.
    fn group(&self, ground: &Ground, block: Option<Block>, members: &Members) -> Result<Arc<Group>, String>;

    /// Findings of the marks of a group, in its order.
    fn findings(&self, asked: &Asked<'_>) -> Arc<Vec<Vec<Finding>>>;
}
