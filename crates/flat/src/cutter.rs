//! What a round cutter can't reach: of a pocket its corners and narrow places, of what stands between islands the same. A
//! disc that stays within a region sweeps its opening, that which stays without leaves its closing (Serra 1982, from memory).

use crate::{
    disc,
    offset::rounded,
    overlay::{common, without},
    region::Region,
};

/// What no disc of this diameter fits into is not told, mm: outlines are flattened, and the arcs of a cutter too.
pub const SEEN: f64 = 0.01;

/// What a cutter of `diameter` mm leaves of a pocket.
#[must_use]
pub fn left_in(pocket: &Region, diameter: f64) -> Region {
    left_in_by(pocket, diameter, diameter)
}

/// The same of a cutter whose flanks keep its middle half of `wide` mm off the pocket's sides.
#[must_use]
pub fn left_in_by(pocket: &Region, diameter: f64, wide: f64) -> Region {
    seen(&without(pocket, &rounded(&rounded(pocket, -wide / 2.0), diameter / 2.0)))
}

/// What a cutter of `diameter` mm that goes round islands leaves beside them.
#[must_use]
pub fn left_beside(islands: &Region, diameter: f64) -> Region {
    left_beside_by(islands, diameter, diameter)
}

/// The same of a cutter whose flanks keep its middle half of `wide` mm off them.
#[must_use]
pub fn left_beside_by(islands: &Region, diameter: f64, wide: f64) -> Region {
    seen(&without(&rounded(&rounded(islands, wide / 2.0), -diameter / 2.0), islands))
}

/// The largest diameter no greater than `most` that leaves nothing, to a hundredth of a millimetre; `None` where none does.
#[must_use]
pub fn largest(most: f64, left: impl Fn(f64) -> Region) -> Option<f64> {
    const STEP: f64 = 0.01;
    let clears = |steps: u32| left(f64::from(steps) * STEP).islands.is_empty();
    let (mut clear, mut fails) = (0, (most / STEP).floor().max(1.0) as u32);
    if clears(fails) {
        return Some(f64::from(fails) * STEP);
    }
    // what a cutter leaves a larger one leaves too
    while fails - clear > 1 {
        let middle = clear.midpoint(fails);
        if clears(middle) {
            clear = middle;
        } else {
            fails = middle;
        }
    }
    (clear > 0).then(|| f64::from(clear) * STEP)
}

/// The pieces of a region that touch another one.
#[must_use]
pub fn touching(region: &Region, other: &Region) -> Region {
    let near = |piece: &Region| !common(&rounded(piece, SEEN), other).islands.is_empty();
    pieces(region, near)
}

fn seen(region: &Region) -> Region {
    pieces(region, |piece| piece.islands.iter().any(|i| disc::largest(&i.outer).is_some_and(|d| d.diameter >= SEEN)))
}

fn pieces(region: &Region, wanted: impl Fn(&Region) -> bool) -> Region {
    let each = region.islands.iter().map(|island| Region { islands: vec![island.clone()] });
    Region { islands: each.filter(wanted).flat_map(|piece| piece.islands).collect() }
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec2;
    use std::f64::consts::PI;

    fn region(points: &[(f64, f64)]) -> Region {
        crate::overlay::joined(&[points.iter().map(|&(x, y)| DVec2::new(x, y)).collect()])
    }

    /// A cutter of radius r leaves (1 − π/4) r² of a square corner.
    #[test]
    fn square_corners_keep_what_is_beside_a_quarter_of_the_cutter() {
        let square = region(&[(0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0)]);
        for diameter in [0.2, 0.5, 1.0] {
            let corner = (1.0 - PI / 4.0) * diameter * diameter / 4.0;
            let left = left_in(&square, diameter);
            assert_eq!(left.islands.len(), 4);
            assert!((left.area() / (4.0 * corner) - 1.0).abs() < 0.04, "{} for {}", left.area(), 4.0 * corner);
            // an angle that stands has its one inner corner
            let angle = region(&[(0.0, 0.0), (2.0, 0.0), (2.0, 0.8), (0.8, 0.8), (0.8, 2.0), (0.0, 2.0)]);
            let beside = left_beside(&angle, diameter);
            assert_eq!(beside.islands.len(), 1);
            assert!((beside.area() / corner - 1.0).abs() < 0.04, "{} for {corner}", beside.area());
            assert!(left_beside(&square, diameter).islands.is_empty(), "outer corners are gone round");
        }
    }

    #[test]
    fn the_largest_cutter_is_as_wide_as_the_narrowest_place() {
        // a slot with round ends, 0.4 wide
        let slot = crate::offset::swept(&[vec![DVec2::ZERO, DVec2::X * 3.0]], 0.4);
        let found = largest(3.0, |diameter| left_in(&slot, diameter)).unwrap();
        assert!((found - 0.4).abs() < 0.011, "{found}");
        assert!((left_in(&slot, 0.5).area() / slot.area() - 1.0).abs() < 1e-6, "it doesn't go in at all");
        // two bars 0.3 apart
        let bars = crate::overlay::joined(
            &[0.0, 1.3]
                .map(|x| [(x, 0.0), (x + 1.0, 0.0), (x + 1.0, 4.0), (x, 4.0)].map(|(x, y)| DVec2::new(x, y)).to_vec()),
        );
        let found = largest(3.0, |diameter| left_beside(&bars, diameter)).unwrap();
        assert!((found - 0.3).abs() < 0.011, "{found}");
        let own = region(&[(0.0, 0.0), (1.0, 0.0), (1.0, 4.0), (0.0, 4.0)]);
        let between = left_beside(&bars, 0.5);
        assert_eq!(touching(&between, &own).islands.len(), 1);
        assert!(touching(&between, &region(&[(9.0, 0.0), (10.0, 0.0), (10.0, 1.0)])).islands.is_empty());
    }

    /// Against places 0.0125 mm apart: a cutter's middle may lie as far off one of them as they are from one another, so that
    /// what it leaves lies between what is missed with as much more reach and with none.
    #[test]
    fn what_is_left_is_what_no_disc_covers_on_a_raster() {
        let shape = [(0.0, 0.0), (0.5, 0.1), (0.6, 1.2), (1.4, 1.0), (1.5, 1.6), (0.1, 1.7)];
        let pocket = region(&shape);
        let (radius, step) = (0.15, 0.0125);
        let ring = pocket.islands[0].outer.clone();
        let edge = |p: DVec2| {
            let n = ring.len();
            let far = |k: usize| {
                let (a, b) = (ring[k], ring[(k + 1) % n]);
                let t = ((p - a).dot(b - a) / (b - a).length_squared()).clamp(0.0, 1.0);
                p.distance(a + (b - a) * t)
            };
            (0..n).map(far).fold(f64::MAX, f64::min)
        };
        let all: Vec<DVec2> = (0..140)
            .flat_map(|i| (0..140).map(move |j| DVec2::new(f64::from(i), f64::from(j)) * step))
            .filter(|p| crate::contains(&ring, *p))
            .collect();
        let missed = |aside: f64| {
            let middles: Vec<DVec2> = all.iter().copied().filter(|p| edge(*p) >= radius - aside).collect();
            let covered = |p: DVec2| middles.iter().any(|m| m.distance(p) <= radius + aside);
            all.iter().filter(|p| !covered(**p)).count() as f64 * step * step
        };
        let (least, most) = (missed(step * 0.71), missed(0.0));
        let found = left_in(&pocket, 2.0 * radius).area();
        assert!(least < found && found < most && found > 0.02, "{least} {found} {most}");
    }
}
