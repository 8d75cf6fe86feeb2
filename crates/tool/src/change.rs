//! How far the surface of a newer revision lies from the earlier one's.

use crate::divided::{Divided, normal};
use rayon::prelude::*;
use solid::{Part, queries::Queries};

/// For each piece of `surface`: mm from its middle to the earlier part's surface, positive where the newer
/// part stands out over it.
#[must_use]
pub fn change(surface: &Divided, earlier: &Part, queries: &Queries) -> Vec<f64> {
    surface
        .pieces
        .par_iter()
        .map(|piece| {
            let p = piece.centroid();
            queries.nearest(p, f64::MAX).map_or(0.0, |hit| {
                let off = p - hit.point;
                let side = off.dot(normal(earlier, hit.triangle, hit.point));
                // at an edge the nearest facet's own normal says least; the distance is right in any case
                off.length() * if side < 0.0 { -1.0 } else { 1.0 }
            })
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec3;

    #[test]
    fn a_thicker_plate_stands_out_by_what_was_added() {
        let plate =
            |thick: f64| Part::from_mesh(&demo::shapes::block(DVec3::ZERO, DVec3::new(40.0, 30.0, thick))).unwrap();
        let (old, new) = (plate(3.0), plate(3.4));
        let surface = Divided::of(&new);
        let queries = Queries::new(old.mesh.clone());
        for (piece, off) in surface.pieces.iter().zip(change(&surface, &old, &queries)) {
            let n = normal(&new, piece.of, piece.centroid());
            if n == DVec3::Z {
                assert!((off - 0.4).abs() < 1e-9, "{off}");
            } else if n == -DVec3::Z {
                assert!(off.abs() < 1e-9);
            }
        }
        let queries = Queries::new(new.mesh.clone());
        let surface = Divided::of(&old);
        let least = change(&surface, &new, &queries).into_iter().fold(f64::MAX, f64::min);
        assert!((least + 0.4).abs() < 1e-9, "{least}");
    }
}
