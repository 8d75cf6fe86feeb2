//! An area of the surface as geometry: is a place in it, how far is one from it, what does it look like?

use crate::{
    circles::{Circles, Disc, soup},
    divided::{divide, normal},
};
use glam::DVec3;
use solid::{Part, queries::Queries, segment::longest_edge};
use std::{collections::HashSet, sync::OnceLock};
use trade::Area;

/// Circles are drawn from pieces no longer than this share of their radius.
const FINE: f64 = 0.12;

pub struct Region {
    faces: HashSet<u32>,
    /// Facets of the faces, and queries against them once somebody asks how far they are.
    facets: Vec<[DVec3; 3]>,
    /// Their outward unit normals.
    normals: Vec<DVec3>,
    surface: OnceLock<Option<Queries>>,
    circles: Circles,
    /// Faces that the part has not, and circles that don't reach its surface.
    pub lost: usize,
}

/// Surface whose outward normal has no more than this along another's, on its inward side, lies behind it.
const BEHIND: f64 = -0.7;

/// A piece of a footprint on the part's surface: a triangle, or a straight piece with one end twice.
#[derive(Clone, Copy, Debug)]
pub struct Footing {
    pub corners: [DVec3; 3],
    /// Outward unit normal of the surface there.
    pub out: DVec3,
}

/// The place of a region nearest to a point.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Nearest {
    /// mm straight through space; 0 inside.
    pub distance: f64,
    pub at: DVec3,
}

impl Region {
    /// About how much memory it takes, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        // as much again for the tree of queries
        2 * size_of_val(&self.facets[..]) + self.circles.bytes()
    }

    /// `queries` are against `part`'s own mesh; faces that the part has not are left out.
    #[must_use]
    pub fn new(area: &Area, part: &Part, queries: &Queries) -> Self {
        let faces: HashSet<u32> = match area {
            Area::Faces { faces } => faces.iter().copied().collect(),
            _ => HashSet::new(),
        };
        let there = |face: &&u32| (**face as usize) < part.faces.len();
        let mut lost = faces.len() - faces.iter().filter(there).count();
        let own = || (0..part.face_of.len()).filter(|&t| faces.contains(&part.face_of[t]));
        let facets = own().map(|t| part.mesh.corners(t)).collect();
        let normals = own().map(|t| part.mesh.normal(t)).collect();
        let mut circles = Circles::default();
        for spot in area.spots() {
            let at = DVec3::from(spot.at);
            match queries.nearest(at, spot.radius) {
                Some(hit) => {
                    let out = normal(part, hit.triangle, hit.point);
                    circles.add(Disc { at, radius: spot.radius, out }, queries);
                }
                None => lost += 1,
            }
        }
        Self { faces, facets, normals, surface: OnceLock::new(), circles, lost }
    }

    /// Is a place of `face` with the outward normal `out` in the area? A circle reaches no surface that
    /// faces the other way: not through a wall.
    #[must_use]
    pub fn covers(&self, face: u32, p: DVec3, out: DVec3) -> bool {
        self.faces.contains(&face)
            || self
                .circles
                .discs
                .iter()
                .any(|d| d.out.dot(out) > 0.0 && d.at.distance_squared(p) <= d.radius * d.radius)
    }

    /// Nothing of it is on the part: its faces are numbers that the part has not.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.facets.is_empty() && self.circles.discs.is_empty()
    }

    #[must_use]
    pub fn has_face(&self, face: u32) -> bool {
        self.faces.contains(&face)
    }

    /// Middles and radii of its circles on surface that faces like `out`.
    pub fn circles(&self, out: DVec3) -> impl Iterator<Item = (DVec3, f64)> + '_ {
        self.circles.discs.iter().filter(move |d| d.out.dot(out) > 0.0).map(|d| (d.at, d.radius))
    }

    /// The nearest place of the area to a point whose surface faces along `out`; `None` when all of it lies behind the
    /// wall that the point is on. Round an edge it is seen.
    #[must_use]
    pub fn nearest(&self, p: DVec3, out: DVec3) -> Option<Nearest> {
        self.within(p, Some(out), f64::MAX)
    }

    /// How far a point lies from the area, mm, behind a wall or not; `None` where there is none.
    #[must_use]
    pub fn distance(&self, p: DVec3) -> Option<f64> {
        self.within(p, None, f64::MAX).map(|near| near.distance)
    }

    /// The same, of what is no farther than `most` mm; without a normal, whether it lies behind the wall or not.
    fn within(&self, p: DVec3, out: Option<DVec3>, most: f64) -> Option<Nearest> {
        let face = self
            .surface
            .get_or_init(|| (!self.facets.is_empty()).then(|| Queries::new(soup(&self.facets))))
            .as_ref()
            .and_then(|s| {
                let seen = |t: u32, at: DVec3| out.is_none_or(|out| !behind(p, out, at, self.normals[t as usize]));
                s.nearest_of(p, most, seen)
            })
            .map(|hit| Nearest { distance: hit.distance, at: hit.point });
        let seen = |d: &Disc| out.is_none_or(|out| !behind(p, out, d.at, d.out));
        let circle = self.circles.nearest(p, most, seen);
        let near = [face, circle].into_iter().flatten().min_by(|a, b| a.distance.total_cmp(&b.distance));
        near.filter(|n| n.distance <= most)
    }

    /// The nearest place of the area to pieces of a footprint, with the piece's own place, to `error` mm. Distance changes
    /// no faster than the place, so that pieces all of which lie farther off than the best need not be looked at one by
    /// one, and neither need what is left of one.
    pub fn nearest_to(&self, pieces: &mut [Footing], error: f64, best: &mut Option<(DVec3, Nearest)>) {
        match pieces {
            [] => return,
            [piece] => return self.nearest_to_one(piece.corners, piece.out, error, best),
            _ => {}
        }
        let corners = || pieces.iter().flat_map(|p| p.corners);
        let (low, high) = corners().fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(l, h), c| (l.min(c), h.max(c)));
        let middle = (low + high) / 2.0;
        let round = corners().map(|c| c.distance(middle)).fold(0.0, f64::max);
        let reached = best.map_or(f64::MAX, |(_, b)| b.distance);
        if self.within(middle, None, reached - error + round).is_none() && best.is_some() {
            return;
        }
        let k = (0..3).max_by(|&i, &j| (high - low)[i].total_cmp(&(high - low)[j])).unwrap_or(0);
        pieces.sort_unstable_by(|a, b| a.corners[0][k].total_cmp(&b.corners[0][k]));
        let (one, other) = pieces.split_at_mut(pieces.len() / 2);
        self.nearest_to(one, error, best);
        self.nearest_to(other, error, best);
    }

    fn nearest_to_one(&self, corners: [DVec3; 3], out: DVec3, error: f64, best: &mut Option<(DVec3, Nearest)>) {
        let mut look = |p: DVec3, more: f64| {
            let reached = best.map_or(f64::MAX, |(_, b)| b.distance);
            let found = self.within(p, Some(out), reached - error + more)?;
            if found.distance < reached {
                *best = Some((p, found));
            }
            Some((found.distance, reached.min(found.distance)))
        };
        let middle = (corners[0] + corners[1] + corners[2]) / 3.0;
        let round = corners.iter().map(|p| p.distance(middle)).fold(0.0, f64::max);
        let Some((found, reached)) = look(middle, round) else { return };
        let least = found - round;
        if round <= error || least >= reached - error || reached <= 0.0 {
            return;
        }
        // the distance from a convex piece bends no more than 1 / distance: between places so near to one another it can't
        // sink by the error
        if round * round <= 2.0 * error * least {
            for p in corners {
                let _ = look(p, 0.0);
            }
            return;
        }
        let (k, _) = longest_edge(&corners);
        let (a, b, c) = (corners[k], corners[(k + 1) % 3], corners[(k + 2) % 3]);
        let half = (a + b) / 2.0;
        self.nearest_to_one([a, half, c], out, error, best);
        self.nearest_to_one([half, b, c], out, error, best);
    }

    /// The area as triangles on the part's facets.
    #[must_use]
    pub fn patch(&self, part: &Part) -> Vec<[DVec3; 3]> {
        let mut patch = Vec::new();
        // most of a large part lies nowhere near
        let discs = &self.circles.discs;
        let around = discs.iter().fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(low, high), d| {
            (low.min(d.at - d.radius), high.max(d.at + d.radius))
        });
        let fine = discs.iter().map(|d| d.radius).fold(f64::MAX, f64::min) * FINE;
        for t in 0..part.mesh.triangles.len() {
            let corners = part.mesh.corners(t);
            if self.faces.contains(&part.face_of[t]) {
                patch.push(corners);
                continue;
            }
            let (low, high) = corners.iter().fold((corners[0], corners[0]), |(l, h), p| (l.min(*p), h.max(*p)));
            if low.cmpgt(around.1).any() || high.cmplt(around.0).any() {
                continue;
            }
            let flat = part.mesh.normal(t);
            let near: Vec<&Disc> = discs
                .iter()
                .filter(|d| d.out.dot(flat) > 0.0 && d.at.clamp(low, high).distance(d.at) <= d.radius)
                .collect();
            if near.is_empty() {
                continue;
            }
            divide(corners, fine, &mut |piece| {
                let middle = (piece[0] + piece[1] + piece[2]) / 3.0;
                if near.iter().any(|d| d.at.distance(middle) <= d.radius) {
                    patch.push(piece);
                }
            });
        }
        patch
    }
}

/// Does a place lie behind the wall that another is on?
fn behind(p: DVec3, out: DVec3, at: DVec3, there: DVec3) -> bool {
    there.dot(out) < BEHIND && (at - p).dot(out) < 1e-6
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use trade::Spot;

    fn plate() -> (Part, Queries) {
        let part = Part::from_mesh(&demo::shapes::block(DVec3::ZERO, DVec3::new(40.0, 30.0, 2.0))).unwrap();
        let queries = Queries::new(part.mesh.clone());
        (part, queries)
    }

    #[test]
    fn a_circle_lies_on_one_side_of_a_wall_only() {
        let (part, queries) = plate();
        let pin = Region::new(&Area::Circle { middle: [10.0, 10.0, 2.0], radius: 4.0 }, &part, &queries);
        let over = DVec3::new(13.0, 10.0, 2.0);
        assert!(pin.covers(0, over, DVec3::Z) && !pin.covers(0, over - DVec3::Z * 2.0, -DVec3::Z));
        let near = pin.nearest(DVec3::new(17.0, 10.0, 2.0), DVec3::Z).unwrap();
        assert!((near.distance - 3.0).abs() < 1e-12 && near.at.distance(DVec3::new(14.0, 10.0, 2.0)) < 1e-12);
        assert_eq!(pin.nearest(over, -DVec3::Z), None);
        let area: f64 = pin.patch(&part).iter().map(|[a, b, c]| (*b - *a).cross(*c - *a).length() / 2.0).sum();
        let disc = std::f64::consts::PI * 16.0;
        assert!((area - disc).abs() < 0.06 * disc, "{area} for {disc}");
    }

    proptest! {
        /// The nearest point of a stretch is no farther than any of its points, and not farther than it by more than the error.
        #[test]
        fn a_stretch_is_as_near_as_its_nearest_point(
            x in 0.0..40.0f64, y in 0.0..30.0f64, u in 0.0..40.0f64, v in 0.0..30.0f64, t in 0.0..1.0f64,
        ) {
            let (part, queries) = plate();
            let spots = vec![Spot { at: [8.0, 8.0, 2.0], radius: 2.0 }, Spot { at: [30.0, 20.0, 2.0], radius: 5.0 }];
            let region = Region::new(&Area::Painted { spots }, &part, &queries);
            let (a, b) = (DVec3::new(x, y, 2.0), DVec3::new(u, v, 2.0));
            let mut best = None;
            region.nearest_to(&mut [Footing { corners: [a, b, b], out: DVec3::Z }], 1e-3, &mut best);
            let (_, near) = best.unwrap();
            let there = region.nearest(a.lerp(b, t), DVec3::Z).unwrap();
            prop_assert!(near.distance <= there.distance + 1e-3);
        }
    }
}
