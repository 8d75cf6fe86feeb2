//! A patch of facets laid flat: unfolded where that is exact, else as rigidly as it allows.

use crate::chart::Upright;
use faer::{
    Mat, Side,
    linalg::solvers::Solve,
    sparse::{SparseColMat, Triplet, linalg::solvers::Llt},
};
use glam::{DMat3, DQuat, DVec2, DVec3};
use rayon::prelude::*;
use solid::segment::{height, longest_edge};
use solid::{Mesh, topology::Neighbours};
use std::collections::VecDeque;

/// Rounds of the iteration, which ends when no place moves by more than this any more, mm; fewer on faces of more
/// facets than `LARGE`, which are begun nearer to their end: what is left is told as stretch.
const ROUNDS: usize = 25;
const FEWER_ROUNDS: usize = 6;
const SETTLED: f64 = 2e-4;
const LARGE: usize = 60_000;
/// A facet laid flat by itself, its first edge along x.
fn by_itself(mesh: &Mesh, t: usize) -> [DVec2; 3] {
    let [a, b, c] = mesh.corners(t);
    let x = (b - a).normalize_or_zero();
    let y = (c - a).reject_from(x).length();
    [DVec2::ZERO, DVec2::new(a.distance(b), 0.0), DVec2::new((c - a).dot(x), y)]
}

/// Least and greatest stretch of the map from the strip to a facet; below 0 where it is turned over.
pub(crate) fn stretches(mesh: &Mesh, flat: &[DVec2], t: usize) -> [f64; 2] {
    let [_, b, c] = by_itself(mesh, t);
    let [p, q, r] = mesh.triangles[t].map(|v| flat[v as usize]);
    let (u, v) = (q - p, r - p);
    let whole = u.perp_dot(v);
    if whole <= 0.0 {
        return [-1.0, -1.0];
    }
    // columns of the map: (b, c) · (u, v)⁻¹
    let along = (b * v.y - c * u.y) / whole;
    let up = (c * u.x - b * v.x) / whole;
    let (e, f, g) = (along.length_squared(), along.dot(up), up.length_squared());
    let spread = ((e - g) * (e - g) / 4.0 + f * f).sqrt();
    [-1.0, 1.0].map(|s| f64::max((e + g) / 2.0 + s * spread, 0.0).sqrt())
}

/// By how much the strip must turn so that the direction up of the facet points up.
pub(crate) fn upright_turn(mesh: &Mesh, flat: &[DVec2], t: usize, upright: Upright) -> DVec2 {
    let [a, b, c] = mesh.corners(t);
    let up = upright.up(mesh.normal(t));
    let [p, q, r] = mesh.triangles[t].map(|v| flat[v as usize]);
    // up = x (b − a) + y (c − a)
    let (u, v) = (b - a, c - a);
    let (uu, uv, vv) = (u.length_squared(), u.dot(v), v.length_squared());
    let whole = uu * vv - uv * uv;
    let (x, y) = ((up.dot(u) * vv - up.dot(v) * uv) / whole, (up.dot(v) * uu - up.dot(u) * uv) / whole);
    let now = ((q - p) * x + (r - p) * y).normalize_or(DVec2::Y);
    // the turn that takes `now` to +y
    DVec2::new(now.y, now.x)
}

/// A connected patch laid as rigidly as possible (Sorkine and Alexa 2007; Liu, Zhang, Xu, Gotsman and Gortler 2008),
/// begun at `flat`, the places of its vertices, mm. The first vertex stays where it is.
#[must_use]
pub fn as_rigid_as_possible(mesh: &Mesh, mut flat: Vec<DVec2>) -> Vec<DVec2> {
    // cotangents of the angles opposite each edge (from corner k to the next), and facets laid by themselves
    let facets: Vec<([DVec2; 3], [f64; 3])> = (0..mesh.triangles.len())
        .into_par_iter()
        .map(|t| {
            let x = by_itself(mesh, t);
            let cot = [0, 1, 2].map(|k| {
                let (u, v) = (x[k] - x[(k + 2) % 3], x[(k + 1) % 3] - x[(k + 2) % 3]);
                (u.dot(v) / u.perp_dot(v).abs().max(1e-12)).clamp(-1e4, 1e4)
            });
            (x, cot)
        })
        .collect();
    let Some(system) = System::new(mesh, &facets) else { return flat };
    let rounds = if facets.len() > LARGE { FEWER_ROUNDS } else { ROUNDS };
    for _ in 0..rounds {
        // the rotation that brings each facet nearest to where it lies
        let turns: Vec<DVec2> = (mesh.triangles.par_iter().zip(&facets))
            .map(|(triangle, (x, cot))| {
                let at = triangle.map(|v| flat[v as usize]);
                let (cos, sin) = (0..3).fold((0.0, 0.0), |(cos, sin), k| {
                    let (from, to) = (x[k] - x[(k + 1) % 3], at[k] - at[(k + 1) % 3]);
                    (cos + cot[k] * from.dot(to), sin + cot[k] * from.perp_dot(to))
                });
                DVec2::new(cos, sin).normalize_or(DVec2::X)
            })
            .collect();
        let mut wanted = vec![DVec2::ZERO; flat.len()];
        for ((triangle, (x, cot)), turn) in mesh.triangles.iter().zip(&facets).zip(turns) {
            for k in 0..3 {
                let edge = turn.rotate(x[k] - x[(k + 1) % 3]) * cot[k];
                wanted[triangle[k] as usize] += edge;
                wanted[triangle[(k + 1) % 3] as usize] -= edge;
            }
        }
        if system.solve(&wanted, &mut flat) < SETTLED {
            break;
        }
    }
    flat
}

/// The cotangent system of a patch, factorised once (sparse Cholesky). It says nothing of where the whole lies: the
/// first vertex stays where it is.
struct System(Llt<usize, f64>);

impl System {
    /// `None` where the patch is too degenerate to be solved.
    fn new(mesh: &Mesh, facets: &[([DVec2; 3], [f64; 3])]) -> Option<Self> {
        let n = mesh.vertices.len() - 1;
        let mut entries: Vec<Triplet<usize, usize, f64>> = Vec::with_capacity(9 * facets.len());
        for (triangle, (_, cot)) in mesh.triangles.iter().zip(facets) {
            for k in 0..3 {
                let (i, j) = (triangle[k] as usize, triangle[(k + 1) % 3] as usize);
                for v in [i, j].into_iter().filter(|v| *v > 0) {
                    entries.push(Triplet::new(v - 1, v - 1, cot[k]));
                }
                if i > 0 && j > 0 {
                    entries.push(Triplet::new(i.max(j) - 1, i.min(j) - 1, -cot[k]));
                }
            }
        }
        // cotangents that were clamped may leave it a hair short of definite
        [0.0, 1e-9, 1e-6, 1e-3].into_iter().find_map(|slight| {
            let diagonal = (0..n).filter(|_| slight > 0.0).map(|v| Triplet::new(v, v, slight));
            let all: Vec<_> = entries.iter().copied().chain(diagonal).collect();
            let matrix = SparseColMat::try_new_from_triplets(n, n, &all).ok()?;
            matrix.sp_cholesky(Side::Lower).ok().map(Self)
        })
    }

    /// Moves all but the first vertex to where the system has them; the farthest that one moved, mm.
    fn solve(&self, wanted: &[DVec2], flat: &mut [DVec2]) -> f64 {
        let first = flat[0];
        let sides = Mat::from_fn(wanted.len() - 1, 2, |row, k| wanted[row + 1][k]);
        let found = self.0.solve(&sides);
        let mut moved: f64 = 0.0;
        for (row, p) in flat[1..].iter_mut().enumerate() {
            // solved as if the first lay at the origin
            let at = first + DVec2::new(found[(row, 0)], found[(row, 1)]);
            if at.is_finite() {
                moved = moved.max(p.distance(at));
                *p = at;
            }
        }
        moved
    }
}

/// Facets lower than this share of their longest edge have no direction of their own.
const SLIVER: f64 = 1e-5;
/// Flat places of a vertex that differ by no more than this, as a share of the patch, are one.
const SAME: f64 = 1e-7;

/// Facets across the edges from each corner to the next; `u32::MAX` at the rim.
pub(crate) fn beside(mesh: &Mesh, pairs: &[Neighbours]) -> Vec<[u32; 3]> {
    let mut beside = vec![[u32::MAX; 3]; mesh.triangles.len()];
    for pair in pairs {
        let [one, other] = pair.triangles;
        for (own, across) in [(one, other), (other, one)] {
            let corners = mesh.triangles[own as usize];
            if let Some(k) = (0..3).find(|&k| {
                let ends = [corners[k], corners[(k + 1) % 3]];
                ends == pair.edge || [ends[1], ends[0]] == pair.edge
            }) {
                beside[own as usize][k] = across;
            }
        }
    }
    beside
}

/// The patch unfolded facet by facet about its edges, over which `beside` lies; `None` where it doesn't unfold: what
/// comes round to a facet from two sides has to come out in one place. Planes that meet in creases do, and what is
/// tessellated of cylinders and cones.
pub(crate) fn unfolded(mesh: &Mesh, beside: &[[u32; 3]]) -> Option<Vec<DVec2>> {
    let count = mesh.triangles.len();
    let sliver = |t: usize| {
        let corners = mesh.corners(t);
        height(&corners) < SLIVER * longest_edge(&corners).1
    };
    let first = (0..count).max_by(|&a, &b| mesh.area(a).total_cmp(&mesh.area(b)))?;
    // how each facet is turned into the plane, and where its origin goes
    let mut placed: Vec<Option<(DMat3, DVec3, DVec3)>> = vec![None; count];
    let normal = mesh.normal(first);
    let along = normal.any_orthonormal_vector();
    placed[first] = Some((DMat3::from_cols(along, normal.cross(along), normal).transpose(), DVec3::ZERO, normal));
    let mut reached: Vec<Option<DVec2>> = vec![None; mesh.vertices.len()];
    let same = SAME * mesh.diagonal();
    let mut open = VecDeque::from([first]);
    while let Some(t) = open.pop_front() {
        let (turn, shift, normal) = placed[t]?;
        let corners = mesh.triangles[t];
        for v in corners {
            let at = (turn * mesh.vertices[v as usize] + shift).truncate();
            // most of what doesn't unfold shows it here, long before the end
            if reached[v as usize].get_or_insert(at).distance(at) > 2.0 * same {
                return None;
            }
        }
        let mut edges = [0, 1, 2].map(|k| ([corners[k], corners[(k + 1) % 3]], beside[t][k]));
        edges.sort_by_key(|([a, b], _)| (*a.min(b), *a.max(b)));
        for ([from, to], other) in edges.into_iter().filter(|(_, other)| *other != u32::MAX) {
            let other = other as usize;
            let hinge = if t < other { from } else { to };
            if placed[other].is_some() {
                continue;
            }
            let own = mesh.normal(other);
            placed[other] = Some(if sliver(other) || own.distance(normal) < 1e-9 {
                (turn, shift, normal)
            } else {
                let hinge = mesh.vertices[hinge as usize];
                let folded = turn * DMat3::from_quat(DQuat::from_rotation_arc(own, normal));
                (folded, turn * hinge + shift - folded * hinge, own)
            });
            open.push_back(other);
        }
    }
    let mut flat: Vec<Option<DVec2>> = vec![None; mesh.vertices.len()];
    for (triangle, placed) in mesh.triangles.iter().zip(&placed) {
        let (turn, shift, _) = (*placed)?;
        for &v in triangle {
            let at = (turn * mesh.vertices[v as usize] + shift).truncate();
            match flat[v as usize] {
                None => flat[v as usize] = Some(at),
                Some(known) if known.distance(at) > same => return None,
                Some(_) => {}
            }
        }
    }
    flat.into_iter().collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use solid::topology::neighbours;

    /// Strips of a cylinder's facets come out as long as they are, and a sphere's facets nowhere.
    #[test]
    fn what_unfolds_keeps_every_length_and_what_does_not_is_left() {
        let barrel = |t: f64, y: f64| DVec3::new(10.0 * t.sin(), y, 10.0 * t.cos());
        let ball = |t: f64, y: f64| DVec3::new(t.sin() * y.cos(), y.sin(), t.cos() * y.cos()) * 10.0;
        let sheet = |point: &dyn Fn(f64, f64) -> DVec3| {
            let at = |r: u32, c: u32| 9 * r + c;
            let vertices = (0..9).flat_map(|r| (0..9).map(move |c| (r, c)));
            let fields = (0..8).flat_map(|r| (0..8).map(move |c| (r, c)));
            Mesh {
                vertices: vertices.map(|(r, c)| point(f64::from(r) / 10.0, f64::from(c) / 10.0)).collect(),
                triangles: fields
                    .flat_map(|(r, c)| {
                        let [a, b, d, e] = [at(r, c), at(r + 1, c), at(r + 1, c + 1), at(r, c + 1)];
                        [[a, b, d], [a, d, e]]
                    })
                    .collect(),
            }
        };
        let round = sheet(&barrel);
        let flat = unfolded(&round, &beside(&round, &neighbours(&round))).unwrap();
        for t in &round.triangles {
            for k in 0..3 {
                let [a, b] = [t[k], t[(k + 1) % 3]].map(|v| v as usize);
                let (space, strip) = (round.vertices[a].distance(round.vertices[b]), flat[a].distance(flat[b]));
                assert!((space - strip).abs() < 1e-9, "{space} {strip}");
            }
        }
        let ball = sheet(&ball);
        assert!(unfolded(&ball, &beside(&ball, &neighbours(&ball))).is_none());
    }
}
