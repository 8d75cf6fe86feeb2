//! The largest sphere that fits at each place of a flat outline, touching it there.
//!
//! Shrinking-ball iteration (Ma, Bae and Choi 2012): a disc tangent to the outline at a sample
//! point is made smaller until no other part of the outline lies inside it. Where it then touches
//! the outline on the opposite side, its diameter is the width there.

use crate::{contour::edges, segment::foot};
use glam::DVec2;
use rstar::{AABB, PointDistance, RTree, RTreeObject};

/// Discs whose two touching points are seen from the middle under less than this are nestled in a
/// corner and measure no width. A taper of 20° still counts as a stroke.
const OPPOSITE_DEG: f64 = 160.0;
/// Samples along straight edges are no farther apart, mm.
const SAMPLE: f64 = 0.25;

#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Disc {
    pub diameter: f64,
    /// The two places where it touches the outline.
    pub touches: [DVec2; 2],
}

impl Disc {
    /// The touching points lie opposite one another.
    fn spans(&self) -> bool {
        let across = self.touches[0].distance(self.touches[1]);
        across >= self.diameter * (OPPOSITE_DEG / 2.0).to_radians().sin()
    }
}

/// Points in the middle of almost straight runs dropped; what is left lies within a tenth of a
/// micrometre.
fn thinned(contour: &[DVec2]) -> Vec<DVec2> {
    let mut out: Vec<DVec2> = Vec::with_capacity(contour.len());
    let n = contour.len();
    for k in 0..n {
        let (a, b, c) = (*out.last().unwrap_or(&contour[(k + n - 1) % n]), contour[k], contour[(k + 1) % n]);
        let along = (c - a).normalize_or_zero();
        if along.perp_dot(b - a).abs() > 1e-4 || along.dot(b - a) <= 0.0 {
            out.push(b);
        }
    }
    if out.len() < 3 { contour.to_vec() } else { out }
}

/// A straight piece of an outline.
struct Edge([DVec2; 2]);

impl RTreeObject for Edge {
    type Envelope = AABB<[f64; 2]>;

    fn envelope(&self) -> Self::Envelope {
        AABB::from_corners(self.0[0].to_array(), self.0[1].to_array())
    }
}

impl PointDistance for Edge {
    fn distance_2(&self, p: &[f64; 2]) -> f64 {
        let p = DVec2::from_array(*p);
        foot(p, self.0).distance_squared(p)
    }
}

/// One disc for each sample point, on the left of the contours (inside the material when the
/// contours run round it).
fn discs(contours: &[Vec<DVec2>]) -> Vec<Disc> {
    let contours: Vec<Vec<DVec2>> = contours.iter().map(|c| thinned(c)).collect();
    let ends: Vec<[DVec2; 2]> =
        contours.iter().flat_map(|c| edges(c)).filter(|[a, b]| a.distance_squared(*b) > 1e-12).collect();
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for [a, _] in &ends {
        (low, high) = (low.min(*a), high.max(*a));
    }
    let tree = RTree::bulk_load(ends.iter().copied().map(Edge).collect());
    let largest = (high - low).length();
    let mut found = Vec::new();
    let mut guess = largest;
    for &[a, b] in &ends {
        let along = b - a;
        let length = along.length();
        let inward = along.perp() / length;
        let samples = (length / SAMPLE).ceil().max(1.0) as usize;
        for k in 0..samples {
            let p = a + along * ((k as f64 + 0.5) / samples as f64);
            let disc =
                shrink(p, inward, &tree, (guess * 1.5).min(largest)).or_else(|| shrink(p, inward, &tree, largest));
            if let Some(disc) = disc {
                guess = disc.diameter / 2.0;
                found.push(disc);
            }
        }
    }
    found
}

/// `None` when the disc of radius `start` is already free.
fn shrink(p: DVec2, inward: DVec2, edges: &RTree<Edge>, start: f64) -> Option<Disc> {
    let mut radius = start;
    let mut touch = None;
    for _ in 0..30 {
        let middle = p + inward * radius;
        let Some(nearest) = edges.nearest_neighbor(middle.to_array()) else { break };
        let q = foot(middle, nearest.0);
        if q.distance_squared(middle) >= radius * radius * (1.0 - 1e-9) {
            break;
        }
        let toward = q - p;
        let ahead = toward.dot(inward);
        if ahead <= 1e-9 {
            break;
        }
        let smaller = toward.length_squared() / (2.0 * ahead);
        touch = Some(q);
        if radius - smaller < 1e-7 {
            radius = smaller;
            break;
        }
        radius = smaller;
    }
    touch.map(|q| Disc { diameter: 2.0 * radius, touches: [p, q] })
}

/// The narrowest place between opposite sides of the region to the left of `contours`.
#[must_use]
pub fn narrowest(contours: &[Vec<DVec2>]) -> Option<Disc> {
    discs(contours).into_iter().filter(Disc::spans).min_by(|a, b| a.diameter.total_cmp(&b.diameter))
}

/// The largest disc inside the closed `contour`, whichever way it runs.
#[must_use]
pub fn largest(contour: &[DVec2]) -> Option<Disc> {
    let mut contour = contour.to_vec();
    if crate::contour::signed_area(&contour) < 0.0 {
        contour.reverse();
    }
    discs(&[contour]).into_iter().max_by(|a, b| a.diameter.total_cmp(&b.diameter))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn rectangle(w: f64, h: f64) -> Vec<DVec2> {
        [(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)].map(|(x, y)| DVec2::new(x, y)).to_vec()
    }

    #[test]
    fn a_slot_is_as_wide_as_it_is_and_its_corners_are_no_strokes() {
        let disc = narrowest(&[rectangle(3.0, 0.4)]).unwrap();
        assert!((disc.diameter - 0.4).abs() < 1e-6, "{disc:?}");
        assert!((largest(&rectangle(3.0, 0.4)).unwrap().diameter - 0.4).abs() < 1e-6);
    }

    #[test]
    fn a_ring_is_as_wide_as_the_difference_of_its_radii() {
        let circle = |r: f64, turn: f64| -> Vec<DVec2> {
            (0..200).map(|k| DVec2::from_angle(turn * f64::from(k) * std::f64::consts::TAU / 200.0) * r).collect()
        };
        let ring = [circle(2.0, 1.0), circle(1.5, -1.0)];
        // flattening takes r (1 − cos π/200) off the outer radius at most
        let disc = narrowest(&ring).unwrap();
        assert!((disc.diameter - 0.5).abs() < 3e-4, "{disc:?}");
        let hole = largest(&ring[1]).unwrap();
        assert!((hole.diameter - 3.0).abs() < 1e-3, "{hole:?}");
    }

    #[test]
    fn a_neck_is_found_where_it_is() {
        let bone: Vec<DVec2> = [
            (0.0, 0.0),
            (2.0, 0.0),
            (2.0, 0.4),
            (3.0, 0.4),
            (3.0, 0.0),
            (5.0, 0.0),
            (5.0, 1.0),
            (3.0, 1.0),
            (3.0, 0.6),
            (2.0, 0.6),
            (2.0, 1.0),
            (0.0, 1.0),
        ]
        .map(|(x, y)| DVec2::new(x, y))
        .to_vec();
        let disc = narrowest(&[bone]).unwrap();
        assert!((disc.diameter - 0.2).abs() < 1e-6);
        assert!((2.0..3.0).contains(&disc.touches[0].x));
    }
}
