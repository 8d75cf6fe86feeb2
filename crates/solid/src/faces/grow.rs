//! What grows over soft edges shares: sets of flats, their vertices, and what lies round a seed.

use super::flats::Flat;
use crate::{kinds::Sample, mesh::Mesh};
use glam::DVec3;
use std::collections::{BTreeMap, VecDeque};

/// Sets and maps of numbers of the mesh: they come from nobody who could choose them to collide.
pub(super) type FastSet = hashbrown::HashSet<u32>;
pub(super) type FastMap<T> = hashbrown::HashMap<u32, T>;

/// A cylinder that turns through less is compared with curved surfaces, degrees.
const LITTLE_TURN_DEG: f64 = 60.0;

pub(super) fn turns_little(flats: &[Flat], members: &[u32]) -> bool {
    let first = flats[members[0] as usize].normal;
    let least = LITTLE_TURN_DEG.to_radians().cos();
    members.iter().all(|&m| flats[m as usize].normal.dot(first) > least)
}

/// The seed and the flats nearest to it over soft edges, `most` at the most.
pub(super) fn patch(flats: &[Flat], taken: &[bool], seed: u32, most: usize) -> Vec<u32> {
    let mut members = vec![seed];
    let mut seen = FastSet::from_iter([seed]);
    let mut at = 0;
    while at < members.len() && members.len() < most {
        for &next in &flats[members[at] as usize].soft {
            if !taken[next as usize] && seen.insert(next) && members.len() < most {
                members.push(next);
            }
        }
        at += 1;
    }
    members
}

/// The seed and all flats reached from it over soft edges that are free and `on` the surface, sorted.
pub(super) fn spread(flats: &[Flat], taken: &[bool], seed: u32, on: impl Fn(&Flat) -> bool) -> Vec<u32> {
    let mut members = vec![seed];
    let mut seen = FastSet::from_iter([seed]);
    let mut queue = VecDeque::from([seed]);
    while let Some(flat) = queue.pop_front() {
        for &next in &flats[flat as usize].soft {
            if !taken[next as usize] && seen.insert(next) && on(&flats[next as usize]) {
                members.push(next);
                queue.push_back(next);
            }
        }
    }
    members.sort_unstable();
    members
}

/// Vertices that two of the flats share, each with the mean normal of the facets round it.
pub(super) fn samples(mesh: &Mesh, flats: &[Flat], members: &[u32]) -> Vec<Sample> {
    let mut seen: BTreeMap<u32, (u32, bool, DVec3)> = BTreeMap::new();
    for &flat in members {
        for &t in &flats[flat as usize].triangles {
            let cross = mesh.cross(t as usize);
            for v in mesh.triangles[t as usize] {
                let entry = seen.entry(v).or_insert((flat, false, DVec3::ZERO));
                entry.1 |= entry.0 != flat;
                entry.2 += cross;
            }
        }
    }
    seen.into_iter()
        .filter(|(_, (_, shared, _))| *shared)
        .filter_map(|(v, (_, _, normal))| Some((mesh.vertices[v as usize], normal.try_normalize()?)))
        .collect()
}

pub(super) fn sorted(triangles: &[u32]) -> Vec<u32> {
    let mut triangles = triangles.to_vec();
    triangles.sort_unstable();
    triangles
}
