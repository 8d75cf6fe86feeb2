//! The part cut by a plane: the segments where its facets pass through it.

use crate::{fill::fill, mesh::Mesh};
use glam::{DVec2, DVec3};
use std::collections::BTreeMap;

/// Segments of the section of `mesh` with the plane `normal · p = height` (`normal` a unit vector,
/// height in mm along it). A vertex on the plane counts as above it, so that each crossing is met
/// exactly once.
#[must_use]
pub fn section(mesh: &Mesh, normal: DVec3, height: f64) -> Vec<[DVec3; 2]> {
    let off: Vec<f64> = mesh.vertices.iter().map(|v| v.dot(normal) - height).collect();
    let mut segments = Vec::new();
    for t in &mesh.triangles {
        let above = t.map(|v| off[v as usize] >= 0.0);
        if above[0] == above[1] && above[1] == above[2] {
            continue;
        }
        let mut ends = [DVec3::ZERO; 2];
        for k in 0..3 {
            let (a, b) = (t[k], t[(k + 1) % 3]);
            let (da, db) = (off[a as usize], off[b as usize]);
            if (da >= 0.0) != (db >= 0.0) {
                let at = mesh.vertices[a as usize].lerp(mesh.vertices[b as usize], da / (da - db));
                ends[usize::from(da >= 0.0)] = at;
            }
        }
        segments.push(ends);
    }
    segments
}

/// The section as closed rings, each point once, material to the left seen against `normal`. A mesh
/// that is open where it is cut gives the rings that close and leaves the rest out.
#[must_use]
pub fn rings(mesh: &Mesh, normal: DVec3, height: f64) -> Vec<Vec<DVec3>> {
    let off: Vec<f64> = mesh.vertices.iter().map(|v| v.dot(normal) - height).collect();
    // points lie on edges of the mesh, which name them; each facet leads from one to the next
    let mut next: BTreeMap<(u32, u32), (u32, u32)> = BTreeMap::new();
    for t in &mesh.triangles {
        let (mut from, mut to) = (None, None);
        for k in 0..3 {
            let (a, b) = (t[k], t[(k + 1) % 3]);
            match (off[a as usize] >= 0.0, off[b as usize] >= 0.0) {
                (false, true) => from = Some((a.min(b), a.max(b))),
                (true, false) => to = Some((a.min(b), a.max(b))),
                _ => {}
            }
        }
        if let (Some(from), Some(to)) = (from, to) {
            next.insert(from, to);
        }
    }
    let point = |(a, b): (u32, u32)| {
        let (da, db) = (off[a as usize], off[b as usize]);
        mesh.vertices[a as usize].lerp(mesh.vertices[b as usize], da / (da - db))
    };
    let mut rings = Vec::new();
    while let Some((&start, _)) = next.first_key_value() {
        let mut ring = Vec::new();
        let mut at = start;
        while let Some(to) = next.remove(&at) {
            ring.push(point(at));
            at = to;
        }
        if at == start && ring.len() > 2 {
            rings.push(ring);
        }
    }
    rings
}

/// What is cut through, as triangles facing along `normal`; `None` where the rings cross or touch.
#[must_use]
pub fn filled(rings: &[Vec<DVec3>], normal: DVec3) -> Option<Vec<[DVec3; 3]>> {
    let (x, y) = normal.any_orthonormal_pair();
    // a vertex on the plane gives several points in one place
    let apart: Vec<Vec<DVec3>> = rings
        .iter()
        .map(|ring| {
            let mut apart: Vec<DVec3> = Vec::with_capacity(ring.len());
            for &p in ring {
                if apart.last().is_none_or(|q| q.distance(p) > 1e-9) {
                    apart.push(p);
                }
            }
            while apart.len() > 1 && apart[0].distance(apart[apart.len() - 1]) <= 1e-9 {
                apart.pop();
            }
            apart
        })
        .filter(|ring: &Vec<DVec3>| ring.len() > 2)
        .collect();
    let flat: Vec<Vec<DVec2>> =
        apart.iter().map(|ring| ring.iter().map(|p| DVec2::new(p.dot(x), p.dot(y))).collect()).collect();
    let points: Vec<DVec3> = apart.into_iter().flatten().collect();
    Some(fill(&flat, &[])?.into_iter().map(|t| t.map(|v| points[v as usize])).collect())
}

/// Area enclosed by the section, mm²: positive for a closed mesh that faces outward.
#[must_use]
pub fn section_area(mesh: &Mesh, normal: DVec3, height: f64) -> f64 {
    let (x, y) = normal.any_orthonormal_pair();
    section(mesh, normal, height)
        .iter()
        .map(|[a, b]| (a.dot(x) * b.dot(y) - b.dot(x) * a.dot(y)) / 2.0)
        .sum::<f64>()
        .abs()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::boolean::Body;

    fn hollow() -> Mesh {
        let block = |low: f64, high: f64| Body::block(DVec3::splat(low), DVec3::splat(high));
        block(0.0, 10.0).with(&[], &[block(2.0, 7.0)]).unwrap().traced().mesh
    }

    #[test]
    fn a_hollow_shows_in_the_section_and_the_filled_area_is_the_material() {
        let mesh = hollow();
        for (normal, height) in [(DVec3::Z, 4.0), (DVec3::X, 6.5), (DVec3::new(0.6, 0.0, 0.8), 6.0)] {
            let rings = rings(&mesh, normal, height);
            assert_eq!(rings.len(), 2, "{normal}");
            let triangles = filled(&rings, normal).unwrap();
            let area: f64 = triangles.iter().map(|[a, b, c]| (*b - *a).cross(*c - *a).dot(normal) / 2.0).sum();
            assert!((area - section_area(&mesh, normal, height)).abs() < 1e-9 && area > 50.0, "{normal}: {area}");
        }
        assert_eq!(rings(&mesh, DVec3::Z, 8.0).len(), 1);
        assert!(rings(&mesh, DVec3::Z, 11.0).is_empty());
    }

    #[test]
    fn a_plane_through_corners_and_faces_still_gives_whole_rings() {
        let mesh = hollow();
        // level with the hollow's floor: what lies on the plane counts as above it
        assert_eq!(rings(&mesh, DVec3::Z, 2.0).len(), 1);
        assert_eq!(rings(&mesh, DVec3::Z, 7.0).len(), 2);
        assert!(filled(&rings(&mesh, DVec3::Z, 7.0), DVec3::Z).is_some());
        let across = DVec3::new(1.0, -1.0, 0.0).normalize();
        assert!(filled(&rings(&mesh, across, 0.0), across).is_some());
    }
}
