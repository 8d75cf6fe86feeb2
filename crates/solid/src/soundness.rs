//! Is the part a closed solid? What is wrong is counted and shown where it is.

use crate::segment::{height, longest_edge};
use crate::{
    crossing, faces,
    mesh::Mesh,
    shells,
    topology::{Groups, for_each_edge},
};
use glam::DVec3;
use serde::{Deserialize, Serialize};

/// At most this many places of each kind are kept to be shown; all are counted.
pub const SHOWN: usize = 2000;

/// What was found. A part can be marked when [`Soundness::is_solid`].
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Soundness {
    /// Edges that only one triangle has.
    pub open_edges: usize,
    /// Edges that three or more triangles share.
    pub crowded_edges: usize,
    /// Edges whose two triangles face opposite sides.
    pub flipped_edges: usize,
    /// Pairs of triangles that pass through one another, of very many at least so many; `None` where this was not looked for.
    pub crossings: Option<usize>,
    /// Closed shells that face the wrong way for where they lie: inside another one but outward, so that
    /// material is there twice, or a hollow outside.
    pub misfacing: usize,
    /// Separate closed shells; a hollow that is shut off counts as one.
    pub shells: usize,
    /// Segments that show the open, crowded and flipped edges, mm.
    pub bad_edges: Vec<[DVec3; 2]>,
    /// Corners of triangles that cross others.
    pub crossing_triangles: Vec<[DVec3; 3]>,
    /// Facets lower than the face tolerance: harmless to the solid, but a sign of a poor mesh.
    pub slivers: usize,
    /// Their longest edges, to show them.
    pub sliver_edges: Vec<[DVec3; 2]>,
    /// The file was inside out and has been turned.
    pub turned: bool,
}

impl Soundness {
    #[must_use]
    pub fn is_closed(&self) -> bool {
        self.open_edges == 0 && self.crowded_edges == 0 && self.flipped_edges == 0
    }

    /// Open, but sound otherwise: it can be meant as a surface body.
    #[must_use]
    pub fn is_surface_body(&self) -> bool {
        self.open_edges > 0
            && self.crowded_edges == 0
            && self.flipped_edges == 0
            && self.crossings.is_none_or(|n| n == 0)
    }

    #[must_use]
    pub fn is_solid(&self) -> bool {
        self.is_closed() && self.crossings.is_none_or(|n| n == 0) && self.misfacing == 0
    }

    /// Takes down the pairs of triangles of `mesh` that cross.
    pub fn crossed(&mut self, mesh: &Mesh, pairs: &[[u32; 2]]) {
        self.crossings = Some(pairs.len());
        self.crossing_triangles =
            pairs.iter().flat_map(|pair| pair.map(|t| mesh.corners(t as usize))).take(SHOWN).collect();
    }

    /// What is wrong and what to do, in two sentences; `None` for a sound part.
    #[must_use]
    pub fn complaint(&self) -> Option<String> {
        Some(format!("{} Close it in the program it was drawn in and drop it again.", self.faults("The part")?))
    }

    /// What is wrong with `what`, in one sentence; `None` where it is sound.
    #[must_use]
    pub fn faults(&self, what: &str) -> Option<String> {
        let mut wrong = Vec::new();
        for (count, one, many) in [
            (self.open_edges, "open edge", "open edges"),
            (self.crowded_edges, "edge shared by more than two triangles", "edges shared by more than two triangles"),
            (self.flipped_edges, "edge where the surface turns inside out", "edges where the surface turns inside out"),
            (
                self.misfacing,
                "shell that lies in another but faces outward",
                "shells that lie in others but face outward",
            ),
            (self.crossings.unwrap_or(0), "pair of triangles that cross", "pairs of triangles that cross"),
        ] {
            match count {
                0 => {}
                1 => wrong.push(format!("1 {one}")),
                n if n >= crossing::MOST_PAIRS && self.crossings == Some(n) => {
                    wrong.push(format!("at least {n} {many}"));
                }
                n => wrong.push(format!("{n} {many}")),
            }
        }
        (!wrong.is_empty()).then(|| format!("{what} is not a closed solid: {}.", wrong.join(", ")))
    }
}

/// Looks at every edge, and at every pair of triangles that might cross.
#[must_use]
pub fn examine(mesh: &Mesh) -> Soundness {
    let mut found = at_edges(mesh);
    found.crossed(mesh, &crossing::crossing_pairs(mesh));
    found
}

/// What the edges tell; crossings are not looked for.
#[must_use]
pub fn at_edges(mesh: &Mesh) -> Soundness {
    let mut found = Soundness::default();
    let mut groups = Groups::new(mesh.triangles.len());
    for_each_edge(mesh, |edge| {
        let bad = match edge {
            [a, b] if a.from == b.to => false,
            [_, _] => {
                found.flipped_edges += 1;
                true
            }
            [_] => {
                found.open_edges += 1;
                true
            }
            _ => {
                found.crowded_edges += 1;
                true
            }
        };
        for other in &edge[1..] {
            groups.join(edge[0].triangle, other.triangle);
        }
        if bad && found.bad_edges.len() < SHOWN {
            found.bad_edges.push([edge[0].from, edge[0].to].map(|v| mesh.vertices[v as usize]));
        }
    });
    slivers(mesh, &mut found);
    found.shells = (0..mesh.triangles.len() as u32).filter(|&t| groups.root(t) == t).count();
    if found.shells > 1 && found.is_closed() {
        found.misfacing = shells::misfacing(mesh);
    }
    found
}

/// Counts facets whose height over their longest edge is below the face tolerance.
fn slivers(mesh: &Mesh, found: &mut Soundness) {
    let least = faces::tolerance(mesh);
    for t in 0..mesh.triangles.len() {
        let corners = mesh.corners(t);
        if height(&corners) < least {
            found.slivers += 1;
            if found.sliver_edges.len() < SHOWN {
                let from = longest_edge(&corners).0;
                found.sliver_edges.push([corners[from], corners[(from + 1) % 3]]);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_sliver_is_counted_and_is_no_fault() {
        // a tetrahedron 20 long whose base has a fourth corner 0.0004 inside one of its edges
        let v = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        let vertices =
            vec![v(0.0, 0.0, 0.0), v(20.0, 0.0, 0.0), v(0.0, 20.0, 0.0), v(0.0, 0.0, 20.0), v(10.0, 0.0004, 0.0)];
        let triangles = vec![[0, 2, 4], [4, 2, 1], [0, 4, 1], [0, 1, 3], [1, 2, 3], [0, 3, 2]];
        let mesh = Mesh { vertices, triangles };
        let found = examine(&mesh);
        assert_eq!((found.slivers, found.is_solid()), (1, true), "{found:?}");
        assert_eq!(found.sliver_edges[0][0].distance(found.sliver_edges[0][1]), 20.0);
    }
}
