//! Mends of a mesh that is no closed solid: each says what it changed.

use crate::{
    contour,
    faces::tolerance,
    fill::fill,
    mesh::Mesh,
    queries::Queries,
    topology::{Groups, for_each_edge},
};
use glam::{DVec2, DVec3};
use std::collections::{BTreeMap, HashMap};
use trade::PartMend;

/// A bit is loose when it has less than this of the largest shell's area.
const LOOSE: f64 = 0.02;

/// Shells that are looked at for lying in one another.
const MOST_NESTED: usize = 200;

/// What a mend did.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Mended {
    pub mend: PartMend,
    /// Facets dropped or turned, bits dropped, holes closed.
    pub count: usize,
    /// mm³, as far as a mesh that is not closed encloses any.
    pub before: f64,
    pub after: f64,
}

/// `mesh` mended, and what that changed. A count of 0: there was nothing to mend.
#[must_use]
pub fn mend(mesh: &Mesh, mend: PartMend) -> (Mesh, Mended) {
    let (after, count) = match mend {
        PartMend::DropDoubles => drop_doubles(mesh),
        PartMend::DropLoose => drop_loose(mesh),
        PartMend::Turn => turn(mesh),
        PartMend::CloseHoles => close_holes(mesh),
    };
    let told = Mended { mend, count, before: mesh.volume(), after: after.volume() };
    (after, told)
}

fn kept(mesh: &Mesh, keep: impl Fn(usize) -> bool) -> Mesh {
    let triangles = mesh.triangles.iter().enumerate().filter(|(t, _)| keep(*t)).map(|(_, t)| *t).collect();
    Mesh { vertices: mesh.vertices.clone(), triangles }
}

fn drop_doubles(mesh: &Mesh) -> (Mesh, usize) {
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

/// The shell of each triangle, numbered by their least triangle, and the triangles of each.
fn shells(mesh: &Mesh) -> BTreeMap<u32, Vec<u32>> {
    let mut groups = Groups::new(mesh.triangles.len());
    for_each_edge(mesh, |edge| {
        for other in &edge[1..] {
            groups.join(edge[0].triangle, other.triangle);
        }
    });
    let mut shells: BTreeMap<u32, Vec<u32>> = BTreeMap::new();
    for t in 0..mesh.triangles.len() as u32 {
        shells.entry(groups.root(t)).or_default().push(t);
    }
    shells
}

fn drop_loose(mesh: &Mesh) -> (Mesh, usize) {
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

/// The facets of a shell with the vertices they use.
fn piece(mesh: &Mesh, shell: &[u32]) -> Mesh {
    let mut numbers: HashMap<u32, u32> = HashMap::new();
    let mut out = Mesh::default();
    for &t in shell {
        out.triangles.push(mesh.triangles[t as usize].map(|v| {
            *numbers.entry(v).or_insert_with(|| {
                out.vertices.push(mesh.vertices[v as usize]);
                out.vertices.len() as u32 - 1
            })
        }));
    }
    out
}

fn closed(mesh: &Mesh) -> bool {
    let mut closed = !mesh.triangles.is_empty();
    for_each_edge(mesh, |edge| closed &= edge.len() == 2 && edge[0].from == edge[1].to);
    closed
}

fn turn(mesh: &Mesh) -> (Mesh, usize) {
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

/// For each closed piece: does it face the wrong way for how many others it lies in? `None` for open
/// ones. With a great many pieces (text engraved as loose shells) only their own sense is asked.
fn wrong_way(pieces: &[Mesh]) -> Vec<Option<bool>> {
    let solid: Vec<bool> = pieces.iter().map(closed).collect();
    let around: Vec<Option<Queries>> = pieces
        .iter()
        .zip(&solid)
        .map(|(p, &s)| (s && pieces.len() <= MOST_NESTED).then(|| Queries::new(p.clone())))
        .collect();
    (0..pieces.len())
        .map(|at| {
            let inside = |o: &usize| *o != at && around[*o].as_ref().is_some_and(|q| holds(q, &pieces[at]));
            solid[at].then(|| (pieces[at].volume() > 0.0) != (0..pieces.len()).filter(inside).count().is_multiple_of(2))
        })
        .collect()
}

/// Closed shells that face the wrong way for where they lie.
#[must_use]
pub fn misfacing(mesh: &Mesh) -> usize {
    let pieces: Vec<Mesh> = shells(mesh).values().map(|s| piece(mesh, s)).collect();
    let wrong = wrong_way(&pieces).into_iter().filter(|w| *w == Some(true)).count();
    // a part that is inside out as a whole is turned without being asked
    if wrong == pieces.len() { 0 } else { wrong }
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

/// Does the closed shell hold a point of the other? By the parity of a ray's crossings.
fn holds(shell: &Queries, other: &Mesh) -> bool {
    let Some(&first) = other.triangles.first() else { return false };
    let from = first.map(|v| other.vertices[v as usize]).iter().sum::<DVec3>() / 3.0;
    // a direction that meets no edge of a part drawn along its axes
    let way = DVec3::new(0.571, 0.307, 0.761).normalize();
    let (mut count, mut near) = (0, 0.0);
    while let Some(hit) = shell.first_hit(from, way, near, f64::MAX, |_| true) {
        count += 1;
        near = hit.distance + 1e-9;
        if count > 10_000 {
            break;
        }
    }
    count % 2 == 1
}

fn close_holes(mesh: &Mesh) -> (Mesh, usize) {
    let mut open = Vec::new();
    for_each_edge(mesh, |edge| {
        if let [only] = edge {
            // the lid runs the other way
            open.push((only.to, only.from));
        }
    });
    let rings = contour::chain(open);
    let within = 10.0 * tolerance(mesh);
    let mut out = mesh.clone();
    let mut count = 0;
    for lid in lids(mesh, &rings, within) {
        let (x, y) = lid.normal.any_orthonormal_pair();
        // along × up = out
        let flat = |v: u32| DVec2::new(mesh.vertices[v as usize].dot(x), mesh.vertices[v as usize].dot(y));
        let contours: Vec<Vec<DVec2>> = lid.rings.iter().map(|r| r.iter().map(|&v| flat(v)).collect()).collect();
        let numbers: Vec<u32> = lid.rings.iter().flat_map(|r| r.iter().copied()).collect();
        let Some(triangles) = fill(&contours, &[]) else { continue };
        let same_way = x.cross(y).dot(lid.normal) > 0.0;
        out.triangles.extend(triangles.into_iter().map(|t| {
            let [a, b, c] = t.map(|v| numbers[v as usize]);
            if same_way { [a, b, c] } else { [a, c, b] }
        }));
        count += lid.rings.len();
    }
    (out, count)
}

/// Rings in one plane that a single lid closes: a pipe's mouth has two.
struct Lid<'a> {
    normal: DVec3,
    origin: DVec3,
    rings: Vec<&'a Vec<u32>>,
}

fn lids<'a>(mesh: &Mesh, rings: &'a [Vec<u32>], within: f64) -> Vec<Lid<'a>> {
    let point = |v: &u32| mesh.vertices[*v as usize];
    let mut flat: Vec<(DVec3, &Vec<u32>)> = rings
        .iter()
        .filter_map(|ring| {
            // Newell's normal: twice the area the ring encloses
            let origin = point(&ring[0]);
            let around =
                (0..ring.len()).map(|k| (point(&ring[k]) - origin).cross(point(&ring[(k + 1) % ring.len()]) - origin));
            let area = around.sum::<DVec3>();
            let normal = area.try_normalize()?;
            ring.iter().all(|v| (point(v) - origin).dot(normal).abs() <= within).then_some((area, ring))
        })
        .collect();
    // the outer ring of a lid encloses most and says which way it faces
    flat.sort_by(|a, b| b.0.length().total_cmp(&a.0.length()));
    let mut lids: Vec<Lid> = Vec::new();
    for (area, ring) in flat {
        let normal = area.normalize();
        let home = lids.iter_mut().find(|lid| {
            ring.iter().all(|v| (point(v) - lid.origin).dot(lid.normal).abs() <= within)
                && normal.dot(lid.normal) < 0.0
                && encloses(mesh, lid.rings[0], ring, lid.normal)
        });
        match home {
            Some(lid) => lid.rings.push(ring),
            None => lids.push(Lid { normal, origin: point(&ring[0]), rings: vec![ring] }),
        }
    }
    lids
}

/// Does the flat ring enclose the first corner of the other? Even-odd, in the plane of `normal`.
fn encloses(mesh: &Mesh, ring: &[u32], other: &[u32], normal: DVec3) -> bool {
    let (x, y) = normal.any_orthonormal_pair();
    let flat = |v: u32| DVec2::new(mesh.vertices[v as usize].dot(x), mesh.vertices[v as usize].dot(y));
    let at = flat(other[0]);
    (0..ring.len())
        .filter(|&k| {
            let (a, b) = (flat(ring[k]), flat(ring[(k + 1) % ring.len()]));
            (a.y > at.y) != (b.y > at.y) && at.x < a.x + (at.y - a.y) / (b.y - a.y) * (b.x - a.x)
        })
        .count()
        % 2
        == 1
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::soundness;

    /// A block with its corners at `low` and `high`.
    fn block(low: DVec3, high: DVec3) -> Mesh {
        let vertices = (0..8)
            .map(|k| {
                let pick = |bit: usize, a: f64, b: f64| if k & bit == 0 { a } else { b };
                DVec3::new(pick(1, low.x, high.x), pick(2, low.y, high.y), pick(4, low.z, high.z))
            })
            .collect();
        let quads = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]];
        Mesh { vertices, triangles: quads.iter().flat_map(|&[a, b, c, d]| [[a, b, c], [a, c, d]]).collect() }
    }

    fn with(mut mesh: Mesh, other: &Mesh) -> Mesh {
        let first = mesh.vertices.len() as u32;
        mesh.vertices.extend(&other.vertices);
        mesh.triangles.extend(other.triangles.iter().map(|t| t.map(|v| v + first)));
        mesh
    }

    fn big() -> Mesh {
        block(DVec3::ZERO, DVec3::new(20.0, 30.0, 10.0))
    }

    #[test]
    fn a_missing_top_is_closed_and_the_volume_comes_back() {
        let mut open = big();
        open.triangles.drain(2..4);
        let (closed, told) = mend(&open, PartMend::CloseHoles);
        assert_eq!((told.count, closed.triangles.len()), (1, 12));
        assert!(soundness::examine(&closed).is_solid());
        assert!((closed.volume() - 6000.0).abs() < 1e-9 && (told.after - told.before).abs() > 1.0);
        assert_eq!(mend(&closed, PartMend::CloseHoles).1.count, 0);
    }

    #[test]
    fn the_mouth_of_a_pipe_is_closed_as_a_ring() {
        // a tube between two rings of 24, both ends open
        let mut tube = Mesh::default();
        for (radius, z) in [(10.0, 0.0), (10.0, 15.0), (7.0, 15.0), (7.0, 0.0)] {
            tube.vertices.extend((0..24).map(|k| {
                let angle = f64::from(k) / 24.0 * std::f64::consts::TAU;
                DVec3::new(radius * angle.cos(), radius * angle.sin(), z)
            }));
        }
        for (low, high) in [(0, 24), (48, 72)] {
            for k in 0..24 {
                let next = (k + 1) % 24;
                tube.triangles.extend([[low + k, low + next, high + next], [low + k, high + next, high + k]]);
            }
        }
        let (closed, told) = mend(&tube, PartMend::CloseHoles);
        assert_eq!(told.count, 4);
        let sound = soundness::examine(&closed);
        assert!(sound.is_solid() && sound.shells == 1, "{sound:?}");
        // area of the 24-gon: 12 r² sin 15°
        let exact = 12.0 * 15.0_f64.to_radians().sin() * (100.0 - 49.0) * 15.0;
        assert!((closed.volume() - exact).abs() < 1e-9, "{} {exact}", closed.volume());
    }

    #[test]
    fn a_bulging_hole_is_left_alone() {
        let mut open = big();
        open.vertices[7].z += 3.0;
        open.triangles.drain(2..4);
        assert_eq!(mend(&open, PartMend::CloseHoles).1.count, 0);
    }

    #[test]
    fn turned_facets_and_a_hollow_that_faces_outward_are_turned() {
        let mut mesh = with(big(), &block(DVec3::splat(2.0), DVec3::splat(8.0)));
        mesh.triangles[3].swap(1, 2);
        mesh.triangles[7].swap(1, 2);
        let (turned, told) = mend(&mesh, PartMend::Turn);
        // two facets of the block, all twelve of the hollow
        assert_eq!(told.count, 14);
        assert!(soundness::examine(&turned).is_solid());
        assert!((turned.volume() - (6000.0 - 216.0)).abs() < 1e-9);
        assert_eq!(mend(&turned, PartMend::Turn).1.count, 0);
    }

    #[test]
    fn copies_leave_one_facet_and_a_folded_fin_leaves_none() {
        let mut mesh = big();
        let (one, two) = (mesh.triangles[0], mesh.triangles[5]);
        mesh.triangles.push(one);
        mesh.triangles.extend([[two[0], 6, 3], [two[0], 3, 6]]);
        let (clean, told) = mend(&mesh, PartMend::DropDoubles);
        assert_eq!((told.count, clean.triangles.len()), (3, 12));
        assert!(soundness::examine(&clean).is_solid());
    }

    #[test]
    fn a_loose_bit_goes_and_a_small_hollow_stays() {
        let bit = block(DVec3::splat(40.0), DVec3::splat(41.0));
        let mut hollow = block(DVec3::splat(3.0), DVec3::splat(4.0));
        hollow.turn();
        let mesh = with(with(big(), &bit), &hollow);
        let (clean, told) = mend(&mesh, PartMend::DropLoose);
        assert_eq!(told.count, 1);
        assert!((clean.volume() - 5999.0).abs() < 1e-9);
    }
}
