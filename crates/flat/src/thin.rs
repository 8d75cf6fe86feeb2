//! Outlines with fewer points, to a tolerance.

use crate::{overlay::joined, region::Region, segment::foot};
use glam::DVec2;

/// The region with fewer points, no place of its outline farther than `to` mm from that of the old: Douglas and
/// Peucker's way (1973), on closed contours.
#[must_use]
pub fn thinned(of: &Region, to: f64) -> Region {
    joined(&of.contours().map(|c| sparse(c, to)).collect::<Vec<_>>())
}

/// A closed contour with fewer points, in the same way.
#[must_use]
pub fn sparse(contour: &[DVec2], to: f64) -> Vec<DVec2> {
    let n = contour.len();
    let farthest = |from: usize, until: usize| {
        let (a, b) = (contour[from], contour[until % n]);
        let each = (from + 1..until).map(|k| (k, contour[k].distance(foot(contour[k], [a, b]))));
        each.max_by(|one, other| one.1.total_cmp(&other.1))
    };
    let mut kept = vec![false; n];
    // the first point, the farthest from it, and what lies too far from a line between kept ones
    let mut runs = vec![(0, n)];
    while let Some((from, until)) = runs.pop() {
        kept[from] = true;
        if let Some((k, by)) = farthest(from, until)
            && (by > to || until - from == n)
        {
            runs.extend([(from, k), (k, until)]);
        }
    }
    (0..n).filter(|k| kept[*k]).map(|k| contour[k]).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_thinned_keeps_its_outline() {
        let circle: Vec<DVec2> =
            (0..2000).map(|k| DVec2::from_angle(f64::from(k) * 0.001 * std::f64::consts::PI)).collect();
        let thin = thinned(&joined(&[circle]), 0.001);
        let outer = &thin.islands[0].outer;
        assert!(outer.len() < 150);
        assert!((thin.area() - std::f64::consts::PI).abs() < 0.007);
        // a chord's middle is farthest from the circle
        let sag = (0..outer.len()).map(|k| 1.0 - ((outer[k] + outer[(k + 1) % outer.len()]) / 2.0).length());
        assert!(sag.fold(0.0, f64::max) <= 0.001 + 1e-6);
    }
}
