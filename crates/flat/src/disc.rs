//! How wide a region is: its narrowest neck, and the largest disc in it.
//!
//! A neck is a least distance between two sides of an outline, straight through the region: a disc on it as its diameter
//! holds nothing else of the outline. These are the least of the distances along the medial axis (Blum 1967), found
//! from the outline's own corners and edges and not from samples of the axis, so that a nick counts however short it is.

use crate::{
    contour::{contains, edges, encloses, signed_area},
    segment::foot,
};
use glam::DVec2;
use rstar::{AABB, PointDistance, RTree, RTreeObject};
use std::{cmp::Ordering, collections::BinaryHeap};

/// Sides that lean towards one another by more than this make a corner, not a stroke, degrees.
const TAPER_DEG: f64 = 20.0;
/// What lies in a disc by less than this share of its radius is its own rim: sides that lean by a taper cut off
/// 1 − cos of it, and flattened curves a little.
const RIM: f64 = 0.02;
/// Along straight edges places are looked at no farther apart than this share of the outline's extents.
const SHARE: f64 = 1.0 / 40.0;
/// The middle of the largest disc is looked for to this, mm, and then brought to where it touches three sides.
const MIDDLE: f64 = 1e-3;

#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Disc {
    pub diameter: f64,
    /// The two places where it touches the outline.
    pub touches: [DVec2; 2],
}

impl Disc {
    #[must_use]
    pub fn middle(&self) -> DVec2 {
        (self.touches[0] + self.touches[1]) / 2.0
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

/// A straight piece of an outline, and the directions in which the outline comes to it and goes on from it.
struct Edge {
    ends: [DVec2; 2],
    before: DVec2,
    along: DVec2,
    after: DVec2,
}

impl Edge {
    /// How the outline runs into a place of the edge and on from it.
    fn through(&self, at: DVec2) -> [DVec2; 2] {
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
struct Outline {
    tree: RTree<Edge>,
    size: f64,
}

impl Outline {
    fn new(contours: &[Vec<DVec2>]) -> Self {
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

    /// Distance from `p` to the nearest edge, mm.
    fn distance(&self, p: DVec2) -> f64 {
        let nearest = self.tree.nearest_neighbor(p.to_array());
        nearest.map_or(f64::INFINITY, |e| foot(p, e.ends).distance(p))
    }
}

/// The narrowest neck of the region to the left of `contours`, of those that `wanted` accepts; `None` where no two of
/// its sides lie opposite one another.
#[must_use]
pub fn narrowest_of(contours: &[Vec<DVec2>], wanted: impl Fn(&Disc) -> bool) -> Option<Disc> {
    let outline = Outline::new(contours);
    let lean = TAPER_DEG.to_radians().sin();
    // the region lies to the left of where the outline comes from or goes to, and no nearer place is just beside
    let leaves = |[into, on]: [DVec2; 2], way: DVec2| {
        (into.perp_dot(way) > 0.0 || on.perp_dot(way) > 0.0) && way.dot(on) <= lean && way.dot(into) >= -lean
    };
    // contours the other way round have all the plane but what they enclose on their left
    let bounded = contours.iter().map(|c| signed_area(c)).sum::<f64>() > 0.0;
    let mut best: Option<Disc> = None;
    for edge in outline.tree.iter() {
        let [a, b] = edge.ends;
        let pieces = (a.distance(b) / (SHARE * outline.size)).ceil().max(2.0) as usize;
        for k in 0..pieces {
            let p = a.lerp(b, k as f64 / pieces as f64);
            let through = edge.through(p);
            let most = best.map_or(outline.size, |d| d.diameter);
            for other in outline.tree.locate_within_distance(p.to_array(), most * most) {
                let q = foot(p, other.ends);
                let across = p.distance(q);
                // a hair's gain is none: of necks that are alike the first is told
                if across < 1e-9 || across > best.map_or(f64::MAX, |d| d.diameter - 1e-9) {
                    continue;
                }
                let way = (q - p) / across;
                if !leaves(through, way) || !leaves(other.through(q), -way) {
                    continue;
                }
                let disc = Disc { diameter: across, touches: [p, q] };
                let middle = disc.middle();
                let free = outline.distance(middle) >= across / 2.0 * (1.0 - RIM);
                if free && encloses(contours, middle) == bounded && wanted(&disc) {
                    best = Some(disc);
                }
            }
        }
    }
    best
}

/// The narrowest neck of the region to the left of `contours`.
#[must_use]
pub fn narrowest(contours: &[Vec<DVec2>]) -> Option<Disc> {
    narrowest_of(contours, |_| true)
}

/// The narrowest space between sides of a region, outside of it: between its pieces, between the arms of one, across the
/// mouth of a bay. Holes are no spaces, unless a piece stands in them.
#[must_use]
pub fn narrowest_space(contours: &[Vec<DVec2>]) -> Option<Disc> {
    let turned: Vec<Vec<DVec2>> = contours.iter().map(|c| c.iter().rev().copied().collect()).collect();
    // holes without anything in them are counters, not spaces
    let holes: Vec<&Vec<DVec2>> = contours
        .iter()
        .filter(|c| signed_area(c) < 0.0)
        .filter(|hole| !contours.iter().any(|c| signed_area(c) > 0.0 && c.first().is_some_and(|&p| contains(hole, p))))
        .collect();
    narrowest_of(&turned, |disc| !holes.iter().any(|hole| contains(hole, disc.middle())))
}

/// A square in which the middle of the largest disc may lie.
struct Square {
    middle: DVec2,
    half: f64,
    /// Radius of the disc about its middle, and the most that one about any other place of it could have.
    radius: f64,
    most: f64,
}

impl PartialEq for Square {
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other).is_eq()
    }
}
impl Eq for Square {}
impl PartialOrd for Square {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}
impl Ord for Square {
    fn cmp(&self, other: &Self) -> Ordering {
        self.most.total_cmp(&other.most)
    }
}

/// The largest disc inside the closed `contour`, whichever way it runs: squares that could hold its middle are divided,
/// those first that promise most.
#[must_use]
pub fn largest(contour: &[DVec2]) -> Option<Disc> {
    if signed_area(contour).abs() < 1e-12 {
        return None;
    }
    let outline = Outline::new(&[contour.to_vec()]);
    let (low, high) = contour.iter().fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(l, h), p| (l.min(*p), h.max(*p)));
    let square = |middle: DVec2, half: f64| {
        let away = outline.distance(middle);
        let radius = if contains(contour, middle) { away } else { -away };
        Square { middle, half, radius, most: radius + half * std::f64::consts::SQRT_2 }
    };
    let half = (high - low).min_element() / 2.0;
    let mut open = BinaryHeap::new();
    let counts = ((high - low) / (2.0 * half)).ceil();
    for x in 0..counts.x as usize {
        for y in 0..counts.y as usize {
            open.push(square(low + DVec2::new(x as f64 * 2.0 + 1.0, y as f64 * 2.0 + 1.0) * half, half));
        }
    }
    let mut best = Square { middle: low, half: 0.0, radius: 0.0, most: 0.0 };
    while let Some(next) = open.pop() {
        if next.most < best.radius + MIDDLE {
            break;
        }
        for k in 0..4 {
            let to = DVec2::new(if k & 1 == 0 { -0.5 } else { 0.5 }, if k & 2 == 0 { -0.5 } else { 0.5 });
            let part = square(next.middle + to * next.half, next.half / 2.0);
            if part.most > best.radius + MIDDLE {
                open.push(Square { ..part });
            }
            if part.radius > best.radius {
                best = part;
            }
        }
        if next.radius > best.radius {
            best = next;
        }
    }
    (best.radius > 0.0).then(|| {
        let best = settled(&outline, best);
        Disc { diameter: 2.0 * best.radius, touches: touches(&outline, &best) }
    })
}

/// A disc brought to where it is largest nearby: its middle is moved so that it is as far from two or three of the sides near its
/// rim and no nearer to any other, as long as that makes it larger.
fn settled(outline: &Outline, mut disc: Square) -> Square {
    const ROUNDS: usize = 6;
    const SIDES: usize = 12;
    for _ in 0..ROUNDS {
        let reach = disc.radius + 4.0 * MIDDLE;
        // where it nearly touches, and the way from there to its middle
        let mut sides: Vec<(f64, DVec2)> = Vec::new();
        for edge in outline.tree.locate_within_distance(disc.middle.to_array(), reach * reach) {
            let way = disc.middle - foot(disc.middle, edge.ends);
            let away = way.length();
            let unit = way / away;
            if sides.iter().all(|(_, known)| known.dot(unit) < 1.0 - 1e-9) {
                sides.push((away, unit));
            }
        }
        sides.sort_by(|a, b| a.0.total_cmp(&b.0));
        let few: Vec<(f64, DVec2)> = sides.iter().step_by(sides.len().div_ceil(SIDES).max(1)).copied().collect();
        let least = |by: DVec2| sides.iter().map(|(away, unit)| away + unit.dot(by)).fold(f64::INFINITY, f64::min);
        let mut most = (least(DVec2::ZERO), DVec2::ZERO);
        for i in 0..few.len() {
            for j in 0..i {
                // between two sides that run alongside one another there is no third
                let apart = few[i].1 - few[j].1;
                let by = apart * ((few[j].0 - few[i].0) / apart.length_squared());
                if by.length() < 8.0 * MIDDLE && least(by) > most.0 {
                    most = (least(by), by);
                }
                for k in 0..j {
                    let (u, v) = (few[j].1 - few[i].1, few[k].1 - few[i].1);
                    let (a, b) = (few[i].0 - few[j].0, few[i].0 - few[k].0);
                    let whole = u.perp_dot(v);
                    let by = DVec2::new(a * v.y - b * u.y, b * u.x - a * v.x) / whole;
                    if whole.abs() > 1e-9 && by.length() < 8.0 * MIDDLE && least(by) > most.0 {
                        most = (least(by), by);
                    }
                }
            }
        }
        let middle = disc.middle + most.1;
        let radius = outline.distance(middle);
        if radius <= disc.radius + 1e-12 {
            break;
        }
        disc = Square { middle, radius, ..disc };
    }
    disc
}

/// The two places of the outline on the rim of a disc that lie farthest from one another.
fn touches(outline: &Outline, disc: &Square) -> [DVec2; 2] {
    let reach = disc.radius + 2.0 * MIDDLE;
    let on_rim: Vec<DVec2> = outline
        .tree
        .locate_within_distance(disc.middle.to_array(), reach * reach)
        .map(|e| foot(disc.middle, e.ends))
        .collect();
    let first = on_rim.first().copied().unwrap_or(disc.middle);
    let farthest =
        |p: DVec2| on_rim.iter().copied().max_by(|a, b| a.distance(p).total_cmp(&b.distance(p))).unwrap_or(p);
    let one = farthest(first);
    [one, farthest(one)]
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn shape(points: &[(f64, f64)]) -> Vec<DVec2> {
        points.iter().map(|&(x, y)| DVec2::new(x, y)).collect()
    }

    fn rectangle(w: f64, h: f64) -> Vec<DVec2> {
        shape(&[(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)])
    }

    fn circle(radius: f64, pieces: u32, turn: f64) -> Vec<DVec2> {
        let step = turn * std::f64::consts::TAU / f64::from(pieces);
        (0..pieces).map(|k| DVec2::from_angle(step * f64::from(k)) * radius).collect()
    }

    #[test]
    fn a_slot_is_as_wide_as_it_is_and_its_corners_are_no_strokes() {
        let disc = narrowest(&[rectangle(3.0, 0.4)]).unwrap();
        assert!((disc.diameter - 0.4).abs() < 1e-9, "{disc:?}");
        assert!((largest(&rectangle(3.0, 0.4)).unwrap().diameter - 0.4).abs() < 1e-9);
    }

    #[test]
    fn a_ring_is_as_wide_as_the_difference_of_its_radii() {
        let ring = [circle(2.0, 200, 1.0), circle(1.5, 200, -1.0)];
        // flattening takes r (1 − cos π/200) off the outer radius at most
        let disc = narrowest(&ring).unwrap();
        assert!((disc.diameter - 0.5).abs() < 3e-4, "{disc:?}");
        let hole = largest(&ring[1]).unwrap();
        assert!((hole.diameter - 3.0).abs() < 1e-3, "{hole:?}");
    }

    #[test]
    fn the_end_of_a_round_stroke_is_no_narrower_than_the_stroke() {
        let mut stroke = shape(&[(-2.0, -0.15), (0.0, -0.15)]);
        stroke.extend((1..40).map(|k| DVec2::from_angle((f64::from(k) / 40.0 - 0.5) * std::f64::consts::PI) * 0.15));
        stroke.extend(shape(&[(0.0, 0.15), (-2.0, 0.15)]));
        let disc = narrowest(&[stroke]).unwrap();
        assert!((disc.diameter - 0.3).abs() < 3e-4, "{disc:?}");
    }

    /// A nick of any depth in a bar, sharp or flat at its ground, leaves what it leaves; beside it a sound bar.
    #[test]
    fn a_nick_is_found_however_short_it_is() {
        for (depth, half) in [(0.98, 0.2), (0.96, 0.01), (0.5, 0.3), (0.98, 0.001)] {
            let sharp = shape(&[
                (0.0, 0.0),
                (5.0, 0.0),
                (5.0, 1.0),
                (2.3 + half, 1.0),
                (2.3, 1.0 - depth),
                (2.3 - half, 1.0),
                (0.0, 1.0),
            ]);
            let left = narrowest(std::slice::from_ref(&sharp)).unwrap();
            assert!((left.diameter - (1.0 - depth)).abs() < 1e-9, "{depth} {half}: {left:?}");
            let sound = narrowest(&[rectangle(5.0, 1.0)]).unwrap();
            assert!((sound.diameter - 1.0).abs() < 1e-9);
        }
    }

    #[test]
    fn a_neck_is_found_where_it_is() {
        let bone = shape(&[
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
        ]);
        let disc = narrowest(&[bone]).unwrap();
        assert!((disc.diameter - 0.2).abs() < 1e-9);
        assert!((2.0..=3.0).contains(&disc.touches[0].x));
        let hourglass = shape(&[
            (-1.0, -1.0),
            (-0.02, -0.01),
            (-0.02, 0.01),
            (-1.0, 1.0),
            (1.0, 1.0),
            (0.02, 0.01),
            (0.02, -0.01),
            (1.0, -1.0),
        ]);
        let mut hourglass = hourglass;
        hourglass.reverse();
        let disc = narrowest(&[hourglass]).unwrap();
        assert!((disc.diameter - 0.04).abs() < 1e-9, "{disc:?}");
    }

    #[test]
    fn what_runs_to_a_point_has_no_width_there() {
        // a spike of 45°: its sides lie opposite one another nowhere
        assert_eq!(narrowest(&[shape(&[(0.0, 0.0), (2.0, 0.0), (2.0, 2.0)])]), None);
    }

    #[test]
    fn spaces_are_seen_between_arms_and_pieces_and_not_in_corners() {
        // an E with arms 0.3 apart, and a dot 0.05 above it
        let e = shape(&[
            (0.0, 0.0),
            (2.0, 0.0),
            (2.0, 0.4),
            (0.4, 0.4),
            (0.4, 0.8),
            (1.8, 0.8),
            (1.8, 1.2),
            (0.4, 1.2),
            (0.4, 1.5),
            (2.0, 1.5),
            (2.0, 1.9),
            (0.0, 1.9),
        ]);
        let space = narrowest_space(std::slice::from_ref(&e)).unwrap();
        assert!((space.diameter - 0.3).abs() < 1e-9, "{space:?}");
        // the root of an arm is no space, however the last digits fall
        let shaky: Vec<DVec2> =
            e.iter().enumerate().map(|(k, p)| *p + DVec2::new(if k % 2 == 0 { 1e-9 } else { -1e-9 }, 0.0)).collect();
        assert!((narrowest_space(&[shaky]).unwrap().diameter - 0.3).abs() < 1e-6);
        let dot = shape(&[(0.5, 1.95), (0.9, 1.95), (0.9, 2.3), (0.5, 2.3)]);
        let space = narrowest_space(&[e, dot]).unwrap();
        assert!((space.diameter - 0.05).abs() < 1e-9, "{space:?}");
        assert_eq!(narrowest_space(&[rectangle(3.0, 0.4)]), None);
    }

    #[test]
    fn the_largest_disc_in_a_triangle_is_its_incircle() {
        // r = area / half of the way round
        let triangle = shape(&[(0.0, 0.0), (3.0, 0.0), (0.0, 4.0)]);
        let disc = largest(&triangle).unwrap();
        assert!((disc.diameter - 2.0).abs() < 1e-9, "{disc:?}");
        let wide = disc.touches[0].distance(disc.touches[1]);
        assert!(wide > 1.7 && wide <= disc.diameter + 1e-3, "{disc:?}");
    }

    proptest! {
        /// Two bars side by side, turned and moved anyhow: as wide as the narrower, as far apart as they are.
        #[test]
        fn width_and_space_don_t_depend_on_how_a_shape_is_turned(
            turn in 0.0..6.3f64, x in -50.0..50.0f64, w in 0.02..1.0f64, v in 0.02..1.0f64, apart in 0.01..2.0f64,
        ) {
            let place = |points: Vec<DVec2>, by: f64| -> Vec<DVec2> {
                points.into_iter().map(|p| DVec2::from_angle(turn).rotate(p + DVec2::new(x, by))).collect()
            };
            let bars = [place(rectangle(4.0, w), 0.0), place(rectangle(4.0, v), w + apart)];
            prop_assert!((narrowest(&bars).unwrap().diameter - w.min(v)).abs() < 1e-7);
            prop_assert!((narrowest_space(&bars).unwrap().diameter - apart).abs() < 1e-7);
        }
    }
}
