//! Straight pieces in space, mm.

use glam::DVec3;

/// A straight piece from one point to another.
pub type Segment = [DVec3; 2];

/// The place of a segment that is nearest to `p`.
#[must_use]
pub fn foot(p: DVec3, [a, b]: Segment) -> DVec3 {
    let way = b - a;
    a + way * ((p - a).dot(way) / way.length_squared().max(f64::MIN_POSITIVE)).clamp(0.0, 1.0)
}

/// The distance from `p` to a segment, mm.
#[must_use]
pub fn distance(p: DVec3, ends: Segment) -> f64 {
    p.distance(foot(p, ends))
}

/// The longest edge of a triangle: the corner that it starts from, and its length.
#[must_use]
pub fn longest_edge(corners: &[DVec3; 3]) -> (usize, f64) {
    let length = |k: usize| corners[k].distance(corners[(k + 1) % 3]);
    (1..3).fold((0, length(0)), |most, k| if length(k) >= most.1 { (k, length(k)) } else { most })
}

/// Height of a triangle over its longest edge, mm: what tells slivers. Zero for one that is a point.
#[must_use]
pub fn height(corners: &[DVec3; 3]) -> f64 {
    let [a, b, c] = *corners;
    (b - a).cross(c - a).length() / longest_edge(corners).1.max(f64::MIN_POSITIVE)
}
