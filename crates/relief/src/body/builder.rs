//! One island of a character built on its seat.

use super::built_as;
use super::{Role, SAG};
use crate::{ReliefError, cap, chart::Chart, seat::Seat, wall::WallError};
use flat::{Island, contains, signed_area};
use glam::{DVec2, DVec3};
use solid::Mesh;
use trade::{Relief, Walls};

/// Bodies reach past the surface by twice the facet error and this, mm.
pub(super) const REACH: f64 = 0.01;

pub(super) struct Builder<'a> {
    pub(super) seat: &'a Seat,
    pub(super) relief: Relief,
    /// It is joined to nothing and ends on the seat.
    pub(super) apart: bool,
    /// It reaches at least so far past the seat, mm.
    pub(super) past: f64,
    /// +1 raised, −1 sunken: the narrow level lies at sign · height.
    pub(super) sign: f64,
    /// Wall axis in the sense of the pull; `None`: the seat's normal.
    pub(super) along_pull: Option<DVec3>,
    pub(super) middle: DVec2,
    /// Corners of the strip that it lies between.
    pub(super) low: DVec2,
    pub(super) high: DVec2,
    pub(super) contours: Vec<Vec<DVec2>>,
    /// It lies at a crease.
    creased: bool,
}

impl<'a> Builder<'a> {
    pub(super) fn new(
        seat: &'a Seat,
        relief: &Relief,
        (apart, past): (bool, f64),
        pull: Option<DVec3>,
        island: &Island,
    ) -> Result<Self, ReliefError> {
        let relief = built_as(relief);
        let sign = if relief.sense.sinks() { -1.0 } else { 1.0 };
        let middle = island.outer.iter().sum::<DVec2>() / island.outer.len() as f64;
        let along_pull = match relief.walls {
            Walls::Seat => None,
            Walls::Pull => {
                let pull = pull.ok_or(ReliefError::NoPull)?;
                // the half that this place belongs to
                Some(pull * pull.dot(seat.chart.normal(middle)).signum() * sign)
            }
        };
        let reach = DVec2::splat(relief.height);
        let low = island.outer.iter().copied().fold(middle, DVec2::min) - reach;
        let high = island.outer.iter().copied().fold(middle, DVec2::max) + reach;
        let creased = !seat.chart.creases(low, high).is_empty();
        let contours = Vec::new();
        let mut builder = Self { seat, relief, apart, past, sign, along_pull, middle, low, high, contours, creased };
        builder.contours = std::iter::once(&island.outer)
            .chain(&island.counters)
            .map(|contour| {
                let mut fine = builder.refine(contour);
                if sign < 0.0 {
                    fine.reverse(); // seen from inside the part, where the cutter's narrow end looks
                }
                fine
            })
            .collect();
        Ok(builder)
    }

    pub(super) fn chart(&self) -> &dyn Chart {
        &*self.seat.chart
    }

    /// Strip place of a point of space, on this character's side of the seam.
    pub(super) fn strip(&self, p: DVec3) -> DVec2 {
        self.chart().turned_to(self.chart().strip(p).0, self.middle)
    }

    /// Where the line from `from` along the unit `direction` reaches `height` above the seat, by
    /// Newton's iteration.
    pub(super) fn reach(&self, from: DVec3, direction: DVec3, height: f64) -> Option<DVec3> {
        let mut far = 0.0;
        let longest = 50.0 * (self.relief.height + REACH + self.seat.facet_error);
        for _ in 0..30 {
            let p = from + direction * far;
            let (at, above) = self.chart().strip(p);
            let rate = direction.dot(self.chart().rises(at));
            let miss = height - above;
            if miss.abs() < 1e-10 {
                return (far > 0.0 && far < longest).then_some(p);
            }
            // falling on the surface at less than 1° the foot is anyone's guess
            if rate.abs() < 0.017 {
                return None;
            }
            far += miss / rate;
            if !(-longest..=longest).contains(&far) {
                return None;
            }
        }
        None
    }

    /// Square to the level at a place, not to length; on a crease, between those of its sides.
    pub(super) fn level(&self, at: DVec2) -> DVec3 {
        /// Beside a crease, mm.
        const ASIDE: f64 = 0.05;
        if self.creased {
            let around = [DVec2::X, DVec2::Y, DVec2::NEG_X, DVec2::NEG_Y];
            return around.map(|aside| self.chart().rises(at + aside * ASIDE)).iter().sum();
        }
        self.chart().rises(at)
    }

    pub(super) fn cap(
        &self,
        rings: &[Vec<u32>],
        level: f64,
        role: Role,
        mesh: &mut Mesh,
        roles: &mut Vec<Role>,
    ) -> Result<(), WallError> {
        let flat: Vec<Vec<DVec2>> =
            rings.iter().map(|ring| ring.iter().map(|&v| self.strip(mesh.vertices[v as usize])).collect()).collect();
        let Some((outer, counters)) = flat.split_first() else { return Err(WallError::Meet) };
        // seen against the axis, the outer ring still runs round the material and holds the counters
        if signed_area(outer) * self.sign <= 0.0
            || counters.iter().any(|c| signed_area(c) * self.sign >= 0.0 || !contains(outer, c[0]))
        {
            return Err(WallError::Meet);
        }
        let step = self.chart().step_over(self.low, self.high, level, SAG);
        let creases = self.chart().creases(self.low, self.high);
        let (triangles, inside) = cap::fill(&flat, step, &creases).ok_or(WallError::Meet)?;
        let mut numbers: Vec<u32> = rings.iter().flatten().copied().collect();
        for p in inside {
            numbers.push(mesh.vertices.len() as u32);
            mesh.vertices.push(self.chart().point(p, level));
        }
        // the narrow end looks along the axis, the wide end against it
        let up = (self.sign > 0.0) == matches!(role, Role::Top | Role::Floor);
        for t in triangles {
            let [a, b, c] = t.map(|v| numbers[v as usize]);
            mesh.triangles.push(if up { [a, b, c] } else { [a, c, b] });
            roles.push(role);
        }
        Ok(())
    }
}
