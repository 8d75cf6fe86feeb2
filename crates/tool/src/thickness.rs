//! How thick is the wall? By ray, straight in to the next surface; by sphere, the largest that touches
//! the place from inside and fits.
//!
//! The sphere by shrinking (Ma, Bae and Choi 2012): a sphere tangent at the place is made smaller until
//! no other surface lies inside it. Near an edge it is small because the edge is near; the ray is long
//! where the far surface leans away. Neither is the wall by itself, so both are told.

use crate::divided::{Divided, normal};
use glam::DVec3;
use rayon::prelude::*;
use solid::{Part, queries::Queries};
use std::collections::HashMap;

/// Rays start this far under the surface, mm.
const OFF: f64 = 1e-3;
/// A sphere that reaches past other surface by less than this share of its radius fits.
const FITS: f64 = 2e-3;
/// Balls that are fitted at most for a map; beyond that pieces close to one another share one.
const MOST_SPHERES: usize = 60_000;

/// mm; `None` where the part is open there.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Thickness {
    pub ray: Option<f64>,
    /// Diameter.
    pub sphere: Option<f64>,
}

/// The wall under a place of the part's triangle `triangle`.
#[must_use]
pub fn thickness(part: &Part, surface: &Queries, triangle: u32, p: DVec3) -> Thickness {
    let inward = -normal(part, triangle, p);
    let ray = by_ray(part, surface, triangle, p);
    Thickness { ray, sphere: ray.map(|ray| sphere(surface, p, inward, ray / 2.0)) }
}

fn by_ray(part: &Part, surface: &Queries, triangle: u32, p: DVec3) -> Option<f64> {
    let inward = -normal(part, triangle, p);
    surface.first_hit(p + inward * OFF, inward, 0.0, f64::MAX, |t| t != triangle).map(|hit| hit.distance + OFF)
}

/// Diameter of the largest sphere inside the surface that touches it at `p`, starting from a radius that
/// is not too small.
fn sphere(surface: &Queries, p: DVec3, inward: DVec3, start: f64) -> f64 {
    let mut radius = start;
    for _ in 0..40 {
        let centre = p + inward * radius;
        let Some(hit) = surface.nearest(centre, radius * (1.0 - FITS)) else { break };
        let toward = hit.point - p;
        let ahead = toward.dot(inward);
        if ahead <= 1e-9 {
            break;
        }
        let smaller = toward.length_squared() / (2.0 * ahead);
        if smaller >= radius * (1.0 - 1e-6) {
            break;
        }
        radius = smaller;
    }
    2.0 * radius
}

/// One answer for each piece of `whole`, the part's surface.
#[must_use]
pub fn map(part: &Part, surface: &Queries, whole: &Divided) -> Vec<Thickness> {
    let rays: Vec<Option<f64>> =
        whole.pieces.par_iter().map(|piece| by_ray(part, surface, piece.of, piece.centroid())).collect();
    let mut share = 0.004 * part.mesh.diagonal();
    let mut owners: Vec<u32> = (0..whole.pieces.len() as u32).collect();
    let mut fitted = owners.len();
    while fitted > MOST_SPHERES {
        (owners, fitted) = gather(part, whole, share);
        share *= 1.4;
    }
    let spheres: Vec<Option<f64>> = whole
        .pieces
        .par_iter()
        .enumerate()
        .map(|(at, piece)| {
            if owners[at] as usize != at {
                return None;
            }
            let p = piece.centroid();
            rays[at].map(|ray| sphere(surface, p, -normal(part, piece.of, p), ray / 2.0))
        })
        .collect();
    (0..rays.len())
        .map(|at| {
            let sphere = spheres[owners[at] as usize];
            // a sphere that was fitted nearby is still no larger than the ray allows here
            Thickness { ray: rays[at], sphere: sphere.zip(rays[at]).map(|(b, r)| b.min(r)) }
        })
        .collect()
}

/// For each piece the first piece of its face in the same cell, and how many such there are.
fn gather(part: &Part, whole: &Divided, cell: f64) -> (Vec<u32>, usize) {
    let mut first: HashMap<(u32, [i32; 3]), u32> = HashMap::new();
    let owners = whole
        .pieces
        .iter()
        .enumerate()
        .map(|(at, piece)| {
            let place = (piece.centroid() / cell).floor().to_array().map(|c| c as i32);
            *first.entry((part.face_of[piece.of as usize], place)).or_insert(at as u32)
        })
        .collect();
    (owners, first.len())
}

#[cfg(test)]
mod tests {
    use super::*;
    use solid::boolean::Body;

    #[test]
    fn a_pipe_is_as_thick_as_the_difference_of_its_radii() {
        let body = |m: &solid::Mesh| Body::new(m, "a piece").unwrap();
        let outside = body(&demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 40.0, 15.0));
        let bore = body(&demo::shapes::cylinder(DVec3::X * -1.0, DVec3::X * 42.0, 12.6));
        let part = Part::from_mesh(&outside.with(&[], &[bore]).unwrap().traced().mesh).unwrap();
        let queries = Queries::new(part.mesh.clone());
        let surface = Divided::of(&part);
        let mut seen = 0;
        for (piece, wall) in surface.pieces.iter().zip(map(&part, &queries, &surface)) {
            let at = piece.centroid();
            if !(5.0..35.0).contains(&at.x) {
                continue;
            }
            seen += 1;
            // facets lie off the true surfaces by 0.005 on either side
            assert!((wall.ray.unwrap() - 2.4).abs() < 0.011, "{wall:?} at {at}");
            assert!((wall.sphere.unwrap() - 2.4).abs() < 0.02, "{wall:?} at {at}");
        }
        assert!(seen > 1000);
    }

    #[test]
    fn in_a_wedge_the_sphere_is_smaller_than_the_ray() {
        // 30° between floor and roof, opening along x: at x the ray is x tan 30°, the sphere's
        // diameter 2 x tan 15°
        let tip = 20.0 * 30.0_f64.to_radians().tan();
        let wedge = demo::shapes::prism(
            &[DVec3::ZERO, DVec3::new(20.0, 0.0, 0.0), DVec3::new(20.0, 0.0, tip)],
            DVec3::Y * 30.0,
        );
        let part = Part::from_mesh(&wedge).unwrap();
        let queries = Queries::new(part.mesh.clone());
        let p = DVec3::new(8.0, 15.0, 0.0);
        let hit = queries.nearest(p, 1.0).unwrap();
        let wall = thickness(&part, &queries, hit.triangle, p);
        assert!((wall.ray.unwrap() - 8.0 * 30.0_f64.to_radians().tan()).abs() < 1e-6);
        assert!((wall.sphere.unwrap() - 16.0 * 15.0_f64.to_radians().tan()).abs() < 0.02, "{wall:?}");
    }
}
