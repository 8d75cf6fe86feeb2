//! How narrow a region is, and the spaces in and about it.
//!
//! A neck is a least distance between two sides of an outline, straight through the region: a disc on it as its diameter
//! holds nothing else of the outline. These are the least of the distances along the medial axis (Blum 1967), found
//! from the outline's own corners and edges and not from samples of the axis, so that a nick counts however short it is.

use crate::{
    contour::{contains, encloses, signed_area},
    disc::Disc,
    outline::{Edge, Outline},
    segment::foot,
};
use glam::DVec2;

/// Sides that lean towards one another by more than this make a corner, not a stroke, degrees.
const TAPER_DEG: f64 = 20.0;
/// What lies in a disc by less than this share of its radius is its own rim: sides that lean by a taper cut off
/// 1 − cos of it, and flattened curves a little.
const RIM: f64 = 0.02;
/// Along straight edges places are looked at no farther apart than this share of the outline's extents.
const SHARE: f64 = 1.0 / 40.0;

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
    // a bound from some of the edges first: what is looked for beside all of them lies no farther away than that
    const SOME: usize = 8;
    // contours the other way round have all the plane but what they enclose on their left
    let bounded = contours.iter().map(|c| signed_area(c)).sum::<f64>() > 0.0;
    let narrowest_at = |edge: &Edge, pieces: usize, bound: f64, best: &mut Option<Disc>| {
        let [a, b] = edge.ends;
        for k in 0..pieces {
            let p = a.lerp(b, k as f64 / pieces as f64);
            let through = edge.through(p);
            let most = best.map_or(bound, |d| d.diameter);
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
                let middle = p.midpoint(q);
                let disc = Disc { middle, diameter: across, touches: [p, q] };
                if outline.is_free(middle, across / 2.0 * (1.0 - RIM))
                    && encloses(contours, middle) == bounded
                    && wanted(&disc)
                {
                    *best = Some(disc);
                }
            }
        }
    };
    let mut some: Option<Disc> = None;
    for edge in outline.tree.iter().step_by(SOME) {
        narrowest_at(edge, 2, some.map_or(outline.size, |d| d.diameter), &mut some);
    }
    let bound = some.map_or(outline.size, |d| d.diameter + 1e-6);
    let mut best: Option<Disc> = None;
    for edge in outline.tree.iter() {
        let [a, b] = edge.ends;
        let pieces = (a.distance(b) / (SHARE * outline.size)).ceil().max(2.0) as usize;
        narrowest_at(edge, pieces, bound, &mut best);
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
    narrowest_of(&turned, |disc| !holes.iter().any(|hole| contains(hole, disc.middle)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shapes::{circle, rectangle, shape};
    use proptest::prelude::*;

    #[test]
    fn a_slot_is_as_wide_as_it_is_and_its_corners_are_no_strokes() {
        let disc = narrowest(&[rectangle(3.0, 0.4)]).unwrap();
        assert!((disc.diameter - 0.4).abs() < 1e-9, "{disc:?}");
    }

    #[test]
    fn a_ring_is_as_wide_as_the_difference_of_its_radii() {
        let ring = [circle(2.0, 200, 1.0), circle(1.5, 200, -1.0)];
        // flattening takes r (1 − cos π/200) off the outer radius at most
        let disc = narrowest(&ring).unwrap();
        assert!((disc.diameter - 0.5).abs() < 3e-4, "{disc:?}");
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
