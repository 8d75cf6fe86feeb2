//! The part cut by a plane: the segments where its facets pass through it.

use crate::mesh::Mesh;
use glam::DVec3;

/// Segments of the section of `mesh` with the plane `normal · p = height` (`normal` a unit vector,
/// height in mm along it). A vertex on the plane counts as above it, so that each crossing is met
/// exactly once.
#[must_use]
pub fn section(mesh: &Mesh, normal: DVec3, height: f64) -> Vec<[DVec3; 2]> {
    let off: Vec<f64> = mesh.vertices.iter().map(|v| v.dot(normal) - height).collect();
    let mut segments = Vec::new();
    for t in &mesh.triangles {
        let above = t.map(|v| off[v as usize] >= 0.0);
        if above[0] == above[1] && above[1] == above[2] {
            continue;
        }
        let mut ends = [DVec3::ZERO; 2];
        for k in 0..3 {
            let (a, b) = (t[k], t[(k + 1) % 3]);
            let (da, db) = (off[a as usize], off[b as usize]);
            if (da >= 0.0) != (db >= 0.0) {
                let at = mesh.vertices[a as usize].lerp(mesh.vertices[b as usize], da / (da - db));
                ends[usize::from(da >= 0.0)] = at;
            }
        }
        segments.push(ends);
    }
    segments
}

/// Area enclosed by the section, mm²: positive for a closed mesh that faces outward.
#[must_use]
pub fn section_area(mesh: &Mesh, normal: DVec3, height: f64) -> f64 {
    let (x, y) = normal.any_orthonormal_pair();
    section(mesh, normal, height)
        .iter()
        .map(|[a, b]| (a.dot(x) * b.dot(y) - b.dot(x) * a.dot(y)) / 2.0)
        .sum::<f64>()
        .abs()
}
