//! The torus, outside or inside: x runs round the ring, y round the tube.
//!
//! It can't be unrolled: lengths round the tube are true, those round the ring only half-way up
//! the face, and elsewhere as much longer or shorter as the ring is there. Marks are wrapped with
//! true lengths along the ring through their own place.

use crate::chart::{Chart, Facet, Rings, Upright, mean_direction, weighed};
use glam::{DVec2, DVec3};
use solid::Surface;
use std::f64::consts::TAU;

/// The chart of a face that lies on such a surface.
pub(super) fn of(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    let Surface::Torus { centre, axis, major, minor, inside } = *surface else { return None };
    Some(Box::new(TorusChart::new(centre, axis, (major, minor), inside, facets, upright)))
}

pub struct TorusChart {
    centre: DVec3,
    axis: DVec3,
    major: f64,
    minor: f64,
    /// +1 outside, −1 in a hollow.
    sign: f64,
    /// From the axis to the strip's zero, and the tangent there in which x grows.
    crown: DVec3,
    round: DVec3,
    /// Angle round the tube of the strip's zero, from the outermost ring towards the axis' end.
    middle: f64,
    /// Radius of the ring there.
    ring: f64,
    /// +1 if y grows with the angle round the tube.
    turn: f64,
}

impl TorusChart {
    /// `radii`: from the axis to the middle of the tube, and of the tube.
    #[must_use]
    pub fn new(
        centre: DVec3,
        axis: DVec3,
        (major, minor): (f64, f64),
        inside: bool,
        facets: &[Facet],
        upright: Upright,
    ) -> Self {
        let sign = if inside { -1.0 } else { 1.0 };
        let pull = upright.pull.unwrap_or(DVec3::Z);
        let middles: Vec<(DVec3, f64)> = facets.iter().map(weighed).collect();
        let away = |p: DVec3| (p - centre).reject_from_normalized(axis).normalize_or_zero();
        // reads from the front where the pull runs along the axis
        let wanted = if pull.reject_from_normalized(axis).length() > 0.1 {
            upright.crown(axis)
        } else {
            Upright { pull: Some(DVec3::NEG_Y) }.crown(axis)
        };
        let crown = mean_direction(middles.iter().map(|(p, w)| (away(*p), *w)), &[wanted])
            .map(|m| m.reject_from_normalized(axis).normalize())
            .unwrap_or(wanted);
        // round the tube, in the plane of the vectors (outward, axis)
        let about = |p: DVec3| {
            let d = p - centre;
            DVec3::new(d.reject_from_normalized(axis).length() - major, d.dot(axis), 0.0).normalize_or_zero()
        };
        let looks = DVec3::new(pull.dot(crown) * sign, pull.dot(axis) * sign, 0.0).normalize_or(DVec3::X);
        let tube =
            mean_direction(middles.iter().map(|(p, w)| (about(*p), *w)), &[looks, DVec3::X, DVec3::Y, -DVec3::Y])
                .unwrap_or(looks);
        let middle = tube.y.atan2(tube.x);
        let out = (crown * middle.cos() + axis * middle.sin()) * sign;
        let ahead = axis * middle.cos() - crown * middle.sin();
        let up = upright.up(out).dot(ahead);
        let turn = if up < -1e-9 { -1.0 } else { 1.0 };
        let round = (ahead * turn).cross(out);
        Self { centre, axis, major, minor, sign, crown, round, middle, ring: major + minor * middle.cos(), turn }
    }

    /// Outward from the axis at a place, and the angle round the tube.
    fn polar(&self, at: DVec2) -> (DVec3, f64) {
        let angle = at.x / self.ring;
        (self.crown * angle.cos() + self.round * angle.sin(), self.middle + self.turn * at.y / self.minor)
    }

    /// Radius of the ring through a place, over that of the strip's zero.
    fn scale(&self, at: DVec2) -> f64 {
        ((self.major + self.minor * self.polar(at).1.cos()) / self.ring).max(1e-6)
    }
}

impl Chart for TorusChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        let (away, tube) = self.polar(at);
        let normal = away * tube.cos() + self.axis * tube.sin();
        self.centre + away * self.major + normal * (self.minor + self.sign * height)
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let d = p - self.centre;
        let angle = d.dot(self.round).atan2(d.dot(self.crown));
        let (off, along) = (d.reject_from_normalized(self.axis).length() - self.major, d.dot(self.axis));
        let mut tube = along.atan2(off) - self.middle;
        tube -= (tube / TAU).round() * TAU;
        (DVec2::new(angle * self.ring, self.turn * tube * self.minor), self.sign * (off.hypot(along) - self.minor))
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        let (away, tube) = self.polar(at);
        (away * tube.cos() + self.axis * tube.sin()) * self.sign
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        let tube = (self.minor + self.sign * height).max(1e-6);
        let ring = self.scale(near) * self.ring;
        let chord = |r: f64| (8.0 * r * sag).sqrt();
        DVec2::new(chord(ring) / self.scale(near).max(1.0), chord(tube) * (self.minor / tube).min(1.0))
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        // at 45° frames turn by half the difference of the curvatures round the tube and round the ring
        let tube = self.polar(near).1;
        let ring = self.scale(near) * self.ring;
        let torsion = (1.0 / self.minor - tube.cos() / ring).abs() / 2.0;
        twist_rad / torsion.max(1e-9) / self.scale(near).max(1.0)
    }

    fn period(&self) -> DVec2 {
        DVec2::new(self.ring, self.minor) * TAU
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

    proptest! {
        #[test]
        fn a_torus_keeps_a_charts_promises(
            axis in prop::array::uniform3(-1.0..1.0f64), pull in prop::array::uniform3(-1.0..1.0f64), inside: bool,
            x in -1.0..1.0f64, y in -1.0..1.0f64, height in -1.0..1.0f64, by in prop::array::uniform2(-3.0..3.0f64),
        ) {
            let (axis, pull) = (DVec3::from(axis), DVec3::from(pull));
            prop_assume!(axis.length() > 0.1 && pull.length() > 0.1);
            let centre = DVec3::new(1.0, 2.0, 3.0);
            let chart = TorusChart::new(centre, axis.normalize(), (20.0, 6.0), inside, &[], Upright { pull: Some(pull.normalize()) });
            keeps_its_promises(&chart, DVec2::new(x * 50.0, y * 15.0), height, DVec2::from(by));
        }
    }

    #[test]
    fn a_ring_lying_flat_is_read_from_the_front_with_its_tops_away() {
        let chart = TorusChart::new(DVec3::ZERO, DVec3::Z, (20.0, 6.0), false, &[], Upright { pull: Some(DVec3::Z) });
        // on top of the tube, in front
        assert!(chart.point(DVec2::ZERO, 0.0).distance(DVec3::new(0.0, -20.0, 6.0)) < 1e-12);
        assert!(chart.point(DVec2::X * 0.1, 0.0).x > 0.09 && chart.point(DVec2::Y * 0.1, 0.0).y > -19.91);
        // once round the outermost ring is 2 π · 26 long, on the strip as long as the ring on top
        assert!((chart.period().x - TAU * 20.0).abs() < 1e-9);
        let out = chart.strip(DVec3::new(0.0, -26.0, 0.0)).0;
        assert!((chart.roll(out, DVec2::X * 2.6).x - 2.0).abs() < 1e-9);
    }
}
