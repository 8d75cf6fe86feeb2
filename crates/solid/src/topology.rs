//! Who neighbours whom across the edges of a mesh.

use crate::mesh::Mesh;
use rayon::prelude::*;

/// One side of an edge: the triangle it belongs to, its two ends in the triangle's order.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct HalfEdge {
    pub triangle: u32,
    pub from: u32,
    pub to: u32,
}

/// All half-edges, sorted so that those of one edge stand together.
fn sorted(mesh: &Mesh) -> Vec<(u64, HalfEdge)> {
    let mut all: Vec<(u64, HalfEdge)> = Vec::with_capacity(mesh.triangles.len() * 3);
    for (at, t) in mesh.triangles.iter().enumerate() {
        for k in 0..3 {
            let (from, to) = (t[k], t[(k + 1) % 3]);
            let key = (u64::from(from.min(to)) << 32) | u64::from(from.max(to));
            all.push((key, HalfEdge { triangle: at as u32, from, to }));
        }
    }
    all.par_sort_unstable_by_key(|(key, h)| (*key, h.triangle));
    all
}

/// Calls `visit` once for each edge with all its half-edges.
pub fn for_each_edge(mesh: &Mesh, mut visit: impl FnMut(&[HalfEdge])) {
    let all = sorted(mesh);
    let mut start = 0;
    let mut run = Vec::new();
    while start < all.len() {
        let end = start + all[start..].iter().take_while(|(key, _)| *key == all[start].0).count();
        run.clear();
        run.extend(all[start..end].iter().map(|(_, h)| *h));
        visit(&run);
        start = end;
    }
}

/// A pair of neighbouring triangles and the edge between them, in the first one's direction.
#[derive(Clone, Copy, Debug)]
pub struct Neighbours {
    pub triangles: [u32; 2],
    pub edge: [u32; 2],
}

/// All edges that join exactly two triangles running opposite ways.
#[must_use]
pub fn neighbours(mesh: &Mesh) -> Vec<Neighbours> {
    let mut pairs = Vec::with_capacity(mesh.triangles.len() * 3 / 2);
    for_each_edge(mesh, |edge| {
        if let [a, b] = edge
            && a.from == b.to
        {
            pairs.push(Neighbours { triangles: [a.triangle, b.triangle], edge: [a.from, a.to] });
        }
    });
    pairs
}

/// Vertices on edges that don't join exactly two triangles, in ascending order.
#[must_use]
pub fn open_vertices(mesh: &Mesh) -> Vec<u32> {
    let mut open = Vec::new();
    for_each_edge(mesh, |edge| {
        if edge.len() != 2 {
            open.extend([edge[0].from, edge[0].to]);
        }
    });
    open.sort_unstable();
    open.dedup();
    open
}

/// Groups joined step by step; the root of a group is its least member.
#[derive(Clone, Debug)]
pub struct Groups(Vec<u32>);

impl Groups {
    #[must_use]
    pub fn new(count: usize) -> Self {
        Self((0..count as u32).collect())
    }

    pub fn root(&mut self, mut at: u32) -> u32 {
        while self.0[at as usize] != at {
            self.0[at as usize] = self.0[self.0[at as usize] as usize];
            at = self.0[at as usize];
        }
        at
    }

    pub fn join(&mut self, a: u32, b: u32) {
        let (a, b) = (self.root(a), self.root(b));
        self.0[a.max(b) as usize] = a.min(b);
    }
}
