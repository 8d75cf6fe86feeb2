//! What grows over soft edges shares: sets of flats, their vertices, and what lies round a seed.

use super::flats::Flat;
use crate::{kinds::Sample, mesh::Mesh};
use glam::DVec3;
use std::collections::{BTreeMap, VecDeque};

/// Sets and maps of numbers of the mesh: they come from nobody who could choose them to collide.
pub(super) type FastSet = hashbrown::HashSet<u32>;

type FastMap<T> = hashbrown::HashMap<u32, T>;

/// Flats round a seed that a curved surface is first fitted to, and the least it must cover.
const PATCH: usize = 48;

/// A cylinder that turns through less is compared with curved surfaces, degrees.
const LITTLE_TURN_DEG: f64 = 60.0;

/// A strip of cylinder that turns little is believed only where at most this share of its rim runs on
/// smoothly into something that is no face yet.
const AMID: f64 = 0.6;

pub(super) fn vertices_of(mesh: &Mesh, flats: &[Flat], members: impl IntoIterator<Item = u32>) -> Vec<DVec3> {
    let mut seen = FastSet::default();
    let mut points = Vec::new();
    for flat in members {
        for &t in &flats[flat as usize].triangles {
            for v in mesh.triangles[t as usize] {
                if seen.insert(v) {
                    points.push(mesh.vertices[v as usize]);
                }
            }
        }
    }
    points
}

/// Vertices that two of the flats share. Edges between the facets of a round face lie on its true
/// surface; other vertices of a part that went through booleans may lie on a chord.
pub(super) fn shared_vertices(mesh: &Mesh, flats: &[Flat], members: &[u32]) -> Vec<DVec3> {
    let mut seen: FastMap<(u32, bool)> = FastMap::default();
    let mut order = Vec::new();
    for &flat in members {
        for v in flats[flat as usize].triangles.iter().flat_map(|&t| mesh.triangles[t as usize]) {
            seen.entry(v).and_modify(|(first, shared)| *shared |= *first != flat).or_insert_with(|| {
                order.push(v);
                (flat, false)
            });
        }
    }
    order.into_iter().filter(|v| seen[v].1).map(|v| mesh.vertices[v as usize]).collect()
}

pub(super) fn turns_little(flats: &[Flat], members: &[u32]) -> bool {
    let first = flats[members[0] as usize].normal;
    let least = LITTLE_TURN_DEG.to_radians().cos();
    members.iter().all(|&m| flats[m as usize].normal.dot(first) > least)
}

/// Does a strip lie in the middle of a smooth face that it is no more than a stretch of?
pub(super) fn lies_amid(flats: &[Flat], taken: &[bool], members: &[u32]) -> bool {
    let inside: FastSet = members.iter().copied().collect();
    let (mut rim, mut smooth) = (0.0, 0.0);
    for &m in members {
        let flat = &flats[m as usize];
        rim += flat.rim;
        for (&other, &length) in flat.soft.iter().zip(&flat.shared) {
            if inside.contains(&other) {
                rim -= length;
            } else if !taken[other as usize] {
                smooth += length;
            }
        }
    }
    smooth > AMID * rim
}

/// The seed and the flats nearest to it over soft edges.
pub(super) fn patch(flats: &[Flat], taken: &[bool], seed: u32) -> Vec<u32> {
    let mut members = vec![seed];
    let mut seen = FastSet::from_iter([seed]);
    let mut at = 0;
    while at < members.len() && members.len() < PATCH {
        for &next in &flats[members[at] as usize].soft {
            if !taken[next as usize] && seen.insert(next) && members.len() < PATCH {
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
