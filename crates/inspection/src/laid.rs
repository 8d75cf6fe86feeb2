//! Outlines laid flat by their own shape: lengths are those of the facets themselves, not those of the strip that the
//! lettering was set on.
//!
//! What begins it is where the seat's chart has the points. That is put right by the one linear map that brings edges
//! nearest to their lengths in space: exact on cylinders, whatever the level. Where too much is left, as on spheres and
//! tori, by a map of the third degree and, if need be, each corner for itself; over creases the facets are first laid as
//! rigidly as possible (Sorkine and Alexa 2007). What is left is told as stretch, which belongs to the
//! error of whatever is measured on it.

use flat::{segment, signed_area};
use glam::{DMat2, DVec2, DVec3};
use relief::{
    flatten,
    true_lengths::{self, Length},
};
use solid::Mesh;
use solid::topology::Groups;
use std::collections::HashMap;

/// What lengths may be off by before more than a linear map is tried, mm.
const ENOUGH: f64 = 0.002;
/// Edges shorter than this tell nothing of a stretch, mm.
const SHORT: f64 = 1e-3;
/// How much the metric that is expected counts beside the edges', for directions in which there are none.
const EXPECTED: f64 = 1e-7;

/// Closed rings of a character on one level, laid flat, with the same points in space.
#[derive(Clone, Debug, Default)]
pub struct Laid {
    /// Material to the left.
    pub rings: Vec<Vec<DVec2>>,
    pub space: Vec<Vec<DVec3>>,
    /// By how much of itself a length may be off.
    pub stretch: f64,
    /// What took the strip's own lengths to these.
    pub map: DMat2,
    /// More than a linear map was needed: which way something runs is known to a few degrees only.
    pub bent: bool,
}

/// Vertices of a mesh numbered anew, in the order in which they are asked for, with where they are on the strip.
#[derive(Default)]
struct Numbered {
    at: HashMap<u32, u32>,
    places: Vec<DVec2>,
}

impl Numbered {
    fn place(&mut self, v: u32, start: impl Fn(u32) -> DVec2) -> u32 {
        *self.at.entry(v).or_insert_with(|| {
            self.places.push(start(v));
            self.places.len() as u32 - 1
        })
    }
}

/// Places laid flat.
struct Flat {
    places: Vec<DVec2>,
    stretch: f64,
    map: DMat2,
    bent: bool,
}

impl Flat {
    /// By the linear map.
    fn linear(start: &[DVec2], lengths: &[Length], metric: DMat2) -> Self {
        let map = linear(start, lengths, metric);
        let places: Vec<DVec2> = start.iter().map(|p| map * *p).collect();
        Self { stretch: stretch(&places, lengths), places, map, bent: false }
    }

    /// What is left could change a length by too much.
    fn is_stretched(&self) -> bool {
        let ends = (DVec2::INFINITY, DVec2::NEG_INFINITY);
        let (low, high) = self.places.iter().fold(ends, |(l, h), p| (l.min(*p), h.max(*p)));
        self.stretch * (high - low).max_element() > ENOUGH
    }

    /// These places instead, where they are stretched less.
    fn or(&mut self, places: Vec<DVec2>, lengths: &[Length]) {
        let left = stretch(&places, lengths);
        if left < self.stretch {
            (self.places, self.stretch, self.bent) = (places, left, true);
        }
    }
}

impl Laid {
    /// Rings of vertices of `mesh` round the facets `top`, which are laid flat with them; `start` is where the strip has a
    /// vertex, and `metric` is what the strip's lengths are expected to be at this level: a symmetric matrix of squares.
    /// `creased`: they lie over creases, where no smooth map would do.
    #[must_use]
    pub fn of_facets(
        mesh: &Mesh,
        top: &[u32],
        rings: &[Vec<u32>],
        start: impl Fn(u32) -> DVec2,
        (metric, creased): (DMat2, bool),
    ) -> Self {
        let (own, numbers) = mesh.piece(top);
        let start: Vec<DVec2> = numbers.iter().map(|&v| start(v)).collect();
        let lengths = edges(&own);
        let mut flat = Flat::linear(&start, &lengths, metric);
        if flat.is_stretched() && creased {
            let near = rigid(&own, &flat.places);
            flat.or(true_lengths::settled(&near, &lengths), &lengths);
        } else if flat.is_stretched() {
            flat.or(true_lengths::bent(&flat.places, &lengths), &lengths);
            if flat.is_stretched() {
                flat.or(true_lengths::settled(&flat.places, &lengths), &lengths);
            }
        }
        let at: HashMap<u32, u32> = numbers.iter().enumerate().map(|(k, &v)| (v, k as u32)).collect();
        Self::of(mesh, rings, &at, flat)
    }

    /// Rings alone, by the lengths of their own edges; where these leave too much, with the facets that they bound, as
    /// they lie on the same level: `foot` with the numbers of its vertices in `mesh`.
    #[must_use]
    pub fn of_rings(
        mesh: &Mesh,
        rings: &[Vec<u32>],
        (foot, numbers): (&Mesh, &[u32]),
        start: impl Fn(u32) -> DVec2,
        metric: DMat2,
    ) -> Self {
        let mut on = Numbered::default();
        let mut lengths: Vec<Length> = Vec::new();
        for ring in rings {
            for k in 0..ring.len() {
                let edge = [ring[k], ring[(k + 1) % ring.len()]];
                let [a, b] = edge.map(|v| mesh.vertices[v as usize]);
                lengths.push((edge.map(|v| on.place(v, &start)), a.distance(b)));
            }
        }
        lengths.retain(|(_, length)| *length > SHORT);
        let flat = Flat::linear(&on.places, &lengths, metric);
        if !flat.is_stretched() {
            return Self::of(mesh, rings, &on.at, flat);
        }
        lengths.extend(
            edges(foot).into_iter().map(|(edge, length)| (edge.map(|v| on.place(numbers[v as usize], &start)), length)),
        );
        let mut flat = Flat::linear(&on.places, &lengths, metric);
        flat.or(true_lengths::bent(&flat.places, &lengths), &lengths);
        Self::of(mesh, rings, &on.at, flat)
    }

    fn of(mesh: &Mesh, rings: &[Vec<u32>], at: &HashMap<u32, u32>, flat: Flat) -> Self {
        let laid = |v: &u32| flat.places[at[v] as usize];
        Self {
            rings: rings.iter().map(|ring| ring.iter().map(laid).collect()).collect(),
            space: in_space(mesh, rings),
            stretch: flat.stretch,
            map: flat.map,
            bent: flat.bent,
        }
    }

    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.rings.is_empty()
    }

    /// Separate pieces, and holes in them.
    #[must_use]
    pub fn count(&self) -> (usize, usize) {
        let islands = self.rings.iter().filter(|c| signed_area(c) > 0.0).count();
        (islands, self.rings.len() - islands)
    }

    /// The place in space of a place on the outline.
    #[must_use]
    pub fn in_space(&self, p: DVec2) -> DVec3 {
        let mut best = (f64::INFINITY, DVec3::ZERO);
        for (ring, space) in self.rings.iter().zip(&self.space) {
            for k in 0..ring.len() {
                let next = (k + 1) % ring.len();
                let ends = [ring[k], ring[next]];
                let away = segment::distance(p, ends);
                if away < best.0 {
                    best = (away, space[k].lerp(space[next], segment::share(p, ends)));
                }
            }
        }
        best.1
    }
}

fn in_space(mesh: &Mesh, rings: &[Vec<u32>]) -> Vec<Vec<DVec3>> {
    rings.iter().map(|ring| ring.iter().map(|&v| mesh.vertices[v as usize]).collect()).collect()
}

/// The symmetric linear map that brings edges nearest to their lengths: its square G has eᵀ G e = length², by least
/// squares, with a little of the expected metric for what no edge tells.
fn linear(places: &[DVec2], lengths: &[Length], expected: DMat2) -> DMat2 {
    // unknowns xx, xy, yy of G
    let mut normal = [[0.0; 3]; 3];
    let mut side = [0.0; 3];
    let mut weight = 0.0;
    for &([a, b], length) in lengths {
        let e = places[b as usize] - places[a as usize];
        let row = [e.x * e.x, 2.0 * e.x * e.y, e.y * e.y];
        let share = 1.0 / (length * length);
        for i in 0..3 {
            for j in 0..3 {
                normal[i][j] += share * row[i] * row[j];
            }
            side[i] += share * row[i] * length * length;
        }
        weight += length * length;
    }
    let prior = [expected.x_axis.x, expected.x_axis.y, expected.y_axis.y];
    for i in 0..3 {
        normal[i][i] += EXPECTED * weight;
        side[i] += EXPECTED * weight * prior[i];
    }
    let columns = glam::DMat3::from_cols_array_2d(&normal);
    let g = if columns.determinant() > 0.0 { columns.inverse() * DVec3::from(side) } else { DVec3::from(prior) };
    root(g)
}

/// The symmetric root of a symmetric matrix with the entries xx, xy, yy; one when it has none.
fn root(g: DVec3) -> DMat2 {
    let whole = g.x * g.z - g.y * g.y;
    if whole <= 0.0 || g.x + g.z <= 0.0 {
        return DMat2::IDENTITY;
    }
    let s = whole.sqrt();
    let t = (g.x + g.z + 2.0 * s).sqrt();
    DMat2::from_cols(DVec2::new(g.x + s, g.y) / t, DVec2::new(g.y, g.z + s) / t)
}

/// The most by which an edge is longer or shorter than in space, as a share of it.
fn stretch(places: &[DVec2], lengths: &[Length]) -> f64 {
    let share = |&([a, b], length): &Length| (places[a as usize].distance(places[b as usize]) / length - 1.0).abs();
    lengths.iter().map(share).fold(0.0, f64::max)
}

/// The edges of facets that are long enough to tell of a stretch.
fn edges(mesh: &Mesh) -> Vec<Length> {
    let all = mesh.triangles.iter().flat_map(|t| [[t[0], t[1]], [t[1], t[2]], [t[2], t[0]]]);
    let mut all: Vec<[u32; 2]> = all.map(|[a, b]| [a.min(b), a.max(b)]).collect();
    all.sort_unstable();
    all.dedup();
    let length = |[a, b]: [u32; 2]| mesh.vertices[a as usize].distance(mesh.vertices[b as usize]);
    all.into_iter().map(|edge| (edge, length(edge))).filter(|(_, length)| *length > SHORT).collect()
}

/// Each connected piece laid as rigidly as possible, and brought back to where it lay.
fn rigid(mesh: &Mesh, flat: &[DVec2]) -> Vec<DVec2> {
    let mut groups = Groups::new(mesh.vertices.len());
    for t in &mesh.triangles {
        groups.join(t[0], t[1]);
        groups.join(t[1], t[2]);
    }
    let mut pieces: std::collections::BTreeMap<u32, Vec<u32>> = std::collections::BTreeMap::new();
    for (t, triangle) in mesh.triangles.iter().enumerate() {
        pieces.entry(groups.root(triangle[0])).or_default().push(t as u32);
    }
    let mut out = flat.to_vec();
    for facets in pieces.values() {
        let (piece, numbers) = mesh.piece(facets);
        let start: Vec<DVec2> = numbers.iter().map(|&v| flat[v as usize]).collect();
        let found = flatten::as_rigid_as_possible(&piece, start.clone());
        let middle = |points: &[DVec2]| points.iter().sum::<DVec2>() / points.len() as f64;
        let (from, to) = (middle(&found), middle(&start));
        let turn = found.iter().zip(&start).fold(DVec2::ZERO, |sum, (f, s)| {
            let (f, s) = (*f - from, *s - to);
            sum + DVec2::new(f.dot(s), f.perp_dot(s))
        });
        let turn = turn.normalize_or(DVec2::X);
        for (&v, f) in numbers.iter().zip(&found) {
            out[v as usize] = turn.rotate(*f - from) + to;
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A patch of `n` by `n` fields, `size` mm wide, bent by `point` from its flat places.
    fn patch(n: u32, size: f64, point: impl Fn(DVec2) -> DVec3) -> (Mesh, Vec<DVec2>) {
        let at = |r: u32, c: u32| (n + 1) * r + c;
        let flat: Vec<DVec2> = (0..=n)
            .flat_map(|r| (0..=n).map(move |c| (r, c)))
            .map(|(r, c)| (DVec2::new(f64::from(c), f64::from(r)) / f64::from(n) - 0.5) * size)
            .collect();
        let fields = (0..n).flat_map(|r| (0..n).map(move |c| (r, c)));
        let triangles = fields.flat_map(|(r, c)| {
            let [a, b, d, e] = [at(r, c), at(r, c + 1), at(r + 1, c + 1), at(r + 1, c)];
            [[a, b, d], [a, d, e]]
        });
        (Mesh { vertices: flat.iter().map(|&p| point(p)).collect(), triangles: triangles.collect() }, flat)
    }

    fn sides(laid: &Laid) -> DVec2 {
        let points = laid.rings.iter().flatten();
        let (low, high) = points.fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(l, h), p| (l.min(*p), h.max(*p)));
        high - low
    }

    fn lay(mesh: &Mesh, flat: &[DVec2], creased: bool) -> Laid {
        let all: Vec<u32> = (0..mesh.triangles.len() as u32).collect();
        let rings = solid::contour::loops(mesh, all.iter().copied());
        Laid::of_facets(mesh, &all, &rings, |v| flat[v as usize], (DMat2::IDENTITY, creased))
    }

    /// What was set on a shaft of radius 4 and cut 0.5 deep is 3.5 / 4 as long round it, and as long along it.
    #[test]
    fn below_a_shaft_lengths_round_it_are_shorter() {
        let (mesh, flat) = patch(24, 2.0, |p| {
            let t = p.x / 4.0;
            DVec3::new(3.5 * t.sin(), p.y, 3.5 * t.cos())
        });
        let laid = lay(&mesh, &flat, true);
        // chords of 24 pieces of 1.75 mm: 6e-6 of them shorter than arcs
        assert!((sides(&laid) - DVec2::new(1.75, 2.0)).length() < 1e-4 && laid.stretch < 1e-5, "{laid:?}");
        let all: Vec<u32> = (0..flat.len() as u32).collect();
        let rings = solid::contour::loops(&mesh, 0..mesh.triangles.len() as u32);
        let ring = Laid::of_rings(&mesh, &rings, (&mesh, &all), |v| flat[v as usize], DMat2::IDENTITY);
        assert!((sides(&ring) - DVec2::new(1.75, 2.0)).length() < 1e-4, "{ring:?}");
    }

    /// Over a crease of 70° the floor is 2·d·tan 35° shorter than what was set across it.
    #[test]
    fn over_a_crease_lengths_are_those_of_the_floor() {
        let (low, half) = (0.3, 35_f64.to_radians());
        let short = low * half.tan();
        let (mesh, flat) = patch(16, 4.0, |p| {
            // each side moved towards the crease by what is lost there
            let away = p.y.abs() * (2.0 - short) / 2.0;
            DVec3::new(p.x, p.y.signum() * away * half.cos(), -away * half.sin())
        });
        let laid = lay(&mesh, &flat, true);
        assert!((sides(&laid) - DVec2::new(4.0, 4.0 - 2.0 * short)).length() < 1e-6, "{:?}", sides(&laid));
    }

    /// On a sphere no map keeps lengths: what is left is told, and lies within it.
    #[test]
    fn on_a_sphere_the_stretch_that_is_left_is_told() {
        let radius = 10.0;
        let (mesh, flat) = patch(16, 3.0, |p| {
            let t = p.length() / radius;
            let way = p.normalize_or_zero();
            DVec3::new(way.x * t.sin(), way.y * t.sin(), t.cos()) * (radius - 1.0)
        });
        let laid = lay(&mesh, &flat, false);
        // from the middle of one side to that of the other the patch is a great circle of the sphere of 9
        let own = 3.0 * 0.9;
        let found = sides(&laid).x;
        assert!((found - own).abs() <= laid.stretch * own + 1e-9, "{found} for {own}, stretch {}", laid.stretch);
        assert!(laid.stretch > 1e-4 && laid.stretch < 8e-3, "{}", laid.stretch);
    }
}
