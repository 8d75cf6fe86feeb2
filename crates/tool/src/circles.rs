//! Circles drawn on a part: what of its surface lies within a radius of a place.

use crate::region::Nearest;
use glam::DVec3;
use solid::{
    Mesh,
    queries::{Queries, nearest_on},
    segment::foot,
};
use std::sync::OnceLock;

/// A circle, with the side of the part it lies on.
pub struct Disc {
    pub at: DVec3,
    pub radius: f64,
    /// Outward unit normal of the surface at its middle: the circle reaches no surface that faces the other way.
    pub out: DVec3,
}

/// Circles, and the facets that they reach.
#[derive(Default)]
pub struct Circles {
    pub discs: Vec<Disc>,
    facets: Vec<[DVec3; 3]>,
    /// Which circle reaches each of the facets; one that several reach is there for each of them.
    of: Vec<u32>,
    tree: OnceLock<Option<Queries>>,
}

impl Circles {
    /// `queries` are against the part's own mesh.
    pub fn add(&mut self, disc: Disc, queries: &Queries) {
        let k = self.discs.len() as u32;
        for t in queries.in_box(disc.at - disc.radius, disc.at + disc.radius) {
            let mesh = queries.mesh();
            let corners = mesh.corners(t as usize);
            if mesh.normal(t as usize).dot(disc.out) > 0.0 && nearest_within(disc.at, corners, &disc).is_some() {
                self.facets.push(corners);
                self.of.push(k);
            }
        }
        self.discs.push(disc);
    }

    /// About how much memory it takes, bytes.
    pub fn bytes(&self) -> usize {
        // as much again for the tree
        2 * size_of_val(&self.facets[..])
    }

    /// The place of the circles nearest to a point, of those that are wanted and no farther than `most` mm.
    pub fn nearest(&self, p: DVec3, most: f64, wanted: impl Fn(&Disc) -> bool) -> Option<Nearest> {
        let tree = self.tree.get_or_init(|| (!self.facets.is_empty()).then(|| Queries::new(soup(&self.facets))));
        let place = |t: u32| {
            let disc = &self.discs[self.of[t as usize] as usize];
            wanted(disc).then(|| nearest_within(p, self.facets[t as usize], disc))?
        };
        let hit = tree.as_ref()?.nearest_place(p, most, place)?;
        Some(Nearest { distance: hit.distance, at: hit.point })
    }
}

/// The place nearest to `p` of what of a triangle lies within a circle's radius; `None` where nothing does. That is flat
/// and convex: its nearest place is that of the triangle, or that of the ball's circle in its plane, or lies on an edge.
fn nearest_within(p: DVec3, corners: [DVec3; 3], disc: &Disc) -> Option<DVec3> {
    const TINY: f64 = 1e-12; // mm²
    let on = |p: DVec3| nearest_on(corners, p);
    let square = disc.radius * disc.radius;
    let nearest = on(p);
    if nearest.distance_squared(disc.at) <= square {
        return Some(nearest);
    }
    let [a, b, c] = corners;
    let up = (b - a).cross(c - a).normalize_or_zero();
    let off = (disc.at - a).dot(up);
    let round = square - off * off;
    if round < 0.0 {
        return None;
    }
    let middle = disc.at - off * up;
    let from = (p - middle).reject_from_normalized(up);
    let rim = middle + from.clamp_length_max(round.sqrt());
    if on(rim).distance_squared(rim) <= TINY {
        return Some(rim);
    }
    [[a, b], [b, c], [c, a]]
        .into_iter()
        .filter_map(|[a, b]| {
            // what of the edge lies within the radius
            let half = foot_on_line(disc.at, a, b);
            let reach = square - half.distance_squared(disc.at);
            let along = (b - a).normalize_or_zero() * reach.max(0.0).sqrt();
            let (from, to) = (foot(half - along, [a, b]), foot(half + along, [a, b]));
            let within = |p: DVec3| p.distance_squared(disc.at) <= square * (1.0 + 1e-12) + TINY;
            (reach >= 0.0 && within(from) && within(to)).then(|| foot(p, [from, to]))
        })
        .min_by(|u, v| u.distance_squared(p).total_cmp(&v.distance_squared(p)))
}

fn foot_on_line(p: DVec3, a: DVec3, b: DVec3) -> DVec3 {
    a + (p - a).project_onto_normalized((b - a).normalize_or(DVec3::X))
}

pub fn soup(facets: &[[DVec3; 3]]) -> Mesh {
    Mesh {
        vertices: facets.as_flattened().to_vec(),
        triangles: (0..facets.len() as u32).map(|t| [3 * t, 3 * t + 1, 3 * t + 2]).collect(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn place() -> impl Strategy<Value = DVec3> {
        (-3.0..3.0f64, -3.0..3.0f64, -3.0..3.0f64).prop_map(|(x, y, z)| DVec3::new(x, y, z))
    }

    proptest! {
        /// Against 5,151 places of the triangle, 0.1 mm apart at most.
        #[test]
        fn of_a_triangle_in_a_ball_no_place_is_nearer(
            p in place(), corners in [place(), place(), place()], at in place(), radius in 0.3..3.0f64,
        ) {
            let disc = Disc { at, radius, out: DVec3::Z };
            let [a, b, c] = corners;
            let steps = (0..=100).flat_map(|i| (0..=100 - i).map(move |k| (f64::from(i) / 100.0, f64::from(k) / 100.0)));
            let inside = steps.map(|(s, t)| a + s * (b - a) + t * (c - a)).filter(|q| q.distance(at) <= radius);
            let least = inside.map(|q| q.distance(p)).min_by(f64::total_cmp);
            let found = nearest_within(p, corners, &disc);
            if let Some(found) = found {
                prop_assert!(found.distance(at) <= radius + 1e-6);
                prop_assert!(nearest_on(corners, found).distance(found) < 1e-6);
            }
            if let Some(least) = least {
                let found = found.unwrap().distance(p);
                prop_assert!(found <= least + 1e-9 && found > least - 0.15, "{found} for {least}");
            }
        }
    }
}
