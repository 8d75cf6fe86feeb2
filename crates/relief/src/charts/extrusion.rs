//! Surfaces drawn along straight lines that are neither flat nor round: they unroll without stretch.
//!
//! Strips read along the profile where the lines stand upright, else along the lines.

use crate::chart::{Chart, Facet, Upright, weighed};
use glam::{DVec2, DVec3};
use solid::{Surface, profile::Profile};
use std::sync::Arc;

/// The chart of a face that lies on such a surface.
pub(super) fn of(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    let Surface::Extrusion { origin, axis, across, profile, inside } = surface else { return None };
    Some(Box::new(ExtrusionChart::new(*origin, [*axis, *across], profile, *inside, facets, upright)))
}

pub struct ExtrusionChart {
    /// Where the coordinate along the lines is 0.
    origin: DVec3,
    /// Unit direction in which that coordinate grows.
    axial: DVec3,
    /// Unit directions of the profile's coordinates.
    section: [DVec3; 2],
    profile: Arc<Profile>,
    /// +1 where the outward side is the profile's right one.
    sign: f64,
    /// Length along the profile of the strip's zero, and +1 if the strip's coordinate grows with it.
    start: f64,
    turn: f64,
    /// The lines are the strip's y, not its x.
    stands: bool,
}

impl ExtrusionChart {
    /// `directions`: of the lines, and of the profile's first coordinate.
    #[must_use]
    pub fn new(
        origin: DVec3,
        directions: [DVec3; 2],
        profile: &Arc<Profile>,
        inside: bool,
        facets: &[Facet],
        upright: Upright,
    ) -> Self {
        let [axis, across] = directions;
        let section = [across, axis.cross(across)];
        let sign = if inside { -1.0 } else { 1.0 };
        let in_space = |flat: DVec2| section[0] * flat.x + section[1] * flat.y;
        // what looks the pull's way is the strip's middle
        let whole = profile.length();
        let start = match upright.pull {
            Some(pull) if profile.closed() => {
                let looks = |k: &u32| in_space(profile.at(whole * f64::from(*k) / 360.0).outward()).dot(pull) * sign;
                (0..360).max_by(|a, b| looks(a).total_cmp(&looks(b))).map_or(0.0, |k| whole * f64::from(k) / 360.0)
            }
            _ => whole / 2.0,
        };
        let place = profile.at(start);
        let (out, way) = (in_space(place.outward()) * sign, in_space(place.way));
        let up = upright.up(out);
        let stands = up.dot(axis).abs() > 0.5_f64.sqrt();
        // along × up = out, whichever of the two the lines are
        let (axial, turn) = if stands {
            let axial = axis * up.dot(axis).signum();
            (axial, axial.cross(out).dot(way).signum())
        } else {
            let turn = if up.dot(way) < 0.0 { -1.0 } else { 1.0 };
            ((way * turn).cross(out), turn)
        };
        let low = facets.iter().map(weighed).map(|(p, _)| (p - origin).dot(axial));
        let reach = facets.iter().flatten().map(|p| (*p - origin).dot(axial)).fold(f64::INFINITY, f64::min);
        let reach = low.fold(reach, f64::min);
        let origin = if reach.is_finite() { origin + axial * reach } else { origin };
        Self { origin, axial, section, profile: profile.clone(), sign, start, turn, stands }
    }

    /// Coordinates along the lines and along the profile.
    fn split(&self, at: DVec2) -> (f64, f64) {
        let (along, round) = if self.stands { (at.y, at.x) } else { (at.x, at.y) };
        (along, self.start + self.turn * round)
    }

    fn in_space(&self, flat: DVec2) -> DVec3 {
        self.section[0] * flat.x + self.section[1] * flat.y
    }
}

impl Chart for ExtrusionChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        let (along, round) = self.split(at);
        let place = self.profile.at(round);
        self.origin + self.axial * along + self.in_space(place.point + place.outward() * (self.sign * height))
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let d = p - self.origin;
        let (round, height) = self.profile.nearest(DVec2::new(d.dot(self.section[0]), d.dot(self.section[1])));
        let (along, mut round) = (d.dot(self.axial), self.turn * (round - self.start));
        if self.profile.closed() {
            round -= (round / self.profile.length()).round() * self.profile.length();
        }
        (if self.stands { DVec2::new(round, along) } else { DVec2::new(along, round) }, self.sign * height)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        self.in_space(self.profile.at(self.split(at).1).outward()) * self.sign
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        let bend = self.profile.at(self.split(near).1).bend * self.sign;
        let grown = (1.0 + bend * height).max(1e-3);
        let chord = (8.0 * sag * grown / bend.abs().max(1e-9)).sqrt() / grown;
        if self.stands { DVec2::new(chord, f64::INFINITY) } else { DVec2::new(f64::INFINITY, chord) }
    }

    fn step_over(&self, low: DVec2, high: DVec2, height: f64, sag: f64) -> DVec2 {
        const LOOKED_AT: u32 = 9;
        let at = |k: u32| low.lerp(high, f64::from(k) / f64::from(LOOKED_AT - 1));
        (0..LOOKED_AT).map(|k| self.step(at(k), height, sag)).fold(DVec2::INFINITY, DVec2::min)
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        // torsion of a line at 45°, the largest of all directions, is half the curvature
        2.0 * twist_rad / self.profile.at(self.split(near).1).bend.abs().max(1e-9)
    }

    fn period(&self) -> DVec2 {
        let once = if self.profile.closed() { self.profile.length() } else { f64::INFINITY };
        if self.stands { DVec2::new(once, f64::INFINITY) } else { DVec2::new(f64::INFINITY, once) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chart::tests::keeps_its_promises;
    use proptest::prelude::*;
    use std::f64::consts::TAU;

    proptest! {
        #[test]
        fn a_cam_keeps_a_charts_promises_and_every_length(
            axis in prop::array::uniform3(-1.0..1.0f64), pull in prop::array::uniform3(-1.0..1.0f64), inside: bool, whole: bool,
            x in -1.0..1.0f64, y in -1.0..1.0f64, height in -1.0..1.0f64, by in prop::array::uniform2(-3.0..3.0f64),
        ) {
            let (axis, pull) = (DVec3::from(axis), DVec3::from(pull));
            prop_assume!(axis.length() > 0.1 && pull.length() > 0.1);
            let axis = axis.normalize();
            // an ellipse of 30 by 20, all of it or half
            let count = if whole { 96 } else { 48 };
            let point = |k: i32| DVec2::from_angle(TAU * f64::from(k) / 96.0) * DVec2::new(30.0, 20.0);
            let ellipse = Arc::new(Profile::new((0..count).map(point).collect(), whole));
            let upright = Upright { pull: Some(pull.normalize()) };
            let directions = [axis, axis.any_orthonormal_vector()];
            let chart = ExtrusionChart::new(DVec3::new(1.0, 2.0, 3.0), directions, &ellipse, inside, &[], upright);
            let at = DVec2::new(x, y) * 20.0;
            keeps_its_promises(&chart, at, height, DVec2::from(by));
            let step = 1e-4;
            for d in [DVec2::X, DVec2::Y] {
                let way = (chart.point(at + d * step, 0.0) - chart.point(at - d * step, 0.0)) / (2.0 * step);
                prop_assert!((way.length() - 1.0).abs() < 1e-3, "{}", way.length());
            }
        }
    }
}
