//! Which kind of surface do points with normals lie on? Plane, cylinder, sphere, cone, torus: the
//! first guess comes from the normals, the fit from the points.
//!
//! - The normals of a cylinder are square to its axis; those of a cone make one angle with it, and
//!   its tangent planes meet in the apex; those of a sphere meet in its centre.
//! - The normals of every surface of revolution meet its axis: the axis is the line whose moment
//!   about all of them vanishes (Pottmann and Wallner, Computational Line Geometry, 2001, sec. 4.1).
//!
//! Each guess is improved by Levenberg and Marquardt's iteration (Marquardt 1963) on the distances.

use crate::{
    eigen::{eigen, least_eigen, outer, solved},
    fit::{self, Cylinder},
    surface::Surface,
};
use glam::{DMat3, DVec2, DVec3};
use std::array::from_fn;

/// A point of the surface with a unit normal there, which may be rough.
pub type Sample = (DVec3, DVec3);

/// Normals farther than this from the surface's own contradict it, degrees: those that a file gives,
/// and those taken from facets.
const GIVEN_DEG: f64 = 12.0;
const FACETS_DEG: f64 = 35.0;

/// Normals from facets put their lines off the centre or the axis by at most this share of the points' spread.
const ROUGH: f64 = 0.1;

/// Points that a grown surface is fitted to again.
const MOST_REFINED: usize = 400;
/// Steps of a fit; from a fair guess six or seven do.
const MOST_STEPS: usize = 20;
/// Points that a first fit is made to.
const MOST_FITTED: usize = 40;

/// The simplest kind within `tolerance` mm of all points, whose normals the samples' agree with;
/// its outward side is the samples'.
#[must_use]
pub fn recognise(samples: &[Sample], tolerance: f64) -> Option<Surface> {
    simplest(samples, tolerance, GIVEN_DEG)
}

/// As [`recognise`], with normals that were taken from facets.
#[must_use]
pub fn recognise_facets(samples: &[Sample], tolerance: f64) -> Option<Surface> {
    simplest(samples, tolerance, FACETS_DEG)
}

fn simplest(samples: &[Sample], tolerance: f64, normals_deg: f64) -> Option<Surface> {
    [plane, cylinder, sphere, cone, torus]
        .into_iter()
        .find_map(|kind| kind(samples).filter(|s| fits(s, samples, tolerance, normals_deg)))
}

/// One kind fitted to points.
type Fit = fn(&[Sample]) -> Option<Surface>;

/// Kinds that are not flat, the simplest first.
pub(crate) const CURVED: [Fit; 4] = [cylinder, cone, sphere, torus];

/// As [`recognise_facets`], but one of [`CURVED`] only.
pub(crate) fn curved_facets(kind: usize, samples: &[Sample], tolerance: f64) -> Option<Surface> {
    // a few of many points tell as much, and are fitted sooner
    let every = samples.len().div_ceil(MOST_FITTED).max(1);
    let few: Vec<Sample> = samples.iter().copied().step_by(every).collect();
    CURVED[kind](&few).filter(|s| fits_facets(s, samples, tolerance))
}

/// Does the surface lie within `tolerance` mm of points with normals that were taken from facets?
pub(crate) fn fits_facets(surface: &Surface, samples: &[Sample], tolerance: f64) -> bool {
    fits(surface, samples, tolerance, FACETS_DEG)
}

/// The same kind, fitted again to more points.
#[must_use]
pub fn again(surface: &Surface, samples: &[Sample]) -> Surface {
    let every = samples.len().div_ceil(MOST_REFINED).max(1);
    let samples: &Vec<Sample> = &samples.iter().copied().step_by(every).collect();
    let fitted = match *surface {
        Surface::Cylinder { origin, axis, radius, inside } => {
            let points: Vec<DVec3> = samples.iter().map(|s| s.0).collect();
            let Cylinder { origin, axis, radius } = fit::refine_cylinder(Cylinder { origin, axis, radius }, &points);
            Some(Surface::Cylinder { origin, axis, radius, inside })
        }
        Surface::Sphere { centre, radius, .. } => refine_sphere(centre, radius, samples),
        Surface::Cone { apex, axis, angle, .. } => refine_cone(apex, axis, angle, samples),
        Surface::Torus { centre, axis, major, minor, .. } => refine_torus(centre, axis, major, minor, samples),
        _ => None,
    };
    fitted.unwrap_or_else(|| surface.clone())
}

fn fits(surface: &Surface, samples: &[Sample], tolerance: f64, normals_deg: f64) -> bool {
    let least = normals_deg.to_radians().cos();
    samples.iter().all(|&(p, n)| {
        surface.height(p).is_some_and(|h| h.abs() <= tolerance)
            && surface.normal(p).is_none_or(|own| own.dot(n) > least)
    })
}

/// The axes along which points spread most and least, and the one between.
pub(crate) fn axes(samples: &[Sample]) -> [DVec3; 3] {
    let about = middle(samples);
    let spread = samples.iter().map(|s| outer(s.0 - about)).fold(DMat3::ZERO, |a, b| a + b);
    eigen(spread.to_cols_array_2d()).map(|(_, v)| DVec3::from(v).normalize_or(DVec3::Z))
}

fn middle(samples: &[Sample]) -> DVec3 {
    samples.iter().map(|s| s.0).sum::<DVec3>() / samples.len().max(1) as f64
}

impl Surface {
    /// The surface with its outward side where most samples' normals point.
    #[must_use]
    pub fn facing_most(self, samples: &[Sample]) -> Self {
        let against = |&&(p, n): &&Sample| self.normal(p).is_some_and(|own| own.dot(n) < 0.0);
        if 2 * samples.iter().filter(against).count() <= samples.len() {
            return self;
        }
        match samples.iter().find(against) {
            Some(&(p, n)) => self.facing(p, n),
            None => self,
        }
    }
}

fn plane(samples: &[Sample]) -> Option<Surface> {
    if samples.len() < 3 {
        return None;
    }
    let origin = middle(samples);
    let spread = samples.iter().map(|s| outer(s.0 - origin)).fold(DMat3::ZERO, |a, b| a + b);
    let (_, normal) = least_eigen(spread);
    Some(Surface::Plane { origin, normal }.facing_most(samples))
}

fn cylinder(samples: &[Sample]) -> Option<Surface> {
    let axis = axis_of_drawing(samples);
    let points: Vec<DVec3> = samples.iter().map(|s| s.0).collect();
    let found = fit::refine_cylinder(fit::cylinder_along(axis, &points)?, &points);
    let origin = found.origin + found.axis * (middle(samples) - found.origin).dot(found.axis);
    Some(Surface::Cylinder { origin, axis: found.axis, radius: found.radius, inside: false }.facing_most(samples))
}

fn sphere(samples: &[Sample]) -> Option<Surface> {
    if samples.len() < 4 {
        return None;
    }
    // the point nearest to all normals' lines
    let about = middle(samples);
    let (mut sum, mut right) = (DMat3::ZERO, DVec3::ZERO);
    for &(p, n) in samples {
        let square = DMat3::IDENTITY - outer(n);
        sum += square;
        right += square * (p - about);
    }
    let centre = about + solved(sum, right)?;
    let radius = samples.iter().map(|s| s.0.distance(centre)).sum::<f64>() / samples.len() as f64;
    let size = samples.iter().map(|s| s.0.distance(about)).fold(0.0, f64::max);
    if samples.iter().any(|s| (s.0.distance(centre) - radius).abs() > ROUGH * size) {
        return None;
    }
    Some(refine_sphere(centre, radius, samples)?.facing_most(samples))
}

fn cone(samples: &[Sample]) -> Option<Surface> {
    if samples.len() < 6 {
        return None;
    }
    let axis_of = |samples: &[Sample]| {
        let mean = samples.iter().map(|s| s.1).sum::<DVec3>() / samples.len() as f64;
        least_eigen(samples.iter().map(|s| outer(s.1 - mean)).fold(DMat3::ZERO, |a, b| a + b)).1
    };
    // at the tip of a pointed one there is no normal: the mean of its facets' looks along the axis
    let rough = axis_of(samples);
    let mut leans: Vec<f64> = samples.iter().map(|s| s.1.dot(rough)).collect();
    leans.sort_by(f64::total_cmp);
    let usual = leans[leans.len() / 2];
    let all = samples;
    let likely: Vec<Sample> = all.iter().copied().filter(|s| (s.1.dot(rough) - usual).abs() < 0.1).collect();
    let samples = if 8 * likely.len() >= 7 * all.len() && likely.len() >= 6 { &likely[..] } else { all };
    let axis = axis_of(samples);
    // tangent planes meet in the apex
    let about = middle(samples);
    let (mut sum, mut right) = (DMat3::ZERO, DVec3::ZERO);
    for &(p, n) in samples {
        sum += outer(n);
        right += n * n.dot(p - about);
    }
    let apex = about + solved(sum, right)?;
    let axis = if axis.dot(about - apex) < 0.0 { -axis } else { axis };
    let angle = samples.iter().map(|s| (s.0 - apex).angle_between(axis)).sum::<f64>() / samples.len() as f64;
    if !(1e-3..1.56).contains(&angle) {
        return None;
    }
    Some(refine_cone(apex, axis, angle, all)?.facing_most(samples))
}

/// A point and the unit direction of the axis that all normals' lines meet as nearly as can be.
pub(crate) fn axis_of_turning(samples: &[Sample]) -> Option<(DVec3, DVec3)> {
    let about = middle(samples);
    let size = samples.iter().map(|s| s.0.distance(about)).fold(0.0, f64::max).max(f64::MIN_POSITIVE);
    // the axis in Plücker coordinates: direction d and moment m with n·m + (p × n)·d = 0 for every normal's line
    let mut sum = [[0.0; 6]; 6];
    for &(p, n) in samples {
        let moment = ((p - about) / size).cross(n);
        let row = [moment.x, moment.y, moment.z, n.x, n.y, n.z];
        for i in 0..6 {
            for j in 0..6 {
                sum[i][j] += row[i] * row[j];
            }
        }
    }
    let line = eigen(sum).into_iter().min_by(|a, b| a.0.total_cmp(&b.0))?.1;
    let (direction, moment) = (DVec3::new(line[0], line[1], line[2]), DVec3::new(line[3], line[4], line[5]));
    let axis = direction.try_normalize()?;
    Some((about + axis.cross(moment / direction.length()) * size, axis))
}

/// The unit direction that all normals are as nearly square to as can be.
pub(crate) fn axis_of_drawing(samples: &[Sample]) -> DVec3 {
    least_eigen(samples.iter().map(|s| outer(s.1)).fold(DMat3::ZERO, |a, b| a + b)).1
}

fn torus(samples: &[Sample]) -> Option<Surface> {
    if samples.len() < 10 {
        return None;
    }
    let (on_axis, axis) = axis_of_turning(samples)?;
    let size = samples.iter().map(|s| s.0.distance(samples[0].0)).fold(0.0, f64::max);
    let misses = samples.iter().map(|s| axis.dot((s.0 - on_axis).cross(s.1)).powi(2)).sum::<f64>();
    // where normals' lines miss any axis widely no fit will help
    if (misses / samples.len() as f64).sqrt() > ROUGH * size {
        return None;
    }
    let flat: Vec<DVec2> = samples
        .iter()
        .map(|s| DVec2::new((s.0 - on_axis).reject_from_normalized(axis).length(), (s.0 - on_axis).dot(axis)))
        .collect();
    let (tube, minor) = fit::circle(&flat)?;
    Some(refine_torus(on_axis + axis * tube.y, axis, tube.x, minor, samples)?.facing_most(samples))
}

fn refine_sphere(centre: DVec3, radius: f64, samples: &[Sample]) -> Option<Surface> {
    let made = |q: &[f64; 4]| Surface::Sphere { centre: DVec3::new(q[0], q[1], q[2]), radius: q[3], inside: false };
    let q = marquardt([centre.x, centre.y, centre.z, radius], samples, made);
    (q[3] > 0.0 && q[3] < 1e5).then(|| made(&q))
}

/// `axis` tipped by two small angles.
fn tipped(axis: DVec3, by: [f64; 2]) -> DVec3 {
    let (x, y) = axis.any_orthonormal_pair();
    (axis + x * by[0] + y * by[1]).normalize()
}

fn refine_cone(apex: DVec3, axis: DVec3, angle: f64, samples: &[Sample]) -> Option<Surface> {
    let made = |q: &[f64; 6]| Surface::Cone {
        apex: DVec3::new(q[0], q[1], q[2]),
        axis: tipped(axis, [q[3], q[4]]),
        angle: q[5],
        inside: false,
    };
    let q = marquardt([apex.x, apex.y, apex.z, 0.0, 0.0, angle], samples, made);
    let fitted = (1e-3..1.56).contains(&q[5]).then(|| made(&q))?;
    Some(to_its_tip(&fitted, samples).unwrap_or(fitted))
}

/// A cone with its apex at the one sample that lies by its apex, where there is one and it fits as well: a circle and a
/// place on its generator are the same to the first order for a cone that is tipped with its apex moved along.
fn to_its_tip(cone: &Surface, samples: &[Sample]) -> Option<Surface> {
    /// As a share of the way to the next.
    const BY: f64 = 0.02;
    /// Residuals may grow by so much, mm: the digits that files are written to.
    const AS_WELL: f64 = 5e-5;
    let Surface::Cone { apex, axis, angle, inside } = *cone else { return None };
    let mut near = samples.iter().map(|s| (s.0.distance(apex), s.0));
    let mut two = [near.next()?, near.next()?];
    two.sort_by(|a, b| a.0.total_cmp(&b.0));
    for found in near {
        if found.0 < two[0].0 {
            two = [found, two[0]];
        } else if found.0 < two[1].0 {
            two[1] = found;
        }
    }
    let [(by, tip), (next, _)] = two;
    if by > BY * next {
        return None;
    }
    let made = |q: &[f64; 3]| Surface::Cone { apex: tip, axis: tipped(axis, [q[0], q[1]]), angle: q[2], inside };
    let q = marquardt([0.0, 0.0, angle], samples, made);
    let pointed = (1e-3..1.56).contains(&q[2]).then(|| made(&q))?;
    let points = || samples.iter().map(|s| s.0);
    (pointed.residual(points()) <= cone.residual(points()) + AS_WELL).then_some(pointed)
}

fn refine_torus(centre: DVec3, axis: DVec3, major: f64, minor: f64, samples: &[Sample]) -> Option<Surface> {
    let made = |q: &[f64; 7]| Surface::Torus {
        centre: DVec3::new(q[0], q[1], q[2]),
        axis: tipped(axis, [q[3], q[4]]),
        major: q[5],
        minor: q[6],
        inside: false,
    };
    let q = marquardt([centre.x, centre.y, centre.z, 0.0, 0.0, major, minor], samples, made);
    (q[5] > 0.0 && q[6] > 0.0 && q[5] < 1e5 && q[6] < 1e5).then(|| made(&q))
}

/// Parameters with a smaller sum of squared heights than `start`.
fn marquardt<const N: usize>(start: [f64; N], samples: &[Sample], made: impl Fn(&[f64; N]) -> Surface) -> [f64; N] {
    let heights = |q: &[f64; N]| {
        let surface = made(q);
        samples.iter().map(move |s| surface.height(s.0).unwrap_or(f64::INFINITY)).collect::<Vec<f64>>()
    };
    let cost = |misses: &[f64]| misses.iter().map(|m| m * m).sum::<f64>();
    let mut best = start;
    let mut misses = heights(&best);
    let mut least = cost(&misses);
    let mut damping = 1e-4;
    for _ in 0..MOST_STEPS {
        let steps: [f64; N] = from_fn(|k| 1e-6 * best[k].abs().max(1.0));
        let columns: [Vec<f64>; N] = from_fn(|k| {
            let mut moved = best;
            moved[k] += steps[k];
            heights(&moved)
        });
        let mut normal = [[0.0; N]; N];
        let mut right = [0.0; N];
        for (at, miss) in misses.iter().enumerate() {
            let row: [f64; N] = from_fn(|k| (columns[k][at] - miss) / steps[k]);
            for i in 0..N {
                right[i] -= row[i] * miss;
                for j in 0..N {
                    normal[i][j] += row[i] * row[j];
                }
            }
        }
        let mut damped = normal;
        for (k, row) in damped.iter_mut().enumerate() {
            row[k] *= 1.0 + damping;
        }
        let Some(step) = fit::solve(damped, right) else { break };
        let next: [f64; N] = from_fn(|k| best[k] + step[k]);
        let next_misses = heights(&next);
        let next_cost = cost(&next_misses);
        if next_cost < least {
            let gain = least - next_cost;
            (best, misses, least) = (next, next_misses, next_cost);
            damping *= 0.2;
            if gain <= 1e-12 * least {
                break;
            }
        } else {
            damping *= 10.0;
            if damping > 1e8 {
                break;
            }
        }
    }
    best
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::f64::consts::TAU;

    /// Points of `surface` over two parameters that run from 0 to 1.
    fn samples(over: impl Fn(f64, f64) -> DVec3, surface: &Surface) -> Vec<Sample> {
        (0..12)
            .flat_map(|i| (0..12).map(move |j| (f64::from(i) / 11.0, f64::from(j) / 11.0)))
            .map(|(u, v)| over(u, v))
            .map(|p| (p, surface.normal(p).unwrap()))
            .collect()
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]
        #[test]
        fn each_kind_is_known_from_its_own_points(
            axis in prop::array::uniform3(-1.0..1.0f64), turn in 0.6..4.0f64, size in 2.0..40.0f64, thin in 0.1..0.6f64, inside: bool,
        ) {
            let axis = DVec3::from(axis);
            prop_assume!(axis.length() > 0.1);
            let axis = axis.normalize();
            let (x, y) = axis.any_orthonormal_pair();
            let centre = DVec3::new(3.0, -7.0, 11.0);
            let round = |u: f64| x * (turn * u).cos() + y * (turn * u).sin();
            let minor = size * thin;
            let cases: Vec<(Surface, Vec<Sample>)> = vec![
                {
                    let s = Surface::Cylinder { origin: centre, axis, radius: size, inside };
                    (s.clone(), samples(|u, v| centre + round(u) * size + axis * size * v, &s))
                },
                {
                    let s = Surface::Sphere { centre, radius: size, inside };
                    (s.clone(), samples(|u, v| centre + (round(u) * (0.9 * v).cos() + axis * (0.9 * v).sin()) * size, &s))
                },
                {
                    let s = Surface::Cone { apex: centre, axis, angle: thin, inside };
                    (s.clone(), samples(|u, v| centre + (axis * thin.cos() + round(u) * thin.sin()) * size * (0.4 + v), &s))
                },
                {
                    let s = Surface::Torus { centre, axis, major: size, minor, inside };
                    (s.clone(), samples(|u, v| centre + round(u) * (size + minor * (TAU * 0.4 * v).cos()) + axis * minor * (TAU * 0.4 * v).sin(), &s))
                },
            ];
            for (wanted, samples) in cases {
                let found = recognise(&samples, 1e-4);
                prop_assert!(found.is_some(), "{wanted:?}");
                let found = found.unwrap();
                prop_assert_eq!(std::mem::discriminant(&found), std::mem::discriminant(&wanted), "{:?} for {:?}", found, wanted);
                prop_assert_eq!(found.inside(), inside);
                prop_assert!(found.residual(samples.iter().map(|s| s.0)) < 1e-6);
            }
        }
    }

    #[test]
    fn a_saddle_is_no_kind_of_ours() {
        let saddle: Vec<Sample> = (0..100)
            .map(|k| (f64::from(k % 10) - 4.5, f64::from(k / 10) - 4.5))
            .map(|(x, y)| {
                (
                    DVec3::new(x, y, 0.05 * (x * x - y * y) + 0.01 * x * y * y),
                    DVec3::new(-0.1 * x, 0.1 * y, 1.0).normalize(),
                )
            })
            .collect();
        assert_eq!(recognise(&saddle, 1e-3), None);
    }
}
