//! The plane: strip coordinates are distances from the face's left and lower edge.

use crate::chart::{Chart, Facet, Upright};
use glam::{DVec2, DVec3};
use solid::Surface;

/// The chart of a face that lies on such a surface.
pub(super) fn of(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    let Surface::Plane { origin, normal } = *surface else { return None };
    Some(Box::new(PlaneChart::new(origin, normal, facets, upright)))
}

pub struct PlaneChart {
    origin: DVec3,
    along: DVec3,
    up: DVec3,
    out: DVec3,
}

impl PlaneChart {
    #[must_use]
    pub fn new(origin: DVec3, out: DVec3, facets: &[Facet], upright: Upright) -> Self {
        let up = upright.up(out);
        let along = up.cross(out);
        let corner = facets
            .iter()
            .flatten()
            .fold(DVec2::INFINITY, |low, p| low.min(DVec2::new((*p - origin).dot(along), (*p - origin).dot(up))));
        let corner = if corner.is_finite() { corner } else { DVec2::ZERO };
        Self { origin: origin + along * corner.x + up * corner.y, along, up, out }
    }
}

impl Chart for PlaneChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        self.origin + self.along * at.x + self.up * at.y + self.out * height
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let d = p - self.origin;
        (DVec2::new(d.dot(self.along), d.dot(self.up)), d.dot(self.out))
    }

    fn normal(&self, _: DVec2) -> DVec3 {
        self.out
    }

    fn step(&self, _: DVec2, _: f64, _: f64) -> DVec2 {
        DVec2::INFINITY
    }

    fn twist_step(&self, _: DVec2, _: f64) -> f64 {
        f64::INFINITY
    }

    fn period(&self) -> DVec2 {
        DVec2::INFINITY
    }
}
