//! Which facets of a body stand for one wall.
//!
//! An outline is a chain of straight edges no farther off the true outline than [`flat::FLATTENED_TO`]. Where two of them
//! meet at so small an angle that they may stand for one curve, they are drawn as one, through all of their corners. With h
//! the longer edge and θ the angle between them, a curve lies about h θ / 8 off its chords (its sagitta).

use super::{Faces, ON, STRAIGHT_ON, edges};
use glam::DVec3;
use solid::{
    segment::foot,
    topology::{Groups, Neighbours},
};
use std::collections::{HashMap, HashSet};

/// Two edges stand for a curve where its sagitta is no more than this, mm: twice what outlines are flattened to, since the
/// edges of one are not all as long.
const SAGITTA: f64 = 2.0 * flat::FLATTENED_TO;
/// And where they turn by no more than this, radians: the chords of an arc of 0.02 mm do.
const TURN: f64 = 0.9;
/// Chords of one curve are no longer than this many times the next: a straight line that runs into an arc is a wall of its own.
const EVEN: f64 = 4.0;
/// Where an outline bends by more than this, in radians a mm, and so many times as much as at the next corner, another curve
/// begins.
const TIGHT: f64 = 4.0;
const UNEVEN: f64 = 2.5;
/// Where walls met on the way from one end to the other, their line bends by no more than this, mm.
const STRAIGHT: f64 = 0.001;

/// A run of an outline that belongs to one wall, by its place among them.
pub(super) struct Run {
    pub(super) wall: usize,
    pub(super) points: Vec<u32>,
}

/// A wall by its facets and its runs on both caps, by their places among all of a cap's.
#[derive(Default)]
pub(super) struct Wall {
    pub(super) facets: Vec<u32>,
    pub(super) runs: [Vec<(usize, usize)>; 2],
}

/// The edges of a straight way from a corner of the top to the underside.
type Way<'a> = &'a dyn Fn(u32) -> Option<Vec<[u32; 2]>>;

pub(super) struct Gathered {
    pub(super) walls: Vec<Wall>,
    /// The runs of each loop of each cap.
    pub(super) runs: [Vec<Vec<Run>>; 2],
}

impl Gathered {
    pub(super) fn points(&self, cap: usize, (ring, run): (usize, usize)) -> &[u32] {
        &self.runs[cap][ring][run].points
    }
}

impl Faces<'_> {
    /// The edges between facets of walls that stand for one wall.
    pub(super) fn smooth(&self) -> Vec<[u32; 2]> {
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
    pub(super) fn gathered(&self, smooth: &HashSet<[u32; 2]>) -> Gathered {
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
    pub(super) fn parted(&self, mut smooth: HashSet<[u32; 2]>) -> HashSet<[u32; 2]> {
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

    pub(super) fn is_straight(&self, way: impl Iterator<Item = u32>) -> bool {
        let way: Vec<DVec3> = way.map(|v| self.at(v)).collect();
        let [from, .., to] = &way[..] else { return true };
        way.iter().all(|p| p.distance(foot(*p, [*from, *to])) < STRAIGHT)
    }
}
