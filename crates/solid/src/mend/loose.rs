//! Small bits that hang on nothing.

use super::kept;
use crate::mesh::Mesh;
use crate::shells::{closed, piece, shells};

/// A bit is loose when it has less than this of the largest shell's area.
const LOOSE: f64 = 0.02;

pub(super) fn drop_loose(mesh: &Mesh) -> (Mesh, usize) {
    let shells = shells(mesh);
    let area = |shell: &[u32]| shell.iter().map(|&t| mesh.area(t as usize)).sum::<f64>();
    let largest = shells.values().map(|s| area(s)).fold(0.0, f64::max);
    let mut gone = vec![false; mesh.triangles.len()];
    let mut count = 0;
    for shell in shells.values().filter(|s| area(s) < LOOSE * largest) {
        // a small hollow belongs to the part
        let piece = piece(mesh, shell);
        if closed(&piece) && piece.volume() < 0.0 {
            continue;
        }
        count += 1;
        for &t in shell {
            gone[t as usize] = true;
        }
    }
    (kept(mesh, |t| !gone[t]), count)
}
