//! What places on a section tell: which pieces of its edge they lie on, how far two are apart, the circle through three, and
//! whether the circles of two pieces have one middle.

use super::Section;
use glam::DVec3;
use solid::{
    cut_edge::{Circle, Middles, Shape, circle},
    segment::foot,
};

/// A place that lies nearer to a piece of the edge than this is on it, mm: it was put there by the same rule.
const ON: f64 = 1e-4;

/// How far two places are apart, mm: as the crow flies, upward and across.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Apart {
    pub distance: f64,
    pub up: f64,
    pub across: f64,
}

#[derive(Clone, Debug, PartialEq)]
pub struct Measured {
    /// Pieces of the edge, each once, in the order of the places.
    pub edges: Vec<usize>,
    /// Of two places.
    pub apart: Option<Apart>,
    /// Through three places.
    pub circle: Option<Circle>,
    /// Of the circles of two pieces.
    pub middles: Option<Middles>,
}

/// What `places` tell, mm on the section's plane; `up` is a unit vector in it.
#[must_use]
pub fn measured(section: &Section, up: DVec3, places: &[DVec3]) -> Measured {
    let mut edges: Vec<usize> = Vec::new();
    for edge in places.iter().filter_map(|&p| lies_on(section, p)) {
        if !edges.contains(&edge) {
            edges.push(edge);
        }
    }
    let apart = |way: DVec3| Apart {
        distance: way.length(),
        up: way.dot(up).abs(),
        across: way.reject_from_normalized(up).length(),
    };
    let arcs: Vec<Circle> = edges
        .iter()
        .filter_map(|&k| match section.edges[k].shape {
            Shape::Arc(circle) => Some(circle),
            Shape::Straight { .. } | Shape::Curve => None,
        })
        .collect();
    Measured {
        apart: matches!(places.len(), 2).then(|| apart(places[1] - places[0])),
        circle: if places.len() == 3 { circle(places, section.plane.normal) } else { None },
        middles: match arcs[..] {
            [first, second] if edges.len() == 2 => Some(first.middles(&second)),
            _ => None,
        },
        edges,
    }
}

fn lies_on(section: &Section, place: DVec3) -> Option<usize> {
    let off = |edge: &super::Edge| {
        let around = edge.closed.then(|| [edge.points[edge.points.len() - 1], edge.points[0]]);
        let pieces = edge.points.windows(2).map(|p| [p[0], p[1]]).chain(around);
        pieces.map(|ends| foot(place, ends).distance(place)).fold(f64::INFINITY, f64::min)
    };
    let nearest = section.edges.iter().map(off).enumerate().min_by(|a, b| a.1.total_cmp(&b.1))?;
    (nearest.1 <= ON).then_some(nearest.0)
}
