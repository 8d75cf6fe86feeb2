//! Outlines as fonts draw them, made fit to build on: overlaps joined, windings normalised,
//! slivers and doubled points gone.

use crate::region::{Region, signed_area};
use clipper2_rust::{
    clipper::{difference_d, inflate_paths_d, intersect_d, union_d, union_subjects_d},
    core::{FillRule, PathD, PathsD, Point},
    offset::{EndType, JoinType},
};
use glam::DVec2;

/// Decimal places of a mm kept by the polygon library: a nanometre.
const PLACES: i32 = 6;
/// Points nearer to each other than this are one, mm.
const DOUBLED: f64 = 1e-4;
/// A contour that encloses less than this is dust, mm²: a disc of 0.02 across.
const DUST: f64 = 3e-4;

fn paths(contours: &[Vec<DVec2>]) -> PathsD {
    contours.iter().map(|c| c.iter().map(|p| Point { x: p.x, y: p.y }).collect()).collect()
}

fn region(paths: &PathsD) -> Region {
    let contours = paths
        .iter()
        .map(|path| tidy(path.iter().map(|p| DVec2::new(p.x, p.y)).collect()))
        .filter(|c| c.len() >= 3 && signed_area(c).abs() > DUST)
        .collect();
    Region::from_contours(contours)
}

/// Without doubled points and points in the middle of straight edges.
fn tidy(mut contour: Vec<DVec2>) -> Vec<DVec2> {
    contour.dedup_by(|a, b| a.distance(*b) < DOUBLED);
    while contour.len() > 3 && contour[0].distance(contour[contour.len() - 1]) < DOUBLED {
        contour.pop();
    }
    let mut at = 0;
    while contour.len() > 3 && at < contour.len() {
        let n = contour.len();
        let (a, b, c) = (contour[(at + n - 1) % n], contour[at], contour[(at + 1) % n]);
        let off = (c - a).perp_dot(b - a).abs() / (c - a).length().max(f64::MIN_POSITIVE);
        if off < 1e-6 && (b - a).dot(c - b) > 0.0 {
            contour.remove(at);
        } else {
            at += 1;
        }
    }
    contour
}

/// Closed contours of either winding as one region by the non-zero rule.
#[must_use]
pub fn joined(contours: &[Vec<DVec2>]) -> Region {
    region(&union_subjects_d(&paths(contours), FillRule::NonZero, PLACES))
}

/// Which places contours that lie in one another enclose.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Rule {
    NonZero,
    EvenOdd,
}

/// What closed contours enclose by a rule.
#[must_use]
pub fn filled(contours: &[Vec<DVec2>], rule: Rule) -> Region {
    let rule = match rule {
        Rule::NonZero => FillRule::NonZero,
        Rule::EvenOdd => FillRule::EvenOdd,
    };
    region(&union_subjects_d(&paths(contours), rule, PLACES))
}

fn paths_of(region: &Region) -> PathsD {
    paths(&region.contours().cloned().collect::<Vec<_>>())
}

/// Both regions together.
#[must_use]
pub fn with(one: &Region, other: &Region) -> Region {
    region(&union_d(&paths_of(one), &paths_of(other), FillRule::NonZero, PLACES))
}

/// The first region where the second is not.
#[must_use]
pub fn without(one: &Region, other: &Region) -> Region {
    region(&difference_d(&paths_of(one), &paths_of(other), FillRule::NonZero, PLACES))
}

/// Where both regions are.
#[must_use]
pub fn common(one: &Region, other: &Region) -> Region {
    region(&intersect_d(&paths_of(one), &paths_of(other), FillRule::NonZero, PLACES))
}

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
    let off = |p: DVec2, a: DVec2, b: DVec2| {
        let t = ((p - a).dot(b - a) / (b - a).length_squared().max(f64::MIN_POSITIVE)).clamp(0.0, 1.0);
        p.distance(a + (b - a) * t)
    };
    let farthest = |from: usize, until: usize| {
        let (a, b) = (contour[from], contour[until % n]);
        let each = (from + 1..until).map(|k| (k, off(contour[k], a, b)));
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

/// The region grown by `by` mm all round, or shrunk where that is negative; corners stay sharp.
#[must_use]
pub fn grown(region_of: &Region, by: f64) -> Region {
    let contours: Vec<Vec<DVec2>> = region_of.contours().cloned().collect();
    let moved =
        inflate_paths_d(&paths(&contours), by, JoinType::Miter, EndType::Polygon, 3.0, PLACES, crate::FLATTENED_TO);
    region(&union_subjects_d(&moved, FillRule::NonZero, PLACES))
}

/// Do regions that grow by `by` mm all round, with sharp corners however far these reach, still not touch?
#[must_use]
pub fn stay_apart<'a>(regions: impl Iterator<Item = &'a Region>, by: f64) -> bool {
    /// Least overlap that is seen, mm².
    const SEEN: f64 = 1e-6;
    const SHARP: f64 = 50.0;
    let grown: Vec<PathsD> = regions
        .map(|r| {
            inflate_paths_d(&paths_of(r), by, JoinType::Miter, EndType::Polygon, SHARP, PLACES, crate::FLATTENED_TO)
        })
        .map(|grown| union_subjects_d(&grown, FillRule::NonZero, PLACES))
        .collect();
    let area = |paths: &PathsD| {
        let ring = |path: &PathD| signed_area(&path.iter().map(|p| DVec2::new(p.x, p.y)).collect::<Vec<_>>());
        paths.iter().map(ring).sum::<f64>()
    };
    let each: f64 = grown.iter().map(area).sum();
    let all = union_subjects_d(&grown.concat(), FillRule::NonZero, PLACES);
    each - area(&all) < SEEN
}

/// The region a round cutter of diameter `width` sweeps along open lines.
#[must_use]
pub fn swept(lines: &[Vec<DVec2>], width: f64) -> Region {
    let swept =
        inflate_paths_d(&paths(lines), width / 2.0, JoinType::Round, EndType::Round, 2.0, PLACES, crate::FLATTENED_TO);
    region(&union_subjects_d(&swept, FillRule::NonZero, PLACES))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn triangle(tip: DVec2, base: f64, wide: f64) -> Region {
        let outer = vec![tip, DVec2::new(base, tip.y + wide), DVec2::new(base, tip.y - wide)];
        Region::from_contours(vec![if signed_area(&outer) > 0.0 { outer } else { outer.into_iter().rev().collect() }])
    }

    #[test]
    fn regions_stay_apart_as_long_as_neither_their_sides_nor_their_sharp_corners_meet() {
        let square = |x: f64| {
            joined(&[[(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)].map(|(a, b)| DVec2::new(x + a, b)).to_vec()])
        };
        let (one, other) = (square(0.0), square(1.5));
        assert!(stay_apart([&one, &other].into_iter(), 0.24));
        assert!(!stay_apart([&one, &other].into_iter(), 0.26));
        // one inside the counter of another
        let ring = without(&square(0.0), &grown(&square(0.0), -0.2));
        let inside = grown(&square(0.0), -0.4);
        assert!(stay_apart([&ring, &inside].into_iter(), 0.09));
        assert!(!stay_apart([&ring, &inside].into_iter(), 0.11));
        // tips of 2 atan(0.1) grow ten times as far as sides do
        let (left, right) = (triangle(DVec2::ZERO, -5.0, 0.5), triangle(DVec2::X * 0.5, 5.5, 0.5));
        assert!(stay_apart([&left, &right].into_iter(), 0.024));
        assert!(!stay_apart([&left, &right].into_iter(), 0.026));
    }

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
