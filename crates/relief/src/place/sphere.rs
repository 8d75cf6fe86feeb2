//! Marks on a sphere, whose strip has no direction of its own: which way up they stand, and where by latitude and longitude.

use super::{PlacedMark, place};
use crate::{chart::Upright, seat::Seat};
use glam::{DVec2, DVec3};
use solid::Surface;
use trade::{Mark, Place, Tie};

/// Steps for directions by differences, mm.
const STEP: f64 = 1e-3;

/// The turn at which a text stands upright at a place of a sphere's strip, degrees: its tops point where the part's own
/// up lies, or that by quarter turns, whichever is nearest to what is upright as `seen`. `None` on seats that aren't
/// spheres: there an unturned text is.
#[must_use]
pub fn upright(seat: &Seat, at: DVec2, seen: Option<DVec3>) -> Option<f64> {
    if !matches!(seat.surface, Surface::Sphere { .. }) {
        return None;
    }
    let chart = &seat.chart;
    let [along, up] = {
        let level = chart.level(at);
        [level, level.perp()].map(|way| chart.point(chart.roll(at, way * STEP), 0.0) - chart.point(at, 0.0))
    };
    // the turn that has tops point there
    let turn = |to: DVec3| (-to.dot(along)).atan2(to.dot(up)).to_degrees();
    let own = turn(Upright { pull: seat.pull }.up(chart.normal(at)));
    let quarters = seen.map_or(0.0, |seen| ((turn(seen) - own) / 90.0).round());
    Some(within_half(own + 90.0 * quarters))
}

/// A place of a sphere as on a globe whose pole is the strip's middle, degrees.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Globe {
    /// 90 at the pole, 0 on the circle halfway round from it, −90 opposite.
    pub latitude: f64,
    /// Round the pole, counter-clockwise seen from outside; 0 to the right of it on the strip.
    pub longitude: f64,
}

/// Nearer to the pole than this a place has no longitude, mm.
const POLE: f64 = 1e-6;

impl Globe {
    /// Of a place of the strip; `None` on seats that aren't spheres.
    #[must_use]
    pub fn of(seat: &Seat, at: DVec2) -> Option<Self> {
        let Surface::Sphere { radius, .. } = seat.surface else { return None };
        let longitude = if at.length() < POLE { 0.0 } else { at.to_angle().to_degrees() };
        Some(Self { latitude: 90.0 - (at.length() / radius).to_degrees(), longitude })
    }

    /// The place of the strip.
    #[must_use]
    pub fn on(self, seat: &Seat) -> Option<DVec2> {
        let Surface::Sphere { radius, .. } = seat.surface else { return None };
        let far = radius * (90.0 - self.latitude).clamp(0.0, 180.0).to_radians();
        Some(DVec2::from_angle(self.longitude.to_radians()) * far)
    }

    /// The mark's place with its own place there: it stays turned as it was to the circle of latitude through it.
    #[must_use]
    pub fn carries(self, mark: &Mark, placed: &PlacedMark, seat: &Seat) -> Option<Place> {
        let (was, is) = (placed.anchor, self.on(seat)?);
        let round = |v: f64| Tie::At { position: (v * 1e4).round() / 1e4 };
        let grid = seat.chart.grid(is);
        let turn = if was.length() < POLE || is.length() < POLE {
            upright(seat, is, None)? + mark.place.turn - upright(seat, was, None)?
        } else {
            mark.place.turn + was.angle_to(is).to_degrees()
        };
        let turn = within_half(turn);
        Some(Place { along: round(grid.x), up: round(grid.y), turn, ..mark.place.clone() })
    }
}

/// By how much a mark on a sphere is turned from upright, degrees.
pub(super) fn askew(mark: &Mark, seat: &Seat) -> f64 {
    let there = seat.faces == mark.seat.faces();
    let middle = there.then(|| place(mark, seat).ok()).flatten().map(|placed| placed.anchor);
    middle.and_then(|at| upright(seat, at, None)).map_or(mark.place.turn, |upright| mark.place.turn - upright)
}

/// In (−180, 180], to a hundredth of a degree.
pub(super) fn within_half(degrees: f64) -> f64 {
    let rounded = (degrees * 100.0).round() / 100.0;
    180.0 - (180.0 - rounded).rem_euclid(360.0)
}
