//! Mends of a mesh that is no closed solid: each says what it changed.

mod doubles;
mod holes;
mod loose;
mod turn;

use crate::mesh::Mesh;
use serde::{Deserialize, Serialize};
use trade::PartMend;

/// What a mend makes of a mesh, and how many places it changed.
type Change = fn(&Mesh) -> (Mesh, usize);

/// All mends, in the order in which they are offered.
const MENDS: [(PartMend, Change); 4] = [
    (PartMend::DropDoubles, doubles::drop_doubles),
    (PartMend::DropLoose, loose::drop_loose),
    (PartMend::Turn, turn::turn),
    (PartMend::CloseHoles, holes::close_holes),
];

/// What a mend did.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
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
    let (_, change) = MENDS.iter().find(|(listed, _)| *listed == mend).expect("every mend is in the list");
    let (after, count) = change(mesh);
    let told = Mended { mend, count, before: mesh.volume(), after: after.volume() };
    (after, told)
}

fn kept(mesh: &Mesh, keep: impl Fn(usize) -> bool) -> Mesh {
    let triangles = mesh.triangles.iter().enumerate().filter(|(t, _)| keep(*t)).map(|(_, t)| *t).collect();
    Mesh { vertices: mesh.vertices.clone(), triangles }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::soundness;
    use glam::DVec3;

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
