//! A freeform face: its facets laid flat as rigidly as they allow.
//!
//! As-rigid-as-possible parametrisation with free edges (Liu, Zhang, Xu, Gotsman and Gortler 2008:
//! a local/global iteration over rotations of facets and a cotangent system), begun from the view
//! square-on. Only what looks the seat's way is laid out: a handle goes once round, its strip
//! doesn't. Heights are measured square to facets: each vertex carries the vector to which all
//! facets round it rise by 1, so that facets moved along by h lie h off, over creases too.

use crate::chart::{Chart, Upright};
use glam::{DMat3, DVec2, DVec3};
use rayon::prelude::*;
use solid::{Mesh, queries::Queries, topology::neighbours};
use std::collections::HashMap;

/// Facets that lean away more than this are not laid out, degrees; less where they would fold.
const LEANING_DEG: [f64; 4] = [80.0, 65.0, 50.0, 35.0];
/// Strips on which lengths come out beyond these are tried with less of the face.
const LENGTHS: std::ops::Range<f64> = 0.5..2.0;
/// Rounds of the iteration, which ends when no place moves by more than this any more, mm; fewer rounds
/// and shorter ones on faces of more facets than `LARGE`, which are begun nearer to their end: what is
/// left is told as stretch.
const ROUNDS: usize = 25;
const SETTLED: f64 = 2e-4;
const LARGE: usize = 60_000;
/// Vectors at vertices are no longer than this: at creases sharper than 120° letters come out lower.
const LONGEST_MITRE: f64 = 2.0;

/// Steps of outlines and caps are no shorter than this, mm.
const SHORTEST_STEP: f64 = 0.03;

pub struct FreeformChart {
    mesh: Mesh,
    /// Laid flat.
    flat: Vec<DVec2>,
    /// For each vertex: where its point moves when the face is offset by 1 mm.
    mitre: Vec<DVec3>,
    /// Facets across the edges from each corner to the next; `u32::MAX` at the rim.
    beside: Vec<[u32; 3]>,
    /// How fast normals turn on each facet, 1/mm.
    bends: Vec<f64>,
    in_space: Queries,
    on_strip: Queries,
    bridges: f64,
    /// Facets of the part that it is made of.
    facets: Vec<u32>,
}

impl FreeformChart {
    /// The strip of `triangles` of `mesh`; `None` where no part of them can be laid flat.
    #[must_use]
    pub fn new(mesh: &Mesh, triangles: &[u32], upright: Upright) -> Option<Self> {
        let normals: HashMap<u32, DVec3> = triangles.iter().map(|&t| (t, mesh.normal(t as usize))).collect();
        let (sum, area) = triangles.iter().fold((DVec3::ZERO, 0.0), |(sum, area), &t| {
            let own = mesh.area(t as usize);
            (sum + normals[&t] * own, area + own)
        });
        let looks = if sum.length() > 0.3 * area { sum.normalize() } else { upright.pull.unwrap_or(DVec3::Z) };
        let mut before = 0;
        for lean in LEANING_DEG {
            let least = lean.to_radians().cos();
            let facing: Vec<u32> = triangles.iter().copied().filter(|t| normals[t].dot(looks) > least).collect();
            let facets = largest_piece(mesh, &facing);
            if facets.is_empty() || facets.len() == before {
                continue;
            }
            before = facets.len();
            if let Some(chart) = Self::laid(mesh, facets, looks, upright) {
                return Some(chart);
            }
        }
        None
    }

    fn laid(mesh: &Mesh, facets: Vec<u32>, looks: DVec3, upright: Upright) -> Option<Self> {
        let mut numbers = HashMap::new();
        let mut own = Mesh::default();
        for &t in &facets {
            let triangle = mesh.triangles[t as usize].map(|v| {
                *numbers.entry(v).or_insert_with(|| {
                    own.vertices.push(mesh.vertices[v as usize]);
                    own.vertices.len() as u32 - 1
                })
            });
            own.triangles.push(triangle);
        }
        narrow_creases(&mut own);
        let up = upright.up(looks);
        let along = up.cross(looks);
        let start: Vec<DVec2> = own.vertices.iter().map(|p| DVec2::new(p.dot(along), p.dot(up))).collect();
        let mut flat = as_rigid_as_possible(&own, start);
        let fits = (0..own.triangles.len()).all(|t| {
            let [least, most] = stretches(&own, &flat, t);
            LENGTHS.contains(&least) && LENGTHS.contains(&most)
        });
        if !fits {
            return None;
        }
        let mitre = mitres(&own);
        let beside = beside(&own);
        // a chord of a cap's facet over a crease that turns by δ lies half its length · tan(δ/2) / 2 off it
        let turn = neighbours(&own).iter().fold(0.0, |most: f64, pair| {
            let [a, b] = pair.triangles.map(|t| own.normal(t as usize));
            most.max(a.angle_between(b))
        });
        let bridges = SHORTEST_STEP * (turn / 2.0).min(1.2).tan() / 2.0;
        let mut bends: Vec<f64> = (0..own.triangles.len()).map(|t| bend(&own, &mitre, t)).collect();
        for pair in neighbours(&own) {
            let [a, b] = pair.triangles;
            if own.normal(a as usize).angle_between(own.normal(b as usize)) > CREASE_DEG.to_radians() {
                // met at the shortest step
                bends[a as usize] = 1e3;
                bends[b as usize] = 1e3;
            }
        }
        // the facet in the middle stands upright
        let middle = own.vertices.iter().sum::<DVec3>() / own.vertices.len() as f64;
        let in_space = Queries::new(own.clone());
        let t = in_space.nearest(middle, f64::MAX)?.triangle as usize;
        let turn = upright_turn(&own, &flat, t, upright);
        for p in &mut flat {
            *p = turn.rotate(*p);
        }
        let low = flat.iter().copied().fold(DVec2::INFINITY, DVec2::min);
        for p in &mut flat {
            *p -= low;
        }
        let on_strip = Queries::new(Mesh {
            vertices: flat.iter().map(|p| p.extend(0.0)).collect(),
            triangles: own.triangles.clone(),
        });
        Some(Self { mesh: own, flat, mitre, beside, bends, in_space, on_strip, bridges, facets })
    }

    /// Facet under a place of the strip, and the shares of its corners; beyond the rim the nearest facet
    /// goes on.
    fn under(&self, at: DVec2) -> (usize, DVec3) {
        let t = self.on_strip.nearest(at.extend(0.0), f64::MAX).map_or(0, |hit| hit.triangle as usize);
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.flat[v as usize]);
        let (ab, ac, ap) = (b - a, c - a, at - a);
        let whole = ab.perp_dot(ac);
        let (second, third) = (ap.perp_dot(ac) / whole, ab.perp_dot(ap) / whole);
        (t, DVec3::new(1.0 - second - third, second, third))
    }

    fn mitre_at(&self, t: usize, shares: DVec3) -> DVec3 {
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.mitre[v as usize]);
        a * shares.x + b * shares.y + c * shares.z
    }

    /// Shares of the facet's corners and height at which a point of space lies over it (Newton).
    fn over(&self, t: usize, p: DVec3) -> Option<(DVec3, f64)> {
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.mesh.vertices[v as usize]);
        let [na, nb, nc] = self.mesh.triangles[t].map(|v| self.mitre[v as usize]);
        let (ab, ac, nab, nac) = (b - a, c - a, nb - na, nc - na);
        let normal = ab.cross(ac).normalize_or_zero();
        let mut x = DVec3::new(1.0 / 3.0, 1.0 / 3.0, (p - a).dot(normal));
        for _ in 0..12 {
            let miss = p - (a + ab * x.x + ac * x.y + (na + nab * x.x + nac * x.y) * x.z);
            let slope = DMat3::from_cols(ab + nab * x.z, ac + nac * x.z, na + nab * x.x + nac * x.y);
            if slope.determinant().abs() < 1e-18 {
                return None;
            }
            let by = slope.inverse() * miss;
            x += by;
            if miss.length_squared() < 1e-26 {
                break;
            }
        }
        x.is_finite().then(|| (DVec3::new(1.0 - x.x - x.y, x.x, x.y), x.z))
    }
}

impl Chart for FreeformChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        let (t, shares) = self.under(at);
        let [a, b, c] = self.mesh.corners(t);
        a * shares.x + b * shares.y + c * shares.z + self.mitre_at(t, shares) * height
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let mut t = self.in_space.nearest(p, f64::MAX).map_or(0, |hit| hit.triangle as usize);
        let mut found = (f64::NEG_INFINITY, t, DVec3::new(1.0, 0.0, 0.0), 0.0);
        let mut came = usize::MAX;
        // from facet to facet until the point lies over one
        for _ in 0..64 {
            let Some((shares, height)) = self.over(t, p) else { break };
            let least = shares.min_element();
            if least > found.0 {
                found = (least, t, shares, height);
            }
            if least >= -1e-9 {
                break;
            }
            // across the edge that lies opposite the corner with the least share
            let mut order = [0, 1, 2];
            order.sort_by(|&i, &j| shares[i].total_cmp(&shares[j]));
            let across = order.into_iter().take_while(|&k| shares[k] < -1e-9).map(|k| self.beside[t][(k + 1) % 3]);
            let Some(next) = across.map(|n| n as usize).find(|&n| n != u32::MAX as usize && n != came) else { break };
            (came, t) = (t, next);
        }
        let (_, t, shares, height) = found;
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.flat[v as usize]);
        (a * shares.x + b * shares.y + c * shares.z, height)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        let (t, shares) = self.under(at);
        self.mitre_at(t, shares).normalize_or(DVec3::Z)
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        self.step_over(near - DVec2::ONE, near + DVec2::ONE, height, sag)
    }

    fn step_over(&self, low: DVec2, high: DVec2, _: f64, sag: f64) -> DVec2 {
        // chords within the sag where normals turn alike all over; creases are met at the shortest step
        DVec2::splat((8.0 * sag / self.bend_over(low, high)).sqrt().clamp(SHORTEST_STEP, 50.0))
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        // frames turn about a line by no more than normals turn
        (2.0 * twist_rad / self.bend_over(near, near)).max(0.03)
    }

    fn period(&self) -> DVec2 {
        DVec2::INFINITY
    }

    fn patch(&self) -> Option<&[u32]> {
        Some(&self.facets)
    }

    fn bridges(&self) -> f64 {
        self.bridges
    }
}

impl FreeformChart {
    /// The fastest turn of normals between two corners of the strip, 1/mm.
    fn bend_over(&self, low: DVec2, high: DVec2) -> f64 {
        let under = self.on_strip.in_box(low.extend(-1.0), high.extend(1.0));
        under.into_iter().map(|t| self.bends[t as usize]).fold(1e-4, f64::max)
    }
}

/// The largest set of facets connected over edges.
fn largest_piece(mesh: &Mesh, facets: &[u32]) -> Vec<u32> {
    let mut edges: HashMap<[u32; 2], Vec<usize>> = HashMap::new();
    for (at, &t) in facets.iter().enumerate() {
        let [a, b, c] = mesh.triangles[t as usize];
        for (from, to) in [(a, b), (b, c), (c, a)] {
            edges.entry([from.min(to), from.max(to)]).or_default().push(at);
        }
    }
    let mut seen = vec![false; facets.len()];
    let mut best: (f64, Vec<u32>) = (0.0, Vec::new());
    for start in 0..facets.len() {
        if std::mem::replace(&mut seen[start], true) {
            continue;
        }
        let (mut piece, mut next) = (vec![facets[start]], vec![start]);
        while let Some(at) = next.pop() {
            let [a, b, c] = mesh.triangles[facets[at] as usize];
            for (from, to) in [(a, b), (b, c), (c, a)] {
                for &other in &edges[&[from.min(to), from.max(to)]] {
                    if !std::mem::replace(&mut seen[other], true) {
                        piece.push(facets[other]);
                        next.push(other);
                    }
                }
            }
        }
        let area = piece.iter().map(|&t| mesh.area(t as usize)).sum();
        if area > best.0 {
            best = (area, piece);
        }
    }
    best.1.sort_unstable();
    best.1
}

/// Facets that touch a crease are divided until they are no longer than this, mm: normals turn over it
/// within as much. Wide enough for floors below a crease, which are shorter than the skin above them by
/// twice depth · tan(δ/2) where it turns by δ.
const CREASE_WIDTH: f64 = 2.4;
/// Edges over which normals turn by more than this are creases, degrees.
const CREASE_DEG: f64 = 20.0;

/// Divides long facets at creases by halving longest edges, so that neighbours still share theirs
/// (Rivara 1984).
fn narrow_creases(mesh: &mut Mesh) {
    let sharp = CREASE_DEG.to_radians().cos();
    let mut on_crease = vec![false; mesh.vertices.len()];
    for pair in neighbours(mesh) {
        let [a, b] = pair.triangles.map(|t| mesh.normal(t as usize));
        if a.dot(b) < sharp {
            pair.edge.iter().for_each(|v| on_crease[*v as usize] = true);
        }
    }
    if !on_crease.contains(&true) {
        return;
    }
    let key = |a: u32, b: u32| [a.min(b), a.max(b)];
    // each round halves what is too long
    for _ in 0..24 {
        let longest = |t: &[u32; 3], mesh: &Mesh| {
            let length = |k: usize| mesh.vertices[t[k] as usize].distance(mesh.vertices[t[(k + 1) % 3] as usize]);
            let k = (0..3).max_by(|&i, &j| length(i).total_cmp(&length(j))).unwrap_or(0);
            (k, length(k))
        };
        let mut middles: HashMap<[u32; 2], u32> = HashMap::new();
        for t in &mesh.triangles {
            let (k, length) = longest(t, mesh);
            if length > CREASE_WIDTH && t.iter().any(|v| on_crease[*v as usize]) {
                middles.insert(key(t[k], t[(k + 1) % 3]), u32::MAX);
            }
        }
        if middles.is_empty() {
            return;
        }
        // a facet with any edge halved has its longest halved too
        loop {
            let before = middles.len();
            for t in &mesh.triangles {
                if (0..3).any(|k| middles.contains_key(&key(t[k], t[(k + 1) % 3]))) {
                    let (k, _) = longest(t, mesh);
                    middles.entry(key(t[k], t[(k + 1) % 3])).or_insert(u32::MAX);
                }
            }
            if middles.len() == before {
                break;
            }
        }
        let mut edges: Vec<[u32; 2]> = middles.keys().copied().collect();
        edges.sort_unstable();
        for [a, b] in edges {
            middles.insert([a, b], mesh.vertices.len() as u32);
            mesh.vertices.push((mesh.vertices[a as usize] + mesh.vertices[b as usize]) / 2.0);
            on_crease.push(on_crease[a as usize] && on_crease[b as usize]);
        }
        let mut open = std::mem::take(&mut mesh.triangles);
        while let Some(t) = open.pop() {
            let halved = |k: usize| middles.contains_key(&key(t[k], t[(k + 1) % 3]));
            let length = |k: usize| mesh.vertices[t[k] as usize].distance(mesh.vertices[t[(k + 1) % 3] as usize]);
            match (0..3).filter(|&k| halved(k)).max_by(|&i, &j| length(i).total_cmp(&length(j))) {
                None => mesh.triangles.push(t),
                Some(k) => {
                    let (a, b, c) = (t[k], t[(k + 1) % 3], t[(k + 2) % 3]);
                    let m = middles[&key(a, b)];
                    open.extend([[a, m, c], [m, b, c]]);
                }
            }
        }
    }
}

fn beside(mesh: &Mesh) -> Vec<[u32; 3]> {
    let mut beside = vec![[u32::MAX; 3]; mesh.triangles.len()];
    for pair in neighbours(mesh) {
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

/// For each vertex the vector N with N · n = 1 for the normal n of every facet round it, by least
/// squares weighted by their angles, and the mean normal where that leaves a choice.
fn mitres(mesh: &Mesh) -> Vec<DVec3> {
    let mut sums = vec![(DMat3::ZERO, DVec3::ZERO, 0.0); mesh.vertices.len()];
    for (t, triangle) in mesh.triangles.iter().enumerate() {
        let normal = mesh.normal(t);
        let points = mesh.corners(t);
        for k in 0..3 {
            let (u, v) = (points[(k + 1) % 3] - points[k], points[(k + 2) % 3] - points[k]);
            let weight = u.angle_between(v);
            if weight.is_finite() {
                let sum = &mut sums[triangle[k] as usize];
                let outer = DMat3::from_cols(normal * normal.x, normal * normal.y, normal * normal.z);
                *sum = (sum.0 + outer * weight, sum.1 + normal * weight, sum.2 + weight);
            }
        }
    }
    sums.into_iter()
        .map(|(square, sum, weight)| {
            let mean = sum.normalize_or(DVec3::Z);
            let slight = 1e-3 * weight.max(1e-12);
            let found = (square + DMat3::from_diagonal(DVec3::splat(slight))).inverse() * (sum + mean * slight);
            if found.is_finite() { found.clamp_length_max(LONGEST_MITRE) } else { mean }
        })
        .collect()
}

/// How fast normals turn along the edges of a facet, 1/mm.
fn bend(mesh: &Mesh, mitre: &[DVec3], t: usize) -> f64 {
    let corners = mesh.triangles[t];
    (0..3)
        .map(|k| {
            let [a, b] = [corners[k], corners[(k + 1) % 3]].map(|v| v as usize);
            let length = mesh.vertices[a].distance(mesh.vertices[b]);
            mitre[a].normalize_or_zero().distance(mitre[b].normalize_or_zero()) / length.max(1e-9)
        })
        .fold(0.0, f64::max)
}

/// A facet laid flat by itself, its first edge along x.
fn by_itself(mesh: &Mesh, t: usize) -> [DVec2; 3] {
    let [a, b, c] = mesh.corners(t);
    let x = (b - a).normalize_or_zero();
    let y = (c - a).reject_from(x).length();
    [DVec2::ZERO, DVec2::new(a.distance(b), 0.0), DVec2::new((c - a).dot(x), y)]
}

/// Least and greatest stretch of the map from the strip to a facet; below 0 where it is turned over.
fn stretches(mesh: &Mesh, flat: &[DVec2], t: usize) -> [f64; 2] {
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
fn upright_turn(mesh: &Mesh, flat: &[DVec2], t: usize, upright: Upright) -> DVec2 {
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

fn as_rigid_as_possible(mesh: &Mesh, mut flat: Vec<DVec2>) -> Vec<DVec2> {
    let n = flat.len();
    // cotangents of the angles opposite each edge (from corner k to the next), and facets laid by themselves
    let facets: Vec<([DVec2; 3], [f64; 3])> = (0..mesh.triangles.len())
        .map(|t| {
            let x = by_itself(mesh, t);
            let cot = [0, 1, 2].map(|k| {
                let (u, v) = (x[k] - x[(k + 2) % 3], x[(k + 1) % 3] - x[(k + 2) % 3]);
                (u.dot(v) / u.perp_dot(v).abs().max(1e-12)).clamp(-1e4, 1e4)
            });
            (x, cot)
        })
        .collect();
    // rows of the cotangent system, doubled entries left as they come
    let mut rows: Vec<Vec<(u32, f64)>> = vec![Vec::new(); n];
    let mut diagonal = vec![0.0; n];
    for (triangle, (_, cot)) in mesh.triangles.iter().zip(&facets) {
        for k in 0..3 {
            let (i, j) = (triangle[k], triangle[(k + 1) % 3]);
            rows[i as usize].push((j, cot[k]));
            rows[j as usize].push((i, cot[k]));
            diagonal[i as usize] += cot[k];
            diagonal[j as usize] += cot[k];
        }
    }
    let apply = |x: &[DVec2]| -> Vec<DVec2> {
        (0..n)
            .into_par_iter()
            .with_min_len(4096)
            .map(|i| rows[i].iter().fold(x[i] * diagonal[i], |sum, &(j, w)| sum - x[j as usize] * w))
            .collect()
    };
    let (rounds, steps) = if facets.len() > LARGE { (6, 120) } else { (ROUNDS, 500) };
    for _ in 0..rounds {
        let mut wanted = vec![DVec2::ZERO; n];
        for (triangle, (x, cot)) in mesh.triangles.iter().zip(&facets) {
            let at = triangle.map(|v| flat[v as usize]);
            // the rotation that brings the facet nearest to where it lies
            let (cos, sin) = (0..3).fold((0.0, 0.0), |(cos, sin), k| {
                let (from, to) = (x[k] - x[(k + 1) % 3], at[k] - at[(k + 1) % 3]);
                (cos + cot[k] * from.dot(to), sin + cot[k] * from.perp_dot(to))
            });
            let turn = DVec2::new(cos, sin).normalize_or(DVec2::X);
            for k in 0..3 {
                let edge = turn.rotate(x[k] - x[(k + 1) % 3]) * cot[k];
                wanted[triangle[k] as usize] += edge;
                wanted[triangle[(k + 1) % 3] as usize] -= edge;
            }
        }
        let moved = conjugate_gradients(&apply, &diagonal, &wanted, &mut flat, steps);
        if moved < SETTLED {
            break;
        }
    }
    flat
}

/// Solves the positive semidefinite system `apply` (x) = `wanted` from where x is; the farthest that a
/// place moved, mm.
fn conjugate_gradients(
    apply: &dyn Fn(&[DVec2]) -> Vec<DVec2>,
    diagonal: &[f64],
    wanted: &[DVec2],
    x: &mut [DVec2],
    steps: usize,
) -> f64 {
    let before = x.to_vec();
    let precondition =
        |r: &[DVec2]| -> Vec<DVec2> { r.iter().zip(diagonal).map(|(r, d)| *r / d.abs().max(1e-9)).collect() };
    // x and y apart: two systems with one matrix
    let dot = |a: &[DVec2], b: &[DVec2]| a.iter().zip(b).fold(DVec2::ZERO, |sum, (a, b)| sum + *a * *b);
    let safe = |a: DVec2, b: DVec2| {
        DVec2::new(if b.x.abs() > 1e-300 { a.x / b.x } else { 0.0 }, if b.y.abs() > 1e-300 { a.y / b.y } else { 0.0 })
    };
    let mut r: Vec<DVec2> = apply(x).iter().zip(wanted).map(|(a, b)| *b - *a).collect();
    let mut z = precondition(&r);
    let mut p = z.clone();
    let mut rz = dot(&r, &z);
    let goal = dot(wanted, &precondition(wanted)) * 1e-12;
    for _ in 0..steps {
        if rz.x <= goal.x && rz.y <= goal.y {
            break;
        }
        let ap = apply(&p);
        let step = safe(rz, dot(&p, &ap));
        for i in 0..x.len() {
            x[i] += p[i] * step;
            r[i] -= ap[i] * step;
        }
        z = precondition(&r);
        let next = dot(&r, &z);
        let beta = safe(next, rz);
        rz = next;
        for i in 0..p.len() {
            p[i] = z[i] + p[i] * beta;
        }
    }
    before.iter().zip(x).map(|(a, b)| a.distance(*b)).fold(0.0, f64::max)
}
