//! A flat region filled with triangles: the top or floor of a character, and its hidden far side.
//!
//! Constrained Delaunay triangulation of the contours on the strip, with points added inside at
//! the chart's step so that the mapped facets stay on the offset surface.

use glam::DVec2;
use std::f64::consts::SQRT_2;

/// Triangles (counter-clockwise on the strip) between `contours` (outer counter-clockwise, holes
/// clockwise), and the points added inside. Vertices are numbered through all contours in order,
/// the added ones after them. Where the contours' own edges don't, no edge of a triangle reaches farther than a
/// step on a seat that is straight one way, and than the diagonal of a square of steps on others.
///
/// `None` when contours cross or touch.
#[must_use]
pub fn fill(contours: &[Vec<DVec2>], step: DVec2, creases: &[[DVec2; 2]]) -> Option<(Vec<[u32; 3]>, Vec<DVec2>)> {
    let mut inside = inner_points(contours, step);
    if !creases.is_empty() {
        let on = on_creases(contours, creases, step.min_element().min(MOST_APART));
        // nothing beside a crease that could come between its points
        inside.retain(|p| creases.iter().all(|c| clear(*c, *p, MOST_APART)));
        inside.extend(on);
    }
    // told in steps, triangles reach about as many along as up
    let in_steps = if step.min_element().is_finite() { stout(step).recip() } else { DVec2::ONE };
    let scaled = |points: &[DVec2]| points.iter().map(|p| *p * in_steps).collect::<Vec<DVec2>>();
    let rims: Vec<Vec<DVec2>> = contours.iter().map(|c| scaled(c)).collect();
    let mut triangles = solid::fill::fill(&rims, &scaled(&inside))?;
    for _ in 0..MOST_HALVINGS {
        let further = too_long(contours, &inside, &triangles, step);
        if further.is_empty() {
            break;
        }
        inside.extend(further);
        triangles = solid::fill::fill(&rims, &scaled(&inside))?;
    }
    Some((triangles, inside))
}

/// An edge across a whole letter is halved no more often than this.
const MOST_HALVINGS: usize = 8;

/// Middles of the longest inner edges of triangles that reach too far for their step; see [`fill`].
fn too_long(contours: &[Vec<DVec2>], inside: &[DVec2], triangles: &[[u32; 3]], step: DVec2) -> Vec<DVec2> {
    /// What rounding adds to a step, as a share of it.
    const ROUNDING: f64 = 1e-6;
    let points: Vec<DVec2> = contours.iter().flatten().chain(inside).copied().collect();
    let mut next: Vec<u32> = Vec::new();
    for contour in contours {
        let first = next.len() as u32;
        next.extend((1..contour.len() as u32).map(|k| first + k).chain([first]));
    }
    let on_contour = |a: u32, b: u32| next.get(a as usize) == Some(&b) || next.get(b as usize) == Some(&a);
    let steps = |[a, b]: [u32; 2]| match on_contour(a, b) {
        true => 0.0,
        false => ((points[a as usize] - points[b as usize]) / step).length(),
    };
    let most = if step.is_finite() { SQRT_2 } else { 1.0 };
    let mut longest: Vec<[u32; 2]> = (triangles.iter())
        .filter_map(|&[a, b, c]| {
            let edge = [[a, b], [b, c], [c, a]].into_iter().max_by(|&p, &q| steps(p).total_cmp(&steps(q)))?;
            (steps(edge) > most + ROUNDING).then(|| [edge[0].min(edge[1]), edge[0].max(edge[1])])
        })
        .collect();
    longest.sort_unstable();
    longest.dedup();
    longest.into_iter().map(|[a, b]| (points[a as usize] + points[b as usize]) / 2.0).collect()
}

/// Outlines have points this close together near creases, mm.
pub const BESIDE_CREASE: f64 = 0.03;
/// Points on creases lie no farther apart than this, mm.
const MOST_APART: f64 = 0.2;

/// Points on the creases inside the contours: near the contours closer together, so that no triangle that spans
/// from one to the next lies across the crease.
fn on_creases(contours: &[Vec<DVec2>], creases: &[[DVec2; 2]], apart: f64) -> Vec<DVec2> {
    let mut points: Vec<DVec2> = Vec::new();
    let edges = || contours.iter().flat_map(|c| (0..c.len()).map(|k| [c[k], c[(k + 1) % c.len()]]));
    for &[a, b] in creases {
        let way = b - a;
        let length = way.length();
        // where it passes in and out of the contours
        let mut cuts: Vec<f64> = edges()
            .filter_map(|[c, d]| {
                let (from, to) = ((c - a).perp_dot(way), (d - a).perp_dot(way));
                let at = c.lerp(d, from / (from - to));
                ((from > 0.0) != (to > 0.0)).then(|| (at - a).dot(way) / length)
            })
            .collect();
        cuts.sort_by(f64::total_cmp);
        for pair in cuts.chunks_exact(2) {
            let (from, to) = (pair[0].max(0.0), pair[1].min(length));
            if to - from < 1e-6 {
                continue;
            }
            // half as far from the contour as the points beside the crease there, then ever wider
            let mut at = |s: f64| points.push(a + way * (s / length));
            let (mut s, mut step) = (from, BESIDE_CREASE / 2.0);
            let middle = (from + to) / 2.0;
            while s + step < middle {
                s += step;
                at(s);
                at(from + to - s);
                step = (step * 1.5).min(apart);
            }
            at(middle);
        }
    }
    // ends of creases that meet
    points.sort_by(|p, q| p.x.total_cmp(&q.x).then(p.y.total_cmp(&q.y)));
    points.dedup_by(|p, q| p.distance(*q) < 1e-3);
    points
}

/// Caps of more places than this would take all memory; see [`too_fine`].
const MOST_PLACES: usize = 2_000_000;

/// Along the straight direction longer triangles do no harm, but not ever longer ones.
fn stout(step: DVec2) -> DVec2 {
    let short = step.min_element();
    DVec2::new(step.x.min(4.0 * short), step.y.min(4.0 * short))
}

fn grid(low: DVec2, high: DVec2, step: DVec2) -> (usize, usize) {
    (((high.x - low.x) / step.x) as usize + 1, ((high.y - low.y) / step.y) as usize + 1)
}

/// Is a region between two corners of the strip too large to be filled at these steps?
#[must_use]
pub fn too_fine(low: DVec2, high: DVec2, step: DVec2) -> bool {
    let (columns, rows) = grid(low, high, stout(step));
    columns.saturating_mul(rows) > MOST_PLACES
}

/// A grid of points inside the contours, clear of them by a third of a step.
fn inner_points(contours: &[Vec<DVec2>], step: DVec2) -> Vec<DVec2> {
    if step.x.is_infinite() && step.y.is_infinite() {
        return Vec::new();
    }
    let short = step.min_element();
    let step = stout(step);
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for p in contours.iter().flatten() {
        (low, high) = (low.min(*p), high.max(*p));
    }
    let (columns, rows) = grid(low, high, step);
    if columns.saturating_mul(rows) > MOST_PLACES {
        return Vec::new();
    }
    let edges: Vec<[DVec2; 2]> =
        contours.iter().flat_map(|c| (0..c.len()).map(|k| [c[k], c[(k + 1) % c.len()]])).collect();
    let place = |i: usize, j: usize| low + DVec2::new((i as f64 + 0.5) * step.x, (j as f64 + 0.5) * step.y);
    // where each column crosses the contours, and the edges near each place
    let mut crossings: Vec<Vec<f64>> = vec![Vec::new(); columns];
    let mut near: Vec<Vec<u32>> = vec![Vec::new(); columns * rows];
    let least = short / 3.0;
    for (at, [a, b]) in edges.iter().enumerate() {
        let index = |v: f64, low: f64, step: f64, most: usize| (((v - low) / step).max(0.0) as usize).min(most - 1);
        let (from, to) = (a.min(*b) - least, a.max(*b) + least);
        let (i0, i1) = (index(from.x, low.x, step.x, columns), index(to.x, low.x, step.x, columns));
        let (j0, j1) = (index(from.y, low.y, step.y, rows), index(to.y, low.y, step.y, rows));
        for i in i0..=i1 {
            let x = place(i, 0).x;
            if (a.x > x) != (b.x > x) {
                crossings[i].push(a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x));
            }
            (j0..=j1).for_each(|j| near[i * rows + j].push(at as u32));
        }
    }
    let mut points = Vec::new();
    for i in 0..columns {
        crossings[i].sort_by(f64::total_cmp);
        for j in 0..rows {
            let p = place(i, j);
            let inside = crossings[i].partition_point(|y| *y < p.y) % 2 == 1;
            if inside && near[i * rows + j].iter().all(|&e| clear(edges[e as usize], p, least)) {
                points.push(p);
            }
        }
    }
    points
}

fn clear(edge: [DVec2; 2], p: DVec2, least: f64) -> bool {
    flat::segment::distance(p, edge) > least
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A bar whose two sides have their points at other heights, so that triangles lean.
    fn bar(wide: f64, tall: f64, step: f64) -> Vec<DVec2> {
        let side = |x: f64, ys: Vec<f64>| ys.into_iter().map(move |y| DVec2::new(x, y)).collect::<Vec<_>>();
        let count = (tall / step) as usize;
        let up = (0..=count).map(|k| (k as f64 * step).min(tall)).collect();
        let down = (0..=count).map(|k| (tall - k as f64 * step).max(0.0)).collect();
        [side(wide, up), side(0.0, down)].concat()
    }

    #[test]
    fn no_triangle_spans_more_than_a_step_round_a_cylinder() {
        for (wide, tall) in [(0.5, 3.1), (1.4, 3.1), (2.9, 3.3), (7.0, 5.05)] {
            let step = DVec2::new(f64::INFINITY, 0.36);
            let contour = bar(wide, tall, step.y);
            let (triangles, inside) = fill(std::slice::from_ref(&contour), step, &[]).unwrap();
            let whole = flat::signed_area(&contour);
            let points: Vec<DVec2> = contour.into_iter().chain(inside).collect();
            let area: f64 = triangles
                .iter()
                .map(|t| {
                    let [a, b, c] = t.map(|v| points[v as usize]);
                    let (low, high) = (a.min(b).min(c), a.max(b).max(c));
                    assert!(high.y - low.y < step.y + 1e-6, "{} of {wide} × {tall}", high.y - low.y);
                    (b - a).perp_dot(c - a) / 2.0
                })
                .sum();
            assert!((area - whole).abs() < 1e-9);
        }
    }
}
