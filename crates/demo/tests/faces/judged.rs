//! What was found, held against what the part was made as.

use crate::labelled::{Labelled, Truth};
use glam::DVec3;
use solid::{Part, Surface};
use std::collections::HashMap;

/// Area of other faces that a face may hold, as a share of its own: slivers at its rim.
const STRAY: f64 = 0.01;
/// A face is told right where one found face has this share of it.
const MOST_OF: f64 = 0.97;
/// Faces on which a found surface and the true one differ by no more are one, mm.
const SAME_MM: f64 = 0.002;
/// A profile that was fitted to corners lies within this of the true one, mm, or a tenth of how far facets lie off it.
const PROFILE_MM: f64 = 0.003;
/// So many faces over their creases in one freeform face are told wrongly.
const A_FEW: usize = 3;
/// Two surfaces that meet at less than this run on into one another, degrees.
const TANGENT_DEG: f64 = 1.5;

/// How a face that was made was told.
#[derive(Clone, Debug, PartialEq)]
pub enum Told {
    Right,
    /// Most of it in freeform faces.
    Freeform,
    /// On its own surface, but in so many faces.
    Split(usize),
    Wrong(String),
}

fn kind(surface: &Surface) -> &'static str {
    match surface {
        Surface::Plane { .. } => "plane",
        Surface::Cylinder { .. } => "cylinder",
        Surface::Cone { .. } => "cone",
        Surface::Sphere { .. } => "sphere",
        Surface::Torus { .. } => "torus",
        Surface::Revolution { .. } => "revolution",
        Surface::Extrusion { .. } => "extrusion",
        Surface::Freeform => "freeform",
    }
}

/// Does the found surface follow the true profile? `sag`: how far the face's facets lie off it, mm.
fn follows(found: &Surface, truth: &Truth, sag: f64) -> bool {
    let (origin, x, y, curve) = match truth {
        Truth::Revolution { origin, axis, curve } => (origin, axis.any_orthonormal_vector(), *axis, curve),
        Truth::Extrusion { origin, axis, across, curve } => (origin, *across, axis.cross(*across), curve),
        Truth::Freeform | Truth::On(_) => return false,
    };
    let near = PROFILE_MM.max(sag / 10.0);
    curve.iter().all(|at| found.height(*origin + x * at.x + y * at.y).is_some_and(|off| off.abs() <= near))
}

/// Does the found surface lie where the true one does, under this place of the part?
fn lies_on(found: &Surface, surface: &Surface, p: DVec3) -> bool {
    let (Some(h), Some(n)) = (surface.height(p), surface.normal(p)) else { return true };
    let foot = p - n * h;
    found.height(foot).is_none_or(|off| off.abs() <= SAME_MM) && found.normal(foot).is_none_or(|m| m.dot(n) > 0.99)
}

/// One verdict for each face that the part was made with; `part` was read from its mesh.
pub fn told(made: &Labelled, part: &Part) -> Vec<Told> {
    // welding may drop facets, and keeps their corners
    let key = |c: [DVec3; 3]| {
        let mut c = c.map(|p| (p * 1e3).round().as_i64vec3().to_array());
        c.sort_unstable();
        c
    };
    let labels: HashMap<_, u32> =
        (0..made.mesh.triangles.len()).map(|t| (key(made.mesh.corners(t)), made.of[t])).collect();
    let labels: Vec<Option<u32>> =
        (0..part.mesh.triangles.len()).map(|t| labels.get(&key(part.mesh.corners(t))).copied()).collect();
    let same = one_surface(made);
    // area of each found face by what it was made as
    let mut shares: Vec<HashMap<u32, f64>> = vec![HashMap::new(); part.faces.len()];
    let mut whole: HashMap<u32, f64> = HashMap::new();
    let mut off: HashMap<(u32, u32), f64> = HashMap::new();
    let mut profiles: HashMap<(u32, u32), bool> = HashMap::new();
    let mut sags = vec![0.0_f64; part.faces.len()];
    for (t, &face) in part.face_of.iter().enumerate() {
        let off = part.faces[face as usize].surface.height(part.mesh.centroid(t)).unwrap_or(0.0).abs();
        sags[face as usize] = sags[face as usize].max(off);
    }
    for (t, label) in labels.iter().enumerate() {
        let Some(label) = label.map(|l| same[l as usize]) else { continue };
        let (face, area) = (part.face_of[t], part.mesh.area(t));
        *shares[face as usize].entry(label).or_default() += area;
        *whole.entry(label).or_default() += area;
        let surface = &part.faces[face as usize].surface;
        let mut agrees = |p| match &made.faces[label as usize] {
            Truth::On(truth) => lies_on(surface, truth, p),
            truth => *profiles.entry((face, label)).or_insert_with(|| follows(surface, truth, sags[face as usize])),
        };
        if !matches!(surface, Surface::Freeform) && !agrees(part.mesh.centroid(t)) {
            *off.entry((face, label)).or_default() += area;
        }
    }
    let mut meets = sharp_neighbours(made, &same);
    meets.sort_unstable();
    (0..made.faces.len() as u32)
        .filter(|label| whole.contains_key(label))
        .map(|label| {
            let (truth, area) = (&made.faces[label as usize], whole[&label]);
            let mut holders: Vec<(u32, f64)> = (0..part.faces.len() as u32)
                .filter_map(|f| Some((f, *shares[f as usize].get(&label)?)))
                .filter(|(_, own)| *own > STRAY * area)
                .collect();
            holders.sort_by(|a, b| b.1.total_cmp(&a.1));
            for &(face, own) in &holders {
                let found = &part.faces[face as usize];
                let others: f64 = shares[face as usize].iter().filter(|(l, _)| **l != label).map(|(_, a)| a).sum();
                // many flats in a row may as well be a bend that was divided coarsely
                let held = shares[face as usize].iter().filter(|(l, a)| **a > STRAY * whole[l]).count();
                if matches!(found.surface, Surface::Freeform) && held > A_FEW {
                    continue;
                }
                if matches!(found.surface, Surface::Freeform) {
                    let joined = shares[face as usize].iter().filter(|(l, a)| **l != label && **a > STRAY * whole[l]);
                    if let Some((other, _)) =
                        joined.into_iter().find(|(l, _)| meets.contains(&(label.min(**l), label.max(**l))))
                    {
                        return Told::Wrong(format!(
                            "{} and {} over their crease in one",
                            truth.word(),
                            made.faces[*other as usize].word()
                        ));
                    }
                } else if kind(&found.surface) != truth.word() {
                    return Told::Wrong(format!(
                        "{} told as {:?}, {:.0} % of it",
                        truth.word(),
                        found.surface,
                        100.0 * own / area
                    ));
                } else if off.get(&(face, label)).is_some_and(|a| *a > STRAY * area) {
                    return Told::Wrong(format!("{truth:?} told as {:?}", found.surface));
                } else if others > STRAY * found.area {
                    return Told::Wrong(format!(
                        "{} holds {:.1} % of others",
                        truth.word(),
                        100.0 * others / found.area
                    ));
                }
            }
            let freeform = |f: &u32| matches!(part.faces[*f as usize].surface, Surface::Freeform);
            let exact = !matches!(truth, Truth::Freeform);
            match holders.first() {
                Some((face, own)) if *own >= MOST_OF * area => {
                    if freeform(face) && exact {
                        Told::Freeform
                    } else {
                        Told::Right
                    }
                }
                Some((face, _)) if exact && freeform(face) => Told::Freeform,
                _ => Told::Split(holders.len()),
            }
        })
        .collect()
}

/// The first of the faces that were made on the same surface, for each.
fn one_surface(made: &Labelled) -> Vec<u32> {
    let like = |a: &Truth, b: &Truth| match (a, b) {
        (Truth::On(x), Truth::On(y)) => {
            kind(x) == kind(y) && {
                let on = |p: &DVec3| x.height(*p).is_some_and(|h| h.abs() < 1e-4);
                let spots: Vec<DVec3> = made.mesh.vertices.iter().copied().filter(on).collect();
                let every = spots.len() / 100 + 1;
                y.inside() == x.inside()
                    && !spots.is_empty()
                    && spots.iter().step_by(every).all(|p| y.height(*p).is_some_and(|h| h.abs() < 2e-4))
            }
        }
        _ => false,
    };
    (0..made.faces.len()).map(|k| (0..k).find(|&j| like(&made.faces[j], &made.faces[k])).unwrap_or(k) as u32).collect()
}

/// Pairs of faces that meet in an edge and do not run on into one another there.
fn sharp_neighbours(made: &Labelled, same: &[u32]) -> Vec<(u32, u32)> {
    let mut pairs: HashMap<(u32, u32), (f64, f64)> = HashMap::new();
    for pair in solid::topology::neighbours(&made.mesh) {
        let [a, b] = pair.triangles.map(|t| same[made.of[t as usize] as usize]);
        if a == b {
            continue;
        }
        let [p, q] = pair.edge.map(|v| made.mesh.vertices[v as usize]);
        let middle = (p + q) / 2.0;
        let normal = |face: u32, t: u32| match &made.faces[face as usize] {
            Truth::On(s) => s.normal(middle).unwrap_or_else(|| made.mesh.normal(t as usize)),
            _ => made.mesh.normal(t as usize),
        };
        let sharp = normal(a, pair.triangles[0]).dot(normal(b, pair.triangles[1])) < TANGENT_DEG.to_radians().cos();
        let known = [a, b].iter().all(|f| matches!(made.faces[*f as usize], Truth::On(_)));
        let sum = pairs.entry((a.min(b), a.max(b))).or_default();
        sum.1 += p.distance(q);
        if sharp && known {
            sum.0 += p.distance(q);
        }
    }
    pairs.into_iter().filter(|(_, (sharp, all))| *sharp > 0.5 * all).map(|(pair, _)| pair).collect()
}
