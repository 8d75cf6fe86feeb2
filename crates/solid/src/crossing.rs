//! Triangles of one mesh that pass through one another.
//!
//! Candidates come from a box tree; a pair crosses when an edge of one properly pierces the inside
//! of the other. Pairs that share an edge are left out, of pairs that share one vertex the edges
//! opposite to it are tried. Coplanar overlaps are not seen.

use crate::{mesh::Mesh, queries::box_tree};
use glam::DVec3;
use rayon::prelude::*;

/// All pairs of crossing triangles, each once, in ascending order.
#[must_use]
pub fn crossing_pairs(mesh: &Mesh) -> Vec<[u32; 2]> {
    let tree = box_tree(mesh);
    let slack = mesh.diagonal() * 1e-9;
    let mut pairs: Vec<[u32; 2]> = (0..mesh.triangles.len() as u32)
        .into_par_iter()
        .flat_map_iter(|one| {
            let corners = mesh.corners(one as usize);
            let aabb = parry3d_f64::bounding_volume::Aabb::from_points(corners);
            tree.intersect_aabb(&aabb)
                .filter(|&other| other > one && cross(mesh, one, other, slack))
                .map(|other| [one, other])
                .collect::<Vec<_>>()
        })
        .collect();
    pairs.sort_unstable();
    pairs
}

fn cross(mesh: &Mesh, one: u32, other: u32, slack: f64) -> bool {
    let (t, u) = (mesh.triangles[one as usize], mesh.triangles[other as usize]);
    let shared = t.iter().filter(|v| u.contains(v)).count();
    if shared >= 2 {
        return false;
    }
    let pierces = |edges: [u32; 3], face: [u32; 3]| {
        let triangle = face.map(|v| mesh.vertices[v as usize]);
        (0..3).any(|k| {
            let ends = [edges[k], edges[(k + 1) % 3]];
            !ends.iter().any(|e| face.contains(e)) && pierced(ends.map(|v| mesh.vertices[v as usize]), triangle, slack)
        })
    };
    pierces(t, u) || pierces(u, t)
}

/// Does the segment pass through the inside of the triangle, with both ends more than `slack` off
/// its plane?
fn pierced([p, q]: [DVec3; 2], [a, b, c]: [DVec3; 3], slack: f64) -> bool {
    let normal = (b - a).cross(c - a).normalize_or_zero();
    let (dp, dq) = ((p - a).dot(normal), (q - a).dot(normal));
    if dp.abs() <= slack || dq.abs() <= slack || (dp > 0.0) == (dq > 0.0) {
        return false;
    }
    let at = p + (q - p) * (dp / (dp - dq));
    [(a, b), (b, c), (c, a)].iter().all(|&(from, to)| {
        let edge = to - from;
        edge.cross(at - from).dot(normal) > slack * edge.length()
    })
}
