//! Creases of a seat: facets beside them made short, and vectors along which corners rise evenly over them.

use glam::{DMat3, DVec3};
use solid::{
    Mesh,
    segment::longest_edge,
    topology::{Neighbours, neighbours},
};
use std::collections::HashMap;

/// Vectors at vertices are no longer than this: at creases sharper than 120° letters come out lower.
const LONGEST_MITRE: f64 = 2.0;

/// Facets that touch a crease are divided until they are no longer than this, mm: normals turn over it
/// within as much. Wide enough for floors below a crease, which are shorter than the surface above them by
/// twice depth · tan(δ/2) where it turns by δ.
const CREASE_WIDTH: f64 = 2.4;
/// Edges over which normals turn by more than this are creases, degrees.
pub(crate) const CREASE_DEG: f64 = 20.0;

/// Divides long facets at creases by halving longest edges, so that neighbours still share theirs
/// (Rivara 1984). The neighbours in what it comes to.
pub(crate) fn narrow_creases(mesh: &mut Mesh) -> Vec<Neighbours> {
    let sharp = CREASE_DEG.to_radians().cos();
    let mut on_crease = vec![false; mesh.vertices.len()];
    let pairs = neighbours(mesh);
    for pair in &pairs {
        let [a, b] = pair.triangles.map(|t| mesh.normal(t as usize));
        if a.dot(b) < sharp {
            pair.edge.iter().for_each(|v| on_crease[*v as usize] = true);
        }
    }
    if !on_crease.contains(&true) {
        return pairs;
    }
    halve(mesh, on_crease);
    neighbours(mesh)
}

/// Facets at vertices on creases halved until they are short enough.
fn halve(mesh: &mut Mesh, mut on_crease: Vec<bool>) {
    let key = |a: u32, b: u32| [a.min(b), a.max(b)];
    // each round halves what is too long
    for _ in 0..24 {
        let longest = |t: &[u32; 3], mesh: &Mesh| longest_edge(&t.map(|v| mesh.vertices[v as usize]));
        let mut middles: HashMap<[u32; 2], u32> = HashMap::new();
        for t in &mesh.triangles {
            let (k, length) = longest(t, mesh);
            if length > CREASE_WIDTH && t.iter().any(|v| on_crease[*v as usize]) {
                middles.insert(key(t[k], t[(k + 1) % 3]), u32::MAX);
            }
        }
        if middles.is_empty() {
            return;
        }
        // a facet with any edge halved has its longest halved too
        loop {
            let before = middles.len();
            for t in &mesh.triangles {
                if (0..3).any(|k| middles.contains_key(&key(t[k], t[(k + 1) % 3]))) {
                    let (k, _) = longest(t, mesh);
                    middles.entry(key(t[k], t[(k + 1) % 3])).or_insert(u32::MAX);
                }
            }
            if middles.len() == before {
                break;
            }
        }
        let mut edges: Vec<[u32; 2]> = middles.keys().copied().collect();
        edges.sort_unstable();
        for [a, b] in edges {
            middles.insert([a, b], mesh.vertices.len() as u32);
            mesh.vertices.push((mesh.vertices[a as usize] + mesh.vertices[b as usize]) / 2.0);
            on_crease.push(on_crease[a as usize] && on_crease[b as usize]);
        }
        let mut open = std::mem::take(&mut mesh.triangles);
        while let Some(t) = open.pop() {
            let halved = |k: usize| middles.contains_key(&key(t[k], t[(k + 1) % 3]));
            let length = |k: usize| mesh.vertices[t[k] as usize].distance(mesh.vertices[t[(k + 1) % 3] as usize]);
            match (0..3).filter(|&k| halved(k)).max_by(|&i, &j| length(i).total_cmp(&length(j))) {
                None => mesh.triangles.push(t),
                Some(k) => {
                    let (a, b, c) = (t[k], t[(k + 1) % 3], t[(k + 2) % 3]);
                    let m = middles[&key(a, b)];
                    open.extend([[a, m, c], [m, b, c]]);
                }
            }
        }
    }
}

/// For each vertex the vector N with N · n = 1 for the normal n of every facet round it, by least
/// squares weighted by their angles, and the mean normal where that leaves a choice.
pub(crate) fn mitres(mesh: &Mesh) -> Vec<DVec3> {
    let mut sums = vec![(DMat3::ZERO, DVec3::ZERO, 0.0); mesh.vertices.len()];
    for (t, triangle) in mesh.triangles.iter().enumerate() {
        let normal = mesh.normal(t);
        let points = mesh.corners(t);
        for k in 0..3 {
            let (u, v) = (points[(k + 1) % 3] - points[k], points[(k + 2) % 3] - points[k]);
            let weight = u.angle_between(v);
            if weight.is_finite() {
                let sum = &mut sums[triangle[k] as usize];
                let outer = DMat3::from_cols(normal * normal.x, normal * normal.y, normal * normal.z);
                *sum = (sum.0 + outer * weight, sum.1 + normal * weight, sum.2 + weight);
            }
        }
    }
    sums.into_iter()
        .map(|(square, sum, weight)| {
            let mean = sum.normalize_or(DVec3::Z);
            let slight = 1e-3 * weight.max(1e-12);
            let found = (square + DMat3::from_diagonal(DVec3::splat(slight))).inverse() * (sum + mean * slight);
            if found.is_finite() { found.clamp_length_max(LONGEST_MITRE) } else { mean }
        })
        .collect()
}
