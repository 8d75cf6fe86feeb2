//! The part with what is asked of it again and again, worked out when it is first asked for.

use relief::{
    MarkedSolid,
    marked::{Stock, bare_surface_body},
};
use solid::{Part, queries::Queries};
use std::sync::{Arc, OnceLock};
use tool::{
    Divided,
    thickness::{self, Thickness},
};

use crate::outcome::Outcome;

pub struct Workpiece {
    part: Arc<Part>,
    queries: OnceLock<Arc<Queries>>,
    stock: OnceLock<Result<Arc<Stock>, String>>,
    surface: OnceLock<Divided>,
    walls: OnceLock<Vec<Thickness>>,
}

/// What marks are joined to.
#[derive(Clone)]
pub enum Ground {
    Solid(Arc<Stock>),
    /// The part is a surface body: nothing.
    None,
}

impl Workpiece {
    #[must_use]
    pub fn new(part: Part) -> Self {
        Self {
            part: Arc::new(part),
            queries: OnceLock::new(),
            stock: OnceLock::new(),
            surface: OnceLock::new(),
            walls: OnceLock::new(),
        }
    }

    /// Another part with the same triangles: what was asked of them stays.
    #[must_use]
    pub fn with_faces_of(&self, part: Part) -> Self {
        let new = Self::new(part);
        if let Some(queries) = self.queries.get() {
            let _ = new.queries.set(queries.clone());
        }
        new
    }

    #[must_use]
    pub fn part(&self) -> &Arc<Part> {
        &self.part
    }

    /// Queries against the bare part.
    pub fn queries(&self) -> &Arc<Queries> {
        self.queries.get_or_init(|| Arc::new(Queries::new(self.part.mesh.clone())))
    }

    fn stock(&self) -> Result<Arc<Stock>, String> {
        self.stock
            .get_or_init(|| {
                self.part.markable().map_err(|why| why.trim_end_matches('.').to_owned())?;
                Stock::of(&self.part).map(Arc::new).map_err(|e| e.to_string())
            })
            .clone()
    }

    /// What marks are joined to: the part, or nothing where it is a surface body.
    ///
    /// # Errors
    /// The part is no closed solid.
    pub fn ground(&self) -> Result<Ground, String> {
        match self.part.surface_body {
            Some(_) => Ok(Ground::None),
            None => self.stock().map(Ground::Solid),
        }
    }

    /// The part's surface in pieces.
    pub fn surface(&self) -> &Divided {
        self.surface.get_or_init(|| Divided::of(&self.part))
    }

    /// The wall under each piece of the surface.
    pub fn walls(&self) -> &[Thickness] {
        self.walls.get_or_init(|| thickness::map(&self.part, self.queries(), self.surface()))
    }

    /// The part without the blocks that `outcome`'s groups were cut out with: what the view keeps
    /// while marks change.
    #[must_use]
    pub fn rest(&self, outcome: &Outcome) -> Option<MarkedSolid> {
        if self.part.surface_body.is_some() {
            return Some(bare_surface_body(&self.part));
        }
        let stock = self.stock().ok()?;
        let mut rest: Option<Stock> = None;
        for block in outcome.groups.iter().filter_map(|g| g.block) {
            rest = Some(rest.as_ref().unwrap_or(&stock).split(block.low, block.high).1);
        }
        Some(rest.as_ref().unwrap_or(&stock).bare())
    }
}
