//! What is painted, put together in the order in which it is painted: white covers what lies under it.

use glam::DVec2;
use kurbo::{BezPath, PathEl};
use lettering::{Region, clean, clean::Rule};

/// Curves are flattened to this, a share of a hundredth of the drawing's height.
pub const FLAT: f64 = 0.003;

#[derive(Default)]
pub struct Ink {
    done: Region,
    /// Painted since, all alike.
    waiting: Vec<Vec<DVec2>>,
    white: bool,
    /// White shapes that lay over others.
    pub cut_out: usize,
    pub shapes: usize,
    pub closed: usize,
}

impl Ink {
    /// Paints a closed outline.
    pub fn fill(&mut self, outline: &[Vec<DVec2>], rule: Rule, white: bool) {
        self.paint(clean::filled(outline, rule), white);
    }

    /// Paints a region.
    pub fn paint(&mut self, region: Region, white: bool) {
        if white != self.white {
            self.settle();
            self.white = white;
        }
        self.shapes += 1;
        self.cut_out += usize::from(white);
        self.waiting.extend(region.contours().cloned());
    }

    fn settle(&mut self) {
        if self.waiting.is_empty() {
            return;
        }
        let new = clean::joined(&std::mem::take(&mut self.waiting));
        self.done = if self.white { clean::without(&self.done, &new) } else { clean::with(&self.done, &new) };
    }

    /// Everything that is painted and not covered by white.
    pub fn region(&mut self) -> Region {
        self.settle();
        std::mem::take(&mut self.done)
    }
}

/// A path as closed contours, and how many of them were open.
pub fn contours(path: &BezPath) -> (Vec<Vec<DVec2>>, usize) {
    let mut out: Vec<Vec<DVec2>> = Vec::new();
    let mut open = 0;
    let mut closed = true;
    let mut begin = |out: &mut Vec<Vec<DVec2>>, closed: bool| {
        // what returns to where it began is closed without saying so
        if let Some(last) = out.last()
            && !closed
            && last.len() > 2
            && last[0].distance(last[last.len() - 1]) > FLAT
        {
            open += 1;
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
