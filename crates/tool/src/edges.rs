//! Edges of the part: runs of mesh edges between the same two faces, from corner to corner or all
//! the way round.

use glam::DVec3;
use solid::segment::foot;
use solid::{Part, topology::neighbours};
use std::collections::{HashMap, HashSet};

/// An edge of the part as its points, mm; a closed one ends where it begins.
pub type Run = Vec<DVec3>;

/// All places where two faces meet, by which edges are found.
pub struct Edges {
    /// Ends of each piece, by vertex, and the two faces it lies between.
    pieces: Vec<([u32; 2], [u32; 2])>,
    /// Pieces at each vertex.
    at: HashMap<u32, Vec<u32>>,
    points: Vec<DVec3>,
}

impl Edges {
    #[must_use]
    pub fn of(part: &Part) -> Self {
        let mut pieces = Vec::new();
        for pair in neighbours(&part.mesh) {
            let mut faces = pair.triangles.map(|t| part.face_of[t as usize]);
            faces.sort_unstable();
            if faces[0] != faces[1] {
                pieces.push((pair.edge, faces));
            }
        }
        let mut at: HashMap<u32, Vec<u32>> = HashMap::new();
        for (number, (ends, _)) in pieces.iter().enumerate() {
            for end in ends {
                at.entry(*end).or_default().push(number as u32);
            }
        }
        Self { pieces, at, points: part.mesh.vertices.clone() }
    }

    /// The edge that runs nearest to `p`; `None` for a part of one face.
    #[must_use]
    pub fn nearest(&self, p: DVec3) -> Option<Run> {
        let off = |ends: &[u32; 2]| foot(p, ends.map(|v| self.points[v as usize])).distance_squared(p);
        let first =
            (0..self.pieces.len()).min_by(|&a, &b| off(&self.pieces[a].0).total_cmp(&off(&self.pieces[b].0)))? as u32;
        let mut used = HashSet::from([first]);
        let ends = self.pieces[first as usize].0;
        let forward = self.follow(first, ends[1], &mut used);
        let backward = self.follow(first, ends[0], &mut used);
        let order = backward.iter().rev().chain(&ends).chain(&forward);
        Some(order.map(|&v| self.points[v as usize]).collect())
    }

    /// Vertices beyond `end` on the same edge, to the corner where it ends.
    fn follow(&self, first: u32, mut end: u32, used: &mut HashSet<u32>) -> Vec<u32> {
        let faces = self.pieces[first as usize].1;
        let mut passed = Vec::new();
        loop {
            // where a third face touches, the edge ends
            let here = &self.at[&end];
            if here.len() != 2 {
                return passed;
            }
            let Some(&next) = here.iter().find(|n| !used.contains(n) && self.pieces[**n as usize].1 == faces) else {
                return passed;
            };
            used.insert(next);
            let [a, b] = self.pieces[next as usize].0;
            end = if a == end { b } else { a };
            passed.push(end);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn length(run: &Run) -> f64 {
        run.windows(2).map(|w| w[0].distance(w[1])).sum()
    }

    #[test]
    fn a_blocks_edge_runs_from_corner_to_corner_and_a_rim_all_the_way_round() {
        let block = Part::from_mesh(&demo::shapes::block(DVec3::ZERO, DVec3::new(60.0, 30.0, 12.0))).unwrap();
        let run = Edges::of(&block).nearest(DVec3::new(20.0, 0.4, 11.5)).unwrap();
        assert_eq!(length(&run), 60.0);
        assert!(run.iter().all(|p| p.y == 0.0 && p.z == 12.0));
        let disc = Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::Z * 4.0, 10.0)).unwrap();
        let run = Edges::of(&disc).nearest(DVec3::new(11.0, 0.0, 3.9)).unwrap();
        assert_eq!(run.first(), run.last());
        assert!(run.iter().all(|p| (p.z - 4.0).abs() < 1e-9));
        assert!((length(&run) - std::f64::consts::TAU * 10.0).abs() < 0.1);
    }
}
