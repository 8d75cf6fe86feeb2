//! The cone, outside or inside: it unrolls without stretch, to a sector about its apex.
//!
//! The strip's middle line is the slant through the crown, the line whose normal is nearest to the
//! pull, or through the middle of a face that doesn't go once round. Text reads round the cone
//! unless the slant lies level, in which case it reads along it. On the grid one coordinate runs
//! along the slant from the face's start, the other round, as long as it is half-way up the face.

use crate::chart::{Chart, Facet, Rings, Upright, mean_direction, weighed};
use glam::{DVec2, DVec3};
use solid::Surface;
use std::f64::consts::TAU;

/// The chart of a face that lies on such a surface.
pub(super) fn of(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    let Surface::Cone { apex, axis, angle, inside } = *surface else { return None };
    Some(Box::new(ConeChart::new(apex, axis, angle, inside, facets, upright)))
}

pub struct ConeChart {
    apex: DVec3,
    /// From the apex into the cone.
    axis: DVec3,
    /// Sine and cosine of the angle between axis and wall.
    sin: f64,
    cos: f64,
    /// From the axis to the crown, and the tangent there.
    crown: DVec3,
    round: DVec3,
    /// +1 outside, −1 in a countersink.
    sign: f64,
    /// The apex on the strip, and the direction there from it to the crown.
    flat_apex: DVec2,
    slant: DVec2,
    /// +1 if going round by `round` turns counter-clockwise on the strip.
    turn: f64,
    /// Slant from which the grid counts, which way, and that at which it is as long as the face.
    start: f64,
    grows: f64,
    middle: f64,
    /// The slant is the strip's y at the crown, not its x.
    stands: bool,
}

impl ConeChart {
    #[must_use]
    pub fn new(apex: DVec3, axis: DVec3, angle: f64, inside: bool, facets: &[Facet], upright: Upright) -> Self {
        let sign = if inside { -1.0 } else { 1.0 };
        let (sin, cos) = angle.sin_cos();
        let wanted = upright.crown(axis) * sign;
        let away = |p: DVec3| (p - apex).reject_from_normalized(axis).normalize_or_zero();
        let crown = mean_direction(facets.iter().map(weighed).map(|(p, w)| (away(p), w)), &[wanted])
            .map(|m| m.reject_from_normalized(axis).normalize())
            .unwrap_or(wanted);
        let round = axis.cross(crown);
        let (mut least, mut most) = (f64::INFINITY, 0.0_f64);
        for p in facets.iter().flatten() {
            let d = *p - apex;
            let slant = d.reject_from_normalized(axis).length() * sin + d.dot(axis) * cos;
            (least, most) = (least.min(slant), most.max(slant));
        }
        if !least.is_finite() {
            (least, most) = (0.0, 1.0);
        }
        let out = (crown * cos - axis * sin) * sign;
        let down = axis * cos + crown * sin;
        let up = upright.up(out);
        let along = up.cross(out);
        let stands = up.dot(down).abs() > 0.5_f64.sqrt();
        let slant = if stands { DVec2::Y * up.dot(down).signum() } else { DVec2::X * along.dot(down).signum() };
        // along × up = out: which way round the strip turns follows from the slant's direction on it
        let turn = (down.cross(round).dot(out)).signum();
        let grows = if stands { slant.y } else { slant.x };
        let start = if grows > 0.0 { least } else { most };
        Self {
            apex,
            axis,
            sin,
            cos,
            crown,
            round,
            sign,
            flat_apex: -slant * start,
            slant,
            turn,
            start,
            grows,
            middle: (least + most) / 2.0,
            stands,
        }
    }

    /// Slant, and angle round the axis from the crown.
    fn polar(&self, at: DVec2) -> (f64, f64) {
        let d = at - self.flat_apex;
        let swept = self.slant.perp_dot(d).atan2(self.slant.dot(d)) * self.turn;
        (d.length(), swept / self.sin)
    }

    fn flat(&self, slant: f64, angle: f64) -> DVec2 {
        let swept = angle * self.sin * self.turn;
        self.flat_apex + DVec2::from_angle(swept).rotate(self.slant) * slant
    }

    fn away(&self, angle: f64) -> DVec3 {
        self.crown * angle.cos() + self.round * angle.sin()
    }

    /// Which way the grid's coordinate round grows with the angle.
    fn rounds(&self) -> f64 {
        // counter-clockwise about the apex, seen from the crown, leads along −x above it
        let ccw = self.slant.perp();
        self.turn * if self.stands { ccw.x } else { ccw.y }
    }
}

impl Chart for ConeChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        let (slant, angle) = self.polar(at);
        let away = self.away(angle);
        let normal = (away * self.cos - self.axis * self.sin) * self.sign;
        self.apex + self.axis * (slant * self.cos) + away * (slant * self.sin) + normal * height
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let d = p - self.apex;
        let (off, along) = (d.reject_from_normalized(self.axis).length(), d.dot(self.axis));
        let angle = d.dot(self.round).atan2(d.dot(self.crown));
        let height = self.sign * (off * self.cos - along * self.sin);
        (self.flat(off * self.sin + along * self.cos, angle), height)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        (self.away(self.polar(at).1) * self.cos - self.axis * self.sin) * self.sign
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        // round the cone the radius of curvature is slant · tan(angle); the strip turns, so both ways
        let on_seat = (self.polar(near).0 * self.sin / self.cos).max(1e-6);
        let r = (on_seat + self.sign * height).max(1e-6);
        DVec2::splat((8.0 * r * sag).sqrt() * (on_seat / r).min(1.0))
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        // curvatures 0 and 1 / (slant · tan): at 45° half their difference
        2.0 * self.polar(near).0 * self.sin / self.cos * twist_rad
    }

    fn period(&self) -> DVec2 {
        let once = TAU * self.sin * self.middle;
        if self.stands { DVec2::new(once, f64::INFINITY) } else { DVec2::new(f64::INFINITY, once) }
    }

    fn off_grid(&self, grid: DVec2) -> DVec2 {
        let (round, along) = if self.stands { (grid.x, grid.y) } else { (grid.y, grid.x) };
        self.flat(self.start + self.grows * along, round * self.rounds() / (self.sin * self.middle))
    }

    fn grid(&self, at: DVec2) -> DVec2 {
        let (slant, angle) = self.polar(at);
        let round = angle * self.rounds() * self.sin * self.middle;
        let along = (slant - self.start) * self.grows;
        if self.stands { DVec2::new(round, along) } else { DVec2::new(along, round) }
    }

    fn level(&self, at: DVec2) -> DVec2 {
        // the strip's x turned as the slant is turned there
        let swept = self.polar(at).1 * self.sin * self.turn;
        DVec2::from_angle(swept)
    }

    fn rings(&self) -> Rings {
        Rings::Round(self.flat_apex)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chart::tests::keeps_its_promises;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_cone_keeps_a_charts_promises(
            axis in prop::array::uniform3(-1.0..1.0f64), pull in prop::array::uniform3(-1.0..1.0f64),
            angle in 0.1..1.2f64, inside: bool, slant in 15.0..40.0f64, round in -2.5..2.5f64, height in -1.0..1.0f64,
            by in prop::array::uniform2(-2.0..2.0f64),
        ) {
            let (axis, pull) = (DVec3::from(axis), DVec3::from(pull));
            prop_assume!(axis.length() > 0.1 && pull.length() > 0.1);
            let apex = DVec3::new(1.0, 2.0, 3.0);
            let chart = ConeChart::new(apex, axis.normalize(), angle, inside, &[], Upright { pull: Some(pull.normalize()) });
            let at = chart.flat(slant, round);
            keeps_its_promises(&chart, at, height, DVec2::from(by));
            // lengths are kept
            let (step, p) = (1e-5, chart.point(at, 0.0));
            for d in [DVec2::X, DVec2::Y, DVec2::ONE.normalize()] {
                let gone = chart.point(at + d * step, 0.0).distance(p) / step;
                prop_assert!((gone - 1.0).abs() < 1e-4, "{gone}");
            }
            // a turn on, as long as the strip does not overlap itself there
            let mut once = chart.grid(at);
            once[usize::from(!chart.stands)] -= chart.period().min_element() * round.signum() * chart.rounds();
            if (TAU - round.abs()) * chart.sin < 3.1 {
                prop_assert!((chart.point(chart.off_grid(once), 0.0) - p).length() < 1e-6);
            }
        }
    }

    /// trade: a cone of radii 12 and 6 over height 20 unrolls to a sector of slant 20.881 and
    /// 103.445° for the full turn.
    #[test]
    fn the_worked_cone_unrolls_as_worked_out() {
        let angle = (6.0_f64 / 20.0).atan();
        // standing with its wide end down; the apex lies 40 above it
        let apex = DVec3::new(0.0, 0.0, 40.0);
        let rim = |radius: f64, z: f64| DVec3::new(0.0, -radius, z);
        let facet = [rim(12.0, 0.0), rim(6.0, 20.0), rim(12.0, 0.0)];
        let chart = ConeChart::new(apex, -DVec3::Z, angle, false, &[facet], Upright { pull: Some(DVec3::Z) });
        let ends = [rim(12.0, 0.0), rim(6.0, 20.0)].map(|p| chart.strip(p).0);
        assert!((ends[0].distance(ends[1]) - 20.881).abs() < 5e-4);
        // letters stand upright: the small end lies above
        assert!(ends[0].length() < 1e-9 && ends[1].y > 20.0 && ends[1].x.abs() < 1e-9, "{ends:?}");
        let Rings::Round(middle) = chart.rings() else { panic!("a cone's rings run round its apex") };
        let seam = chart.strip(DVec3::new(1e-9, 12.0, 0.0)).0 - middle;
        let swept = 2.0 * seam.angle_to(ends[0] - middle).abs().to_degrees();
        assert!((swept - 103.445).abs() < 5e-4, "{swept}");
    }
}
