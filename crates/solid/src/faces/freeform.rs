//! What no simple surface takes.

use super::Found;
use super::flats::Flat;
use super::grow::sorted;
use crate::{surface::Surface, topology::Groups};
use std::collections::BTreeMap;

pub(super) fn freeform(flats: &[Flat], taken: &[bool]) -> Vec<Found> {
    let mut groups = Groups::new(flats.len());
    let left = (0..flats.len() as u32).filter(|&f| !taken[f as usize]);
    for flat in left.clone() {
        for &next in flats[flat as usize].soft.iter().filter(|&&n| !taken[n as usize]) {
            groups.join(flat, next);
        }
    }
    let mut faces: BTreeMap<u32, Vec<u32>> = BTreeMap::new();
    for flat in left {
        faces.entry(groups.root(flat)).or_default().extend(&flats[flat as usize].triangles);
    }
    faces
        .into_values()
        .map(|triangles| Found { surface: Surface::Freeform, residual: 0.0, triangles: sorted(&triangles) })
        .collect()
}
