//! A lettering body's facets gathered to the faces that they stand for: a top and an underside on the seat's own kind of
//! surface, and walls of straight lines between their outlines, from corner to corner.
//!
//! An outline is a chain of straight edges no farther off the true outline than [`flat::FLATTENED_TO`]. Where two of them
//! meet at so small an angle that they may stand for one curve, they are drawn as one, through all of their corners. With h
//! the longer edge and θ the angle between them, a curve lies about h θ / 8 off its chords (its sagitta).

use super::offset::offset;
use glam::DVec3;
use relief::{CharacterBody, Role};
use solid::{
    Mesh, Surface, contour,
    segment::foot,
    topology::{Groups, Neighbours, neighbours},
};
use std::collections::{HashMap, HashSet};
use step::{Chain, Drawn, DrawnFace, DrawnSeat};

/// Two edges stand for a curve where its sagitta is no more than this, mm: twice what outlines are flattened to, since the
/// edges of one are not all as long.
const SAGITTA: f64 = 2.0 * flat::FLATTENED_TO;
/// And where they turn by no more than this, radians: the chords of an arc of 0.02 mm do.
const TURN: f64 = 0.9;
/// Chords of one curve are no longer than this many times the next: a straight line that runs into an arc is a wall of its own.
const EVEN: f64 = 4.0;
/// Edges that turn by less are in line, radians: walls over a straight edge turn with a round seat, by a third of it.
const STRAIGHT_ON: f64 = 0.005;
/// Corners in line nearer than this to one at which the outline turns lie on a chord, mm.
const BESIDE: f64 = 0.1;
/// Where an outline bends by more than this, in radians a mm, and so many times as much as at the next corner, another curve
/// begins.
const TIGHT: f64 = 4.0;
const UNEVEN: f64 = 2.5;
/// Places of a run keep at least this share of their distance from one another where they are told by the other end's.
const CLOSE: f64 = 0.3;
/// Corners of a flat lie in its plane within this, mm.
const FLAT: f64 = 1e-7;
/// Where walls met on the way from one end to the other, their line bends by no more than this, mm.
const STRAIGHT: f64 = 0.001;
/// Tops and undersides lie on their surface within this, mm.
const ON: f64 = 1e-6;

/// A body by its faces: `about` says what it is and has none yet. And whether all of them are exact.
pub fn drawn(body: &CharacterBody, ground: &Surface, about: Drawn) -> (Drawn, bool) {
    let about = Drawn { points: body.mesh.vertices.clone(), ..about };
    match Faces::of(body, ground).and_then(|faces| faces.drawn(&about)) {
        Some(drawn) => drawn,
        None => {
            let flats = body.mesh.triangles.iter().map(|t| DrawnFace::Flat(t.to_vec())).collect();
            (Drawn { faces: flats, ..about }, false)
        }
    }
}

struct Faces<'a> {
    mesh: &'a Mesh,
    /// The top or floor, and the underside.
    caps: [Cap; 2],
    /// Facets of walls, and pairs of them that share an edge.
    walls: Vec<u32>,
    beside: Vec<Neighbours>,
    /// The wall's facet at each edge of a cap's outlines, by the edge as the outline runs.
    at_rim: HashMap<(u32, u32), u32>,
    /// How far each corner lies from the level of the top, mm.
    depths: Vec<f64>,
    /// By how much walls turn most at each corner, radians.
    turns: HashMap<u32, f64>,
}

struct Cap {
    seat: DrawnSeat,
    /// Its outlines with the material at their left, the one round it first.
    loops: Vec<Vec<u32>>,
}

/// A run of an outline that belongs to one wall, by its place among them.
struct Run {
    wall: usize,
    points: Vec<u32>,
}

/// A wall by its facets and its runs on both caps, by their places among all of a cap's.
#[derive(Default)]
struct Wall {
    facets: Vec<u32>,
    runs: [Vec<(usize, usize)>; 2],
}

/// The edges of a straight way from a corner of the top to the underside.
type Way<'a> = &'a dyn Fn(u32) -> Option<Vec<[u32; 2]>>;

struct Gathered {
    walls: Vec<Wall>,
    /// The runs of each loop of each cap.
    runs: [Vec<Vec<Run>>; 2],
}

impl Gathered {
    fn points(&self, cap: usize, (ring, run): (usize, usize)) -> &[u32] {
        &self.runs[cap][ring][run].points
    }
}

impl<'a> Faces<'a> {
    /// `None` where the body's ends lie on no surface that has a kind.
    fn of(body: &'a CharacterBody, ground: &Surface) -> Option<Self> {
        let mesh = &body.mesh;
        let of = |roles: &[Role]| -> Vec<u32> {
            (0..body.roles.len() as u32).filter(|&t| roles.contains(&body.roles[t as usize])).collect()
        };
        let top = cap(mesh, &of(&[Role::Top, Role::Floor]), ground)?;
        let under = cap(mesh, &of(&[Role::Skirt, Role::Base]), ground)?;
        let caps = [top, under];
        let walls = of(&[Role::Wall, Role::Edge, Role::Root]);
        let mut of_edge = HashMap::new();
        for &t in &walls {
            let [a, b, c] = mesh.triangles[t as usize];
            // an outline runs along a shared edge the other way
            of_edge.extend([(b, a), (c, b), (a, c)].map(|edge| (edge, t)));
        }
        let rims = caps.iter().flat_map(|cap| cap.loops.iter().flat_map(|ring| edges(ring)));
        let at_rim = rims.map(|edge| Some((edge, *of_edge.get(&edge)?))).collect::<Option<_>>()?;
        let is_wall: HashSet<u32> = walls.iter().copied().collect();
        let beside: Vec<Neighbours> =
            neighbours(mesh).into_iter().filter(|p| p.triangles.iter().all(|t| is_wall.contains(t))).collect();
        let level = ground.height(mesh.vertices[*caps[0].loops.first()?.first()? as usize])?;
        let depths = mesh.vertices.iter().map(|p| Some((ground.height(*p)? - level).abs())).collect::<Option<_>>()?;
        let mut turns: HashMap<u32, f64> = HashMap::new();
        for pair in &beside {
            let [a, b] = pair.triangles.map(|t| mesh.normal(t as usize));
            for v in pair.edge {
                let turn = turns.entry(v).or_default();
                *turn = turn.max(a.angle_between(b));
            }
        }
        Some(Self { mesh, caps, walls, beside, at_rim, depths, turns })
    }

    fn at(&self, v: u32) -> DVec3 {
        self.mesh.vertices[v as usize]
    }

    /// The edges between facets of walls that stand for one wall.
    fn smooth(&self) -> Vec<[u32; 2]> {
        let smooth = |pair: &&Neighbours| {
            let [a, b] = pair.triangles.map(|t| self.mesh.normal(t as usize));
            let turn = a.angle_between(b);
            // how far the facets reach from the edge between them
            let edge = self.at(pair.edge[0]).distance(self.at(pair.edge[1])).max(f64::MIN_POSITIVE);
            let [one, other] = pair.triangles.map(|t| 2.0 * self.mesh.area(t as usize) / edge);
            let long = one.max(other);
            turn <= TURN && long * turn / 8.0 <= SAGITTA && (turn < STRAIGHT_ON || long <= EVEN * one.min(other))
        };
        self.beside.iter().filter(smooth).map(|pair| pair.edge).collect()
    }

    /// What stands for one wall each, where facets beside these edges do.
    fn gathered(&self, smooth: &HashSet<[u32; 2]>) -> Gathered {
        let mut groups = Groups::new(self.mesh.triangles.len());
        for pair in self.beside.iter().filter(|pair| smooth.contains(&pair.edge)) {
            groups.join(pair.triangles[0], pair.triangles[1]);
        }
        // in the order of their facets: the same body is drawn the same
        let mut number: HashMap<u32, usize> = HashMap::new();
        let mut walls: Vec<Wall> = Vec::new();
        for &t in &self.walls {
            let at = *number.entry(groups.root(t)).or_insert(walls.len());
            walls.resize_with(walls.len().max(at + 1), Wall::default);
            walls[at].facets.push(t);
        }
        let mut of_loop = |ring: &Vec<u32>| -> Vec<Run> {
            let walls: Vec<usize> = edges(ring).map(|edge| number[&groups.root(self.at_rim[&edge])]).collect();
            let n = ring.len();
            let first = (0..n).find(|&k| walls[k] != walls[(k + n - 1) % n]).unwrap_or(0);
            let mut runs: Vec<Run> = Vec::new();
            for k in (0..n).map(|k| (first + k) % n) {
                match runs.last_mut() {
                    Some(run) if run.wall == walls[k] => run.points.push(ring[(k + 1) % n]),
                    _ => runs.push(Run { wall: walls[k], points: vec![ring[k], ring[(k + 1) % n]] }),
                }
            }
            runs
        };
        let runs = self.caps.each_ref().map(|cap| cap.loops.iter().map(&mut of_loop).collect::<Vec<_>>());
        for (cap, loops) in runs.iter().enumerate() {
            for (ring, runs) in loops.iter().enumerate() {
                runs.iter().enumerate().for_each(|(k, run)| walls[run.wall].runs[cap].push((ring, k)));
            }
        }
        Gathered { walls, runs }
    }

    /// Walls that go round without a corner are parted in two, and where they bend suddenly; what stands beside walls that
    /// met on their way, and has no straight end there, is parted from the rest of its wall.
    fn parted(&self, mut smooth: HashSet<[u32; 2]>) -> HashSet<[u32; 2]> {
        for of in [Self::of_round, Self::of_uneven, Self::of_bent] {
            let gathered = self.gathered(&smooth);
            for wall in &gathered.walls {
                let ([top], [under]) = (&wall.runs[0][..], &wall.runs[1][..]) else { continue };
                let down = self.downward(wall, &smooth);
                let runs = (gathered.points(0, *top), gathered.points(1, *under));
                for edge in of(self, wall, runs, &|v| self.way_down(v, &down)) {
                    smooth.remove(&edge);
                }
            }
        }
        smooth
    }

    /// The edges at which a wall that goes round is parted.
    fn of_round(&self, _: &Wall, (one, _): (&[u32], &[u32]), way: Way<'_>) -> Vec<[u32; 2]> {
        if one.first() != one.last() {
            return Vec::new();
        }
        let ways: Vec<(u32, Vec<[u32; 2]>)> = one.iter().filter_map(|&v| Some((v, way(v)?))).collect();
        let Some((first, edges)) = ways.first() else { return Vec::new() };
        let far = |v: &u32| self.at(*v).distance(self.at(*first));
        let other = ways.iter().max_by(|a, b| far(&a.0).total_cmp(&far(&b.0)));
        edges.iter().chain(other.iter().flat_map(|(_, edges)| edges)).copied().collect()
    }

    /// The edges at which a wall begins to bend much more: a curve through both would swing over.
    fn of_uneven(&self, _: &Wall, (one, _): (&[u32], &[u32]), way: Way<'_>) -> Vec<[u32; 2]> {
        let bends = |k: usize| {
            let [a, b, c] = [k - 1, k, k + 1].map(|k| self.at(one[k]));
            self.turns.get(&one[k]).copied().unwrap_or(0.0) / ((a.distance(b) + b.distance(c)) / 2.0)
        };
        let bends: Vec<f64> = (1..one.len() - 1).map(bends).collect();
        let sudden = |k: &usize| {
            let [a, b] = [bends[*k], bends[k + 1]];
            a.max(b) > TIGHT && a.max(b) > UNEVEN * a.min(b)
        };
        // at the one that bends less, where the other's curve begins
        let at = (0..bends.len().saturating_sub(1)).filter(sudden);
        let at = at.map(|k| if bends[k] < bends[k + 1] { k } else { k + 1 });
        at.filter_map(|k| way(one[k + 1])).flatten().collect()
    }

    /// The edges that part a wall from what stands beside its ends where these are not straight.
    fn of_bent(&self, wall: &Wall, (one, other): (&[u32], &[u32]), way: Way<'_>) -> Vec<[u32; 2]> {
        if self.is_strip(wall, one, other) || self.flat(wall).is_some() {
            return Vec::new();
        }
        let ways: Vec<Vec<[u32; 2]>> = one[1..one.len() - 1].iter().filter_map(|&v| way(v)).collect();
        ways.first().into_iter().chain(ways.last()).flatten().copied().collect()
    }

    /// Where one comes from each corner of a wall by the edge between its facets that leads most straight to the underside.
    fn downward(&self, wall: &Wall, smooth: &HashSet<[u32; 2]>) -> HashMap<u32, (u32, [u32; 2])> {
        let own: HashSet<u32> = wall.facets.iter().copied().collect();
        let mut down: HashMap<u32, (f64, u32, [u32; 2])> = HashMap::new();
        for pair in self.beside.iter().filter(|pair| own.contains(&pair.triangles[0]) && smooth.contains(&pair.edge)) {
            let [a, b] = pair.edge;
            let (from, to) = if self.depths[a as usize] < self.depths[b as usize] { (a, b) } else { (b, a) };
            let deeper = self.depths[to as usize] - self.depths[from as usize];
            let steep = deeper / self.at(from).distance(self.at(to)).max(f64::MIN_POSITIVE);
            if deeper > ON && down.get(&from).is_none_or(|(best, ..)| steep > *best) {
                down.insert(from, (steep, to, pair.edge));
            }
        }
        down.into_iter().map(|(from, (_, to, edge))| (from, (to, edge))).collect()
    }

    /// The edges of a straight way from a corner of the top to one of the underside.
    fn way_down(&self, from: u32, down: &HashMap<u32, (u32, [u32; 2])>) -> Option<Vec<[u32; 2]>> {
        let deepest = self.depths.iter().copied().fold(0.0, f64::max) - ON;
        let (mut at, mut way) = (vec![from], Vec::new());
        while self.depths[*at.last()? as usize] < deepest {
            let (to, edge) = down.get(at.last()?)?;
            at.push(*to);
            way.push(*edge);
        }
        self.is_straight(at.into_iter()).then_some(way)
    }

    fn is_straight(&self, way: impl Iterator<Item = u32>) -> bool {
        let way: Vec<DVec3> = way.map(|v| self.at(v)).collect();
        let [from, .., to] = &way[..] else { return true };
        way.iter().all(|p| p.distance(foot(*p, [*from, *to])) < STRAIGHT)
    }

    /// `None` where its outlines can't be drawn.
    fn drawn(&self, about: &Drawn) -> Option<(Drawn, bool)> {
        let smooth = self.parted(self.smooth().into_iter().collect());
        let gathered = self.gathered(&smooth);
        let points = |cap: usize, at: (usize, usize)| gathered.points(cap, at);
        let ruled = |wall: &Wall| {
            let ([top], [under]) = (&wall.runs[0][..], &wall.runs[1][..]) else { return None };
            self.is_strip(wall, points(0, *top), points(1, *under)).then_some((*top, *under))
        };
        let mut chains: Vec<Chain> = Vec::new();
        let mut of_run: [HashMap<(usize, usize), Vec<u32>>; 2] = Default::default();
        let mut faces = Vec::new();
        let mut exact = true;
        for wall in &gathered.walls {
            let found = ruled(wall);
            for (cap, of_run) in of_run.iter_mut().enumerate() {
                for &at in &wall.runs[cap] {
                    let all = points(cap, at);
                    let pieces: Vec<Vec<(u32, f64)>> = match found {
                        Some((top, _)) if cap == 1 => vec![self.beneath(wall, points(0, top), all)],
                        Some(_) => vec![self.thinned(all, &self.spaced(all))],
                        None => all.windows(2).map(|edge| vec![(edge[0], 0.0), (edge[1], 1.0)]).collect(),
                    };
                    let first = chains.len() as u32;
                    of_run.insert(at, (first..first + pieces.len() as u32).collect());
                    chains.extend(pieces.into_iter().map(|points| Chain { seat: cap as u32, points }));
                }
            }
            match found {
                Some((top, under)) => {
                    let corners = [points(0, top), points(1, under)].concat();
                    faces.push(match &corners[..] {
                        [_, _, _, _] if self.is_flat(&corners) => DrawnFace::Flat(corners),
                        _ => DrawnFace::Ruled(of_run[0][&top][0], of_run[1][&under][0]),
                    });
                }
                None => match self.flat(wall) {
                    Some(outline) => faces.push(DrawnFace::Flat(outline)),
                    None => {
                        exact = false;
                        let facets = wall.facets.iter().map(|&t| self.mesh.triangles[t as usize].to_vec());
                        faces.extend(facets.map(DrawnFace::Flat));
                    }
                },
            }
        }
        for (cap, loops) in gathered.runs.iter().enumerate() {
            let loops = loops.iter().enumerate().map(|(ring, runs)| {
                (0..runs.len()).flat_map(|run| of_run[cap][&(ring, run)].iter().copied()).collect()
            });
            faces.push(DrawnFace::OnSeat { seat: cap as u32, loops: loops.collect() });
        }
        let seats = self.caps.iter().map(|cap| cap.seat.clone()).collect();
        Some((Drawn { seats, chains, faces, ..about.clone() }, exact))
    }

    /// How far along a run each of its corners lies, as a share of it.
    fn spaced(&self, run: &[u32]) -> Vec<f64> {
        let mut far = vec![0.0];
        far.extend(run.windows(2).scan(0.0, |far, edge| {
            *far += self.at(edge[0]).distance(self.at(edge[1]));
            Some(*far)
        }));
        let whole = far.last().copied().unwrap_or(0.0).max(f64::MIN_POSITIVE);
        far.into_iter().map(|at| at / whole).collect()
    }

    /// A run without the corners by which its straight edges follow their seat, where these stand beside ones at which it
    /// turns: they lie on chords of the curve, not on it.
    fn thinned(&self, run: &[u32], at: &[f64]) -> Vec<(u32, f64)> {
        let turns = |v: &u32| self.turns.get(v).is_some_and(|turn| *turn > STRAIGHT_ON);
        let turning: Vec<DVec3> = run.iter().filter(|v| turns(v)).map(|v| self.at(*v)).collect();
        let near = |v: &u32| turning.iter().any(|p| p.distance(self.at(*v)) < BESIDE);
        let ends = [run.first(), run.last()];
        let all = run.iter().copied().zip(at.iter().copied());
        all.filter(|(v, _)| ends.contains(&Some(v)) || turns(v) || !near(v)).collect()
    }

    /// A wall's run on the underside, spaced so that each of its corners lies beneath the one of the top from which an edge
    /// between the wall's facets leads to it.
    fn beneath(&self, wall: &Wall, top: &[u32], under: &[u32]) -> Vec<(u32, f64)> {
        let (shares, own) = (self.spaced(top), self.spaced(under));
        let bends = |v: &u32| self.turns.get(v).is_some_and(|turn| *turn > STRAIGHT_ON);
        if !under[1..under.len() - 1].iter().any(bends) {
            return self.thinned(under, &own);
        }
        let led = self.led(wall, top, under);
        let last = under.len() - 1;
        let mut known: Vec<(usize, f64)> = vec![(0, 0.0)];
        for k in 1..last {
            let Some(from) = led[k] else { continue };
            // it runs the other way
            let (before, share) = (known[known.len() - 1], 1.0 - shares[from]);
            if share - before.1 > CLOSE * (own[k] - own[before.0]) && 1.0 - share > CLOSE * (1.0 - own[k]) {
                known.push((k, share));
            }
        }
        known.push((last, 1.0));
        // what lies between those that are told, by its own lengths
        let mut told = vec![0.0; under.len()];
        for pair in known.windows(2) {
            let [(a, from), (b, to)] = [pair[0], pair[1]];
            (a..=b).for_each(|k| told[k] = from + (to - from) * (own[k] - own[a]) / (own[b] - own[a]));
        }
        self.thinned(under, &told)
    }

    /// Which corner of the top leads to each of the underside: of all that edges lead to, as many as can be in their order,
    /// and of these the ways that are shortest together.
    fn led(&self, wall: &Wall, top: &[u32], under: &[u32]) -> Vec<Option<usize>> {
        let mut down: HashMap<u32, HashSet<u32>> = HashMap::new();
        for &t in &wall.facets {
            let [a, b, c] = self.mesh.triangles[t as usize];
            for (from, to) in [(a, b), (b, c), (c, a), (b, a), (c, b), (a, c)] {
                if self.depths[to as usize] - self.depths[from as usize] > ON {
                    down.entry(from).or_default().insert(to);
                }
            }
        }
        let place: HashMap<u32, usize> = under.iter().enumerate().map(|(k, v)| (*v, k)).collect();
        let reached = |v: u32| {
            let (mut found, mut open) = (HashSet::new(), vec![v]);
            while let Some(v) = open.pop() {
                for to in down.get(&v).into_iter().flatten() {
                    match place.get(to) {
                        Some(k) => drop(found.insert(*k)),
                        None => open.push(*to),
                    }
                }
            }
            found
        };
        let leads: Vec<HashSet<usize>> = top.iter().map(|v| reached(*v)).collect();
        // best[i][k]: how many of the first i of the top and the last from k on of the underside, and how long
        let (n, m) = (top.len(), under.len());
        let mut best = vec![vec![(0_usize, 0.0_f64); m + 1]; n + 1];
        let better = |a: (usize, f64), b: (usize, f64)| a.0 > b.0 || (a.0 == b.0 && a.1 < b.1);
        let with = |best: &[Vec<(usize, f64)>], i: usize, k: usize| {
            let (many, long) = best[i][k + 1];
            let way = self.at(top[i]).distance(self.at(under[k]));
            leads[i].contains(&k).then_some((many + 1, long + way))
        };
        for i in 0..n {
            for k in (0..m).rev() {
                let mut found = if better(best[i][k], best[i + 1][k + 1]) { best[i][k] } else { best[i + 1][k + 1] };
                if let Some(paired) = with(&best, i, k).filter(|paired| better(*paired, found)) {
                    found = paired;
                }
                best[i + 1][k] = found;
            }
        }
        let mut led = vec![None; m];
        let (mut i, mut k) = (n, 0);
        while i > 0 && k < m {
            let found = best[i][k];
            if found == best[i - 1][k] {
                i -= 1;
            } else if found == best[i][k + 1] {
                k += 1;
            } else {
                led[k] = Some(i - 1);
                (i, k) = (i - 1, k + 1);
            }
        }
        led
    }

    /// Does a wall lie between a run on either cap and two straight lines from one to the other?
    fn is_strip(&self, wall: &Wall, one: &[u32], other: &[u32]) -> bool {
        let outline = contour::loops(self.mesh, wall.facets.iter().copied());
        let [outline] = &outline[..] else { return false };
        let n = outline.len();
        let at = |v: &u32| outline.iter().position(|w| w == v);
        let (Some(from), Some(to)) = (one.last().and_then(at), other.last().and_then(at)) else { return false };
        let (back, there) = ((to + n - from) % n, (from + n - to) % n);
        // a wall's outline runs along a cap's the other way
        let along = |run: &[u32], from: usize| run.iter().rev().enumerate().all(|(k, v)| outline[(from + k) % n] == *v);
        let side = |from: usize, steps: usize| self.is_straight((0..=steps).map(|k| outline[(from + k) % n]));
        back >= one.len()
            && there >= other.len()
            && along(one, from)
            && along(other, to)
            && side(from + one.len() - 1, back + 1 - one.len())
            && side(to + other.len() - 1, there + 1 - other.len())
    }

    /// The outline of a wall that is flat.
    fn flat(&self, wall: &Wall) -> Option<Vec<u32>> {
        let mut outline = contour::loops(self.mesh, wall.facets.iter().copied());
        let area = |t: &u32| self.mesh.area(*t as usize);
        let largest = wall.facets.iter().max_by(|a, b| area(a).total_cmp(&area(b)))?;
        let (normal, from) = (self.mesh.normal(*largest as usize), self.at(outline.first()?[0]));
        let mut corners = wall.facets.iter().flat_map(|&t| self.mesh.corners(t as usize));
        (outline.len() == 1 && corners.all(|p| (p - from).dot(normal).abs() < FLAT)).then(|| outline.remove(0))
    }

    /// A wall between two straight edges on planes.
    fn is_flat(&self, corners: &[u32]) -> bool {
        let plane = |cap: &Cap| matches!(cap.seat.surface, Surface::Plane { .. });
        let [a, b, c, d] = [0, 1, 2, 3].map(|k| self.at(corners[k]));
        let normal = (c - a).cross(d - b).normalize_or_zero();
        self.caps.iter().all(plane) && (b - a).dot(normal).abs() < FLAT && (d - a).dot(normal).abs() < FLAT
    }
}

/// Its edges as it runs.
fn edges(ring: &[u32]) -> impl Iterator<Item = (u32, u32)> + '_ {
    (0..ring.len()).map(|k| (ring[k], ring[(k + 1) % ring.len()]))
}

/// A top, floor or underside: what of the ground, moved to its level, it is.
fn cap(mesh: &Mesh, facets: &[u32], ground: &Surface) -> Option<Cap> {
    let mut loops = contour::loops(mesh, facets.iter().copied());
    let at = |v: u32| mesh.vertices[v as usize];
    let corners = || loops.iter().flatten().map(|&v| at(v));
    let count = corners().count();
    let heights = corners().map(|p| ground.height(p)).collect::<Option<Vec<f64>>>()?;
    let level = heights.iter().sum::<f64>() / count.max(1) as f64;
    let surface = offset(ground, level)?;
    if count == 0 || heights.iter().any(|h| (h - level).abs() > ON) {
        return None;
    }
    let middle = corners().sum::<DVec3>() / count as f64;
    let across = |ring: &Vec<u32>| ring.iter().map(|&v| at(v).distance(at(ring[0]))).fold(0.0, f64::max);
    loops.sort_by(|a, b| across(b).total_cmp(&across(a)));
    Some(Cap { seat: DrawnSeat { surface, middle }, loops })
}
