//! Facets that are there twice.

use super::kept;
use crate::mesh::Mesh;
use std::collections::HashMap;

pub(super) fn drop_doubles(mesh: &Mesh) -> (Mesh, usize) {
    let mut same: HashMap<[u32; 3], Vec<usize>> = HashMap::new();
    for (t, corners) in mesh.triangles.iter().enumerate() {
        let mut key = *corners;
        key.sort_unstable();
        same.entry(key).or_default().push(t);
    }
    let mut gone = vec![false; mesh.triangles.len()];
    for group in same.values().filter(|g| g.len() > 1) {
        // turned to begin with the least corner, copies are equal and opposites are not
        let way = |t: usize| {
            let c = mesh.triangles[t];
            let least = (0..3).min_by_key(|&k| c[k]).unwrap_or_default();
            c[(least + 1) % 3] < c[(least + 2) % 3]
        };
        let forth = group.iter().filter(|&&t| way(t)).count();
        let back = group.len() - forth;
        // what faces both ways encloses nothing; of copies one stays
        let stays = (forth != back).then(|| group.iter().copied().find(|&t| way(t) == (forth > back))).flatten();
        for &t in group {
            gone[t] = Some(t) != stays;
        }
    }
    (kept(mesh, |t| !gone[t]), gone.iter().filter(|g| **g).count())
}
