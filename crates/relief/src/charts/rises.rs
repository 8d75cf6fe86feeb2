//! How a freeform face rises when it is offset: square to each facet, over its creases or beside them.

use crate::crease::{Creased, apart, mitres, spread};
use glam::DVec3;
use solid::Mesh;

/// How a face rises when it is offset.
pub(super) struct Rises {
    /// For each corner of each facet where its vector stands.
    pub corners: Vec<[u32; 3]>,
    /// Where a corner's point moves when the face is offset by 1 mm.
    pub mitre: Vec<DVec3>,
    /// How fast normals turn on each facet, 1/mm.
    pub bends: Vec<f64>,
    /// How fast facets turn there, creases left out, 1/mm.
    pub turns: Vec<f64>,
}

impl Rises {
    /// What lies on both sides of a crease turns over it.
    pub fn over(mesh: &Mesh, creased: &Creased) -> Self {
        let mut mitre = mitres(mesh);
        spread(mesh, creased, &mut mitre);
        Self::of(mesh, creased, mesh.triangles.clone(), mitre)
    }

    /// The sides of a crease know nothing of each other.
    pub fn beside(mesh: &Mesh, creased: &Creased) -> Self {
        let apart = creased.apart(mesh);
        let mitre = mitres(&apart);
        Self::of(mesh, creased, apart.triangles, mitre)
    }

    fn of(mesh: &Mesh, creased: &Creased, corners: Vec<[u32; 3]>, mitre: Vec<DVec3>) -> Self {
        let bends: Vec<f64> = (0..mesh.triangles.len()).map(|t| bend(mesh, &corners, &mitre, t)).collect();
        // beside creases normals are drawn over them, and facets don't turn
        let turns = turns(mesh, creased).iter().zip(&bends).map(|(turn, bend)| turn.min(*bend)).collect();
        Self { corners, mitre, bends, turns }
    }
}

/// How fast the surface turns at each facet, creases left out, 1/mm: the turn `over` an edge is spread over the
/// heights of the two facets on it.
fn turns(mesh: &Mesh, creased: &Creased) -> Vec<f64> {
    let mut turns = vec![0.0; mesh.triangles.len()];
    for ((pair, &turn), is_crease) in creased.pairs.iter().zip(&creased.turns).zip(&creased.is_crease) {
        if *is_crease || turn.is_nan() {
            continue;
        }
        let fast = turn / apart(mesh, pair).max(1e-9);
        for t in pair.triangles.map(|t| t as usize) {
            turns[t] = f64::max(turns[t], fast);
        }
    }
    turns
}

/// How fast normals turn along the edges of a facet, 1/mm.
fn bend(mesh: &Mesh, corners: &[[u32; 3]], mitre: &[DVec3], t: usize) -> f64 {
    let points = mesh.corners(t);
    (0..3)
        .map(|k| {
            let [a, b] = [k, (k + 1) % 3].map(|k| corners[t][k] as usize);
            let length = points[k].distance(points[(k + 1) % 3]);
            mitre[a].normalize_or_zero().distance(mitre[b].normalize_or_zero()) / length.max(1e-9)
        })
        .fold(0.0, f64::max)
}
