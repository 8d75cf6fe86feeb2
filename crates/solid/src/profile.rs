//! The curve whose turning or drawing makes a surface: through points of it, smooth between them.
//!
//! A cubic spline over arc length (de Boor, A Practical Guide to Splines, 1978, ch. IV), with the slopes at its ends
//! those of the cubic through the four points there. Its parameter is laid out anew by the lengths it has come out
//! with, so that a step of the parameter is a step of length. Beyond its ends it runs straight on.

use glam::DVec2;
use serde::{Deserialize, Serialize};

/// Times that the parameter is laid out anew: the lengths settle to the last digits that matter.
const LAID_OUT: usize = 3;
/// Knots of a closed curve that are gone through once more beyond where it closes.
const OVERLAP: usize = 6;
/// Steps to the nearest place; from the nearest knot four do.
const MOST_STEPS: usize = 12;

/// A plane curve, mm. Its outward side is to the right of the way it runs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(from = "Through", into = "Through")]
pub struct Profile {
    points: Vec<DVec2>,
    closed: bool,
    /// Parameter (arc length, mm) and derivative at each knot.
    at: Vec<f64>,
    slopes: Vec<DVec2>,
}

/// What a profile is made of again.
#[derive(Clone, Serialize, Deserialize)]
struct Through {
    points: Vec<DVec2>,
    closed: bool,
}

impl From<Through> for Profile {
    fn from(through: Through) -> Self {
        Self::new(through.points, through.closed)
    }
}

impl From<Profile> for Through {
    fn from(profile: Profile) -> Self {
        Self { points: profile.points, closed: profile.closed }
    }
}

/// A place of a profile.
#[derive(Clone, Copy, Debug)]
pub struct Place {
    pub point: DVec2,
    /// Unit direction in which it runs.
    pub way: DVec2,
    /// How fast `way` turns, counter-clockwise, 1/mm.
    pub bend: f64,
}

impl Place {
    /// Outward unit normal.
    #[must_use]
    pub fn outward(&self) -> DVec2 {
        -self.way.perp()
    }
}

impl Profile {
    /// The curve through `points` in turn, no two neighbours equal; `closed`: on from the last to the first.
    #[must_use]
    pub fn new(points: Vec<DVec2>, closed: bool) -> Self {
        let mut all = points.clone();
        let overlap = if closed { OVERLAP.min(points.len()) } else { 0 };
        if closed {
            all.extend(points.iter().copied().take(overlap + 1));
            all.splice(0..0, points[points.len() - overlap..].iter().copied());
        }
        let chords = all.windows(2).map(|pair| pair[0].distance(pair[1]).max(1e-9));
        let mut at = laid(chords);
        let mut slopes = slopes(&all, &at);
        for _ in 0..LAID_OUT {
            let lengths: Vec<f64> = (0..at.len().saturating_sub(1)).map(|k| length(&all, &at, &slopes, k)).collect();
            at = laid(lengths.into_iter());
            slopes = self::slopes(&all, &at);
        }
        let own = overlap..(all.len() - overlap);
        let start = at.get(overlap).copied().unwrap_or_default();
        Self { points, closed, at: at[own.clone()].iter().map(|t| t - start).collect(), slopes: slopes[own].to_vec() }
    }

    /// Its points; those of a closed one end before the first.
    #[must_use]
    pub fn points(&self) -> &[DVec2] {
        &self.points
    }

    #[must_use]
    pub fn closed(&self) -> bool {
        self.closed
    }

    /// Of the whole curve, mm.
    #[must_use]
    pub fn length(&self) -> f64 {
        self.at.last().copied().unwrap_or_default()
    }

    /// The same curve run the other way, so that its other side is the outward one.
    #[must_use]
    pub fn turned(&self) -> Self {
        Self::new(self.points.iter().rev().copied().collect(), self.closed)
    }

    fn knot(&self, k: usize) -> DVec2 {
        self.points[k % self.points.len()]
    }

    /// The place at a length along it, mm.
    #[must_use]
    pub fn at(&self, along: f64) -> Place {
        let whole = self.length();
        let t = if self.closed { along.rem_euclid(whole) } else { along.clamp(0.0, whole) };
        let k = self.at.partition_point(|a| *a <= t).clamp(1, self.at.len() - 1) - 1;
        let [point, slope, bend] = cubic(
            [self.knot(k), self.knot(k + 1)],
            [self.slopes[k], self.slopes[k + 1]],
            [self.at[k], self.at[k + 1]],
            t,
        );
        let speed = slope.length().max(1e-12);
        let way = slope / speed;
        if !self.closed && along != t {
            return Place { point: point + way * (along - t), way, bend: 0.0 };
        }
        Place { point, way, bend: slope.perp_dot(bend) / speed.powi(3) }
    }

    /// How far along it the place nearest to `p` lies, and how far outward `p` lies from it, mm.
    #[must_use]
    pub fn nearest(&self, p: DVec2) -> (f64, f64) {
        let nearest = (0..self.at.len())
            .min_by(|&a, &b| self.knot(a).distance_squared(p).total_cmp(&self.knot(b).distance_squared(p)));
        let mut along = nearest.map_or(0.0, |k| self.at[k]);
        let mut place = self.at(along);
        for _ in 0..MOST_STEPS {
            let d = p - place.point;
            // Newton's step to where the way is square to d, no longer than the curve lets it be
            let turn = (1.0 - place.bend * d.dot(place.way.perp())).max(0.2);
            let step = d.dot(place.way) / turn;
            along += step;
            if !self.closed && step.abs() < 1e-12 || step.abs() < 1e-11 {
                break;
            }
            place = self.at(along);
        }
        let place = self.at(along);
        if self.closed {
            along = along.rem_euclid(self.length());
        }
        (along, (p - place.point).dot(place.outward()))
    }

    /// The tightest bend between two lengths along it, 1/mm.
    #[must_use]
    pub fn most_bend(&self, from: f64, to: f64) -> f64 {
        const STEPS: u32 = 24;
        let at = |k: u32| from + (to - from) * f64::from(k) / f64::from(STEPS);
        (0..=STEPS).map(|k| self.at(at(k)).bend.abs()).fold(0.0, f64::max)
    }
}

/// Running sums from 0.
fn laid(lengths: impl Iterator<Item = f64>) -> Vec<f64> {
    let mut sum = 0.0;
    std::iter::once(0.0)
        .chain(lengths.map(|length| {
            sum += length;
            sum
        }))
        .collect()
}

/// A cubic by Hermite's ends: its point, first and second derivative at `t`.
fn cubic([p, q]: [DVec2; 2], [v, w]: [DVec2; 2], [from, to]: [f64; 2], t: f64) -> [DVec2; 3] {
    let h = to - from;
    let u = (t - from) / h;
    let (a, b) = (v * h - (q - p), (q - p) - w * h);
    let point = p * (1.0 - u) + q * u + (a * (1.0 - u) + b * u) * (u * (1.0 - u));
    let mix = a * (1.0 - u) + b * u;
    let slope = (q - p) + mix * (1.0 - 2.0 * u) + (b - a) * (u * (1.0 - u));
    let bend = (b - a) * (2.0 * (1.0 - 2.0 * u)) - mix * 2.0;
    [point, slope / h, bend / (h * h)]
}

/// Length of one piece, by five points of Gauss' quadrature.
fn length(points: &[DVec2], at: &[f64], slopes: &[DVec2], k: usize) -> f64 {
    const NODES: [(f64, f64); 5] = [
        (0.0, 0.568_888_888_888_888_9),
        (-0.538_469_310_105_683_1, 0.478_628_670_499_366_5),
        (0.538_469_310_105_683_1, 0.478_628_670_499_366_5),
        (-0.906_179_845_938_664, 0.236_926_885_056_189_1),
        (0.906_179_845_938_664, 0.236_926_885_056_189_1),
    ];
    let (half, middle) = ((at[k + 1] - at[k]) / 2.0, (at[k] + at[k + 1]) / 2.0);
    let speed = |x: f64| {
        cubic([points[k], points[k + 1]], [slopes[k], slopes[k + 1]], [at[k], at[k + 1]], middle + half * x)[1].length()
    };
    NODES.iter().map(|(x, weight)| weight * speed(*x)).sum::<f64>() * half
}

/// Derivatives at the knots of the spline that bends smoothly at all of them, by Thomas' elimination.
fn slopes(points: &[DVec2], at: &[f64]) -> Vec<DVec2> {
    let n = points.len();
    if n < 2 {
        return vec![DVec2::X; n];
    }
    let wide = |k: usize| at[k + 1] - at[k];
    let rise = |k: usize| (points[k + 1] - points[k]) / wide(k);
    if n == 2 {
        return vec![rise(0); 2];
    }
    let (first, last) = (end_slope(points, at, false), end_slope(points, at, true));
    // row k: wide(k) m(k-1) + 2 (wide(k-1) + wide(k)) m(k) + wide(k-1) m(k+1) = 3 (wide(k) rise(k-1) + wide(k-1) rise(k))
    let (mut factor, mut value) = (vec![0.0; n], vec![DVec2::ZERO; n]);
    value[0] = first;
    for k in 1..n - 1 {
        let (below, above) = (wide(k), wide(k - 1));
        let whole = 2.0 * (below + above) - below * factor[k - 1];
        factor[k] = above / whole;
        value[k] = ((rise(k - 1) * below + rise(k) * above) * 3.0 - value[k - 1] * below) / whole;
    }
    let mut slopes = vec![last; n];
    for k in (0..n - 1).rev() {
        slopes[k] = value[k] - slopes[k + 1] * factor[k];
    }
    slopes
}

/// The derivative at one end of the polynomial through the four points nearest to it (fewer where there are fewer).
fn end_slope(points: &[DVec2], at: &[f64], last: bool) -> DVec2 {
    let n = points.len();
    let count = n.min(4);
    let near: Vec<usize> = if last { (n - count..n).rev().collect() } else { (0..count).collect() };
    let t = at[near[0]];
    // Lagrange's weights for the derivative at the first of them
    near.iter()
        .enumerate()
        .map(|(i, &k)| {
            let others = || near.iter().enumerate().filter(move |(j, _)| *j != i).map(|(_, &o)| o);
            let weight: f64 = others()
                .map(|skip| {
                    let rest = others().filter(|o| *o != skip).map(|o| (t - at[o]) / (at[k] - at[o])).product::<f64>();
                    rest / (at[k] - at[skip])
                })
                .sum();
            points[k] * weight
        })
        .sum()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::f64::consts::TAU;

    proptest! {
        #[test]
        fn a_circles_profile_lies_on_the_circle_and_is_as_long(count in 12_u32..60, radius in 5.0..80.0f64, share in 0.2..0.9f64) {
            let at = |k: f64| DVec2::from_angle(k) * radius;
            let arc = Profile::new((0..=count).map(|k| at(-TAU * share * f64::from(k) / f64::from(count))).collect(), false);
            let sag = radius * (1.0 - (TAU * share / f64::from(count) / 2.0).cos());
            prop_assert!((arc.length() - TAU * share * radius).abs() < TAU * share * 0.02 * sag);
            for k in 0..200 {
                let along = (arc.length() * f64::from(k) / 199.0).min(arc.length());
                let place = arc.at(along);
                // a spline's error is of the fourth order, and largest where it ends
                prop_assert!((place.point.length() - radius).abs() < 0.1 * sag, "{along}");
                prop_assert!((place.bend + 1.0 / radius).abs() < 0.2 / radius);
                for out in [-0.4, 0.0, 0.7] {
                    let (back, height) = arc.nearest(place.point + place.outward() * out);
                    prop_assert!((back - along).abs() < 1e-7 && (height - out).abs() < 1e-9, "{back} {along} {height}");
                }
            }
            let whole = Profile::new((0..count).map(|k| at(TAU * f64::from(k) / f64::from(count))).collect(), true);
            let sag = radius * (1.0 - (TAU / f64::from(count) / 2.0).cos());
            prop_assert!((whole.length() - TAU * radius).abs() < TAU * 0.02 * sag);
            prop_assert!(whole.at(0.0).point.distance(whole.at(whole.length() - 1e-9).point) < 1e-6);
            prop_assert!(whole.at(0.3).outward().dot(whole.at(0.3).point) > 0.0);
        }
    }

    #[test]
    fn beyond_its_ends_it_runs_straight_on() {
        let line = Profile::new(vec![DVec2::ZERO, DVec2::new(3.0, 4.0)], false);
        assert!((line.length() - 5.0).abs() < 1e-12);
        let (along, out) = line.nearest(DVec2::new(6.0, 8.0) + DVec2::new(0.8, -0.6));
        assert!((along - 10.0).abs() < 1e-9 && (out - 1.0).abs() < 1e-9, "{along} {out}");
        assert!(line.at(-5.0).point.distance(DVec2::new(-3.0, -4.0)) < 1e-12);
    }
}
