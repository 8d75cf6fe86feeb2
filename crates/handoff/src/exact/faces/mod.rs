//! A lettering body's facets gathered to the faces that they stand for: a top and an underside on the seat's own kind of
//! surface, and walls of straight lines between their outlines, from corner to corner.

mod runs;
mod walls;

use super::offset::offset;
use glam::DVec3;
use relief::{CharacterBody, Role};
use solid::{
    Mesh, Surface, contour,
    topology::{Neighbours, neighbours},
};
use std::collections::{HashMap, HashSet};
use step::{Chain, Drawn, DrawnFace, DrawnSeat};
use walls::Wall;

/// Edges that turn by less are in line, radians: walls over a straight edge turn with a round seat, by a third of it.
const STRAIGHT_ON: f64 = 0.005;
/// Corners of a flat lie in its plane within this, mm.
const FLAT: f64 = 1e-7;
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
