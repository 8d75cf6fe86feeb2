//! Least-squares fits of a plane and of a cylinder to vertices that lie on the true surface.

use glam::{DMat3, DVec2, DVec3};

/// Any unit vector square to the unit vector `n`.
#[must_use]
pub fn square_to(n: DVec3) -> DVec3 {
    n.any_orthonormal_vector()
}

/// A cylinder without ends: point of the axis, unit axis, radius (mm).
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Cylinder {
    pub origin: DVec3,
    pub axis: DVec3,
    pub radius: f64,
}

impl Cylinder {
    /// How far `p` lies outside (+) or inside (−) the cylinder, mm.
    #[must_use]
    pub fn miss(&self, p: DVec3) -> f64 {
        (p - self.origin).reject_from_normalized(self.axis).length() - self.radius
    }

    /// Greatest absolute miss over `points`, mm.
    #[must_use]
    pub fn residual(&self, points: &[DVec3]) -> f64 {
        points.iter().map(|&p| self.miss(p).abs()).fold(0.0, f64::max)
    }
}

/// The circle nearest to points in a plane, by Kåsa's linear least squares (1976): x² + y² is
/// linear in centre and radius. `None` for fewer than three points or points on a line.
#[must_use]
pub fn circle(points: &[DVec2]) -> Option<(DVec2, f64)> {
    if points.len() < 3 {
        return None;
    }
    let mean = points.iter().sum::<DVec2>() / points.len() as f64;
    let (mut normal, mut right) = (DMat3::ZERO, DVec3::ZERO);
    let mut spread = 0.0_f64;
    for p in points {
        let p = *p - mean;
        let row = DVec3::new(2.0 * p.x, 2.0 * p.y, 1.0);
        let square = p.length_squared();
        spread = spread.max(square);
        normal += DMat3::from_cols(row * row.x, row * row.y, row * row.z);
        right += row * square;
    }
    // scale-free test: the determinant of the normal matrix against its size
    let size = normal.x_axis.x.max(normal.y_axis.y) * normal.x_axis.x.max(normal.y_axis.y) * points.len() as f64;
    if normal.determinant() <= 1e-14 * size {
        return None;
    }
    let solved = normal.inverse() * right;
    let centre = solved.truncate();
    let radius = (solved.z + centre.length_squared()).max(0.0).sqrt();
    (radius.is_finite() && radius > 0.0 && radius * radius < spread * 1e10).then_some((centre + mean, radius))
}

/// The cylinder with a known axis direction nearest to `points`.
#[must_use]
pub fn cylinder_along(axis: DVec3, points: &[DVec3]) -> Option<Cylinder> {
    let first = *points.first()?;
    let (x, y) = axis.any_orthonormal_pair();
    let flat: Vec<DVec2> = points.iter().map(|&p| DVec2::new((p - first).dot(x), (p - first).dot(y))).collect();
    let (centre, radius) = circle(&flat)?;
    Some(Cylinder { origin: first + x * centre.x + y * centre.y, axis, radius })
}

/// `start` improved by Gauss and Newton's iteration on the five parameters: tilt of the axis in two
/// directions, place of the axis in two directions, radius.
#[must_use]
pub fn refine_cylinder(start: Cylinder, points: &[DVec3]) -> Cylinder {
    let mut best = start;
    let mut least = best.residual(points);
    let middle = points.iter().sum::<DVec3>() / points.len().max(1) as f64;
    for _ in 0..8 {
        // the axis point is kept level with the middle of the points, so that tilt and place part
        let origin = best.origin + best.axis * (middle - best.origin).dot(best.axis);
        let (x, y) = best.axis.any_orthonormal_pair();
        let mut normal = [[0.0; 5]; 5];
        let mut right = [0.0; 5];
        for &p in points {
            let d = p - origin;
            let out = d.reject_from_normalized(best.axis).normalize_or_zero();
            let t = d.dot(best.axis);
            // derivative of the miss: place −out, tilt −t·out, radius −1
            let row = [-out.dot(x), -out.dot(y), -t * out.dot(x), -t * out.dot(y), -1.0];
            let miss = d.reject_from_normalized(best.axis).length() - best.radius;
            for i in 0..5 {
                right[i] -= row[i] * miss;
                for j in 0..5 {
                    normal[i][j] += row[i] * row[j];
                }
            }
        }
        let Some(step) = solve(normal, right) else { break };
        let next = Cylinder {
            origin: origin + x * step[0] + y * step[1],
            axis: (best.axis + x * step[2] + y * step[3]).normalize(),
            radius: best.radius + step[4],
        };
        let miss = next.residual(points);
        if miss.is_nan() || miss >= least {
            break;
        }
        (best, least) = (next, miss);
    }
    best
}

/// Gaussian elimination with row pivots.
pub(crate) fn solve<const N: usize>(mut a: [[f64; N]; N], mut b: [f64; N]) -> Option<[f64; N]> {
    for col in 0..N {
        let pivot = (col..N).max_by(|&i, &j| a[i][col].abs().total_cmp(&a[j][col].abs()))?;
        if a[pivot][col].abs() < 1e-12 {
            return None;
        }
        a.swap(col, pivot);
        b.swap(col, pivot);
        for row in col + 1..N {
            let factor = a[row][col] / a[col][col];
            let above = a[col];
            for (below, above) in a[row].iter_mut().zip(above).skip(col) {
                *below -= factor * above;
            }
            b[row] -= factor * b[col];
        }
    }
    for col in (0..N).rev() {
        for k in col + 1..N {
            b[col] -= a[col][k] * b[k];
        }
        b[col] /= a[col][col];
    }
    Some(b)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_cylinder_is_found_from_its_own_points(
            axis in prop::array::uniform3(-1.0..1.0f64),
            radius in 0.5..50.0f64,
            tilt in -0.02..0.02f64,
        ) {
            let axis = DVec3::from(axis);
            prop_assume!(axis.length() > 0.1);
            let axis = axis.normalize();
            let (x, y) = axis.any_orthonormal_pair();
            let centre = DVec3::new(3.0, -7.0, 11.0);
            let points: Vec<DVec3> = (0..40)
                .map(|k| {
                    let angle = f64::from(k) * 0.11;
                    centre + axis * f64::from(k % 5) * radius + (x * angle.cos() + y * angle.sin()) * radius
                })
                .collect();
            let start = cylinder_along((axis + x * tilt).normalize(), &points).unwrap();
            let found = refine_cylinder(start, &points);
            prop_assert!(found.residual(&points) < 1e-7, "{}", found.residual(&points));
            prop_assert!((found.radius - radius).abs() < 1e-6);
        }
    }

    #[test]
    fn points_on_a_line_are_no_circle() {
        let line: Vec<DVec2> = (0..9).map(|k| DVec2::new(f64::from(k), 2.0 * f64::from(k))).collect();
        assert_eq!(circle(&line), None);
    }
}
