//! The sphere, outside or inside. It can't be unrolled: its strip keeps distances and directions from
//! one place, the crown (the azimuthal equidistant projection), and is stretched by
//! (r/R) / sin(r/R) across them at the distance r from it.
//!
//! The crown is the middle of the face, or, where the face is a whole sphere, the place whose normal
//! is the pull. Marks are wrapped from their own place and not from the crown, so that what the
//! strip stretches does not stretch them.

use crate::chart::{Chart, Facet, Rings, Upright, mean_direction, weighed};
use glam::{DVec2, DVec3};
use solid::Surface;
use std::f64::consts::FRAC_PI_2;

/// The chart of a face that lies on such a surface.
pub(super) fn of(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    let Surface::Sphere { centre, radius, inside } = *surface else { return None };
    Some(Box::new(SphereChart::new(centre, radius, inside, facets, upright)))
}

pub struct SphereChart {
    centre: DVec3,
    radius: f64,
    /// +1 outside, −1 in a hollow.
    sign: f64,
    /// From the centre to the crown, and along and up on the strip there.
    crown: DVec3,
    along: DVec3,
    up: DVec3,
}

impl SphereChart {
    #[must_use]
    pub fn new(centre: DVec3, radius: f64, inside: bool, facets: &[Facet], upright: Upright) -> Self {
        let sign = if inside { -1.0 } else { 1.0 };
        let pull = upright.pull.unwrap_or(DVec3::Z);
        let axes = [DVec3::X, DVec3::Y, DVec3::Z];
        let wanted: Vec<DVec3> = [pull, -pull].into_iter().chain(axes).chain(axes.map(|a| -a)).collect();
        let away = |(p, w): (DVec3, f64)| ((p - centre).normalize_or_zero(), w);
        let crown = mean_direction(facets.iter().map(weighed).map(away), &wanted).unwrap_or(pull * sign);
        let out = crown * sign;
        let up = upright.up(out);
        Self { centre, radius, sign, crown, along: up.cross(out), up }
    }

    /// From the centre to a place of the strip, and along and up there: those of the crown carried
    /// along the straight way.
    fn frame(&self, at: DVec2) -> [DVec3; 3] {
        let far = at.length();
        let Some(d) = at.try_normalize() else { return [self.crown, self.along, self.up] };
        let toward = self.along * d.x + self.up * d.y;
        let (sin, cos) = (far / self.radius).sin_cos();
        let ahead = toward * cos - self.crown * sin;
        // what is square to the way stays as it is
        let aside = self.up * d.x - self.along * d.y;
        [self.crown * cos + toward * sin, ahead * d.x - aside * d.y, ahead * d.y + aside * d.x]
    }

    fn place(&self, away: DVec3) -> DVec2 {
        let flat = DVec2::new(away.dot(self.along), away.dot(self.up));
        let angle = flat.length().atan2(away.dot(self.crown));
        flat.normalize_or_zero() * (angle * self.radius)
    }
}

impl Chart for SphereChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        self.centre + self.frame(at)[0] * (self.radius + self.sign * height)
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let d = p - self.centre;
        (self.place(d), self.sign * (d.length() - self.radius))
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        self.frame(at)[0] * self.sign
    }

    fn step(&self, _: DVec2, height: f64, sag: f64) -> DVec2 {
        // no way on the strip is shorter than on the sphere
        let r = (self.radius + self.sign * height).max(1e-6);
        DVec2::splat((8.0 * r * sag).sqrt() * (self.radius / r).min(1.0))
    }

    fn twist_step(&self, _: DVec2, _: f64) -> f64 {
        // a sphere curves alike in all directions
        f64::INFINITY
    }

    fn period(&self) -> DVec2 {
        DVec2::INFINITY
    }

    fn roll(&self, at: DVec2, by: DVec2) -> DVec2 {
        let [away, along, up] = self.frame(at);
        let Some(d) = by.try_normalize() else { return at };
        let (sin, cos) = (by.length() / self.radius).sin_cos();
        self.place(away * cos + (along * d.x + up * d.y) * sin)
    }

    fn unroll(&self, at: DVec2, to: DVec2) -> DVec2 {
        let [away, along, up] = self.frame(at);
        let there = self.frame(to)[0];
        let flat = DVec2::new(there.dot(along), there.dot(up));
        flat.normalize_or_zero() * (flat.length().atan2(there.dot(away)) * self.radius)
    }

    fn girth(&self, radius: f64) -> f64 {
        self.radius * (radius / self.radius).sin()
    }

    fn widest(&self) -> f64 {
        self.radius * FRAC_PI_2
    }

    fn rings(&self) -> Rings {
        Rings::Round(DVec2::ZERO)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chart::tests::keeps_its_promises;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_sphere_keeps_a_charts_promises(
            pull in prop::array::uniform3(-1.0..1.0f64), inside: bool, x in -1.0..1.0f64, y in -1.0..1.0f64,
            height in -1.0..1.0f64, by in prop::array::uniform2(-8.0..8.0f64),
        ) {
            let pull = DVec3::from(pull);
            prop_assume!(pull.length() > 0.1);
            let chart = SphereChart::new(DVec3::new(1.0, 2.0, 3.0), 20.0, inside, &[], Upright { pull: Some(pull.normalize()) });
            keeps_its_promises(&chart, DVec2::new(x, y) * 30.0, height, DVec2::from(by));
        }
    }

    #[test]
    fn the_crown_looks_along_the_pull_and_distances_from_it_are_true() {
        let chart = SphereChart::new(DVec3::ZERO, 25.0, false, &[], Upright { pull: Some(DVec3::Z) });
        assert!(chart.point(DVec2::ZERO, 0.0).distance(DVec3::Z * 25.0) < 1e-12);
        // a quarter of the way round
        let quarter = 25.0 * std::f64::consts::FRAC_PI_2;
        assert!(chart.point(DVec2::X * quarter, 0.0).distance(DVec3::X * 25.0) < 1e-12);
        assert!(chart.point(DVec2::Y * quarter, 1.0).distance(DVec3::Y * 26.0) < 1e-12);
    }
}
