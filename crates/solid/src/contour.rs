//! The outline of a group of triangles: its boundary edges chained into closed loops.

use crate::mesh::Mesh;
use std::collections::HashMap;

/// Closed loops of vertex numbers around the triangles `group`, with the group to the left of
/// each edge as seen from outside. Edges inside the group are left out.
///
/// Where several loops touch in one vertex, each is closed as soon as it can be.
#[must_use]
pub fn loops(mesh: &Mesh, group: impl IntoIterator<Item = u32>) -> Vec<Vec<u32>> {
    let mut edges: HashMap<(u32, u32), ()> = HashMap::new();
    for t in group {
        let t = mesh.triangles[t as usize];
        for k in 0..3 {
            let (from, to) = (t[k], t[(k + 1) % 3]);
            if edges.remove(&(to, from)).is_none() {
                edges.insert((from, to), ());
            }
        }
    }
    chain(edges.into_keys())
}

/// Directed edges chained into closed loops, in an order that depends on the vertex numbers only.
/// Edges that close no loop are left out.
#[must_use]
pub fn chain(edges: impl IntoIterator<Item = (u32, u32)>) -> Vec<Vec<u32>> {
    let mut edges: Vec<(u32, u32)> = edges.into_iter().collect();
    edges.sort_unstable();
    let mut next: HashMap<u32, Vec<u32>> = HashMap::new();
    for &(from, to) in edges.iter().rev() {
        next.entry(from).or_default().push(to);
    }
    let mut found = Vec::new();
    for &(start, _) in &edges {
        let mut path: Vec<u32> = Vec::new();
        let mut place: HashMap<u32, usize> = HashMap::new();
        let mut at = start;
        while let Some(to) = next.get_mut(&at).and_then(Vec::pop) {
            place.insert(at, path.len());
            path.push(at);
            at = to;
            if let Some(&from) = place.get(&at) {
                let ring: Vec<u32> = path.drain(from..).collect();
                for v in &ring {
                    place.remove(v);
                }
                found.push(ring);
            }
        }
    }
    found
}
