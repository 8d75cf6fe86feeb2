//! The shells of a mesh: pieces that hang together over edges, which of them are closed, and which face the wrong way
//! for where they lie.

use crate::{
    mesh::Mesh,
    queries::Queries,
    topology::{Groups, for_each_edge},
};
use glam::DVec3;
use std::collections::{BTreeMap, HashMap};

/// Shells that are looked at for lying in one another.
const MOST_NESTED: usize = 200;

/// The shell of each triangle, numbered by their least triangle, and the triangles of each.
pub(crate) fn shells(mesh: &Mesh) -> BTreeMap<u32, Vec<u32>> {
    let mut groups = Groups::new(mesh.triangles.len());
    for_each_edge(mesh, |edge| {
        for other in &edge[1..] {
            groups.join(edge[0].triangle, other.triangle);
        }
    });
    let mut shells: BTreeMap<u32, Vec<u32>> = BTreeMap::new();
    for t in 0..mesh.triangles.len() as u32 {
        shells.entry(groups.root(t)).or_default().push(t);
    }
    shells
}

/// The facets of a shell with the vertices they use.
pub(crate) fn piece(mesh: &Mesh, shell: &[u32]) -> Mesh {
    let mut numbers: HashMap<u32, u32> = HashMap::new();
    let mut out = Mesh::default();
    for &t in shell {
        out.triangles.push(mesh.triangles[t as usize].map(|v| {
            *numbers.entry(v).or_insert_with(|| {
                out.vertices.push(mesh.vertices[v as usize]);
                out.vertices.len() as u32 - 1
            })
        }));
    }
    out
}

pub(crate) fn closed(mesh: &Mesh) -> bool {
    let mut closed = !mesh.triangles.is_empty();
    for_each_edge(mesh, |edge| closed &= edge.len() == 2 && edge[0].from == edge[1].to);
    closed
}

/// For each closed piece: does it face the wrong way for how many others it lies in? `None` for open
/// ones. With a great many pieces (text engraved as loose shells) only their own sense is asked.
pub(crate) fn wrong_way(pieces: &[Mesh]) -> Vec<Option<bool>> {
    let solid: Vec<bool> = pieces.iter().map(closed).collect();
    let around: Vec<Option<Queries>> = pieces
        .iter()
        .zip(&solid)
        .map(|(p, &s)| (s && pieces.len() <= MOST_NESTED).then(|| Queries::new(p.clone())))
        .collect();
    (0..pieces.len())
        .map(|at| {
            let inside = |o: &usize| *o != at && around[*o].as_ref().is_some_and(|q| holds(q, &pieces[at]));
            solid[at].then(|| (pieces[at].volume() > 0.0) != (0..pieces.len()).filter(inside).count().is_multiple_of(2))
        })
        .collect()
}

/// Closed shells that face the wrong way for where they lie.
#[must_use]
pub fn misfacing(mesh: &Mesh) -> usize {
    let pieces: Vec<Mesh> = shells(mesh).values().map(|s| piece(mesh, s)).collect();
    let wrong = wrong_way(&pieces).into_iter().filter(|w| *w == Some(true)).count();
    // a part that is inside out as a whole is turned without being asked
    if wrong == pieces.len() { 0 } else { wrong }
}

/// Does the closed shell hold a point of the other? By the parity of a ray's crossings.
fn holds(shell: &Queries, other: &Mesh) -> bool {
    let Some(&first) = other.triangles.first() else { return false };
    let from = first.map(|v| other.vertices[v as usize]).iter().sum::<DVec3>() / 3.0;
    // a direction that meets no edge of a part drawn along its axes
    let way = DVec3::new(0.571, 0.307, 0.761).normalize();
    let (mut count, mut near) = (0, 0.0);
    while let Some(hit) = shell.first_hit(from, way, near, f64::MAX, |_| true) {
        count += 1;
        near = hit.distance + 1e-9;
        if count > 10_000 {
            break;
        }
    }
    count % 2 == 1
}
