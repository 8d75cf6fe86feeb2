//! What lies round a mark on the part: which way a tool that forms it can leave, how far the surface reaches.

use crate::Frame;
use glam::{DVec2, DVec3};
use relief::{BuiltMark, CharacterBody, body::Role};
use solid::{Mesh, queries::Queries};

/// Walls may lean over by so little and still leave, sine.
const UPRIGHT: f64 = 1e-3;
/// Places across a field at which the surface is looked at.
const ACROSS: usize = 40;

/// Unit vector out of the part along which bodies leave the steel or go into it: the steel's own way, else square to the seat
/// in the middle of the mark; with how far over their walls lean where neither does, °.
pub(crate) fn way<'a>(
    built: &BuiltMark,
    bodies: impl Iterator<Item = &'a CharacterBody> + Clone,
) -> Result<DVec3, f64> {
    let out = built.ground.chart.normal(built.placed.middle);
    let mut least = f64::NEG_INFINITY;
    for way in built.pull.into_iter().chain([out]) {
        let facets = bodies.clone().flat_map(|b| {
            let own = b.roles.iter().enumerate().filter(|(_, role)| !matches!(role, Role::Skirt | Role::Base));
            own.map(move |(t, _)| b.mesh.normal(t))
        });
        let worst = facets.map(|n| n.dot(way)).fold(f64::INFINITY, f64::min);
        if worst >= -UPRIGHT {
            return Ok(way);
        }
        least = least.max(worst);
    }
    Err(-least.clamp(-1.0, 1.0).asin().to_degrees())
}

/// Coordinates in the middle of a mark with z along `way` and x as it reads.
pub(crate) fn about(built: &BuiltMark, way: DVec3) -> Frame {
    let chart = &built.ground.chart;
    let (middle, along) = (built.placed.middle, built.placed.along);
    let at = chart.point(middle, 0.0);
    Frame::at(at, way, chart.point(middle + along * 0.01, 0.0) - at)
}

/// Least and greatest corner of meshes in coordinates.
pub(crate) fn bounds<'a>(meshes: impl Iterator<Item = &'a Mesh>, frame: &Frame) -> (DVec3, DVec3) {
    let places = meshes.flat_map(|mesh| &mesh.vertices).map(|p| frame.to_steel(*p));
    places.fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(low, high), p| (low.min(p), high.max(p)))
}

/// The part's surface over a field.
pub(crate) struct Surface {
    pub least: f64,
    pub greatest: f64,
    /// Everywhere in the field there is some.
    pub whole: bool,
}

/// Heights of the surface that looks along z over the field from `low` to `high`, met from `top` down to `bottom`.
pub(crate) fn surface(part: &Queries, frame: &Frame, [low, high]: [DVec2; 2], top: f64, bottom: f64) -> Surface {
    let way = frame.axes.z_axis;
    let mesh = part.mesh();
    let mut found = Surface { least: f64::INFINITY, greatest: f64::NEG_INFINITY, whole: true };
    for k in 0..=ACROSS * ACROSS + 2 * ACROSS {
        let share = DVec2::new((k % (ACROSS + 1)) as f64, (k / (ACROSS + 1)) as f64) / ACROSS as f64;
        let at = low + (high - low) * share;
        let from = frame.to_part(at.extend(top));
        let faces = |t: u32| mesh.cross(t as usize).dot(way) > 0.0;
        match part.first_hit(from, -way, 0.0, top - bottom, faces) {
            Some(hit) => {
                let height = top - hit.distance;
                (found.least, found.greatest) = (found.least.min(height), found.greatest.max(height));
            }
            None => found.whole = false,
        }
    }
    found
}
