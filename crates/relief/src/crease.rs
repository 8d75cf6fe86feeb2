//! Creases of a seat: facets beside them made short, and vectors along which corners rise evenly over them.

use glam::{DMat3, DVec3};
use solid::{
    Mesh,
    queries::Queries,
    segment::longest_edge,
    topology::{Groups, Neighbours, neighbours},
};
use std::collections::HashMap;

/// Vectors at vertices are no longer than this: at creases sharper than 120° letters come out lower.
const LONGEST_MITRE: f64 = 2.0;

/// Normals turn over a crease within this on either side, mm. Wide enough for floors below a crease, which are shorter than
/// the surface above them by twice depth · tan(δ/2) where it turns by δ.
const CREASE_WIDTH: f64 = 2.4;
/// Facets that come so near to a crease are divided until they are no longer than this, mm.
const NARROW: f64 = 1.2;
/// Edges over which normals turn by more than this are creases, degrees.
pub(crate) const CREASE_DEG: f64 = 20.0;
/// Those that turn by less are where facets to both sides are so large that no curve was meant: the turn times how far apart
/// their middles lie, rad · mm, and how many times more it turns than over the edges about it.
const LARGE: f64 = 0.16;
const ALONE: f64 = 3.0;
/// A vertex is moved with a crease where the face beside the crease has its normal, degrees.
const SAME_FACE_DEG: f64 = 2.0;

/// How the facets of a patch border on one another, and where their borders are creases.
pub(crate) struct Creased {
    pub pairs: Vec<Neighbours>,
    /// How far normals turn over each, radians.
    pub turns: Vec<f64>,
    pub is_crease: Vec<bool>,
}

/// Divides long facets near creases by halving longest edges, so that neighbours still share theirs (Rivara 1984).
pub(crate) fn narrow_creases(mesh: &mut Mesh) -> Creased {
    let mut before = Creased::of(mesh);
    before.find_slight(mesh);
    if !before.is_crease.contains(&true) {
        return before;
    }
    let mut on_crease = vec![false; mesh.vertices.len()];
    for (pair, _) in before.pairs.iter().zip(&before.is_crease).filter(|(_, crease)| **crease) {
        pair.edge.iter().for_each(|v| on_crease[*v as usize] = true);
    }
    let edges = Queries::new(before.lines(mesh));
    let on_crease = halve(mesh, on_crease, &edges);
    // the pieces of a crease lie on it still; what runs from one crease to another turns by nothing
    let slight = 1.0_f64.to_radians();
    let mut after = Creased::of(mesh);
    for ((pair, &turn), crease) in after.pairs.iter().zip(&after.turns).zip(&mut after.is_crease) {
        *crease |= turn > slight && pair.edge.iter().all(|v| on_crease[*v as usize]);
    }
    after
}

impl Creased {
    fn of(mesh: &Mesh) -> Self {
        let pairs = neighbours(mesh);
        let normals: Vec<DVec3> = (0..mesh.triangles.len()).map(|t| mesh.normal(t)).collect();
        let turn = |pair: &Neighbours| {
            let [a, b] = pair.triangles.map(|t| normals[t as usize]);
            a.angle_between(b)
        };
        let turns: Vec<f64> = pairs.iter().map(turn).collect();
        let is_crease = turns.iter().map(|turn| *turn > CREASE_DEG.to_radians()).collect();
        Self { pairs, turns, is_crease }
    }

    /// Adds those that turn by little between large facets.
    fn find_slight(&mut self, mesh: &Mesh) {
        let mut edges_of: Vec<Vec<u32>> = vec![Vec::new(); mesh.triangles.len()];
        for (at, pair) in self.pairs.iter().enumerate() {
            pair.triangles.iter().for_each(|t| edges_of[*t as usize].push(at as u32));
        }
        // over the other edges of its facets and of those beside them: a bend of a curve has its like there
        let others = |at: usize| {
            let mut most: f64 = 0.0;
            for t in self.pairs[at].triangles {
                for &edge in edges_of[t as usize].iter().filter(|e| **e as usize != at) {
                    most = most.max(self.turns[edge as usize]);
                    for next in self.pairs[edge as usize].triangles.into_iter().filter(|next| *next != t) {
                        let beyond = edges_of[next as usize].iter().filter(|e| **e != edge);
                        most = beyond.map(|e| self.turns[*e as usize]).fold(most, f64::max);
                    }
                }
            }
            most
        };
        let slight = |at: usize| {
            let turn = self.turns[at];
            turn.is_finite() && turn * apart(mesh, &self.pairs[at]) > LARGE && turn > ALONE * others(at)
        };
        let found: Vec<usize> = (0..self.pairs.len()).filter(|at| !self.is_crease[*at] && slight(*at)).collect();
        found.into_iter().for_each(|at| self.is_crease[at] = true);
    }

    /// Ends of the creases.
    pub fn edges(&self) -> impl Iterator<Item = [u32; 2]> {
        self.pairs.iter().zip(&self.is_crease).filter(|(_, crease)| **crease).map(|(pair, _)| pair.edge)
    }

    /// How far normals turn over the sharpest crease, radians; `None` where there is none.
    pub fn sharpest(&self) -> Option<f64> {
        let creases = self.turns.iter().zip(&self.is_crease).filter(|(_, crease)| **crease);
        creases.map(|(turn, _)| *turn).reduce(f64::max)
    }

    /// The mesh with vertices of their own for what lies on either side of its creases.
    pub fn apart(&self, mesh: &Mesh) -> Mesh {
        let mut sides = Groups::new(mesh.triangles.len());
        for (pair, _) in self.pairs.iter().zip(&self.is_crease).filter(|(_, crease)| !**crease) {
            sides.join(pair.triangles[0], pair.triangles[1]);
        }
        let mut numbers: HashMap<(u32, u32), u32> = HashMap::new();
        let mut apart = Mesh::default();
        for (t, corners) in (0..).zip(&mesh.triangles) {
            let side = sides.root(t);
            let own = corners.map(|v| {
                *numbers.entry((v, side)).or_insert_with(|| {
                    apart.vertices.push(mesh.vertices[v as usize]);
                    apart.vertices.len() as u32 - 1
                })
            });
            apart.triangles.push(own);
        }
        apart
    }

    /// The creases as facets without an area.
    fn lines(&self, mesh: &Mesh) -> Mesh {
        let triangles = self.edges().map(|[a, b]| [a, b, b]).collect();
        Mesh { vertices: mesh.vertices.clone(), triangles }
    }
}

/// How far apart the middles of two facets lie across their edge, mm: a third of each one's height lies between.
pub(crate) fn apart(mesh: &Mesh, pair: &Neighbours) -> f64 {
    let [a, b] = pair.triangles.map(|t| mesh.area(t as usize));
    let [from, to] = pair.edge.map(|v| mesh.vertices[v as usize]);
    2.0 * (a + b) / (3.0 * from.distance(to).max(1e-9))
}

/// Facets near creases halved until they are short enough; which vertices lie on creases then.
fn halve(mesh: &mut Mesh, mut on_crease: Vec<bool>, creases: &Queries) -> Vec<bool> {
    let key = |a: u32, b: u32| [a.min(b), a.max(b)];
    let is_near = |t: &[u32; 3], mesh: &Mesh, on_crease: &[bool]| {
        t.iter().any(|v| on_crease[*v as usize] || creases.nearest(mesh.vertices[*v as usize], CREASE_WIDTH).is_some())
    };
    // each round halves what is too long
    for _ in 0..24 {
        let longest = |t: &[u32; 3], mesh: &Mesh| longest_edge(&t.map(|v| mesh.vertices[v as usize]));
        let mut middles: HashMap<[u32; 2], u32> = HashMap::new();
        for t in &mesh.triangles {
            let (k, length) = longest(t, mesh);
            if length > NARROW && is_near(t, mesh, &on_crease) {
                middles.insert(key(t[k], t[(k + 1) % 3]), u32::MAX);
            }
        }
        if middles.is_empty() {
            return on_crease;
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
    on_crease
}

/// For each vertex the vector N with N · n = 1 for the normal n of every facet round it, by least
/// squares weighted by their angles, and the mean normal where that leaves a choice.
pub(crate) fn mitres(mesh: &Mesh) -> Vec<DVec3> {
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

/// The vectors of vertices beside creases drawn over to those of the crease, evenly by their distance from it: walls that
/// cross it turn with them, and turn alike however the facets run.
pub(crate) fn spread(mesh: &Mesh, creased: &Creased, mitre: &mut [DVec3]) {
    let creases: Vec<&Neighbours> =
        creased.pairs.iter().zip(&creased.is_crease).filter(|(_, crease)| **crease).map(|(pair, _)| pair).collect();
    if creases.is_empty() {
        return;
    }
    let mut on_crease = vec![false; mesh.vertices.len()];
    creases.iter().for_each(|pair| pair.edge.iter().for_each(|v| on_crease[*v as usize] = true));
    let lines = Queries::new(creased.lines(mesh));
    let same = SAME_FACE_DEG.to_radians().cos();
    let own: Vec<DVec3> = mitre.to_vec();
    for (v, mitre) in mitre.iter_mut().enumerate().filter(|(v, _)| !on_crease[*v]) {
        let p = mesh.vertices[v];
        let normal = own[v].normalize_or_zero();
        let beside = |pair: &Neighbours| pair.triangles.iter().any(|t| mesh.normal(*t as usize).dot(normal) > same);
        let Some(hit) = lines.nearest_of(p, CREASE_WIDTH, |crease, _| beside(creases[crease as usize])) else {
            continue;
        };
        let ends = creases[hit.triangle as usize].edge.map(|end| end as usize);
        let [from, way] = [mesh.vertices[ends[0]], mesh.vertices[ends[1]] - mesh.vertices[ends[0]]];
        let share = ((hit.point - from).dot(way) / way.length_squared()).clamp(0.0, 1.0);
        let there = own[ends[0]].lerp(own[ends[1]], share);
        *mitre = there.lerp(own[v], hit.distance / CREASE_WIDTH);
    }
}
