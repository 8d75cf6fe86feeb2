//! Edges and roots: how one end of a wall is rounded.

use super::Role;
use std::f64::consts::{FRAC_PI_2, FRAC_PI_4};
use trade::EdgeShape;

/// How one end of a wall is rounded: angles to the axis and heights of straight pieces, from the wall to the
/// end.
pub(super) struct Rounding {
    pub(super) steps: Vec<(f64, f64)>,
    pub(super) tall: f64,
    pub(super) role: Role,
}

/// Pieces of a round edge lie within this of it, mm.
const ROUND_TO: f64 = 0.002;

/// A fillet of the radius r between a wall of the draft α and the level: it begins r (1 − sin α) from the
/// level; a chord between the angles φ₁ and φ₂ to the axis leans by their mean.
pub(super) fn rounding((size, shape, role): (f64, EdgeShape, Role), alpha: f64) -> Rounding {
    if size <= 0.0 {
        return Rounding { steps: Vec::new(), tall: 0.0, role };
    }
    match shape {
        EdgeShape::Bevel => Rounding { steps: vec![(FRAC_PI_4.max(alpha), size)], tall: size, role },
        EdgeShape::Round => {
            let all = FRAC_PI_2 - alpha;
            // sagitta of a chord over the angle δ: r (1 − cos δ/2)
            let widest = 2.0 * (1.0 - ROUND_TO / size).clamp(-1.0, 1.0).acos();
            let pieces = (all / widest).ceil().clamp(2.0, 12.0);
            let at = |k: f64| alpha + all * k / pieces;
            let steps: Vec<(f64, f64)> = (0..pieces as u32)
                .map(|k| (at(f64::from(k)), at(f64::from(k) + 1.0)))
                .map(|(from, to)| ((from + to) / 2.0, size * (to.sin() - from.sin())))
                .collect();
            Rounding { steps, tall: size * (1.0 - alpha.sin()), role }
        }
    }
}
