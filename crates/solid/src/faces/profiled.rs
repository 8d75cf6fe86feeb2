//! Surfaces of revolution and of extrusion in what no simpler surface takes: corners that come together in points of
//! one profile when they are turned round an axis, or seen along a direction.
//!
//! The first guess of the axis is that of the normals: all normals' lines meet it (Pottmann and Wallner,
//! Computational Line Geometry, 2001, sec. 4.1), or are square to it. Then it is moved until the corners of each ring, or
//! of each drawn line, lie together best (Gauss and Newton's iteration), while what counts as together gets finer.

use super::grow::FastMap;
use crate::{
    kinds::{self, Sample},
    profile::Profile,
    surface::{Surface, leading},
};
use glam::{DVec2, DVec3};
use std::sync::Arc;

/// Points of a profile, at least.
const LEAST_POINTS: usize = 5;
/// Corners that come together in one of them, at least.
const LEAST_ROUND: usize = 4;
const LEAST_ALONG: usize = 2;
/// Corners are together at first within this share of the shortest way to the next, then within ever less.
const TOGETHER: f64 = 0.35;
const ROUNDS: usize = 8;
/// Corners that the axis is fitted to, at most.
const MOST_SETTLED: usize = 6_000;
/// Normals' lines miss the axis of a turned face by at most this share of the face, or normals of a drawn one are this
/// far from square to it (sine): facets' normals are rough.
const ROUGH: f64 = 0.06;
/// What the neighbours of a point tell of it is at most this share of its own sag off.
const FORETOLD: f64 = 0.35;
/// And at most so far, mm: between points the curve is off by an eighth to a sixteenth of that, an error of the fourth order.
const FORETOLD_MM: f64 = 0.025;
/// A profile turns by at most so much at a point, degrees.
const MOST_TURN_DEG: f64 = 32.0;

/// How corners come together.
#[derive(Clone, Copy)]
enum Sort {
    Revolution,
    Extrusion,
}

/// An axis and where the profile's coordinates are taken from.
#[derive(Clone, Copy)]
struct Frame {
    sort: Sort,
    origin: DVec3,
    axis: DVec3,
    across: DVec3,
}

impl Frame {
    fn new(sort: Sort, origin: DVec3, axis: DVec3) -> Self {
        Self { sort, origin, axis, across: axis.any_orthonormal_vector() }
    }

    fn flat(&self, p: DVec3) -> DVec2 {
        let d = p - self.origin;
        match self.sort {
            Sort::Revolution => DVec2::new(d.reject_from_normalized(self.axis).length(), d.dot(self.axis)),
            Sort::Extrusion => DVec2::new(d.dot(self.across), d.dot(self.axis.cross(self.across))),
        }
    }

    /// Its axis tipped by two small angles and its origin moved by two lengths.
    fn moved(&self, by: [f64; 4]) -> Self {
        let (x, y) = self.axis.any_orthonormal_pair();
        let axis = (self.axis + x * by[0] + y * by[1]).normalize();
        let across = self.across.reject_from_normalized(axis).normalize();
        Self { origin: self.origin + x * by[2] + y * by[3], axis, across, ..*self }
    }
}

/// A corner with its vertex' number.
pub(super) type Corner = (u32, Sample);

/// The surface of revolution or of extrusion that all corners lie on to within `tolerance` mm; `edges` are pairs of
/// vertices that an edge joins.
pub(super) fn profiled(
    corners: &[Corner],
    edges: &[[u32; 2]],
    vertices: &[DVec3],
    tolerance: f64,
    finer: f64,
) -> Option<Surface> {
    let samples: Vec<Sample> = corners.iter().map(|c| c.1).collect();
    let middle = samples.iter().map(|s| s.0).sum::<DVec3>() / samples.len().max(1) as f64;
    let round = kinds::axis_of_turning(&samples).map(|(at, axis)| {
        let axis = leading(axis);
        Frame::new(Sort::Revolution, at + axis * (middle - at).dot(axis), axis)
    });
    let along = Frame::new(Sort::Extrusion, middle, leading(kinds::axis_of_drawing(&samples)));
    let size = samples.iter().map(|s| s.0.distance(middle)).fold(0.0, f64::max);
    let mean = |miss: &dyn Fn(&Sample) -> f64| {
        (samples.iter().map(|s| miss(s).powi(2)).sum::<f64>() / samples.len().max(1) as f64).sqrt()
    };
    let round = round.filter(|f| mean(&|s| f.axis.dot((s.0 - f.origin).cross(s.1))) < ROUGH * size);
    let along = Some(along).filter(|f| mean(&|s| f.axis.dot(s.1)) < ROUGH);
    [along, round].into_iter().flatten().find_map(|frame| found(frame, corners, edges, vertices, tolerance, finer))
}

fn found(
    frame: Frame,
    corners: &[Corner],
    edges: &[[u32; 2]],
    vertices: &[DVec3],
    tolerance: f64,
    finer: f64,
) -> Option<Surface> {
    let place: FastMap<u32> = corners.iter().enumerate().map(|(at, c)| (c.0, at as u32)).collect();
    let near: Vec<[u32; 2]> = edges.iter().filter_map(|e| Some([*place.get(&e[0])?, *place.get(&e[1])?])).collect();
    let points: Vec<DVec3> = corners.iter().map(|c| c.1.0).collect();
    let mut frame = frame;
    let mut share = TOGETHER;
    // a few of very many corners tell the axis as well
    let few: Vec<DVec3> = points.iter().copied().step_by(points.len().div_ceil(MOST_SETTLED).max(1)).collect();
    for _ in 0..ROUNDS {
        let reach = reach(&frame, &points, &near, share, finer);
        let flat: Vec<DVec2> = few.iter().map(|p| frame.flat(*p)).collect();
        frame = settled(&frame, &few, &together(&flat, reach));
        share *= 0.6;
    }
    let flat: Vec<DVec2> = points.iter().map(|p| frame.flat(*p)).collect();
    let groups = together(&flat, reach(&frame, &points, &near, share, finer));
    let count = groups.iter().max()? + 1;
    let (mut sums, mut counts) = (vec![DVec2::ZERO; count], vec![0_usize; count]);
    for (p, &group) in flat.iter().zip(&groups) {
        sums[group] += *p;
        counts[group] += 1;
    }
    let knots: Vec<DVec2> = sums.iter().zip(&counts).map(|(sum, n)| *sum / *n as f64).collect();
    if !flat.iter().zip(&groups).all(|(p, &group)| p.distance(knots[group]) <= tolerance) {
        return None;
    }
    let (least, pole) = match frame.sort {
        Sort::Revolution => (LEAST_ROUND, true),
        Sort::Extrusion => (LEAST_ALONG, false),
    };
    // where a turned face meets its axis there is one corner only
    let enough = |k: usize| counts[k] >= least || pole && knots[k].x <= tolerance;
    if count < LEAST_POINTS || !(0..count).all(enough) {
        return None;
    }
    let (order, closed) = in_turn(count, &near, &groups)?;
    let mut profile: Vec<DVec2> = order.iter().map(|&k| knots[k]).collect();
    // the rim of a drawn face that borders on creases has no smooth edge: where its corners lie on one line as well they
    // are the profile's end
    let mut order = order;
    if !closed {
        for last in [true, false] {
            if last {
                profile.reverse();
                order.reverse();
            }
            let group = order[0];
            let beyond = edges.iter().flat_map(|e| [[e[0], e[1]], [e[1], e[0]]]).filter(|[own, other]| {
                place.get(own).is_some_and(|at| groups[*at as usize] == group) && !place.contains_key(other)
            });
            let beyond: Vec<DVec2> = beyond.map(|e| frame.flat(vertices[e[1] as usize])).collect();
            let on = profile[0] - profile[1];
            let far =
                beyond.iter().copied().max_by(|a, b| (*a - profile[0]).dot(on).total_cmp(&(*b - profile[0]).dot(on)));
            if let Some(far) = far.filter(|far| (*far - profile[0]).dot(on) > 0.1 * on.length_squared())
                && beyond.iter().filter(|p| p.distance(far) <= finer * 4.0).count() >= LEAST_ALONG
            {
                profile.insert(0, far);
                order.insert(0, usize::MAX);
            }
            if last {
                profile.reverse();
                order.reverse();
            }
        }
    }
    if !is_foretold(&profile, closed, finer) {
        return None;
    }
    if !closed {
        // beyond its ends nothing is known of it
        let curve = Profile::new(profile.clone(), false);
        let within = -tolerance..curve.length() + tolerance;
        let known = |v: u32| within.contains(&curve.nearest(frame.flat(vertices[v as usize])).0);
        if !edges.iter().flatten().all(|v| known(*v)) {
            return None;
        }
    }
    if let Some(circle) = circle(&profile, finer) {
        // it was refused for what lies beside it; only where it goes all round is there no doubt
        return match frame.sort {
            Sort::Extrusion if closed => {
                let origin = frame.origin + frame.across * circle.0.x + frame.axis.cross(frame.across) * circle.0.y;
                let (axis, radius) = (frame.axis, circle.1);
                let all: Vec<Sample> = corners.iter().map(|c| c.1).collect();
                Some(Surface::Cylinder { origin, axis, radius, inside: false }.facing_most(&all))
            }
            Sort::Revolution if circle.0.x < -0.02 * circle.1 => {
                turned(frame, profile, closed, corners, &order, &groups)
            }
            _ => None,
        };
    }
    turned(frame, profile, closed, corners, &order, &groups)
}

/// The circle that all points lie on, if they do.
fn circle(points: &[DVec2], finer: f64) -> Option<(DVec2, f64)> {
    let (middle, radius) = crate::fit::circle(points)?;
    points.iter().all(|p| (p.distance(middle) - radius).abs() <= 4.0 * finer).then_some((middle, radius))
}

/// The surface with this profile, its outward side where the corners' normals point.
fn turned(
    frame: Frame,
    mut profile: Vec<DVec2>,
    closed: bool,
    corners: &[Corner],
    order: &[usize],
    groups: &[usize],
) -> Option<Surface> {
    // its right side is the outward one
    let outward: f64 = corners
        .iter()
        .zip(groups)
        .map(|(corner, &group)| {
            let at = order.iter().position(|&k| k == group).unwrap_or(0);
            let n = profile.len();
            let (before, after) =
                if closed { ((at + n - 1) % n, (at + 1) % n) } else { (at.saturating_sub(1), (at + 1).min(n - 1)) };
            let way = profile[after] - profile[before];
            let normal = frame.flat(corner.1.0 + corner.1.1 * 1e-3) - frame.flat(corner.1.0);
            (-way.perp()).dot(normal)
        })
        .sum();
    if outward < 0.0 {
        profile.reverse();
    }
    let profile = Arc::new(Profile::new(profile, closed));
    let (origin, axis, across) = (frame.origin, frame.axis, frame.across);
    let surface = match frame.sort {
        Sort::Revolution => Surface::Revolution { origin, axis, profile, inside: false },
        Sort::Extrusion => Surface::Extrusion { origin, axis, across, profile, inside: false },
    };
    let agrees = |s: &Sample| surface.normal(s.0).is_none_or(|n| n.dot(s.1) > MOST_TURN_DEG.to_radians().cos());
    corners.iter().all(|c| agrees(&c.1)).then_some(surface)
}

/// How far apart corners of one group may lie, mm: a share of the way from one to the next, which most edges lead, and at
/// least twice what the file's digits leave open.
fn reach(frame: &Frame, points: &[DVec3], near: &[[u32; 2]], share: f64, finer: f64) -> f64 {
    let way = |e: &[u32; 2]| frame.flat(points[e[0] as usize]).distance(frame.flat(points[e[1] as usize]));
    let mut lengths: Vec<f64> = near.iter().map(way).collect();
    lengths.sort_by(f64::total_cmp);
    let long = lengths.get(lengths.len() * 3 / 4).copied().unwrap_or_default();
    (share * long).max(2.0 * finer)
}

/// The group of each corner: those that hang together within `reach` mm.
fn together(flat: &[DVec2], reach: f64) -> Vec<usize> {
    let mut order: Vec<usize> = (0..flat.len()).collect();
    order.sort_by(|&a, &b| flat[a].y.total_cmp(&flat[b].y));
    let mut groups = crate::topology::Groups::new(flat.len());
    for (k, &a) in order.iter().enumerate() {
        for &b in order[k + 1..].iter().take_while(|&&b| flat[b].y - flat[a].y <= reach).take(400) {
            if flat[a].distance(flat[b]) <= reach {
                groups.join(a as u32, b as u32);
            }
        }
    }
    let mut number: FastMap<usize> = FastMap::default();
    (0..flat.len() as u32)
        .map(|k| {
            let next = number.len();
            *number.entry(groups.root(k)).or_insert(next)
        })
        .collect()
}

/// The frame moved so that the corners of each group lie together best.
fn settled(frame: &Frame, points: &[DVec3], groups: &[usize]) -> Frame {
    let misses = |frame: &Frame| -> Vec<f64> {
        let flat: Vec<DVec2> = points.iter().map(|p| frame.flat(*p)).collect();
        let count = groups.iter().max().map_or(0, |m| m + 1);
        let mut sums = vec![(DVec2::ZERO, 0.0); count];
        for (p, &group) in flat.iter().zip(groups) {
            sums[group] = (sums[group].0 + *p, sums[group].1 + 1.0);
        }
        flat.iter().zip(groups).flat_map(|(p, &group)| (*p - sums[group].0 / sums[group].1).to_array()).collect()
    };
    let cost = |m: &[f64]| m.iter().map(|x| x * x).sum::<f64>();
    let mut best = *frame;
    let mut now = misses(&best);
    let steps = [1e-6, 1e-6, 1e-5, 1e-5];
    for _ in 0..6 {
        let columns: Vec<Vec<f64>> = (0..4)
            .map(|k| {
                let mut by = [0.0; 4];
                by[k] = steps[k];
                misses(&best.moved(by)).iter().zip(&now).map(|(a, b)| (a - b) / steps[k]).collect()
            })
            .collect();
        let (mut normal, mut right) = ([[0.0; 4]; 4], [0.0; 4]);
        for i in 0..4 {
            right[i] = -columns[i].iter().zip(&now).map(|(a, b)| a * b).sum::<f64>();
            for j in 0..4 {
                normal[i][j] = columns[i].iter().zip(&columns[j]).map(|(a, b)| a * b).sum::<f64>();
            }
            // a drawn face doesn't care where its axis is
            normal[i][i] = normal[i][i] * (1.0 + 1e-9) + 1e-9;
        }
        let Some(by) = crate::fit::solve(normal, right) else { break };
        let next = best.moved(by);
        let then = misses(&next);
        if cost(&then).total_cmp(&cost(&now)).is_ge() {
            break;
        }
        (best, now) = (next, then);
    }
    best
}

/// Groups in the order in which edges lead from one to the next, and whether the last leads to the first again.
fn in_turn(count: usize, near: &[[u32; 2]], groups: &[usize]) -> Option<(Vec<usize>, bool)> {
    let mut beside: Vec<Vec<usize>> = vec![Vec::new(); count];
    for [a, b] in near {
        let (a, b) = (groups[*a as usize], groups[*b as usize]);
        if a != b && !beside[a].contains(&b) {
            beside[a].push(b);
            beside[b].push(a);
        }
    }
    if beside.iter().any(|b| b.is_empty() || b.len() > 2) {
        return None;
    }
    let start = (0..count).find(|&k| beside[k].len() == 1);
    let mut order = vec![start.unwrap_or(0)];
    while let Some(&next) = beside[order[order.len() - 1]].iter().find(|n| !order.contains(n)) {
        order.push(next);
    }
    (order.len() == count).then_some((order, start.is_none()))
}

/// Does each point lie where its neighbours tell it, by the cubic through two on either side, as on a smooth curve?
fn is_foretold(points: &[DVec2], closed: bool, finer: f64) -> bool {
    let n = points.len();
    let range = if closed { 0..n } else { 2..n.saturating_sub(2) };
    range.into_iter().all(|k| {
        let at = |by: isize| points[(k as isize + by).rem_euclid(n as isize) as usize];
        let around = [at(-2), at(-1), at(1), at(2)];
        let own = at(0);
        let mut t = [0.0; 5];
        for (j, by) in (-2_isize..2).enumerate() {
            t[j + 1] = t[j] + at(by).distance(at(by + 1));
        }
        let places = [t[0], t[1], t[3], t[4]];
        let told: DVec2 = (0..4)
            .map(|i| {
                let weight: f64 =
                    (0..4).filter(|j| *j != i).map(|j| (t[2] - places[j]) / (places[i] - places[j])).product();
                around[i] * weight
            })
            .sum();
        let chord = at(1) - at(-1);
        let sag = (own - at(-1)).perp_dot(chord).abs() / chord.length().max(1e-12);
        told.distance(own) <= (FORETOLD * sag).min(FORETOLD_MM) + 4.0 * finer
    })
}
