//! The curves along a wall's runs: which corners they go through, and where along them these lie.

use super::{Faces, ON, STRAIGHT_ON, walls::Wall};
use glam::DVec3;
use std::collections::{HashMap, HashSet};

/// Corners in line nearer than this to one at which the outline turns lie on a chord, mm.
const BESIDE: f64 = 0.1;
/// Places of a run keep at least this share of their distance from one another where they are told by the other end's.
const CLOSE: f64 = 0.3;

impl Faces<'_> {
    /// How far along a run each of its corners lies, as a share of it.
    pub(super) fn spaced(&self, run: &[u32]) -> Vec<f64> {
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
    pub(super) fn thinned(&self, run: &[u32], at: &[f64]) -> Vec<(u32, f64)> {
        let turns = |v: &u32| self.turns.get(v).is_some_and(|turn| *turn > STRAIGHT_ON);
        let turning: Vec<DVec3> = run.iter().filter(|v| turns(v)).map(|v| self.at(*v)).collect();
        let near = |v: &u32| turning.iter().any(|p| p.distance(self.at(*v)) < BESIDE);
        let ends = [run.first(), run.last()];
        let all = run.iter().copied().zip(at.iter().copied());
        all.filter(|(v, _)| ends.contains(&Some(v)) || turns(v) || !near(v)).collect()
    }

    /// A wall's run on the underside, spaced so that each of its corners lies beneath the one of the top from which an edge
    /// between the wall's facets leads to it.
    pub(super) fn beneath(&self, wall: &Wall, top: &[u32], under: &[u32]) -> Vec<(u32, f64)> {
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
}
