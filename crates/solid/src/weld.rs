//! Joining the loose triangles of a file into a mesh with shared vertices.
//!
//! Corners that are equal to the last bit are joined first; that closes what well-made files hold.
//! Only if edges stay open are corners joined that lie within a stated tolerance, and only those
//! on open edges, so that fine detail elsewhere is never merged.

use crate::{mesh::Mesh, topology::open_vertices};
use glam::DVec3;
use hashbrown::HashMap as FastMap;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// What welding did.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Welded {
    /// Corners joined that were not equal, and within which distance, mm.
    pub joined_apart: usize,
    pub tolerance: f64,
    /// Triangles left out because two of their corners are one point.
    pub dropped: usize,
}

/// `mesh` with equal vertices shared and triangles without three distinct corners left out.
#[must_use]
pub fn weld(mesh: &Mesh, tolerance: f64) -> (Mesh, Welded) {
    let (welded, _, report) = weld_traced(mesh, tolerance);
    (welded, report)
}

/// As [`weld`], with the place in `mesh` of each triangle that is left.
#[must_use]
pub fn weld_traced(mesh: &Mesh, tolerance: f64) -> (Mesh, Vec<u32>, Welded) {
    let mut report = Welded { tolerance, ..Welded::default() };
    let mut kept: Vec<u32> = (0..mesh.triangles.len() as u32).collect();
    let mut welded = join_equal(mesh, &mut kept);
    let open = open_vertices(&welded);
    if !open.is_empty() {
        join_near(&mut welded, &open, &mut kept, &mut report);
    }
    report.dropped = mesh.triangles.len() - kept.len();
    (welded, kept, report)
}

fn join_equal(mesh: &Mesh, kept: &mut Vec<u32>) -> Mesh {
    let mut seen: FastMap<[u64; 3], u32> = FastMap::with_capacity(mesh.vertices.len() / 4);
    let mut vertices = Vec::new();
    let renumbered: Vec<u32> = mesh
        .vertices
        .iter()
        .map(|v| {
            // + 0.0 makes -0 and 0 one value
            let key = [(v.x + 0.0).to_bits(), (v.y + 0.0).to_bits(), (v.z + 0.0).to_bits()];
            *seen.entry(key).or_insert_with(|| {
                vertices.push(*v);
                vertices.len() as u32 - 1
            })
        })
        .collect();
    let triangles = renumber(&mesh.triangles, &renumbered, kept);
    Mesh { vertices, triangles }
}

/// The triangles under their new vertices, without those that lost a corner; `kept` loses the same.
fn renumber(triangles: &[[u32; 3]], to: &[u32], kept: &mut Vec<u32>) -> Vec<[u32; 3]> {
    let (triangles, left) = triangles
        .iter()
        .zip(kept.iter())
        .map(|(t, &at)| (t.map(|v| to[v as usize]), at))
        .filter(|([a, b, c], _)| a != b && b != c && c != a)
        .unzip();
    *kept = left;
    triangles
}

fn join_near(mesh: &mut Mesh, open: &[u32], kept: &mut Vec<u32>, report: &mut Welded) {
    let tolerance = report.tolerance;
    let cell = |v: DVec3| (v / tolerance).floor().to_array().map(|c| c as i64);
    let mut grid: HashMap<[i64; 3], Vec<u32>> = HashMap::new();
    let mut to: Vec<u32> = (0..mesh.vertices.len() as u32).collect();
    for &v in open {
        let at = mesh.vertices[v as usize];
        let [x, y, z] = cell(at);
        let near = (-1..=1)
            .flat_map(|i| (-1..=1).flat_map(move |j| (-1..=1).map(move |k| [x + i, y + j, z + k])))
            .filter_map(|c| grid.get(&c))
            .flatten()
            .find(|&&o| mesh.vertices[o as usize].distance(at) <= tolerance);
        match near {
            Some(&other) => {
                to[v as usize] = other;
                report.joined_apart += 1;
            }
            None => grid.entry(cell(at)).or_default().push(v),
        }
    }
    mesh.triangles = renumber(&mesh.triangles, &to, kept);
}
