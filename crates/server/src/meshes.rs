//! Meshes as they travel to the browser: little-endian, every corner on its own where faces meet,
//! so that creases are drawn sharp.
//!
//! Layout: `u32` corner count n, `u32` triangle count t, `u32` segment count s; then n × 3 `f32`
//! positions (mm), n × 3 `f32` normals, n × 2 `i32` (mark or −1; face of the part, or colour of a letter as
//! red · 65536 + green · 256 + blue, −1 for those without one of their own, −2 for the plate they stand on),
//! t × 3 `u32` corners, s × 6 `f32` segments of the creases. Triangles on the sides of a cut-out
//! block are left out: they are inside the part.

use glam::DVec3;
use hashbrown::HashMap;
use relief::{
    MarkedSolid, Role, Tag,
    body::{FREE, PAD},
};
use solid::{Mesh, Part, Surface, topology::for_each_edge};
use workbench::outcome::Group;

/// Edges between facets that turn by more than this are drawn, degrees.
const CREASE_DEG: f64 = 20.0;

/// What a triangle belongs to, for picking and colour.
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
struct Owner {
    mark: i32,
    place: i32,
    role: u8,
}

#[must_use]
pub fn part(part: &Part) -> Vec<u8> {
    let owner = |t: usize| Some(Owner { mark: -1, place: part.face_of[t] as i32, role: 0 });
    let exact = |t: usize, corner: usize| Some(part.normals.as_ref()?[t][corner].as_dvec3());
    pack(&part.mesh, owner, |face| Some(&part.faces.get(face as usize)?.surface), exact, Vec::new())
}

/// Red, green and blue by a letter's mark and its place there.
type Colours = std::collections::HashMap<(u32, u32), [u8; 3]>;

/// Marks that lie together on their piece of the part.
#[must_use]
pub fn group(group: &Group, part: &Part) -> Vec<u8> {
    marked(group.shown(), part, &group.colours, &group.stamps)
}

/// The part without the pieces that marks lie on.
#[must_use]
pub fn rest(rest: &MarkedSolid, part: &Part) -> Vec<u8> {
    marked(rest, part, &Colours::new(), &[])
}

fn marked(solid: &MarkedSolid, part: &Part, colours: &Colours, stamps: &[u32]) -> Vec<u8> {
    let owner = |t: usize| match solid.tags[t] {
        Tag::Part { face } => Some(Owner { mark: -1, place: face as i32, role: 0 }),
        Tag::Relief { mark, character, role } => {
            let role = match role {
                Role::Top => 1,
                Role::Floor => 2,
                Role::Wall | Role::Edge | Role::Root => 3,
                Role::Skirt | Role::Base => 4,
            };
            let own = colours.get(&(mark, character)).map(|[r, g, b]| i32::from_be_bytes([0, *r, *g, *b]));
            let on_plate = [PAD, FREE].contains(&character) || stamps.contains(&mark);
            let place = own.unwrap_or(if on_plate { -2 } else { -1 });
            Some(Owner { mark: mark as i32, place, role })
        }
        Tag::Cut | Tag::Under { .. } => None,
    };
    let is_hatched = |t: &usize| match solid.tags[*t] {
        Tag::Relief { mark, character, role: Role::Top } => character == FREE || stamps.contains(&mark),
        _ => false,
    };
    let hatching = hatching(&solid.mesh, &(0..solid.tags.len()).filter(is_hatched).collect::<Vec<_>>());
    pack(&solid.mesh, owner, |face| Some(&part.faces.get(face as usize)?.surface), |_, _| None, hatching)
}

/// Lines across facets where planes at an even distance cut them.
fn hatching(mesh: &Mesh, facets: &[usize]) -> Vec<[DVec3; 2]> {
    /// mm.
    const APART: f64 = 1.0;
    let Some(&first) = facets.first() else { return Vec::new() };
    // square to the facets, aslant to the axes
    let normal = mesh.normal(first);
    let across = DVec3::new(1.0, 0.7, 0.4).reject_from(normal).normalize_or(normal.any_orthonormal_vector());
    let mut lines = Vec::new();
    for &t in facets {
        let corners = mesh.corners(t);
        let at = corners.map(|p| p.dot(across) / APART);
        let (low, high) = (at.iter().copied().fold(f64::MAX, f64::min), at.iter().copied().fold(f64::MIN, f64::max));
        let mut level = low.ceil();
        while level <= high {
            let cuts: Vec<DVec3> = [(0, 1), (1, 2), (2, 0)]
                .into_iter()
                .filter(|&(a, b)| (at[a] < level) != (at[b] < level))
                .map(|(a, b)| corners[a].lerp(corners[b], (level - at[a]) / (at[b] - at[a])))
                .collect();
            if let [a, b] = cuts[..] {
                lines.push([a, b]);
            }
            level += 1.0;
        }
    }
    lines
}

fn pack<'a>(
    mesh: &Mesh,
    owner: impl Fn(usize) -> Option<Owner>,
    surface: impl Fn(i32) -> Option<&'a Surface>,
    known: impl Fn(usize, usize) -> Option<DVec3>,
    mut segments: Vec<[DVec3; 2]>,
) -> Vec<u8> {
    let mut corners: HashMap<(u32, Owner), u32> = HashMap::new();
    let mut positions: Vec<DVec3> = Vec::new();
    let mut normals: Vec<DVec3> = Vec::new();
    let mut owners: Vec<Owner> = Vec::new();
    let mut triangles: Vec<[u32; 3]> = Vec::new();
    for (at, t) in mesh.triangles.iter().enumerate() {
        let Some(own) = owner(at) else { continue };
        let cross = mesh.cross(at);
        let flat = cross.normalize_or_zero();
        // walls are not smoothed over: their facets meet in real edges
        let sharp = own.role == 3 || own.role == 4;
        triangles.push([0, 1, 2].map(|k| {
            let v = t[k];
            let p = mesh.vertices[v as usize];
            let mut new = || {
                positions.push(p);
                owners.push(own);
                normals.push(DVec3::ZERO);
                positions.len() as u32 - 1
            };
            let corner = if sharp { new() } else { *corners.entry((v, own)).or_insert_with(new) };
            let exact = if own.mark < 0 { surface(own.place).and_then(|s| s.normal(p)) } else { None };
            let exact = exact.or_else(|| known(at, k).filter(|n| n.length_squared() > 0.5).map(|n| n * cross.length()));
            normals[corner as usize] += exact.unwrap_or(if sharp { flat } else { cross });
            corner
        }));
    }
    let crease = CREASE_DEG.to_radians().cos();
    for_each_edge(mesh, |edge| {
        if let [a, b] = edge {
            let (one, other) = (owner(a.triangle as usize), owner(b.triangle as usize));
            if let (Some(one), Some(other)) = (one, other) {
                let turn = mesh.normal(a.triangle as usize).dot(mesh.normal(b.triangle as usize));
                // inside a plane or a cylinder there are no creases, only slivers whose normals mean nothing
                let inside = one == other
                    && (one.mark >= 0 || surface(one.place).is_some_and(|s| !matches!(s, Surface::Freeform)));
                if turn < crease && !inside {
                    segments.push([a.from, a.to].map(|v| mesh.vertices[v as usize]));
                }
            }
        }
    });
    let mut out = Vec::with_capacity(12 + positions.len() * 32 + triangles.len() * 12 + segments.len() * 24);
    for count in [positions.len(), triangles.len(), segments.len()] {
        out.extend((count as u32).to_le_bytes());
    }
    let floats =
        |out: &mut Vec<u8>, p: DVec3| p.as_vec3().to_array().into_iter().for_each(|c| out.extend(c.to_le_bytes()));
    positions.iter().for_each(|p| floats(&mut out, *p));
    normals.iter().for_each(|n| floats(&mut out, n.normalize_or_zero()));
    for own in &owners {
        out.extend(own.mark.to_le_bytes());
        out.extend(own.place.to_le_bytes());
    }
    triangles.iter().flatten().for_each(|v| out.extend(v.to_le_bytes()));
    segments.iter().flatten().for_each(|p| floats(&mut out, *p));
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_block_travels_with_its_twelve_edges_and_square_normals() {
        let part = Part::from_mesh(&demo::parts::plain_block()).unwrap();
        let bytes = super::part(&part);
        let word = |at: usize| u32::from_le_bytes(bytes[4 * at..4 * at + 4].try_into().unwrap());
        let (corners, triangles, segments) = (word(0) as usize, word(1) as usize, word(2) as usize);
        assert_eq!((corners, triangles, segments), (24, 12, 12));
        assert_eq!(bytes.len(), 12 + corners * 32 + triangles * 12 + segments * 24);
        let normal = |at: usize| f32::from_bits(word(3 + 3 * corners + at)).abs();
        assert!((0..3 * corners).all(|k| normal(k) == 0.0 || (normal(k) - 1.0).abs() < 1e-6));
    }
}
