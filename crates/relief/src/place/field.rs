//! The field round a mark's letters.

use crate::lie::Lie;
use flat::{Island, Region};
use glam::DVec2;
use lettering::Lettered;
use std::f64::consts::FRAC_PI_2;
use trade::{Field, Mark};

/// The field round a mark's letters on the strip: their box, grown by the margin, with round corners; round a
/// round figure it is a circle.
pub(super) fn field(mark: &Mark, lettered: &Lettered, lie: &Lie<'_>) -> Option<Region> {
    /// Round corners are flattened to this, mm.
    const FLAT: f64 = 0.002;
    let Field { margin, corner } = mark.relief.field;
    let (mut low, mut high) = (DVec2::ZERO, lettered.size);
    for (l, h) in lettered.characters.iter().filter_map(|c| c.region.bounds()) {
        (low, high) = (low.min(l), high.max(h));
    }
    (low, high) = (low - DVec2::splat(margin), high + DVec2::splat(margin));
    let half = (high - low).min_element() / 2.0;
    let corner = if lettered.round { half } else { corner.min(half) };
    let pieces = if corner < FLAT { 0 } else { (FRAC_PI_2 / (2.0 * (1.0 - FLAT / corner).acos())).ceil() as u32 };
    let mut contour: Vec<DVec2> = Vec::new();
    for (k, at) in [DVec2::new(high.x, low.y), high, DVec2::new(low.x, high.y), low].into_iter().enumerate() {
        let inward = DVec2::new((low.x + high.x - 2.0 * at.x).signum(), (low.y + high.y - 2.0 * at.y).signum());
        let middle = at + inward * corner;
        for i in 0..=pieces {
            let turn = (k as f64 - 1.0) * FRAC_PI_2 + FRAC_PI_2 * f64::from(i) / f64::from(pieces.max(1));
            let p = if pieces == 0 { at } else { middle + DVec2::from_angle(turn) * corner };
            // sides that the corners use up whole
            if contour.last().is_none_or(|last| last.distance(p) > 1e-9) {
                contour.push(p);
            }
        }
    }
    if contour.len() > 1 && contour[0].distance(contour[contour.len() - 1]) < 1e-9 {
        contour.pop();
    }
    let outer = lie.field(&contour)?;
    Some(Region { islands: vec![Island { outer, counters: Vec::new() }] })
}
