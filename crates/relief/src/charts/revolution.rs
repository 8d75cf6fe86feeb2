//! Surfaces of revolution that are none of the simple kinds: x runs round the axis, y along the profile.
//!
//! They can't be unrolled: lengths along the profile are true, those round the axis only half-way up the face, and
//! elsewhere as much longer or shorter as the ring is there. Marks are wrapped with true lengths along the ring
//! through their own place.

use crate::chart::{Chart, Facet, Rings, Upright, mean_direction, weighed};
use glam::{DVec2, DVec3};
use solid::{Surface, profile::Profile};
use std::{f64::consts::TAU, sync::Arc};

/// The chart of a face that lies on such a surface.
pub(super) fn of(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    let Surface::Revolution { origin, axis, profile, inside } = surface else { return None };
    Some(Box::new(RevolutionChart::new(*origin, *axis, profile, *inside, facets, upright)))
}

pub struct RevolutionChart {
    origin: DVec3,
    axis: DVec3,
    profile: Arc<Profile>,
    /// +1 where the outward side is the profile's right one, −1 in a hollow.
    sign: f64,
    /// From the axis to the strip's zero, and the tangent there in which x grows.
    crown: DVec3,
    round: DVec3,
    /// Length along the profile of the strip's zero.
    middle: f64,
    /// Radius of the ring there.
    ring: f64,
    /// +1 if y grows with the length along the profile.
    turn: f64,
}

impl RevolutionChart {
    #[must_use]
    pub fn new(
        origin: DVec3,
        axis: DVec3,
        profile: &Arc<Profile>,
        inside: bool,
        facets: &[Facet],
        upright: Upright,
    ) -> Self {
        let sign = if inside { -1.0 } else { 1.0 };
        let pull = upright.pull.unwrap_or(DVec3::Z);
        let middles: Vec<(DVec3, f64)> = facets.iter().map(weighed).collect();
        let away = |p: DVec3| (p - origin).reject_from_normalized(axis).normalize_or_zero();
        // reads from the front where the pull runs along the axis
        let wanted = if pull.reject_from_normalized(axis).length() > 0.1 {
            upright.crown(axis)
        } else {
            Upright { pull: Some(DVec3::NEG_Y) }.crown(axis)
        };
        let crown = mean_direction(middles.iter().map(|(p, w)| (away(*p), *w)), &[wanted])
            .map(|m| m.reject_from_normalized(axis).normalize())
            .unwrap_or(wanted);
        let crown = if sign < 0.0 && facets.is_empty() { -crown } else { crown };
        let middle = profile.length() / 2.0;
        let place = profile.at(middle);
        let ring = place.point.x.max(1e-3);
        let out = (crown * place.outward().x + axis * place.outward().y) * sign;
        let ahead = crown * place.way.x + axis * place.way.y;
        let turn = if upright.up(out).dot(ahead) < -1e-9 { -1.0 } else { 1.0 };
        let round = (ahead * turn).cross(out);
        Self { origin, axis, profile: profile.clone(), sign, crown, round, middle, ring, turn }
    }

    /// Outward from the axis at a place, and the length along the profile.
    fn polar(&self, at: DVec2) -> (DVec3, f64) {
        let angle = at.x / self.ring;
        (self.crown * angle.cos() + self.round * angle.sin(), self.middle + self.turn * at.y)
    }

    /// Radius of the ring through a place, over that of the strip's zero.
    fn scale(&self, at: DVec2) -> f64 {
        (self.profile.at(self.polar(at).1).point.x / self.ring).max(1e-6)
    }

    /// Curvatures at a place with the sign of bending away from the outward side, along the profile and round, 1/mm.
    fn bends(&self, at: DVec2) -> DVec2 {
        let place = self.profile.at(self.polar(at).1);
        DVec2::new(place.bend, place.outward().x / place.point.x.max(1e-6)) * self.sign
    }
}

impl Chart for RevolutionChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        let (away, along) = self.polar(at);
        let place = self.profile.at(along);
        let flat = place.point + place.outward() * (self.sign * height);
        self.origin + away * flat.x + self.axis * flat.y
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let d = p - self.origin;
        let angle = d.dot(self.round).atan2(d.dot(self.crown));
        let flat = DVec2::new(d.reject_from_normalized(self.axis).length(), d.dot(self.axis));
        let (along, height) = self.profile.nearest(flat);
        (DVec2::new(angle * self.ring, self.turn * (along - self.middle)), self.sign * height)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        let (away, along) = self.polar(at);
        let out = self.profile.at(along).outward();
        (away * out.x + self.axis * out.y) * self.sign
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        let scale = self.scale(near);
        // a chord c on a curve of curvature k has the sagitta k c² / 8; given back as a length on the strip
        let bends = self.bends(near);
        let grown = DVec2::new(1.0 + bends.x * height, 1.0 + bends.y * height).max(DVec2::splat(1e-3));
        let chord = |bend: f64, grown: f64| (8.0 * sag * grown / bend.abs().max(1e-9)).sqrt() / grown;
        let ring = scale * self.ring;
        DVec2::new(chord(1.0 / ring, grown.y) / scale.max(1.0), chord(bends.x, grown.x))
    }

    fn step_over(&self, low: DVec2, high: DVec2, height: f64, sag: f64) -> DVec2 {
        const LOOKED_AT: u32 = 9;
        let at = |k: u32| low.lerp(high, f64::from(k) / f64::from(LOOKED_AT - 1));
        (0..LOOKED_AT).map(|k| self.step(at(k), height, sag)).fold(DVec2::INFINITY, DVec2::min)
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        // at 45° frames turn by half the difference of the two curvatures
        let bends = self.bends(near);
        twist_rad / ((bends.x - bends.y).abs() / 2.0).max(1e-9) / self.scale(near).max(1.0)
    }

    fn period(&self) -> DVec2 {
        let along = if self.profile.closed() { self.profile.length() } else { f64::INFINITY };
        DVec2::new(self.ring * TAU, along)
    }

    fn roll(&self, at: DVec2, by: DVec2) -> DVec2 {
        at + DVec2::new(by.x / self.scale(at), by.y)
    }

    fn unroll(&self, at: DVec2, to: DVec2) -> DVec2 {
        let by = self.turned_to(to, at) - at;
        DVec2::new(by.x * self.scale(at), by.y)
    }

    fn rings(&self) -> Rings {
        Rings::Straight
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chart::tests::keeps_its_promises;
    use proptest::prelude::*;

    /// A barrel: an arc of R 100 on a body of Ø 50, 40 high.
    fn barrel(out: bool) -> Arc<Profile> {
        let arc = |k: i32| {
            let angle = 0.2 * f64::from(k) / 10.0;
            DVec2::new(25.0 - 100.0 * (1.0 - angle.cos()), 100.0 * angle.sin())
        };
        let points: Vec<DVec2> = (-10..=10).map(arc).collect();
        Arc::new(Profile::new(if out { points } else { points.into_iter().rev().collect() }, false))
    }

    proptest! {
        #[test]
        fn a_barrel_keeps_a_charts_promises(
            axis in prop::array::uniform3(-1.0..1.0f64), pull in prop::array::uniform3(-1.0..1.0f64), inside: bool, out: bool,
            x in -1.0..1.0f64, y in -1.0..1.0f64, height in -1.0..1.0f64, by in prop::array::uniform2(-3.0..3.0f64),
        ) {
            let (axis, pull) = (DVec3::from(axis), DVec3::from(pull));
            prop_assume!(axis.length() > 0.1 && pull.length() > 0.1);
            let centre = DVec3::new(1.0, 2.0, 3.0);
            let upright = Upright { pull: Some(pull.normalize()) };
            let chart = RevolutionChart::new(centre, axis.normalize(), &barrel(out), inside, &[], upright);
            keeps_its_promises(&chart, DVec2::new(x * 50.0, y * 15.0), height, DVec2::from(by));
            // the true arc: centre line R 75 on the other side of the axis
            let p = chart.point(DVec2::new(x * 50.0, y * 15.0), 0.0) - centre;
            let away = p.reject_from_normalized(axis.normalize()).length();
            prop_assert!(((away + 75.0).hypot(p.dot(axis.normalize())) - 100.0).abs() < 1e-4);
        }
    }
}
