//! Triangles of one mesh that pass through one another.
//!
//! Candidates come from a box tree; a pair crosses when an edge of one properly pierces the inside
//! of the other. Pairs that share an edge are left out, of pairs that share one vertex the edges
//! opposite to it are tried. Coplanar overlaps are not seen.

use crate::{mesh::Mesh, queries::box_tree};
use glam::DVec3;
use rayon::prelude::*;

/// The search ends where so many pairs were found: a tangle of triangles has billions.
pub const MOST_PAIRS: usize = 200_000;
/// Triangles that are looked at between two looks at how many were found, at first and at most.
const AT_ONCE: [usize; 2] = [512, 65_536];

/// All pairs of crossing triangles, each once, in ascending order; of more than [`MOST_PAIRS`] at least as many.
#[must_use]
pub fn crossing_pairs(mesh: &Mesh) -> Vec<[u32; 2]> {
    let tree = box_tree(mesh);
    let slack = mesh.diagonal() * 1e-9;
    let normals: Vec<DVec3> = (0..mesh.triangles.len()).map(|t| mesh.normal(t)).collect();
    let with = |one: u32| {
        let corners = mesh.corners(one as usize);
        let aabb = parry3d_f64::bounding_volume::Aabb::from_points(corners);
        tree.intersect_aabb(&aabb)
            .filter(|&other| other > one && cross(mesh, &normals, [one, other], slack))
            .map(|other| [one, other])
            .collect::<Vec<_>>()
    };
    let count = mesh.triangles.len();
    let mut pairs: Vec<[u32; 2]> = Vec::new();
    let (mut next, mut step) = (0, AT_ONCE[0]);
    while next < count && pairs.len() < MOST_PAIRS {
        let end = (next + step).min(count);
        pairs.par_extend((next as u32..end as u32).into_par_iter().flat_map_iter(with));
        (next, step) = (end, (2 * step).min(AT_ONCE[1]));
    }
    pairs.sort_unstable();
    pairs
}

fn cross(mesh: &Mesh, normals: &[DVec3], [one, other]: [u32; 2], slack: f64) -> bool {
    let (t, u) = (mesh.triangles[one as usize], mesh.triangles[other as usize]);
    let shared = t.iter().filter(|v| u.contains(v)).count();
    if shared >= 2 {
        return false;
    }
    let pierces = |edges: [u32; 3], face: [u32; 3], normal: DVec3| {
        let triangle = face.map(|v| mesh.vertices[v as usize]);
        // how far the corners lie off the plane; most lie on one side of it
        let ends = edges.map(|v| mesh.vertices[v as usize]);
        let off = ends.map(|p| (p - triangle[0]).dot(normal));
        (0..3).map(|k| [k, (k + 1) % 3]).any(|[k, next]| {
            let passes = off[k].abs() > slack && off[next].abs() > slack && (off[k] > 0.0) != (off[next] > 0.0);
            passes && ![edges[k], edges[next]].iter().any(|e| face.contains(e)) && {
                let at = ends[k] + (ends[next] - ends[k]) * (off[k] / (off[k] - off[next]));
                is_inside(at, triangle, normal, slack)
            }
        })
    };
    pierces(t, u, normals[other as usize]) || pierces(u, t, normals[one as usize])
}

/// Does a point of its plane lie inside the triangle, by more than `slack`?
fn is_inside(at: DVec3, [a, b, c]: [DVec3; 3], normal: DVec3, slack: f64) -> bool {
    [(a, b), (b, c), (c, a)].iter().all(|&(from, to)| {
        let edge = to - from;
        edge.cross(at - from).dot(normal) > slack * edge.length()
    })
}
