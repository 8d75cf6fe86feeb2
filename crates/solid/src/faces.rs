//! Faces found in a bare triangle mesh: planes, cylinders, balls, cones and tori fitted with their
//! residual, the rest freeform.
//!
//! 1. Neighbouring triangles that lie in one plane become *flats* (a facet of a barrel is one, the
//!    whole top of a block is one).
//! 2. From the largest flat down: if it and its neighbours over soft edges stand round one axis
//!    with the edges between them on one circle, a cylinder grows from them over soft edges.
//! 3. A flat that no cylinder takes is a plane if it stands out from its soft neighbours by its
//!    size, or has none.
//! 4. From what is left, again from the largest flat down, a ball, a cone or a torus is fitted to the
//!    seed and its surroundings, and grown as the cylinder was. It also takes the place of a cylinder
//!    that turns little and covers less: fine facets of a ball look like one for a short way.
//! 5. What is left over is joined over soft edges into freeform faces.

use crate::{
    fit::{self, Cylinder},
    kinds::{self, Sample},
    mesh::Mesh,
    part::leading,
    surface::Surface,
    topology::{Groups, neighbours},
    watch::{Stage, Stopped, Watch},
};
use glam::DVec3;
use rayon::prelude::*;
use std::collections::{BTreeMap, VecDeque};

/// Sets and maps of numbers of the mesh: they come from nobody who could choose them to collide.
type FastSet = hashbrown::HashSet<u32>;
type FastMap<T> = hashbrown::HashMap<u32, T>;

/// Edges sharper than this are creases that no smooth face crosses.
const CREASE_DEG: f64 = 25.0;
/// A plane stands out from a soft neighbour that is at most this much of its area.
const STANDS_OUT: f64 = 0.1;
/// Facets from which a cylinder is first fitted.
const CHAIN: usize = 6;
/// A facet's middle lies inside its cylinder by at most this much of the radius: 16 facets a turn.
const MOST_SAG: f64 = 0.02;
/// A cylinder needs facets in at least this many directions.
const LEAST_FACETS: usize = 4;

/// Flats round a seed that a curved surface is first fitted to, and the least it must cover.
const PATCH: usize = 48;
const LEAST_CURVED: usize = 9;
/// A cylinder that turns through less is compared with curved surfaces, degrees.
const LITTLE_TURN_DEG: f64 = 60.0;
/// Seeds from which a curved surface is looked for; on a freeform part each try is in vain.
const MOST_TRIES: usize = 600;
/// A strip of cylinder that turns little is believed only where at most this share of its rim runs on
/// smoothly into something that is no face yet.
const AMID: f64 = 0.6;
/// After so many seeds in a row without a cylinder one in so many is tried, after as many again half
/// as many, and so on. A strip that is not believed counts for more: it was grown in vain.
const MOST_MISSES: usize = 20_000;
const STRIP: usize = 100;
const SOME: usize = 256;
/// After so many seeds whoever watches is told.
const TOLD: usize = 64;
/// Flats just outside a curved surface miss it by more than so many tolerances; where a third of them
/// miss by less, the surface was only a stretch of something freeform.
const NARROW: f64 = 5.0;
/// A facet's normal lies within this of its curved surface's, degrees.
const CURVED_DEG: f64 = 25.0;

pub struct Found {
    pub surface: Surface,
    /// Greatest distance of a vertex from the surface, mm; 0 for freeform.
    pub residual: f64,
    pub triangles: Vec<u32>,
}

/// How far a vertex may lie off a plane or cylinder, mm: a micrometre for parts of everyday size,
/// and what single-precision files lose for large ones.
#[must_use]
pub fn tolerance(mesh: &Mesh) -> f64 {
    let (low, high) = mesh.bounds();
    (low.abs().max(high.abs()).max_element() * 4.0 * f64::from(f32::EPSILON)).max(1e-3)
}

struct Flat {
    triangles: Vec<u32>,
    area: f64,
    normal: DVec3,
    /// Middle of its area.
    middle: DVec3,
    /// Neighbouring flats over soft edges, and the length of the edges shared with each, mm.
    soft: Vec<u32>,
    shared: Vec<f64>,
    /// Length of all edges round it, mm.
    rim: f64,
}

/// All faces of `mesh`, largest seeds first; each triangle is in exactly one.
///
/// # Errors
/// [`Stopped`] by whoever watches.
pub fn find(mesh: &Mesh, watch: &dyn Watch) -> Result<Vec<Found>, Stopped> {
    watch.reached(Stage::Faces, 0.0)?;
    let tolerance = tolerance(mesh);
    let (flats, _) = flats(mesh, tolerance);
    let mut order: Vec<u32> = (0..flats.len() as u32).collect();
    order.par_sort_by(|&a, &b| flats[b as usize].area.total_cmp(&flats[a as usize].area).then(a.cmp(&b)));
    let mut taken = vec![false; flats.len()];
    // flats of curved surfaces and of strips of cylinder that turned out to be freeform
    let mut tried = vec![false; flats.len()];
    let mut strips = vec![false; flats.len()];
    let mut tries = MOST_TRIES;
    let mut found = Vec::new();
    let mut misses = 0;
    for (rank, &seed) in order.iter().enumerate() {
        if rank % TOLD == 0 {
            watch.reached(Stage::Faces, rank as f64 / order.len() as f64)?;
        }
        if taken[seed as usize] {
            continue;
        }
        // on a finely divided freeform part nearly every facet is tried in vain: then only some are
        let patient = match misses / MOST_MISSES {
            0 => true,
            times => rank % (SOME << (times - 1).min(6)) == 0,
        };
        let grown =
            if strips[seed as usize] || !patient { None } else { grow_cylinder(mesh, &flats, &taken, seed, tolerance) };
        misses += usize::from(patient && grown.is_none());
        let little = grown.as_ref().is_none_or(|g| turns_little(&flats, &g.members));
        let cylinder = match grown {
            Some(grown) if little && lies_amid(&flats, &taken, &grown.members) => {
                for m in grown.members.into_iter().chain(grown.reach) {
                    strips[m as usize] = true;
                }
                misses += STRIP;
                None
            }
            Some(found) => {
                misses = 0;
                Some(found)
            }
            None => None,
        };
        if cylinder.is_none() && stands_out(&flats, &taken, seed) {
            taken[seed as usize] = true;
            found.push(plane_face(mesh, &flats[seed as usize]));
            continue;
        }
        let mut curved = None;
        if little && !tried[seed as usize] && tries > 0 {
            tries -= 1;
            let patch = patch(&flats, &taken, seed);
            let grown = grow_curved(mesh, &flats, &taken, seed, &patch, tolerance);
            let ends = grown.as_ref().is_some_and(|(m, s)| ends_sharply(mesh, &flats, &taken, m, s, tolerance));
            // its surroundings would fail the same way
            let surroundings = grown.as_ref().map_or(&patch, |(members, _)| members);
            if !ends {
                for &m in surroundings {
                    tried[m as usize] = true;
                }
            }
            curved = grown.filter(|_| ends);
        }
        let area = |members: &[u32]| members.iter().map(|&m| flats[m as usize].area).sum::<f64>();
        if let Some((members, surface)) = curved
            && cylinder.as_ref().is_none_or(|c| area(&members) > 1.2 * area(&c.members))
        {
            for &m in &members {
                taken[m as usize] = true;
            }
            found.push(curved_face(mesh, &flats, &members, surface));
        } else if let Some(Grown { members, cylinder, .. }) = cylinder {
            for &m in &members {
                taken[m as usize] = true;
            }
            found.push(cylinder_face(mesh, &flats, &members, cylinder));
        }
    }
    found.extend(freeform(&flats, &taken));
    Ok(found)
}

/// Some facets as one face, whatever they border on: on the simplest surface within `tolerance` mm of
/// them, else freeform.
#[must_use]
pub fn as_one(mesh: &Mesh, triangles: &[u32], tolerance: f64) -> Found {
    let own = Mesh {
        vertices: mesh.vertices.clone(),
        triangles: triangles.iter().map(|&t| mesh.triangles[t as usize]).collect(),
    };
    let found = |surface, residual| Found { surface, residual, triangles: sorted(triangles) };
    let all = Flat {
        triangles: (0..own.triangles.len() as u32).collect(),
        area: (0..own.triangles.len()).map(|t| own.area(t)).sum(),
        normal: own.normal(0),
        middle: DVec3::ZERO,
        soft: Vec::new(),
        shared: Vec::new(),
        rim: 0.0,
    };
    let plane = plane_face(&own, &all);
    if plane.residual <= tolerance {
        return found(plane.surface, plane.residual);
    }
    let (flats, _) = flats(&own, tolerance);
    let members: Vec<u32> = (0..flats.len() as u32).collect();
    let samples = samples(&own, &flats, &members);
    match kinds::recognise_facets(&samples, tolerance) {
        Some(surface) => found(surface, surface.residual(samples.iter().map(|s| s.0))),
        None => found(Surface::Freeform, 0.0),
    }
}

/// Triangles grouped into flats, and the flat of each triangle.
fn flats(mesh: &Mesh, tolerance: f64) -> (Vec<Flat>, Vec<u32>) {
    let count = mesh.triangles.len();
    let pairs = neighbours(mesh);
    let crosses: Vec<DVec3> = (0..count).into_par_iter().map(|t| mesh.cross(t)).collect();
    let normals: Vec<DVec3> = crosses.par_iter().map(|c| c.normalize_or_zero()).collect();
    let areas: Vec<f64> = crosses.par_iter().map(|c| c.length() / 2.0).collect();
    drop(crosses);
    let mut next_to: Vec<[u32; 3]> = vec![[u32::MAX; 3]; count];
    for pair in &pairs {
        for (one, other) in [(0, 1), (1, 0)] {
            let slots = &mut next_to[pair.triangles[one] as usize];
            if let Some(slot) = slots.iter_mut().find(|s| **s == u32::MAX) {
                *slot = pair.triangles[other];
            }
        }
    }
    let mut order: Vec<u32> = (0..count as u32).collect();
    order.par_sort_by(|&a, &b| areas[b as usize].total_cmp(&areas[a as usize]).then(a.cmp(&b)));
    let mut flat_of = vec![u32::MAX; count];
    let mut flats: Vec<Flat> = Vec::new();
    for &seed in &order {
        if flat_of[seed as usize] != u32::MAX {
            continue;
        }
        let id = flats.len() as u32;
        let (normal, origin) = (normals[seed as usize], mesh.corners(seed as usize)[0]);
        let mut triangles = vec![seed];
        flat_of[seed as usize] = id;
        let mut at = 0;
        while at < triangles.len() {
            for &next in next_to[triangles[at] as usize].iter().filter(|&&n| n != u32::MAX) {
                if flat_of[next as usize] == u32::MAX
                    && mesh.corners(next as usize).iter().all(|&v| ((v - origin).dot(normal)).abs() <= tolerance)
                    && lies_along(mesh, next, normals[next as usize], normal, tolerance)
                {
                    flat_of[next as usize] = id;
                    triangles.push(next);
                }
            }
            at += 1;
        }
        let area: f64 = triangles.iter().map(|&t| areas[t as usize]).sum();
        let middle = triangles.iter().map(|&t| mesh.centroid(t as usize) * areas[t as usize]).sum::<DVec3>()
            / area.max(f64::MIN_POSITIVE);
        flats.push(Flat { triangles, area, normal, middle, soft: Vec::new(), shared: Vec::new(), rim: 0.0 });
    }
    let crease = CREASE_DEG.to_radians().cos();
    let mut shared: Vec<Vec<(u32, f64)>> = vec![Vec::new(); flats.len()];
    for pair in &pairs {
        let [a, b] = pair.triangles.map(|t| flat_of[t as usize]);
        if a == b {
            continue;
        }
        let [from, to] = pair.edge.map(|v| mesh.vertices[v as usize]);
        let length = from.distance(to);
        flats[a as usize].rim += length;
        flats[b as usize].rim += length;
        if flats[a as usize].normal.dot(flats[b as usize].normal) > crease {
            shared[a as usize].push((b, length));
            shared[b as usize].push((a, length));
        }
    }
    for (flat, mut beside) in flats.iter_mut().zip(shared) {
        beside.sort_unstable_by_key(|(other, _)| *other);
        for (other, length) in beside {
            match flat.soft.last() {
                Some(last) if *last == other => *flat.shared.last_mut().expect("as long as soft") += length,
                _ => {
                    flat.soft.push(other);
                    flat.shared.push(length);
                }
            }
        }
    }
    (flats, flat_of)
}

/// Is the triangle parallel to the plane? A sliver's own normal means nothing, so what is asked
/// grows with its thinness.
fn lies_along(mesh: &Mesh, triangle: u32, own: DVec3, normal: DVec3, tolerance: f64) -> bool {
    let [a, b, c] = mesh.corners(triangle as usize);
    let longest = a.distance(b).max(b.distance(c)).max(c.distance(a));
    let altitude = 2.0 * mesh.area(triangle as usize) / longest.max(f64::MIN_POSITIVE);
    // 0.1°, or what moving one corner by a tenth of the tolerance turns the triangle by
    let allowed = 0.1_f64.to_radians().max(0.1 * tolerance / altitude.max(1e-12));
    own.dot(normal) > 0.0 && own.cross(normal).length() <= allowed
}

fn vertices_of(mesh: &Mesh, flats: &[Flat], members: impl IntoIterator<Item = u32>) -> Vec<DVec3> {
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
fn shared_vertices(mesh: &Mesh, flats: &[Flat], members: &[u32]) -> Vec<DVec3> {
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

/// The seed and neighbours in other directions square to `axis`, up to [`CHAIN`] of them.
fn chain(flats: &[Flat], taken: &[bool], seed: u32, second: u32, axis: DVec3) -> Vec<u32> {
    let mut chain = vec![seed, second];
    let mut at = 0;
    while at < chain.len() && chain.len() < CHAIN {
        for &next in &flats[chain[at] as usize].soft {
            let normal = flats[next as usize].normal;
            let fits = !taken[next as usize]
                && normal.dot(axis).abs() < 2e-3
                && chain.iter().all(|&o| normal.dot(flats[o as usize].normal) < 1.0 - 1e-9);
            if fits && chain.len() < CHAIN {
                chain.push(next);
            }
        }
        at += 1;
    }
    chain
}

struct Grown {
    members: Vec<u32>,
    cylinder: Cylinder,
    /// Flats that the cylinder came near to at last, whether or not it could be fitted to them.
    reach: Vec<u32>,
}

/// A cylinder through the seed and its soft neighbours, grown as far as it fits.
fn grow_cylinder(mesh: &Mesh, flats: &[Flat], taken: &[bool], seed: u32, tolerance: f64) -> Option<Grown> {
    let seed_flat = &flats[seed as usize];
    for &second in seed_flat.soft.iter().filter(|&&f| !taken[f as usize]) {
        let Some(axis) = seed_flat.normal.cross(flats[second as usize].normal).try_normalize() else { continue };
        let mut members = chain(flats, taken, seed, second, axis);
        // three edges in a row prove a circle only together with a fourth facet beyond
        if members.len() < LEAST_FACETS {
            continue;
        }
        let points = shared_vertices(mesh, flats, &members);
        let Some(first) = fit::cylinder_along(axis, &points) else { continue };
        let mut cylinder = fit::refine_cylinder(first, &points);
        if cylinder.residual(&points) > tolerance || !turns_like(&flats[seed as usize], &cylinder) {
            continue;
        }
        // The first facets fix the axis only roughly: grow, fit again, grow again.
        let mut reach = Vec::new();
        for _ in 0..4 {
            let grown = spread(mesh, flats, taken, seed, &cylinder, tolerance);
            let points = shared_vertices(mesh, flats, &grown);
            let better = fit::refine_cylinder(cylinder, &points);
            let same = grown.len() == members.len();
            let fits = points.len() >= 3 && better.residual(&points) <= tolerance && grown.len() >= members.len();
            if fits {
                (cylinder, members) = (better, grown);
            } else {
                reach = grown;
            }
            // without a better cylinder it would grow to the same again
            if same || !fits {
                break;
            }
        }
        if members.len() >= LEAST_FACETS {
            return Some(Grown { members, cylinder, reach });
        }
    }
    None
}

/// The facet's normal points along the cylinder's radius, in or out, at its middle.
fn turns_like(flat: &Flat, cylinder: &Cylinder) -> bool {
    let out = (flat.middle - cylinder.origin).reject_from_normalized(cylinder.axis).normalize_or_zero();
    out.dot(flat.normal).abs() > 5.0_f64.to_radians().cos()
}

fn spread(mesh: &Mesh, flats: &[Flat], taken: &[bool], seed: u32, cylinder: &Cylinder, tolerance: f64) -> Vec<u32> {
    let mut members = vec![seed];
    let mut seen = FastSet::from_iter([seed]);
    let mut queue = VecDeque::from([seed]);
    while let Some(flat) = queue.pop_front() {
        for &next in &flats[flat as usize].soft {
            if taken[next as usize] || !seen.insert(next) {
                continue;
            }
            let flat = &flats[next as usize];
            if !turns_like(flat, cylinder) {
                continue;
            }
            let corners = || flat.triangles.iter().flat_map(|&t| mesh.corners(t as usize));
            // a facet's own plane lies inside the surface by its sag; no vertex may lie deeper
            let sag = corners().map(|p| {
                let from_axis = (p - cylinder.origin).reject_from_normalized(cylinder.axis).dot(flat.normal).abs();
                cylinder.radius - from_axis
            });
            let sag = sag.fold(0.0, f64::max).min(MOST_SAG * cylinder.radius);
            let fits = corners().all(|p| (-sag - tolerance..=tolerance).contains(&cylinder.miss(p)));
            if fits {
                members.push(next);
                queue.push_back(next);
            }
        }
    }
    members.sort_unstable();
    members
}

fn turns_little(flats: &[Flat], members: &[u32]) -> bool {
    let first = flats[members[0] as usize].normal;
    let least = LITTLE_TURN_DEG.to_radians().cos();
    members.iter().all(|&m| flats[m as usize].normal.dot(first) > least)
}

/// Does a strip lie in the middle of a smooth face that it is no more than a stretch of?
fn lies_amid(flats: &[Flat], taken: &[bool], members: &[u32]) -> bool {
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
fn patch(flats: &[Flat], taken: &[bool], seed: u32) -> Vec<u32> {
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

/// Vertices that two of the flats share, each with the mean normal of the facets round it.
fn samples(mesh: &Mesh, flats: &[Flat], members: &[u32]) -> Vec<Sample> {
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

/// A ball, cone or torus through the seed's patch, grown as far as it fits.
fn grow_curved(
    mesh: &Mesh,
    flats: &[Flat],
    taken: &[bool],
    seed: u32,
    patch: &[u32],
    tolerance: f64,
) -> Option<(Vec<u32>, Surface)> {
    if patch.len() < LEAST_CURVED {
        return None;
    }
    // a patch that runs over onto a neighbouring surface fits nothing: then a smaller one
    let sizes = [patch.len(), LEAST_CURVED.max(patch.len() / 3)];
    let (mut surface, mut count) = sizes.into_iter().find_map(|n| {
        let points = samples(mesh, flats, &patch[..n]);
        Some((kinds::recognise_curved(&points, tolerance)?, n))
    })?;
    let mut members = Vec::new();
    for _ in 0..5 {
        members = spread_curved(mesh, flats, taken, seed, &surface, tolerance);
        let points = samples(mesh, flats, &members);
        let better = kinds::again(&surface, &points).facing_most(&points);
        if better.residual(points.iter().map(|s| s.0)) <= tolerance {
            surface = better;
        }
        if members.len() == count {
            break;
        }
        count = members.len();
    }
    (members.len() >= LEAST_CURVED).then_some((members, surface))
}

fn spread_curved(
    mesh: &Mesh,
    flats: &[Flat],
    taken: &[bool],
    seed: u32,
    surface: &Surface,
    tolerance: f64,
) -> Vec<u32> {
    let least = CURVED_DEG.to_radians().cos();
    let mut members = vec![seed];
    let mut seen = FastSet::from_iter([seed]);
    let mut queue = VecDeque::from([seed]);
    while let Some(flat) = queue.pop_front() {
        for &next in &flats[flat as usize].soft {
            if taken[next as usize] || !seen.insert(next) {
                continue;
            }
            let flat = &flats[next as usize];
            let on = surface.normal(flat.middle).is_none_or(|n| n.dot(flat.normal) > least)
                && flat.triangles.iter().all(|&t| {
                    let corners = mesh.corners(t as usize);
                    corners.iter().all(|&p| surface.height(p).is_some_and(|h| h.abs() <= tolerance))
                });
            if on {
                members.push(next);
                queue.push_back(next);
            }
        }
    }
    members.sort_unstable();
    members
}

/// Does the surface end where another one begins, rather than where a freeform one drifts away?
fn ends_sharply(
    mesh: &Mesh,
    flats: &[Flat],
    taken: &[bool],
    members: &[u32],
    surface: &Surface,
    tolerance: f64,
) -> bool {
    let inside: FastSet = members.iter().copied().collect();
    let mut outside: Vec<u32> = members
        .iter()
        .flat_map(|&m| flats[m as usize].soft.iter().copied())
        .filter(|n| !inside.contains(n) && !taken[*n as usize])
        .collect();
    outside.sort_unstable();
    outside.dedup();
    let narrow = |flat: &&u32| {
        let corners = flats[**flat as usize].triangles.iter().flat_map(|&t| mesh.corners(t as usize));
        surface.residual(corners) <= NARROW * tolerance
    };
    3 * outside.iter().filter(narrow).count() < outside.len().max(1)
}

fn curved_face(mesh: &Mesh, flats: &[Flat], members: &[u32], surface: Surface) -> Found {
    let triangles: Vec<u32> = members.iter().flat_map(|&m| flats[m as usize].triangles.iter().copied()).collect();
    let residual = surface.residual(triangles.iter().flat_map(|&t| mesh.corners(t as usize)));
    let surface = match surface {
        Surface::Torus { centre, axis, major, minor, inside } => {
            Surface::Torus { centre, axis: leading(axis), major, minor, inside }
        }
        other => other,
    };
    Found { surface, residual, triangles: sorted(&triangles) }
}

fn stands_out(flats: &[Flat], taken: &[bool], seed: u32) -> bool {
    let flat = &flats[seed as usize];
    flat.soft.iter().filter(|&&n| !taken[n as usize]).all(|&n| flats[n as usize].area < STANDS_OUT * flat.area)
}

fn plane_face(mesh: &Mesh, flat: &Flat) -> Found {
    // Normal and place from all of the area, so that a rounding in one facet doesn't tilt it.
    let cross: DVec3 = flat.triangles.iter().map(|&t| mesh.cross(t as usize)).sum();
    let normal = cross.normalize_or(flat.normal);
    let origin = flat.triangles.iter().map(|&t| mesh.centroid(t as usize) * mesh.area(t as usize)).sum::<DVec3>()
        / flat.area.max(f64::MIN_POSITIVE);
    let residual = flat
        .triangles
        .iter()
        .flat_map(|&t| mesh.corners(t as usize))
        .map(|p| (p - origin).dot(normal).abs())
        .fold(0.0, f64::max);
    Found { surface: Surface::Plane { origin, normal }, residual, triangles: sorted(&flat.triangles) }
}

fn cylinder_face(mesh: &Mesh, flats: &[Flat], members: &[u32], cylinder: Cylinder) -> Found {
    let shared = shared_vertices(mesh, flats, members);
    let points = vertices_of(mesh, flats, members.iter().copied());
    let along: Vec<f64> = points.iter().map(|p| (*p - cylinder.origin).dot(cylinder.axis)).collect();
    let low = along.iter().copied().fold(f64::INFINITY, f64::min);
    let high = along.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let axis = leading(cylinder.axis);
    let origin = cylinder.origin + cylinder.axis * ((low + high) / 2.0);
    let first = &flats[members[0] as usize];
    let out = (mesh.centroid(first.triangles[0] as usize) - origin).reject_from_normalized(axis);
    let triangles: Vec<u32> = members.iter().flat_map(|&m| flats[m as usize].triangles.iter().copied()).collect();
    Found {
        surface: Surface::Cylinder { origin, axis, radius: cylinder.radius, inside: out.dot(first.normal) < 0.0 },
        residual: cylinder.residual(&shared),
        triangles: sorted(&triangles),
    }
}

fn freeform(flats: &[Flat], taken: &[bool]) -> Vec<Found> {
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

fn sorted(triangles: &[u32]) -> Vec<u32> {
    let mut triangles = triangles.to_vec();
    triangles.sort_unstable();
    triangles
}
