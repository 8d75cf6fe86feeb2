//! A flat region filled with triangles: the land or floor of a character, and its hidden far side.
//!
//! Constrained Delaunay triangulation of the contours on the strip, with points added inside at
//! the chart's step so that the mapped facets stay on the offset surface.

use glam::DVec2;
use lettering::region::contains;

/// Triangles (counter-clockwise on the strip) between `contours` (outer counter-clockwise, holes
/// clockwise), and the points added inside. Vertices are numbered through all contours in order,
/// the added ones after them.
///
/// `None` when contours cross or touch.
#[must_use]
pub fn fill(contours: &[Vec<DVec2>], step: DVec2) -> Option<(Vec<[u32; 3]>, Vec<DVec2>)> {
    let inside = inner_points(contours, step);
    Some((solid::fill::fill(contours, &inside)?, inside))
}

/// A grid of points inside the contours, clear of them by a third of a step.
fn inner_points(contours: &[Vec<DVec2>], step: DVec2) -> Vec<DVec2> {
    if step.x.is_infinite() && step.y.is_infinite() {
        return Vec::new();
    }
    // Along the straight direction longer triangles do no harm.
    let short = step.min_element();
    let step = DVec2::new(step.x.min(4.0 * short), step.y.min(4.0 * short));
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for p in contours.iter().flatten() {
        (low, high) = (low.min(*p), high.max(*p));
    }
    let mut points = Vec::new();
    let (columns, rows) = (((high.x - low.x) / step.x) as usize, ((high.y - low.y) / step.y) as usize);
    for i in 0..=columns {
        for j in 0..=rows {
            let p = low + DVec2::new((i as f64 + 0.5) * step.x, (j as f64 + 0.5) * step.y);
            let inside = contours.iter().filter(|c| contains(c, p)).count() % 2 == 1;
            if inside && contours.iter().all(|c| clear(c, p, short / 3.0)) {
                points.push(p);
            }
        }
    }
    points
}

fn clear(contour: &[DVec2], p: DVec2, least: f64) -> bool {
    (0..contour.len()).all(|k| {
        let (a, b) = (contour[k], contour[(k + 1) % contour.len()]);
        let d = b - a;
        let t = ((p - a).dot(d) / d.length_squared().max(f64::MIN_POSITIVE)).clamp(0.0, 1.0);
        p.distance(a + d * t) > least
    })
}
