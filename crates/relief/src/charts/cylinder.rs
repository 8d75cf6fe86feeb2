//! The cylinder, outside or inside: it unrolls without stretch.
//!
//! The crown is the line whose normal is nearest to the pull. Strips read along the axis unless
//! the axis stands upright, in which case they read round it. The coordinate round the cylinder is
//! an arc length on the seat, 0 at the crown; the one along the axis is 0 at the face's start.

use crate::chart::{Chart, Facet, Upright};
use glam::{DVec2, DVec3};
use solid::Surface;
use std::f64::consts::TAU;

/// The chart of a face that lies on such a surface.
pub(super) fn of(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    let Surface::Cylinder { origin, axis, radius, inside } = *surface else { return None };
    Some(Box::new(CylinderChart::new(origin, axis, radius, inside, facets, upright)))
}

pub struct CylinderChart {
    /// On the axis, where the coordinate along it is 0.
    origin: DVec3,
    /// Unit direction in which the coordinate along the axis grows.
    axial: DVec3,
    /// From the axis to the crown.
    crown: DVec3,
    /// Tangent at the crown, in the direction of the growing coordinate round.
    round: DVec3,
    radius: f64,
    /// +1 outside, −1 in a bore.
    sign: f64,
    /// The axis is the strip's y, not its x.
    stands: bool,
}

impl CylinderChart {
    #[must_use]
    pub fn new(origin: DVec3, axis: DVec3, radius: f64, inside: bool, facets: &[Facet], upright: Upright) -> Self {
        let sign = if inside { -1.0 } else { 1.0 };
        // outward normal at the crown
        let out = upright.crown(axis);
        let up = upright.up(out);
        let stands = up.dot(axis).abs() > 0.5_f64.sqrt();
        // along × up = out, whichever of the two the axis is
        let (axial, round) = if stands {
            let axial = axis * up.dot(axis).signum();
            (axial, axial.cross(out))
        } else {
            let axial = axis * up.cross(out).dot(axis).signum();
            (axial, out.cross(axial))
        };
        let start = facets.iter().flatten().map(|p| (*p - origin).dot(axial)).fold(f64::INFINITY, f64::min);
        let start = if start.is_finite() { start } else { 0.0 };
        Self { origin: origin + axial * start, axial, crown: out * sign, round, radius, sign, stands }
    }

    fn radial(&self, at: DVec2) -> DVec3 {
        let angle = if self.stands { at.x } else { at.y } / self.radius;
        self.crown * angle.cos() + self.round * angle.sin()
    }
}

impl Chart for CylinderChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        let along = if self.stands { at.y } else { at.x };
        self.origin + self.axial * along + self.radial(at) * (self.radius + self.sign * height)
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let d = p - self.origin;
        let round = d.dot(self.round).atan2(d.dot(self.crown)) * self.radius;
        let along = d.dot(self.axial);
        let height = self.sign * (d.reject_from_normalized(self.axial).length() - self.radius);
        (if self.stands { DVec2::new(round, along) } else { DVec2::new(along, round) }, height)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        self.radial(at) * self.sign
    }

    fn step(&self, _: DVec2, height: f64, sag: f64) -> DVec2 {
        // chord c on radius r has the sagitta c² / (8 r); given back as a length on the seat
        let r = (self.radius + self.sign * height).max(1e-6);
        let chord = (8.0 * r * sag).sqrt() * self.radius / r;
        if self.stands { DVec2::new(chord, f64::INFINITY) } else { DVec2::new(f64::INFINITY, chord) }
    }

    fn twist_step(&self, _: DVec2, twist_rad: f64) -> f64 {
        // torsion of a helix at 45°, the largest of all directions, is 1 / (2 R)
        2.0 * self.radius * twist_rad
    }

    fn period(&self) -> DVec2 {
        let once = TAU * self.radius;
        if self.stands { DVec2::new(once, f64::INFINITY) } else { DVec2::new(f64::INFINITY, once) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chart::tests::keeps_its_promises;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn unrolling_and_rolling_again_returns_the_point(
            axis in prop::array::uniform3(-1.0..1.0f64), pull in prop::array::uniform3(-1.0..1.0f64),
            inside: bool, x in -1.0..1.0f64, y in -1.0..1.0f64, height in -2.0..2.0f64,
        ) {
            let (axis, pull) = (DVec3::from(axis), DVec3::from(pull));
            prop_assume!(axis.length() > 0.1 && pull.length() > 0.1);
            let chart = CylinderChart::new(DVec3::new(1.0, 2.0, 3.0), axis.normalize(), 15.0, inside, &[], Upright { pull: Some(pull.normalize()) });
            let at = DVec2::new(x, y) * 40.0;
            keeps_its_promises(&chart, at, height, DVec2::new(y, x) * 9.0);
            // lengths are kept on the seat
            let step = 1e-6;
            let along = (chart.point(at + DVec2::X * step, 0.0) - chart.point(at, 0.0)) / step;
            let up = (chart.point(at + DVec2::Y * step, 0.0) - chart.point(at, 0.0)) / step;
            prop_assert!((along.length() - 1.0).abs() < 1e-6 && (up.length() - 1.0).abs() < 1e-6);
        }
    }

    #[test]
    fn the_crown_looks_along_the_pull_and_text_stands_upright_there() {
        let chart = CylinderChart::new(
            DVec3::ZERO,
            DVec3::X,
            15.0,
            false,
            &[[DVec3::NEG_X * 9.0; 3]],
            Upright { pull: Some(DVec3::Z) },
        );
        assert!((chart.point(DVec2::ZERO, 0.0) - DVec3::new(-9.0, 0.0, 15.0)).length() < 1e-12);
        assert!((chart.normal(DVec2::ZERO) - DVec3::Z).length() < 1e-12);
        // an upright cylinder is read round, from the front
        let chart = CylinderChart::new(DVec3::ZERO, DVec3::Z, 15.0, false, &[], Upright { pull: Some(DVec3::Z) });
        assert!((chart.normal(DVec2::ZERO) - DVec3::NEG_Y).length() < 1e-12);
        assert!(chart.point(DVec2::new(0.1, 0.0), 0.0).x > 0.0 && chart.point(DVec2::new(0.0, 1.0), 0.0).z > 0.9);
    }
}
