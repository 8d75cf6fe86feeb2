//! Facets and shells that face the wrong way.

use crate::shells::{piece, shells, wrong_way};
use crate::{mesh::Mesh, topology::for_each_edge};

pub(super) fn turn(mesh: &Mesh) -> (Mesh, usize) {
    let mut out = mesh.clone();
    let shells: Vec<Vec<u32>> = shells(mesh).into_values().collect();
    even_out(&mut out, &shells);
    let pieces: Vec<Mesh> = shells.iter().map(|s| piece(&out, s)).collect();
    let wrong = wrong_way(&pieces);
    for (at, shell) in shells.iter().enumerate() {
        let turned = wrong[at].unwrap_or_else(|| {
            // an open shell keeps the way most of it faced
            let kept = shell.iter().filter(|&&t| out.triangles[t as usize] == mesh.triangles[t as usize]);
            let area = |t: &u32| mesh.area(*t as usize);
            2.0 * kept.map(area).sum::<f64>() < shell.iter().map(area).sum::<f64>()
        });
        if turned {
            for &t in shell {
                out.triangles[t as usize].swap(1, 2);
            }
        }
    }
    let count = out.triangles.iter().zip(&mesh.triangles).filter(|(a, b)| a != b).count();
    // swapping twice restores the corners' order, so equal means untouched
    (out, count)
}

/// Turns facets so that neighbours over plain edges face the same side.
fn even_out(mesh: &mut Mesh, shells: &[Vec<u32>]) {
    let mut beside: Vec<Vec<(u32, bool)>> = vec![Vec::new(); mesh.triangles.len()];
    for_each_edge(mesh, |edge| {
        if let [a, b] = edge {
            let against = a.from == b.from;
            beside[a.triangle as usize].push((b.triangle, against));
            beside[b.triangle as usize].push((a.triangle, against));
        }
    });
    let mut seen: Vec<Option<bool>> = vec![None; mesh.triangles.len()];
    for start in shells.iter().flatten() {
        if seen[*start as usize].is_some() {
            continue;
        }
        seen[*start as usize] = Some(false);
        let mut queue = vec![*start];
        while let Some(t) = queue.pop() {
            let own = seen[t as usize] == Some(true);
            for &(other, against) in &beside[t as usize] {
                if seen[other as usize].is_none() {
                    seen[other as usize] = Some(own != against);
                    queue.push(other);
                }
            }
        }
    }
    for (t, turned) in seen.into_iter().enumerate() {
        if turned == Some(true) {
            mesh.triangles[t].swap(1, 2);
        }
    }
}
