//! Small symmetric matrices: sums of squares of vectors, and the directions in which they are least and greatest.

use glam::{DMat3, DVec3};
use std::array::from_fn;

pub(crate) fn outer(v: DVec3) -> DMat3 {
    DMat3::from_cols(v * v.x, v * v.y, v * v.z)
}

pub(crate) fn solved(matrix: DMat3, right: DVec3) -> Option<DVec3> {
    let size = matrix.x_axis.x + matrix.y_axis.y + matrix.z_axis.z;
    (matrix.determinant().abs() > 1e-12 * size.powi(3)).then(|| matrix.inverse() * right)
}

pub(crate) fn least_eigen(m: DMat3) -> (f64, DVec3) {
    let rows = m.to_cols_array_2d();
    let (value, v) = eigen(rows).into_iter().min_by(|a, b| a.0.total_cmp(&b.0)).unwrap_or((0.0, [0.0, 0.0, 1.0]));
    (value, DVec3::from(v).normalize_or(DVec3::Z))
}

/// Eigenvalues and unit eigenvectors of a symmetric matrix, by Jacobi's rotations (1846).
pub(crate) fn eigen<const N: usize>(mut a: [[f64; N]; N]) -> [(f64, [f64; N]); N] {
    let mut vectors: [[f64; N]; N] = from_fn(|i| from_fn(|j| f64::from(u8::from(i == j))));
    for _ in 0..60 {
        let off: f64 = (0..N).flat_map(|i| (0..i).map(move |j| (i, j))).map(|(i, j)| a[i][j] * a[i][j]).sum();
        let diagonal: f64 = (0..N).map(|i| a[i][i] * a[i][i]).sum();
        if off <= 1e-30 * diagonal {
            break;
        }
        for p in 0..N {
            for q in p + 1..N {
                if a[p][q] == 0.0 {
                    continue;
                }
                let theta = (a[q][q] - a[p][p]) / (2.0 * a[p][q]);
                let t = theta.signum() / (theta.abs() + theta.hypot(1.0));
                let t = if theta == 0.0 { 1.0 } else { t };
                let c = 1.0 / t.hypot(1.0);
                let s = t * c;
                for row in &mut a {
                    (row[p], row[q]) = (c * row[p] - s * row[q], s * row[p] + c * row[q]);
                }
                let (above, below) = (a[p], a[q]);
                a[p] = from_fn(|k| c * above[k] - s * below[k]);
                a[q] = from_fn(|k| s * above[k] + c * below[k]);
                for row in &mut vectors {
                    (row[p], row[q]) = (c * row[p] - s * row[q], s * row[p] + c * row[q]);
                }
            }
        }
    }
    from_fn(|k| (a[k][k], from_fn(|i| vectors[i][k])))
}
