//! Closed contours as edges in a tree.

use crate::{contour::edges, segment::foot};
use glam::DVec2;
use rstar::{AABB, PointDistance, RTree, RTreeObject};

/// What is dropped of almost straight runs lies within this of what is left, mm.
const STRAIGHT: f64 = 1e-4;

/// Points in the middle of almost straight runs dropped. From the last point that is left, the directions in which a piece
/// passes all dropped ones near enough make a sector, which each of them narrows (Williams 1978); a point outside of it, or
/// one that comes back, begins a new piece.
fn thinned(contour: &[DVec2]) -> Vec<DVec2> {
    let Some(&first) = contour.first() else { return Vec::new() };
    let mut out = vec![first];
    let mut last = first;
    // the sector about a direction, radians from it, and how far away the run has come
    let mut sector: Option<(DVec2, f64, f64)> = None;
    let mut far = 0.0;
    for &p in &contour[1..] {
        let mut way = p - out[out.len() - 1];
        let turned = |way: DVec2| {
            sector.map_or(Some(0.0), |(axis, low, high)| {
                let turn = axis.angle_to(way);
                (turn >= low && turn <= high).then_some(turn)
            })
        };
        let turn = turned(way).filter(|_| way.length() >= far).unwrap_or_else(|| {
            out.push(last);
            (sector, way) = (None, p - last);
            0.0
        });
        far = way.length();
        let open = (STRAIGHT / far.max(STRAIGHT)).asin();
        let (axis, low, high) = sector.unwrap_or((way, f64::NEG_INFINITY, f64::INFINITY));
        // what lies so near has no direction yet
        sector = (far > STRAIGHT).then(|| (axis, f64::max(low, turn - open), f64::min(high, turn + open)));
        last = p;
    }
    out.push(last);
    if out.len() < 3 { contour.to_vec() } else { out }
}

/// A straight piece of an outline, and the directions in which the outline comes to it and goes on from it.
pub(crate) struct Edge {
    pub ends: [DVec2; 2],
    before: DVec2,
    along: DVec2,
    after: DVec2,
}

impl Edge {
    /// How the outline runs into a place of the edge and on from it.
    pub fn through(&self, at: DVec2) -> [DVec2; 2] {
        const END: f64 = 1e-18;
        if at.distance_squared(self.ends[0]) < END {
            [self.before, self.along]
        } else if at.distance_squared(self.ends[1]) < END {
            [self.along, self.after]
        } else {
            [self.along; 2]
        }
    }
}

impl RTreeObject for Edge {
    type Envelope = AABB<[f64; 2]>;

    fn envelope(&self) -> Self::Envelope {
        AABB::from_corners(self.ends[0].to_array(), self.ends[1].to_array())
    }
}

impl PointDistance for Edge {
    fn distance_2(&self, p: &[f64; 2]) -> f64 {
        let p = DVec2::from_array(*p);
        foot(p, self.ends).distance_squared(p)
    }
}

/// Closed contours as edges in a tree.
pub(crate) struct Outline {
    pub tree: RTree<Edge>,
    /// Diagonal of the box round it.
    pub size: f64,
}

impl Outline {
    pub fn new(contours: &[Vec<DVec2>]) -> Self {
        let mut all = Vec::new();
        let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
        for contour in contours {
            let ends: Vec<[DVec2; 2]> =
                edges(&thinned(contour)).filter(|[a, b]| a.distance_squared(*b) > 1e-14).collect();
            let along: Vec<DVec2> = ends.iter().map(|[a, b]| (*b - *a).normalize()).collect();
            let n = ends.len();
            for (k, &ends) in ends.iter().enumerate() {
                (low, high) = (low.min(ends[0]), high.max(ends[0]));
                let (before, after) = (along[(k + n - 1) % n], along[(k + 1) % n]);
                all.push(Edge { ends, before, along: along[k], after });
            }
        }
        Self { tree: RTree::bulk_load(all), size: if low.is_finite() { (high - low).length() } else { 0.0 } }
    }

    /// Does no edge come nearer to `p` than this? mm.
    pub fn is_free(&self, p: DVec2, radius: f64) -> bool {
        self.tree.locate_within_distance(p.to_array(), radius * radius).next().is_none()
    }

    /// Distance from `p` to the nearest edge, mm.
    pub fn distance(&self, p: DVec2) -> f64 {
        let nearest = self.tree.nearest_neighbor(p.to_array());
        nearest.map_or(f64::INFINITY, |e| foot(p, e.ends).distance(p))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{segment::distance, shapes::circle};

    #[test]
    fn however_fine_an_outline_is_none_of_it_is_lost() {
        for count in [40, 400, 4_000, 40_000] {
            let ring = circle(1.0, count, 1.0);
            let left = thinned(&ring);
            let pieces: Vec<[DVec2; 2]> = edges(&left).collect();
            let off = |p: &DVec2| pieces.iter().map(|e| distance(*p, *e)).fold(f64::MAX, f64::min);
            let most = ring.iter().step_by(1 + count as usize / 500).map(off).fold(0.0, f64::max);
            assert!(most <= 1.01 * STRAIGHT, "{count}: {most} off");
            // chords of a circle of 1 that lie within 0.0001 of it turn by 0.028
            assert!(left.len() <= 460.min(count as usize), "{count}: {}", left.len());
        }
        // straight runs are two points, whatever lies on them; spikes and turns stay
        let run: Vec<DVec2> = (0..=100).map(|k| DVec2::new(f64::from(k) / 100.0, 0.0)).collect();
        let spiked =
            [run, vec![DVec2::new(1.0, 1.0), DVec2::new(0.5, 0.5), DVec2::new(0.5, 1.5), DVec2::new(0.5, 0.5)]];
        assert_eq!(thinned(&spiked.concat()).len(), 6);
    }
}
