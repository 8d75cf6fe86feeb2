//! Neighbouring triangles that lie in one plane.

use crate::segment::height;
use crate::{mesh::Mesh, topology::neighbours};
use glam::DVec3;
use rayon::prelude::*;

/// Edges sharper than this are creases that no smooth face crosses.
const CREASE_DEG: f64 = 25.0;

pub(super) struct Flat {
    pub(super) triangles: Vec<u32>,
    pub(super) area: f64,
    pub(super) normal: DVec3,
    /// Middle of its area.
    pub(super) middle: DVec3,
    /// Neighbouring flats over soft edges, and the length of the edges shared with each, mm.
    pub(super) soft: Vec<u32>,
    pub(super) shared: Vec<f64>,
    /// Length of all edges round it, mm.
    pub(super) rim: f64,
}

/// Triangles grouped into flats, and the flat of each triangle.
pub(super) fn flats(mesh: &Mesh, tolerance: f64) -> (Vec<Flat>, Vec<u32>) {
    let count = mesh.triangles.len();
    let pairs = neighbours(mesh);
    let crosses: Vec<DVec3> = (0..count).into_par_iter().map(|t| mesh.cross(t)).collect();
    let normals: Vec<DVec3> = crosses.par_iter().map(|c| c.normalize_or_zero()).collect();
    let areas: Vec<f64> = crosses.par_iter().map(|c| c.length() / 2.0).collect();
    drop(crosses);
    let mut next_to: Vec<[u32; 3]> = vec![[u32::MAX; 3]; count];
    for pair in &pairs {
        for (one, other) in [(0, 1), (1, 0)] {
            let slots = &mut next_to[pair.triangles[one] as usize];
            if let Some(slot) = slots.iter_mut().find(|s| **s == u32::MAX) {
                *slot = pair.triangles[other];
            }
        }
    }
    let mut order: Vec<u32> = (0..count as u32).collect();
    order.par_sort_by(|&a, &b| areas[b as usize].total_cmp(&areas[a as usize]).then(a.cmp(&b)));
    let mut flat_of = vec![u32::MAX; count];
    let mut flats: Vec<Flat> = Vec::new();
    for &seed in &order {
        if flat_of[seed as usize] != u32::MAX {
            continue;
        }
        let id = flats.len() as u32;
        let (normal, origin) = (normals[seed as usize], mesh.corners(seed as usize)[0]);
        let mut triangles = vec![seed];
        flat_of[seed as usize] = id;
        let mut at = 0;
        while at < triangles.len() {
            for &next in next_to[triangles[at] as usize].iter().filter(|&&n| n != u32::MAX) {
                if flat_of[next as usize] == u32::MAX
                    && mesh.corners(next as usize).iter().all(|&v| ((v - origin).dot(normal)).abs() <= tolerance)
                    && lies_along(mesh, next, normals[next as usize], normal, tolerance)
                {
                    flat_of[next as usize] = id;
                    triangles.push(next);
                }
            }
            at += 1;
        }
        let area: f64 = triangles.iter().map(|&t| areas[t as usize]).sum();
        let middle = triangles.iter().map(|&t| mesh.centroid(t as usize) * areas[t as usize]).sum::<DVec3>()
            / area.max(f64::MIN_POSITIVE);
        flats.push(Flat { triangles, area, normal, middle, soft: Vec::new(), shared: Vec::new(), rim: 0.0 });
    }
    let crease = CREASE_DEG.to_radians().cos();
    let mut shared: Vec<Vec<(u32, f64)>> = vec![Vec::new(); flats.len()];
    for pair in &pairs {
        let [a, b] = pair.triangles.map(|t| flat_of[t as usize]);
        if a == b {
            continue;
        }
        let [from, to] = pair.edge.map(|v| mesh.vertices[v as usize]);
        let length = from.distance(to);
        flats[a as usize].rim += length;
        flats[b as usize].rim += length;
        if flats[a as usize].normal.dot(flats[b as usize].normal) > crease {
            shared[a as usize].push((b, length));
            shared[b as usize].push((a, length));
        }
    }
    for (flat, mut beside) in flats.iter_mut().zip(shared) {
        beside.sort_unstable_by_key(|(other, _)| *other);
        for (other, length) in beside {
            match flat.soft.last() {
                Some(last) if *last == other => *flat.shared.last_mut().expect("as long as soft") += length,
                _ => {
                    flat.soft.push(other);
                    flat.shared.push(length);
                }
            }
        }
    }
    (flats, flat_of)
}

/// Is the triangle parallel to the plane? A sliver's own normal means nothing, so what is asked
/// grows with its thinness.
fn lies_along(mesh: &Mesh, triangle: u32, own: DVec3, normal: DVec3, tolerance: f64) -> bool {
    let altitude = height(&mesh.corners(triangle as usize));
    // 0.1°, or what moving one corner by a tenth of the tolerance turns the triangle by
    let allowed = 0.1_f64.to_radians().max(0.1 * tolerance / altitude.max(1e-12));
    own.dot(normal) > 0.0 && own.cross(normal).length() <= allowed
}
