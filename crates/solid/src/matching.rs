//! Faces of a part found again in a newer revision of it: by kind, parameters, place and size.
//!
//! Every pair of faces of one kind has a cost; pairs are taken cheapest first, each face once. A pair
//! whose surfaces agree is the same face, however much was cut out of it; one that only looks alike
//! (turned the same way, about as large) has moved. What is left gets a guess and is never taken
//! for certain.

use crate::{part::Part, surface::Surface};
use glam::DVec3;

/// Surfaces agree within these, mm and sine.
const SAME_MM: f64 = 0.01;
const SAME_SINE: f64 = 1e-3;
/// A face that moved still looks along its old direction within this sine (1°), and has its radii
/// and its area within these shares.
const MOVED_SINE: f64 = 0.0175;
const MOVED_RADIUS: f64 = 0.1;
const MOVED_AREA: f64 = 2.0;

/// What became of a face.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Match {
    /// On the same surface.
    Same { to: u32 },
    /// Alike, elsewhere or of another size. A face of the old size moved as its middle did; of one that
    /// grew or shrank only the way is known that its surface went, mm.
    Moved { to: u32, by: DVec3 },
    /// The closest face there is, which may belong to another one.
    Guess { to: u32 },
    /// The newer part has no face of its kind.
    Gone,
}

impl Match {
    #[must_use]
    pub fn to(self) -> Option<u32> {
        match self {
            Self::Same { to } | Self::Moved { to, .. } | Self::Guess { to } => Some(to),
            Self::Gone => None,
        }
    }
}

struct Features {
    surface: Surface,
    area: f64,
    /// Area-weighted middle and normal.
    middle: DVec3,
    looks: DVec3,
}

fn features(part: &Part) -> Vec<Features> {
    let mut sums = vec![(DVec3::ZERO, DVec3::ZERO); part.faces.len()];
    for (t, &face) in part.face_of.iter().enumerate() {
        let sum = &mut sums[face as usize];
        sum.0 += part.mesh.centroid(t) * part.mesh.area(t);
        sum.1 += part.mesh.cross(t) / 2.0;
    }
    part.faces
        .iter()
        .zip(sums)
        .map(|(f, (middle, looks))| Features {
            surface: f.surface.clone(),
            area: f.area,
            middle: middle / f.area.max(f64::MIN_POSITIVE),
            looks: looks.normalize_or_zero(),
        })
        .collect()
}

/// How two surfaces of one kind differ: the sine between their directions, mm between them where
/// they are alike otherwise, and the share by which their radii differ. `None` for different kinds.
fn apart(a: &Surface, b: &Surface) -> Option<(f64, f64, f64)> {
    let share = |r: f64, s: f64| (r - s).abs() / r.max(s).max(f64::MIN_POSITIVE);
    let off_axis = |from: DVec3, to: DVec3, axis: DVec3| (to - from).reject_from_normalized(axis).length();
    if a.inside() != b.inside() {
        return None;
    }
    Some(match (a, b) {
        (&Surface::Plane { origin, normal }, &Surface::Plane { origin: o, normal: n }) => {
            let sine = if normal.dot(n) > 0.0 { normal.cross(n).length() } else { 1.0 };
            (sine, (o - origin).dot(normal).abs(), 0.0)
        }
        (&Surface::Cylinder { origin, axis, radius, .. }, &Surface::Cylinder { origin: o, axis: x, radius: r, .. }) => {
            (axis.cross(x).length(), off_axis(origin, o, axis) + (radius - r).abs(), share(radius, r))
        }
        (&Surface::Cone { apex, axis, angle, .. }, &Surface::Cone { apex: p, axis: x, angle: w, .. }) => {
            ((axis - x).length(), apex.distance(p), share(angle, w))
        }
        (&Surface::Sphere { centre, radius, .. }, &Surface::Sphere { centre: c, radius: r, .. }) => {
            (0.0, centre.distance(c) + (radius - r).abs(), share(radius, r))
        }
        (
            &Surface::Torus { centre, axis, major, minor, .. },
            &Surface::Torus { centre: c, axis: x, major: m, minor: n, .. },
        ) => (
            axis.cross(x).length(),
            centre.distance(c) + (major - m).abs() + (minor - n).abs(),
            share(major, m).max(share(minor, n)),
        ),
        (Surface::Revolution { axis, profile, .. }, Surface::Revolution { axis: x, profile: q, .. })
        | (Surface::Extrusion { axis, profile, .. }, Surface::Extrusion { axis: x, profile: q, .. }) => {
            (axis.cross(*x).length(), b.residual(a.profile_points()), share(profile.length(), q.length()))
        }
        (Surface::Freeform, Surface::Freeform) => (0.0, f64::INFINITY, 0.0),
        _ => return None,
    })
}

/// What became of each face of `old` in `new`, in the order of `old`'s faces.
#[must_use]
pub fn matching(old: &Part, new: &Part) -> Vec<Match> {
    let across = old.mesh.diagonal().max(f64::MIN_POSITIVE);
    let (olds, news) = (features(old), features(new));
    // (cost, old, new, same surface)
    let mut pairs: Vec<(f64, u32, u32, bool)> = Vec::new();
    let mut closest: Vec<Option<(f64, u32)>> = vec![None; olds.len()];
    // a face that was joined to another one is there no more
    let there = |f: &(usize, &Features)| f.1.area > 0.0;
    for (i, a) in olds.iter().enumerate().filter(there) {
        for (j, b) in news.iter().enumerate().filter(there) {
            let Some((sine, mm, radius)) = apart(&a.surface, &b.surface) else { continue };
            let middle = a.middle.distance(b.middle);
            let size = (a.area / b.area.max(f64::MIN_POSITIVE)).ln().abs();
            let freeform = matches!(a.surface, Surface::Freeform);
            let looks = if freeform { 1.0 - a.looks.dot(b.looks) } else { sine };
            let cost = middle / across + 0.2 * size + looks + radius;
            if closest[i].is_none_or(|(least, _)| cost < least) {
                closest[i] = Some((cost, j as u32));
            }
            // a freeform face is the same when nothing tells it apart
            let same = if freeform {
                middle < SAME_MM && size < 1e-3 && looks < 1e-4
            } else {
                sine < SAME_SINE && mm < SAME_MM
            };
            let alike = looks < MOVED_SINE && radius < MOVED_RADIUS && size < MOVED_AREA.ln();
            if same || alike {
                pairs.push((cost + if same { 0.0 } else { 10.0 }, i as u32, j as u32, same));
            }
        }
    }
    pairs.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut found = vec![None; olds.len()];
    let mut taken = vec![false; news.len()];
    for (_, i, j, same) in pairs {
        if found[i as usize].is_some() || taken[j as usize] {
            continue;
        }
        taken[j as usize] = true;
        let by = moved(&olds[i as usize], &news[j as usize]);
        found[i as usize] = Some(if same { Match::Same { to: j } } else { Match::Moved { to: j, by } });
    }
    found
        .into_iter()
        .zip(closest)
        .map(|(found, closest)| found.unwrap_or_else(|| closest.map_or(Match::Gone, |(_, to)| Match::Guess { to })))
        .collect()
}

/// How far a face moved.
fn moved(old: &Features, new: &Features) -> DVec3 {
    const SAME_SIZE: f64 = 1e-3;
    let by = new.middle - old.middle;
    if (old.area - new.area).abs() <= SAME_SIZE * old.area {
        return by;
    }
    match old.surface {
        Surface::Plane { normal, .. } => normal * by.dot(normal),
        Surface::Cylinder { axis, .. } => by.reject_from_normalized(axis),
        _ => by,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{boolean::Body, mesh::Mesh};

    fn part(mesh: &Mesh) -> Part {
        Part::from_mesh(mesh).unwrap()
    }

    fn block(low: [f64; 3], high: [f64; 3]) -> Body {
        Body::block(low.into(), high.into())
    }

    fn plane(part: &Part, normal: DVec3) -> u32 {
        part.faces.iter().position(|f| f.surface.normal(DVec3::ZERO) == Some(normal)).unwrap() as u32
    }

    #[test]
    fn a_pocket_in_a_face_leaves_it_the_same_and_a_longer_block_moves_its_end() {
        let old = part(&block([0.0, 0.0, 0.0], [60.0, 30.0, 12.0]).traced().mesh);
        let pocket = block([40.0, 10.0, 8.0], [50.0, 20.0, 20.0]);
        let new = part(&block([0.0, 0.0, 0.0], [64.0, 30.0, 12.0]).with(&[], &[pocket]).unwrap().traced().mesh);
        let found = matching(&old, &new);
        let top = new.faces.iter().position(
            |f| matches!(f.surface, Surface::Plane { origin, normal } if normal == DVec3::Z && origin.z == 12.0),
        );
        assert_eq!(found[plane(&old, DVec3::Z) as usize], Match::Same { to: top.unwrap() as u32 });
        let Match::Moved { by, .. } = found[plane(&old, DVec3::X) as usize] else { panic!("{found:?}") };
        assert!((by - DVec3::X * 4.0).length() < 1e-9);
        assert!(matches!(found[plane(&old, -DVec3::X) as usize], Match::Same { .. }));
    }

    #[test]
    fn a_part_matches_itself_face_by_face_and_what_is_gone_is_guessed_at() {
        let old = part(
            &block([0.0, 0.0, 0.0], [60.0, 30.0, 12.0])
                .with(&[block([10.0, 10.0, 11.0], [20.0, 20.0, 16.0])], &[])
                .unwrap()
                .traced()
                .mesh,
        );
        for (at, found) in matching(&old, &old).into_iter().enumerate() {
            assert_eq!(found, Match::Same { to: at as u32 });
        }
        let new = part(&block([0.0, 0.0, 0.0], [60.0, 30.0, 12.0]).traced().mesh);
        let found = matching(&old, &new);
        let boss = old
            .faces
            .iter()
            .position(
                |f| matches!(f.surface, Surface::Plane { origin, normal } if normal == DVec3::Z && origin.z == 16.0),
            )
            .unwrap();
        assert!(matches!(found[boss], Match::Guess { .. }), "{found:?}");
        assert_eq!(found.iter().filter(|m| matches!(m, Match::Same { .. })).count(), 6);
    }
}
