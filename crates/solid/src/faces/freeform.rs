//! What no simple surface takes: turned and drawn faces, and the rest.

use super::Found;
use super::ground::Ground;
use super::grow::{FastMap, sorted};
use super::grown::Grown;
use super::planes::{is_a_facet, plane_face};
use crate::{surface::Surface, topology::Groups};
use std::collections::BTreeMap;

/// A facet that is at most so many times as large as a freeform face's on the average belongs to it, where it borders
/// on it in no sharp crease: it is the last of a row, and nothing beyond it shows that the face bends there.
const LAST: f64 = 6.0;
/// So many flats are flats, whatever they border on.
const BENT: usize = 3;

/// `curved` are the surfaces that took flats.
pub(super) fn freeform(ground: &Ground, taken: &[bool], curved: &[Grown]) -> Vec<Found> {
    let (mesh, all) = (ground.mesh, ground.all);
    let flats = &all.flats;
    let scraps = scraps(ground, taken, curved);
    let mut groups = Groups::new(flats.len());
    let left = (0..flats.len() as u32).filter(|&f| !taken[f as usize]);
    for flat in left.clone() {
        for &next in flats[flat as usize].soft.iter().filter(|&&n| !taken[n as usize]) {
            groups.join(flat, next);
        }
    }
    // triangles at slight bends, which flat faces are seldom made of
    for [a, b] in all.slight(taken).filter(|pair| pair.iter().all(|&f| flats[f as usize].triangles.len() == 1)) {
        groups.join(a, b);
    }
    let mut sizes: BTreeMap<u32, (f64, f64)> = BTreeMap::new();
    for flat in left.clone() {
        let size = sizes.entry(groups.root(flat)).or_default();
        *size = (size.0 + flats[flat as usize].area, size.1 + 1.0);
    }
    for &[a, b] in all.blunt.iter().filter(|pair| pair.iter().all(|f| !taken[*f as usize])) {
        let [own, other] = [a, b].map(|f| sizes.get(&groups.root(f)).copied().unwrap_or_default());
        for (one, many, flat) in [(own, other, a), (other, own, b)] {
            let few = flats[flat as usize].triangles.len() <= 2;
            if one.1 == 1.0 && many.1 > 3.0 && few && one.0 < LAST * many.0 / many.1 {
                groups.join(a, b);
            }
        }
    }
    let mut faces: BTreeMap<u32, Vec<u32>> = BTreeMap::new();
    for flat in left {
        faces.entry(groups.root(flat)).or_default().push(flat);
    }
    faces
        .into_values()
        // two or three flats show no bend that goes on
        .flat_map(
            |members| {
                if members.len() <= BENT { members.into_iter().map(|m| vec![m]).collect() } else { vec![members] }
            },
        )
        .map(|members| match members[..] {
            [one] if !is_a_facet(flats, taken, one) && !scraps[one as usize] => plane_face(mesh, &flats[one as usize]),
            _ => {
                let own = members.iter().flat_map(|&m| flats[m as usize].triangles.iter().copied());
                let triangles = sorted(&own.collect::<Vec<_>>());
                let surface = ground.profiled(&members).unwrap_or(Surface::Freeform);
                let residual = surface.residual(ground.corners(&members).into_iter().map(|s| s.0));
                Found { surface, residual, triangles }
            }
        })
        .collect()
}

/// Which flats are single triangles that aren't much larger than facets of a curved face beside them, in no sharp crease,
/// or than another such: each may be one of those facets that fits none, and is no plane for certain.
fn scraps(ground: &Ground, taken: &[bool], curved: &[Grown]) -> Vec<bool> {
    let flats = &ground.all.flats;
    let mut beside: FastMap<Vec<u32>> = FastMap::default();
    for &[a, b] in &ground.all.blunt {
        beside.entry(a).or_default().push(b);
        beside.entry(b).or_default().push(a);
    }
    let mut scraps = vec![false; flats.len()];
    // flats with the size of facets round them
    let mut open: Vec<(u32, f64)> = Vec::new();
    for face in curved {
        let each = face.area / face.members.len() as f64;
        open.extend(face.members.iter().map(|&m| (m, each)));
    }
    while let Some((flat, each)) = open.pop() {
        let blunt = beside.get(&flat).map_or(&[][..], Vec::as_slice);
        for &next in flats[flat as usize].soft.iter().chain(blunt) {
            let own = &flats[next as usize];
            let is_one = own.triangles.len() == 1 && own.area < LAST * each;
            if is_one && !taken[next as usize] && !std::mem::replace(&mut scraps[next as usize], true) {
                open.push((next, own.area));
            }
        }
    }
    scraps
}
