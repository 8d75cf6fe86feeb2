//! From where a part is shown: so that each of its marks is seen from its front in one of the views.

use crate::picture::Shot;
use glam::DVec3;
use relief::BuiltMark;

/// Directions whose cosine is more than this are one view.
const ALIKE: f64 = 0.85;
/// Views at most.
const MOST: usize = 4;

/// A view and the marks that it shows, by their places in the job.
pub struct View {
    pub out: DVec3,
    pub up: DVec3,
    pub marks: Vec<usize>,
}

/// Outward at the middle of a mark, and where its letters' tops point.
#[must_use]
pub fn front(built: &BuiltMark) -> (DVec3, DVec3, DVec3) {
    let (chart, placed) = (&built.seat.chart, &built.placed);
    let at = chart.point(placed.middle, 0.0);
    let out = chart.normal(placed.middle);
    let up = chart.point(chart.roll(placed.middle, placed.along.perp() * 1e-3), 0.0) - at;
    (at, out, up.try_normalize().unwrap_or_else(|| out.any_orthonormal_vector()))
}

/// The views that show all marks, most marks first.
#[must_use]
pub fn views<'a>(marks: impl Iterator<Item = (usize, &'a BuiltMark)>) -> Vec<View> {
    let mut views: Vec<View> = Vec::new();
    for (place, built) in marks {
        let (_, out, up) = front(built);
        match views.iter_mut().find(|v| v.out.dot(out) > ALIKE) {
            Some(view) => view.marks.push(place),
            None => views.push(View { out, up, marks: vec![place] }),
        }
    }
    views.sort_by_key(|v| std::cmp::Reverse(v.marks.len()));
    views.truncate(MOST);
    views
}

impl View {
    /// Tipped a little, so that what stands out is seen to.
    #[must_use]
    pub fn shot(&self, width: usize, height: usize) -> Shot {
        let right = self.up.cross(self.out);
        Shot { out: self.out - 0.28 * right - 0.34 * self.up, up: self.up, at: None, width, height }
    }
}
