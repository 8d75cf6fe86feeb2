//! What is painted, put together in the order in which it is painted: white covers what lies under it.

use crate::{
    bounds::{FLAT, MOST_ON_THE_WAY},
    error::ArtworkError,
    faults::{FaultKind, Faults, crossings},
    wish::Wish,
};
use flat::{Region, overlay, overlay::Rule};
use glam::DVec2;
use kurbo::{BezPath, PathEl};

use std::{
    collections::HashSet,
    hash::{DefaultHasher, Hash, Hasher},
};

/// Regions that are joined in one step.
const AT_A_TIME: usize = 8;

#[derive(Default)]
pub struct Ink {
    done: Region,
    /// Painted since, all alike.
    waiting: Vec<Region>,
    /// What they are, to know doubles.
    known: HashSet<u64>,
    white: bool,
    /// Why nothing more is painted.
    pub refused: Option<ArtworkError>,
    pub faults: Faults,
    /// White shapes that lay over others.
    pub cut_out: usize,
    pub shapes: usize,
}

impl Ink {
    /// Paints a closed outline.
    pub fn fill(&mut self, outline: &[Vec<DVec2>], rule: Rule, white: bool, wish: &Wish) {
        if self.refused.is_some() {
            return;
        }
        let looked = |faults: &mut Faults| {
            let outline = wish.bearable(outline)?;
            crossings(&outline, FaultKind::SelfCrossing, faults)?;
            Ok(outline)
        };
        let outline = match looked(&mut self.faults) {
            Ok(outline) => outline,
            Err(e) => {
                self.refused = Some(e);
                return;
            }
        };
        self.paint(overlay::filled(&outline, rule), white);
    }

    /// Paints a region.
    pub fn paint(&mut self, region: Region, white: bool) {
        if white != self.white {
            self.settle();
            self.white = white;
        }
        self.shapes += 1;
        if !self.known.insert(digest(&region)) {
            if let Some(first) = region.contours().next() {
                self.faults.add(FaultKind::Double, first[0]);
            }
            return;
        }
        self.cut_out += usize::from(white);
        self.waiting.push(region);
    }

    fn settle(&mut self) {
        self.known.clear();
        let mut regions = std::mem::take(&mut self.waiting);
        // what lies over something else is no fault, but it must not do so without end
        let all: Vec<Vec<DVec2>> = regions.iter().flat_map(Region::contours).cloned().collect();
        if let Err(e) = crossings(&all, FaultKind::SelfCrossing, &mut Faults::default()) {
            self.refused = self.refused.take().or(Some(e));
            return;
        }
        // a few at a time: where very many lie over one another, joining all at once takes for ever
        while regions.len() > 1 && self.refused.is_none() {
            let joined =
                |few: &[Region]| overlay::joined(&few.iter().flat_map(Region::contours).cloned().collect::<Vec<_>>());
            let mut fewer = Vec::new();
            let mut points = 0;
            for few in regions.chunks(AT_A_TIME) {
                let region = joined(few);
                points += region.contours().map(Vec::len).sum::<usize>();
                fewer.push(region);
                if points > MOST_ON_THE_WAY {
                    self.refused = Some(ArtworkError::TooFine(points));
                    return;
                }
            }
            regions = fewer;
        }
        if let Some(new) = regions.pop() {
            self.done = if self.white { overlay::without(&self.done, &new) } else { overlay::with(&self.done, &new) };
        }
    }

    /// Everything that is painted and not covered by white.
    pub fn region(&mut self) -> Region {
        self.settle();
        std::mem::take(&mut self.done)
    }
}

fn digest(region: &Region) -> u64 {
    let mut hasher = DefaultHasher::new();
    for p in region.contours().flatten() {
        [p.x, p.y].map(f64::to_bits).hash(&mut hasher);
    }
    hasher.finish()
}

/// A path as closed contours, and where those of them that were open end.
pub fn contours(path: &BezPath) -> (Vec<Vec<DVec2>>, Vec<DVec2>) {
    let mut out: Vec<Vec<DVec2>> = Vec::new();
    let mut open = Vec::new();
    let mut closed = true;
    let mut begin = |out: &mut Vec<Vec<DVec2>>, closed: bool| {
        // what returns to where it began is closed without saying so
        if let Some(last) = out.last()
            && !closed
            && last.len() > 2
            && last[0].distance(last[last.len() - 1]) > FLAT
        {
            open.push(last[last.len() - 1]);
        }
    };
    kurbo::flatten(path, FLAT, |el| match el {
        PathEl::MoveTo(p) => {
            begin(&mut out, closed);
            out.push(vec![DVec2::new(p.x, p.y)]);
            closed = false;
        }
        PathEl::LineTo(p) => {
            if let Some(last) = out.last_mut() {
                last.push(DVec2::new(p.x, p.y));
            }
        }
        PathEl::ClosePath => closed = true,
        PathEl::QuadTo(..) | PathEl::CurveTo(..) => unreachable!("flattening leaves lines only"),
    });
    begin(&mut out, closed);
    (out, open)
}
