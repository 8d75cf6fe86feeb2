//! The largest disc in a contour.

use crate::{
    contour::{contains, signed_area},
    outline::Outline,
    segment::foot,
};
use glam::DVec2;
use std::{cmp::Ordering, collections::BinaryHeap};

/// The middle of the largest disc is looked for to this, mm, and then brought to where it touches three sides.
const MIDDLE: f64 = 1e-3;

#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Disc {
    pub middle: DVec2,
    pub diameter: f64,
    /// The two places where it touches the outline.
    pub touches: [DVec2; 2],
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
        Disc { middle: best.middle, diameter: 2.0 * best.radius, touches: touches(&outline, &best) }
    })
}

/// A disc brought to where it is largest nearby: its middle is moved so that it is as far from two or three of the sides near its
/// rim and no nearer to any other, as long as that makes it larger.
fn settled(outline: &Outline, mut disc: Square) -> Square {
    const ROUNDS: usize = 40;
    const STEP: f64 = 8.0 * MIDDLE;
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
        // of many, such as those of an arc, some from all round
        let mut few: Vec<(f64, DVec2)> = sides.first().copied().into_iter().collect();
        while few.len() < SIDES.min(sides.len()) {
            let alike = |unit: DVec2| few.iter().map(|(_, known)| known.dot(unit)).fold(-1.0, f64::max);
            let next = sides.iter().min_by(|a, b| alike(a.1).total_cmp(&alike(b.1))).copied();
            few.extend(next);
        }
        let least = |by: DVec2| sides.iter().map(|(away, unit)| away + unit.dot(by)).fold(f64::INFINITY, f64::min);
        let mut most = (least(DVec2::ZERO), DVec2::ZERO);
        for i in 0..few.len() {
            for j in 0..i {
                // between two sides that run alongside one another there is no third
                let apart = few[i].1 - few[j].1;
                let by = apart * ((few[j].0 - few[i].0) / apart.length_squared());
                let by = by.clamp_length_max(STEP);
                if least(by) > most.0 {
                    most = (least(by), by);
                }
                for k in 0..j {
                    let (u, v) = (few[j].1 - few[i].1, few[k].1 - few[i].1);
                    let (a, b) = (few[i].0 - few[j].0, few[i].0 - few[k].0);
                    let whole = u.perp_dot(v);
                    let by = DVec2::new(a * v.y - b * u.y, b * u.x - a * v.x) / whole;
                    let by = by.clamp_length_max(STEP);
                    if whole.abs() > 1e-9 && least(by) > most.0 {
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
    use crate::shapes::{circle, rectangle, shape};

    #[test]
    fn in_a_slot_and_in_a_circle_it_is_as_wide_as_they_are() {
        assert!((largest(&rectangle(3.0, 0.4)).unwrap().diameter - 0.4).abs() < 1e-9);
        // flattening takes r (1 − cos π/200) off the radius at most
        let hole = largest(&circle(1.5, 200, -1.0)).unwrap();
        assert!((hole.diameter - 3.0).abs() < 1e-3, "{hole:?}");
        // the counter of a D: between two sides that run alongside one another, beside an arc of many
        let mut bay = vec![DVec2::new(-1.0, 0.66), DVec2::new(-1.0, -0.66)];
        bay.extend((0..=80).map(|k| {
            let turn = (f64::from(k) / 80.0 - 0.5) * std::f64::consts::PI;
            DVec2::new(0.3, 0.0) + DVec2::from_angle(turn) * 0.66
        }));
        assert!((largest(&bay).unwrap().diameter - 1.32).abs() < 1e-6);
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
}
