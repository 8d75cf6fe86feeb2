//! Neighbouring triangles that lie in one plane.

use super::bends::{Bends, Line, SHARP_DEG};
use super::ground::written_to;
use crate::segment::height;
use crate::{
    mesh::Mesh,
    topology::{Neighbours, neighbours},
};
use glam::DVec3;
use rayon::prelude::*;
use std::collections::HashSet;

/// The triangle across an edge, and which of its edges that is; `u32::MAX` where there is none.
/// Bends between facets that are no sharper may be those of a smooth face: 24 facets a turn.
const SLIGHT_DEG: f64 = 15.0;
/// Facets are alike where one is at most so many times as large as the other.
const ALIKE: f64 = 8.0;
/// So many such bends at least are those of a face.
const LEAST_BENDS: usize = 8;

#[derive(Clone, Copy)]
pub(super) struct Adjacent {
    pub(super) triangle: u32,
    pub(super) edge: u8,
}

#[derive(Clone)]
pub(super) struct Flat {
    pub(super) triangles: Vec<u32>,
    pub(super) area: f64,
    pub(super) normal: DVec3,
    /// Middle of its area.
    pub(super) middle: DVec3,
    /// Neighbouring flats over soft edges, and the length of the edges shared with each, mm.
    pub(super) soft: Vec<u32>,
    pub(super) shared: Vec<f64>,
    /// Length of all edges round it, mm.
    pub(super) rim: f64,
}

/// Triangles grouped into flats.
#[derive(Clone)]
pub(super) struct Flats {
    pub(super) flats: Vec<Flat>,
    /// The flat of each triangle.
    pub(super) flat_of: Vec<u32>,
    /// For each vertex: does an open edge end there?
    pub(super) open: Vec<bool>,
    /// Does a crease or an open edge?
    pub(super) creased: Vec<bool>,
    /// For each triangle: over which of its edges does it run on smoothly to another flat?
    pub(super) smooth: Vec<[bool; 3]>,
    /// What lies across each edge of each triangle.
    pub(super) beside: Vec<[Adjacent; 3]>,
    /// Flats that meet in a crease which is not sharp.
    pub(super) blunt: Vec<[u32; 2]>,
    /// Edges between flats, and whether the surface runs on smoothly over them.
    between: Vec<(Neighbours, bool)>,
}

impl Flats {
    /// Pairs of facets alike that nothing has taken and that meet at a slight bend of which it can't be told whether it goes
    /// on.
    pub(super) fn slight<'a>(&'a self, taken: &'a [bool]) -> impl Iterator<Item = [u32; 2]> + 'a {
        self.slightly().filter(|pair| !pair.iter().any(|&f| taken[f as usize]))
    }

    /// Single triangles that meet another one so.
    pub(super) fn loose(&self) -> Vec<bool> {
        let mut loose = vec![false; self.flats.len()];
        let single = |f: &u32| self.flats[*f as usize].triangles.len() == 1;
        for flat in self.slightly().filter(|pair| pair.iter().all(single)).flatten() {
            loose[flat as usize] = true;
        }
        loose
    }

    fn slightly(&self) -> impl Iterator<Item = [u32; 2]> + '_ {
        let slight = SLIGHT_DEG.to_radians();
        self.blunt.iter().copied().filter(move |pair| {
            let [a, b] = pair.map(|f| &self.flats[f as usize]);
            let few = |f: &Flat| f.triangles.len() <= 2;
            let alike = a.area < ALIKE * b.area && b.area < ALIKE * a.area;
            few(a) && few(b) && alike && a.normal.angle_between(b.normal) < slight
        })
    }

    /// The same with such bends smooth; `None` where there are too few for a face.
    pub(super) fn softened(&self, mesh: &Mesh, taken: &[bool]) -> Option<Self> {
        let slight: HashSet<[u32; 2]> = self.slight(taken).collect();
        if slight.len() < LEAST_BENDS {
            return None;
        }
        let between = self.between.iter().map(|&(pair, smooth)| {
            let [a, b] = pair.triangles.map(|t| self.flat_of[t as usize]);
            (pair, smooth || slight.contains(&[a, b]))
        });
        let mut all = self.clone();
        all.between = between.collect();
        all.bound(mesh);
        Some(all)
    }

    /// What the edges between flats tell of them.
    fn bound(&mut self, mesh: &Mesh) {
        for flat in &mut self.flats {
            (flat.soft, flat.shared, flat.rim) = (Vec::new(), Vec::new(), 0.0);
        }
        self.creased.clone_from(&self.open);
        self.smooth = vec![[false; 3]; self.flat_of.len()];
        self.blunt.clear();
        let mut shared: Vec<Vec<(u32, f64)>> = vec![Vec::new(); self.flats.len()];
        for (pair, smooth) in &self.between {
            let [a, b] = pair.triangles.map(|t| self.flat_of[t as usize]);
            let [from, to] = pair.edge.map(|v| mesh.vertices[v as usize]);
            let length = from.distance(to);
            self.flats[a as usize].rim += length;
            self.flats[b as usize].rim += length;
            if *smooth {
                shared[a as usize].push((b, length));
                shared[b as usize].push((a, length));
                for t in pair.triangles {
                    if let Some(k) = edge_of(mesh, t, pair.edge) {
                        self.smooth[t as usize][k] = true;
                    }
                }
            } else {
                if self.flats[a as usize].normal.angle_between(self.flats[b as usize].normal) <= SHARP_DEG.to_radians()
                {
                    self.blunt.push([a, b]);
                }
                for v in pair.edge {
                    self.creased[v as usize] = true;
                }
            }
        }
        for (flat, mut beside) in self.flats.iter_mut().zip(shared) {
            beside.sort_unstable_by_key(|(other, _)| *other);
            for (other, length) in beside {
                match flat.soft.last() {
                    Some(last) if *last == other => *flat.shared.last_mut().expect("as long as soft") += length,
                    _ => {
                        flat.soft.push(other);
                        flat.shared.push(length);
                    }
                }
            }
        }
    }
}

pub(super) fn flats(mesh: &Mesh, tolerance: f64) -> Flats {
    let count = mesh.triangles.len();
    let pairs = neighbours(mesh);
    let crosses: Vec<DVec3> = (0..count).into_par_iter().map(|t| mesh.cross(t)).collect();
    let normals: Vec<DVec3> = crosses.par_iter().map(|c| c.normalize_or_zero()).collect();
    let areas: Vec<f64> = crosses.par_iter().map(|c| c.length() / 2.0).collect();
    drop(crosses);
    let beside = beside(mesh, &pairs);
    let written = written_to(mesh);
    let mut order: Vec<u32> = (0..count as u32).collect();
    order.par_sort_by(|&a, &b| areas[b as usize].total_cmp(&areas[a as usize]).then(a.cmp(&b)));
    let mut flat_of = vec![u32::MAX; count];
    let mut flats: Vec<Flat> = Vec::new();
    for &seed in &order {
        if flat_of[seed as usize] != u32::MAX {
            continue;
        }
        let id = flats.len() as u32;
        let (normal, origin) = (normals[seed as usize], mesh.corners(seed as usize)[0]);
        let mut triangles = vec![seed];
        flat_of[seed as usize] = id;
        let mut at = 0;
        while at < triangles.len() {
            for next in beside[triangles[at] as usize].map(|a| a.triangle).into_iter().filter(|n| *n != u32::MAX) {
                if flat_of[next as usize] == u32::MAX
                    && mesh.corners(next as usize).iter().all(|&v| ((v - origin).dot(normal)).abs() <= tolerance)
                    && lies_along(mesh, next, normals[next as usize], normal, written)
                {
                    flat_of[next as usize] = id;
                    triangles.push(next);
                }
            }
            at += 1;
        }
        let area: f64 = triangles.iter().map(|&t| areas[t as usize]).sum();
        let middle = triangles.iter().map(|&t| mesh.centroid(t as usize) * areas[t as usize]).sum::<DVec3>()
            / area.max(f64::MIN_POSITIVE);
        flats.push(Flat { triangles, area, normal, middle, soft: Vec::new(), shared: Vec::new(), rim: 0.0 });
    }
    let outward: Vec<DVec3> = flats.iter().map(|f| f.normal).collect();
    let lines = lines(mesh, &pairs, &flat_of, flats.len());
    let bends =
        Bends { mesh, beside: &beside, flat_of: &flat_of, flats: &flats, normals: &outward, lines: &lines, tolerance };
    let between: Vec<(Neighbours, bool)> = (pairs.par_iter())
        .filter(|pair| flat_of[pair.triangles[0] as usize] != flat_of[pair.triangles[1] as usize])
        .map(|pair| (*pair, is_smooth(&bends, pair)))
        .collect();
    let open = open(mesh, &beside);
    let (creased, smooth, blunt) = (Vec::new(), Vec::new(), Vec::new());
    let mut all = Flats { flats, flat_of, open, creased, smooth, beside, blunt, between };
    all.bound(mesh);
    all
}

/// The lines round each flat.
fn lines(mesh: &Mesh, pairs: &[Neighbours], flat_of: &[u32], count: usize) -> Vec<Vec<Line>> {
    let mut lines: Vec<Vec<Line>> = vec![Vec::new(); count];
    for pair in pairs {
        let [a, b] = pair.triangles.map(|t| flat_of[t as usize]);
        if a == b {
            continue;
        }
        let [from, to] = pair.edge.map(|v| mesh.vertices[v as usize]);
        let length = from.distance(to).max(f64::MIN_POSITIVE);
        let (along, middle) = (to - from, (from + to) / 2.0 * length);
        for (own, other) in [(a, b), (b, a)] {
            match lines[own as usize].iter_mut().find(|l| l.other == other) {
                Some(line) => {
                    line.along += if line.along.dot(along) < 0.0 { -along } else { along };
                    line.middle += middle;
                    line.length += length;
                }
                None => lines[own as usize].push(Line { other, along, middle, length }),
            }
        }
    }
    lines
}

/// What lies across each edge of each triangle.
fn beside(mesh: &Mesh, pairs: &[Neighbours]) -> Vec<[Adjacent; 3]> {
    let mut beside = vec![[Adjacent { triangle: u32::MAX, edge: 0 }; 3]; mesh.triangles.len()];
    for pair in pairs {
        let [one, other] = pair.triangles;
        if let (Some(k), Some(back)) = (edge_of(mesh, one, pair.edge), edge_of(mesh, other, pair.edge)) {
            beside[one as usize][k] = Adjacent { triangle: other, edge: back as u8 };
            beside[other as usize][back] = Adjacent { triangle: one, edge: k as u8 };
        }
    }
    beside
}

/// Which of a triangle's edges has these ends.
fn edge_of(mesh: &Mesh, triangle: u32, ends: [u32; 2]) -> Option<usize> {
    let t = mesh.triangles[triangle as usize];
    (0..3).find(|&k| {
        let own = [t[k], t[(k + 1) % 3]];
        own == ends || own == [ends[1], ends[0]]
    })
}

fn is_smooth(bends: &Bends, pair: &Neighbours) -> bool {
    let [one, other] = pair.triangles;
    match (edge_of(bends.mesh, one, pair.edge), edge_of(bends.mesh, other, pair.edge)) {
        (Some(k), Some(back)) => bends.smooth(one, k, other, back),
        _ => false,
    }
}

/// Vertices of edges that no second triangle lies on.
fn open(mesh: &Mesh, beside: &[[Adjacent; 3]]) -> Vec<bool> {
    let mut open = vec![false; mesh.vertices.len()];
    for (t, sides) in mesh.triangles.iter().zip(beside) {
        for k in (0..3).filter(|&k| sides[k].triangle == u32::MAX) {
            open[t[k] as usize] = true;
            open[t[(k + 1) % 3] as usize] = true;
        }
    }
    open
}

/// Is the triangle parallel to the plane? A sliver's own normal means nothing, so what is asked
/// grows with its thinness.
fn lies_along(mesh: &Mesh, triangle: u32, own: DVec3, normal: DVec3, written: f64) -> bool {
    let altitude = height(&mesh.corners(triangle as usize));
    // 0.1°, or what moving one corner by as much as the file's digits leave open turns the triangle by
    let allowed = 0.1_f64.to_radians().max(written / altitude.max(1e-12));
    // the thinnest may even seem to be turned over
    allowed >= 1.0 || own.dot(normal) > 0.0 && own.cross(normal).length() <= allowed
}
