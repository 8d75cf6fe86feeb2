//! Holes in one plane, closed by lids.

use crate::{contour, faces::tolerance, fill::fill, mesh::Mesh, topology::for_each_edge};
use glam::{DVec2, DVec3};

pub(super) fn close_holes(mesh: &Mesh) -> (Mesh, usize) {
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
    let at = |v: u32| DVec2::new(mesh.vertices[v as usize].dot(x), mesh.vertices[v as usize].dot(y));
    flat::contains(&ring.iter().map(|&v| at(v)).collect::<Vec<_>>(), at(other[0]))
}
