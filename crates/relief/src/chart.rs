//! A chart: the map between the strip (flat, at true size) and space, with its exact inverse.

use crate::charts::{cylinder::CylinderChart, plane::PlaneChart};
use glam::{DVec2, DVec3};
use solid::Surface;

/// Strip coordinates are mm: x along (reading direction of an unturned text), y up. On the part,
/// seen from outside, along × up = out, so that a mirrored mark can't be built.
pub trait Chart: Send + Sync {
    /// The point `height` mm outward from the seat at a place of the strip.
    fn point(&self, at: DVec2, height: f64) -> DVec3;

    /// The place of the strip under a point of space, and how far outward the point lies, mm.
    fn strip(&self, p: DVec3) -> (DVec2, f64);

    /// Outward unit normal at a place of the strip.
    fn normal(&self, at: DVec2) -> DVec3;

    /// Longest steps along and up between points of a curve at `height` so that chords stay within
    /// `sag` mm of the offset surface; infinite where the seat is straight.
    fn step(&self, height: f64, sag: f64) -> DVec2;

    /// Longest step along an oblique line so that the local frame turns about the line by no more
    /// than `twist_rad` between its ends; infinite where frames don't turn.
    fn twist_step(&self, twist_rad: f64) -> f64;

    /// Length of once round, in the direction in which the seat closes on itself; infinite in others.
    fn period(&self) -> DVec2;

    /// Of all turns of a strip that repeats itself, the place under `at` that lies nearest to `near`.
    fn turned_to(&self, mut at: DVec2, near: DVec2) -> DVec2 {
        let period = self.period();
        for k in 0..2 {
            if period[k].is_finite() {
                at[k] += ((near[k] - at[k]) / period[k]).round() * period[k];
            }
        }
        at
    }
}

/// Which way up things are: the pull if it is set, and the part's own up (z, or y for faces that
/// look along z).
#[derive(Clone, Copy, Debug)]
pub struct Upright {
    pub pull: Option<DVec3>,
}

impl Upright {
    /// Direction that letters' tops point in on a surface with the outward normal `out`: z where
    /// the surface is not level, else y.
    #[must_use]
    pub fn up(&self, out: DVec3) -> DVec3 {
        let wanted = if out.z.abs() > 0.9 { DVec3::Y } else { DVec3::Z };
        wanted.reject_from_normalized(out).normalize()
    }
}

/// The chart of a surface whose facets have the corners `points`; `None` for other kinds than planes
/// and cylinders.
#[must_use]
pub fn chart(surface: &Surface, points: &[DVec3], upright: Upright) -> Option<Box<dyn Chart>> {
    match *surface {
        Surface::Plane { origin, normal } => Some(Box::new(PlaneChart::new(origin, normal, points, upright))),
        Surface::Cylinder { origin, axis, radius, inside } => {
            Some(Box::new(CylinderChart::new(origin, axis, radius, inside, points, upright)))
        }
        Surface::Cone { .. } | Surface::Sphere { .. } | Surface::Torus { .. } | Surface::Freeform => None,
    }
}
