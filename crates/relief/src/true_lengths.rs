//! Places in the plane brought to lengths that were measured in space, by least squares: Σ (|e| − l)² / l over edges e,
//! by Gauss and Newton's way. What unfolds comes out exactly; what is left of a surface that doesn't is as little as there
//! is.

use faer::{
    Mat, Side,
    linalg::solvers::Solve,
    sparse::{SparseColMat, Triplet},
};
use glam::DVec2;

/// Two places by their numbers, and how far apart they are in space, mm.
pub type Length = ([u32; 2], f64);

const ROUNDS: usize = 12;
/// Nothing moves by more any more, mm.
const SETTLED: f64 = 1e-5;
/// A map of few unknowns is found by so many of the lengths, taken from all over.
const SAMPLED: usize = 600;
/// How much what the lengths leave open (where the whole lies and how it is turned) holds on to where it is.
const SLIGHT: f64 = 1e-9;

/// Powers and products of a place's coordinates up to the third degree, without the constant.
const TERMS: usize = 9;

fn terms(p: DVec2) -> [f64; TERMS] {
    let DVec2 { x, y } = p;
    [x, y, x * x, x * y, y * y, x * x * x, x * x * y, x * y * y, y * y * y]
}

fn off(places: &[DVec2], lengths: &[Length]) -> f64 {
    let one = |&([a, b], l): &Length| (places[a as usize].distance(places[b as usize]) - l).powi(2) / l;
    lengths.iter().map(one).sum()
}

/// The map of third degree that brings `places` nearest to `lengths`: for what bends smoothly. Where it finds none that is
/// better the places stay.
#[must_use]
pub fn bent(places: &[DVec2], lengths: &[Length]) -> Vec<DVec2> {
    let sampled: Vec<Length> = lengths.iter().step_by(lengths.len().div_ceil(SAMPLED).max(1)).copied().collect();
    let lengths = &sampled[..];
    let middle = places.iter().sum::<DVec2>() / places.len().max(1) as f64;
    let size = places.iter().map(|p| p.distance(middle)).fold(0.0, f64::max).max(f64::MIN_POSITIVE);
    let of_place: Vec<[f64; TERMS]> = places.iter().map(|p| terms((*p - middle) / size)).collect();
    let mut map = [DVec2::ZERO; TERMS];
    (map[0], map[1]) = (DVec2::X * size, DVec2::Y * size);
    let mapped = |map: &[DVec2; TERMS]| -> Vec<DVec2> {
        let one = |terms: &[f64; TERMS]| middle + terms.iter().zip(map).map(|(t, by)| *by * *t).sum::<DVec2>();
        of_place.iter().map(one).collect()
    };
    let (mut best, mut least) = (places.to_vec(), off(places, lengths));
    for _ in 0..ROUNDS {
        let mut square = Mat::<f64>::zeros(2 * TERMS, 2 * TERMS);
        let mut side = Mat::<f64>::zeros(2 * TERMS, 1);
        for &([a, b], l) in lengths {
            let (a, b) = (a as usize, b as usize);
            let edge = best[b] - best[a];
            let long = edge.length();
            let way = edge / long.max(f64::MIN_POSITIVE);
            let slope: [f64; 2 * TERMS] =
                std::array::from_fn(|k| way[k / TERMS] * (of_place[b][k % TERMS] - of_place[a][k % TERMS]));
            for (i, s) in slope.iter().enumerate() {
                side[(i, 0)] += s * (l - long) / l;
                for (j, t) in slope[..=i].iter().enumerate() {
                    square[(i, j)] += s * t / l;
                }
            }
        }
        let slight = SLIGHT * (0..2 * TERMS).map(|k| square[(k, k)]).fold(0.0, f64::max);
        (0..2 * TERMS).for_each(|k| square[(k, k)] += slight);
        let Ok(solver) = square.llt(Side::Lower) else { break };
        let by = solver.solve(&side);
        let tried: [DVec2; TERMS] = std::array::from_fn(|k| map[k] + DVec2::new(by[(k, 0)], by[(k + TERMS, 0)]));
        let found = mapped(&tried);
        let now = off(&found, lengths);
        if now.is_nan() || now >= least {
            break;
        }
        let moved = best.iter().zip(&found).map(|(p, q)| p.distance(*q)).fold(0.0, f64::max);
        (map, best, least) = (tried, found, now);
        if moved < SETTLED {
            break;
        }
    }
    best
}

/// Each place for itself brought nearest to `lengths`: for what is creased. Where nothing is better the places stay.
#[must_use]
pub fn settled(places: &[DVec2], lengths: &[Length]) -> Vec<DVec2> {
    let n = 2 * places.len();
    let (mut best, mut least) = (places.to_vec(), off(places, lengths));
    for _ in 0..ROUNDS {
        let mut entries: Vec<Triplet<usize, usize, f64>> = Vec::with_capacity(10 * lengths.len() + n);
        let mut side = Mat::<f64>::zeros(n, 1);
        let mut most: f64 = 0.0;
        for &([a, b], l) in lengths {
            let (a, b) = (2 * a as usize, 2 * b as usize);
            let edge = best[b / 2] - best[a / 2];
            let long = edge.length();
            let way = edge / long.max(f64::MIN_POSITIVE);
            let ends = [(a, -way.x), (a + 1, -way.y), (b, way.x), (b + 1, way.y)];
            for (i, s) in ends {
                side[(i, 0)] += s * (l - long) / l;
                most = most.max(s * s / l);
                for (j, t) in ends {
                    if j <= i {
                        entries.push(Triplet::new(i, j, s * t / l));
                    }
                }
            }
        }
        entries.extend((0..n).map(|k| Triplet::new(k, k, SLIGHT * most)));
        let Some(solver) = SparseColMat::try_new_from_triplets(n, n, &entries)
            .ok()
            .and_then(|matrix: SparseColMat<usize, f64>| matrix.sp_cholesky(Side::Lower).ok())
        else {
            break;
        };
        let by = solver.solve(&side);
        let found: Vec<DVec2> =
            best.iter().enumerate().map(|(k, p)| *p + DVec2::new(by[(2 * k, 0)], by[(2 * k + 1, 0)])).collect();
        let now = off(&found, lengths);
        if now.is_nan() || now >= least {
            break;
        }
        let moved = best.iter().zip(&found).map(|(p, q)| p.distance(*q)).fold(0.0, f64::max);
        (best, least) = (found, now);
        if moved < SETTLED {
            break;
        }
    }
    best
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec3;

    /// Places on a grid of the plane, and the edges of its fields' triangles as long as they are on a surface.
    fn grid(n: u32, size: f64, surface: impl Fn(DVec2) -> DVec3) -> (Vec<DVec2>, Vec<Length>) {
        let at = |r: u32, c: u32| (n + 1) * r + c;
        let places: Vec<DVec2> = (0..=n)
            .flat_map(|r| (0..=n).map(move |c| DVec2::new(f64::from(c), f64::from(r)) / f64::from(n) - 0.5))
            .map(|p| p * size)
            .collect();
        let mut lengths = Vec::new();
        for (r, c) in (0..=n).flat_map(|r| (0..=n).map(move |c| (r, c))) {
            for (to_r, to_c) in [(r, c + 1), (r + 1, c), (r + 1, c + 1)] {
                if to_r <= n && to_c <= n {
                    let (a, b) = (at(r, c), at(to_r, to_c));
                    let [p, q] = [a, b].map(|k| surface(places[k as usize]));
                    lengths.push(([a, b], p.distance(q)));
                }
            }
        }
        (places, lengths)
    }

    fn worst(places: &[DVec2], lengths: &[Length]) -> f64 {
        let share = |&([a, b], l): &Length| (places[a as usize].distance(places[b as usize]) / l - 1.0).abs();
        lengths.iter().map(share).fold(0.0, f64::max)
    }

    /// A cone unrolls: its places given by radius and turn, where lengths round it change with the radius by a third.
    #[test]
    fn what_unrolls_smoothly_is_found_by_a_map_of_third_degree() {
        let cone = |p: DVec2| {
            let (away, turn) = (12.0 + p.y, p.x / 12.0 / 0.6);
            DVec3::new(0.6 * away * turn.cos(), 0.6 * away * turn.sin(), 0.8 * away)
        };
        let (places, lengths) = grid(12, 3.0, cone);
        let before = worst(&places, &lengths);
        let after = worst(&bent(&places, &lengths), &lengths);
        assert!(before > 0.1 && after < 1e-3, "{before} {after}");
    }

    /// Over a crease of 60° the plane is two flats: what was set across it at another level is shorter by a jump.
    #[test]
    fn what_is_creased_is_found_place_by_place() {
        let crease = |p: DVec2| {
            let away = p.y.abs() * 0.8 + if p.y == 0.0 { 0.0 } else { 0.05 };
            DVec3::new(p.x, p.y.signum() * away * 0.866_025_403_784, -away * 0.5)
        };
        let (places, mut lengths) = grid(8, 3.0, crease);
        // the diagonals across the crease span no straight facet
        lengths.retain(|([a, b], _)| places[*a as usize].y * places[*b as usize].y >= 0.0);
        let before = worst(&places, &lengths);
        let after = worst(&settled(&places, &lengths), &lengths);
        assert!(before > 0.1 && after < 1e-6, "{before} {after}");
        // and the one that is exact stays where it is
        let flat = |p: DVec2| p.extend(0.0);
        let (places, lengths) = grid(4, 3.0, flat);
        assert_eq!(settled(&places, &lengths), places);
        assert_eq!(bent(&places, &lengths), places);
    }
}
