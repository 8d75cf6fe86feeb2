//! Regions joined, cut and shared, and outlines as fonts and drawings have them made fit to build on: overlaps
//! joined, windings normalised, slivers and doubled points gone.

use crate::{contour::signed_area, region::Region};
use clipper2_rust::{
    clipper::{difference_d, intersect_d, union_d, union_subjects_d},
    core::{FillRule, PathsD, Point},
};
use glam::DVec2;

/// Decimal places of a mm kept by the polygon library: a nanometre.
pub(crate) const PLACES: i32 = 6;
/// Points nearer to each other than this are one, mm.
const DOUBLED: f64 = 1e-4;
/// A contour that encloses less than this is dust, mm²: a disc of 0.02 across.
const DUST: f64 = 3e-4;

pub(crate) fn paths(contours: &[Vec<DVec2>]) -> PathsD {
    contours.iter().map(|c| c.iter().map(|p| Point { x: p.x, y: p.y }).collect()).collect()
}

pub(crate) fn region(paths: &PathsD) -> Region {
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

pub(crate) fn paths_of(region: &Region) -> PathsD {
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
