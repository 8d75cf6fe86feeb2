//! What booleans cut off a surface: flats left beside it whose corners lie on chords.

use super::ground::{Ground, Slack};
use super::grow::FastMap;
use super::grown::Grown;
use crate::surface::Surface;

/// What a surface adopts is at most so many of its facets, or this share of it.
pub(super) const FEW: f64 = 4.0;
const SMALL: f64 = 0.02;

impl Ground<'_> {
    /// Adds to each surface what lies beside it and was cut there, so that corners lie on chords: leftover flats that
    /// hang together, few for the surface's own, and smaller surfaces fitted to such.
    pub(super) fn adopt(&self, taken: &mut [bool], found: &mut Vec<Grown>) {
        let flats = self.flats();
        let mut beside: Vec<Vec<u32>> = flats.iter().map(|f| f.soft.clone()).collect();
        for &[a, b] in &self.all.blunt {
            beside[a as usize].push(b);
            beside[b as usize].push(a);
        }
        // the surface of each flat that is taken by one
        let mut of: FastMap<usize> = FastMap::default();
        for (at, grown) in found.iter().enumerate() {
            of.extend(grown.members.iter().map(|&m| (m, at)));
        }
        let slack: Vec<Slack> =
            found.iter().map(|g| Slack { cut: true, ..self.slack(&g.members, &g.surface) }).collect();
        let little = |grown: &Grown, area: f64| {
            let each = grown.area / grown.members.len() as f64;
            area < (FEW * each).max(grown.area * SMALL)
        };
        let near = |of: &FastMap<usize>, piece: &[u32]| {
            let all = piece.iter().flat_map(|&m| &beside[m as usize]).filter_map(|f| of.get(f).copied());
            let mut near: Vec<usize> = all.collect();
            near.sort_unstable();
            near.dedup();
            near
        };
        let lies = |found: &[Grown], m: u32, at: usize| {
            self.is_on(&flats[m as usize], &found[at].surface, self.tolerance, slack[at])
        };
        for mut piece in Self::left(taken, &beside) {
            let area = self.area(&piece);
            // what was adopted lets its own neighbours be
            loop {
                let before = piece.len();
                piece.retain(|&m| {
                    let at = near(&of, &[m]).into_iter().find(|&at| little(&found[at], area) && lies(found, m, at));
                    if let Some(at) = at {
                        taken[m as usize] = true;
                        of.insert(m, at);
                        found[at].members.push(m);
                    }
                    at.is_none()
                });
                if piece.len() == before || piece.is_empty() {
                    break;
                }
            }
        }
        let like = |a: &Surface, b: &Surface| std::mem::discriminant(a) == std::mem::discriminant(b);
        let mut order: Vec<usize> = (0..found.len()).collect();
        order.sort_by(|&a, &b| found[a].area.total_cmp(&found[b].area));
        for own in order {
            let takes = |at: &usize| {
                *at != own
                    && (little(&found[*at], found[own].area) || like(&found[*at].surface, &found[own].surface))
                    && found[own].members.iter().all(|&m| lies(found, m, *at))
            };
            let Some(at) = near(&of, &found[own].members).into_iter().find(takes) else { continue };
            let members = std::mem::take(&mut found[own].members);
            of.extend(members.iter().map(|&m| (m, at)));
            found[at].members.extend(members);
            found[at].area += std::mem::take(&mut found[own].area);
        }
        found.retain(|grown| !grown.members.is_empty());
    }

    /// Flats that nothing has taken, those together that border on one another in no sharp crease.
    fn left(taken: &[bool], beside: &[Vec<u32>]) -> Vec<Vec<u32>> {
        let mut seen = taken.to_vec();
        let mut pieces = Vec::new();
        for first in 0..taken.len() as u32 {
            if seen[first as usize] {
                continue;
            }
            seen[first as usize] = true;
            let mut piece = vec![first];
            let mut at = 0;
            while at < piece.len() {
                for &next in &beside[piece[at] as usize] {
                    if !std::mem::replace(&mut seen[next as usize], true) {
                        piece.push(next);
                    }
                }
                at += 1;
            }
            pieces.push(piece);
        }
        pieces
    }
}
