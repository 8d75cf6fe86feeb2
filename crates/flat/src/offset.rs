//! Regions grown and shrunk, and what a round cutter sweeps.

use crate::{
    FLATTENED_TO,
    contour::signed_area,
    overlay::{PLACES, paths, paths_of, region},
    region::Region,
};
use clipper2_rust::clipper::inflate_paths_d;
use clipper2_rust::{
    clipper::union_subjects_d,
    core::{FillRule, PathD, PathsD},
    offset::{EndType, JoinType},
};
use glam::DVec2;

/// The region grown by `by` mm all round, or shrunk where that is negative; corners stay sharp.
#[must_use]
pub fn grown(region_of: &Region, by: f64) -> Region {
    let contours: Vec<Vec<DVec2>> = region_of.contours().cloned().collect();
    let moved = inflate_paths_d(&paths(&contours), by, JoinType::Miter, EndType::Polygon, 3.0, PLACES, FLATTENED_TO);
    region(&union_subjects_d(&moved, FillRule::NonZero, PLACES))
}

/// The region grown by `by` mm all round, or shrunk where that is negative; corners become arcs, as a round cutter leaves them.
#[must_use]
pub fn rounded(region_of: &Region, by: f64) -> Region {
    /// Arcs lie within this of the true ones, mm.
    const ARC: f64 = 0.0005;
    let moved = inflate_paths_d(&paths_of(region_of), by, JoinType::Round, EndType::Polygon, 2.0, PLACES, ARC);
    region(&union_subjects_d(&moved, FillRule::NonZero, PLACES))
}

/// Do regions that grow by `by` mm all round, with sharp corners however far these reach, still not touch?
#[must_use]
pub fn stay_apart<'a>(regions: impl Iterator<Item = &'a Region>, by: f64) -> bool {
    /// Least overlap that is seen, mm².
    const SEEN: f64 = 1e-6;
    const SHARP: f64 = 50.0;
    let grown: Vec<PathsD> = regions
        .map(|r| inflate_paths_d(&paths_of(r), by, JoinType::Miter, EndType::Polygon, SHARP, PLACES, FLATTENED_TO))
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
    let swept = inflate_paths_d(&paths(lines), width / 2.0, JoinType::Round, EndType::Round, 2.0, PLACES, FLATTENED_TO);
    region(&union_subjects_d(&swept, FillRule::NonZero, PLACES))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::overlay::{joined, without};

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
}
