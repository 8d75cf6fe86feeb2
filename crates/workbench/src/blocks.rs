//! Which blocks to cut out of the part, so that each mark lies well inside one and no two overlap.

use glam::DVec3;

#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Block {
    pub low: DVec3,
    pub high: DVec3,
}

/// Room round a mark: so much of its size, and at least so many mm. A drag within it needs no new
/// piece.
const ROOM_SHARE: f64 = 0.15;
const ROOM_MM: f64 = 2.0;
/// A kept block serves as long as the mark stays this far inside, mm.
const GUARD_MM: f64 = 0.5;

impl Block {
    #[must_use]
    pub fn around((low, high): (DVec3, DVec3)) -> Self {
        Self { low, high }
    }

    fn grown(&self, by: DVec3) -> Self {
        Self { low: self.low - by, high: self.high + by }
    }

    fn holds(&self, other: &Self) -> bool {
        self.low.cmple(other.low).all() && self.high.cmpge(other.high).all()
    }

    fn meets(&self, other: &Self) -> bool {
        self.low.cmple(other.high).all() && self.high.cmpge(other.low).all()
    }

    fn with(&self, other: &Self) -> Self {
        Self { low: self.low.min(other.low), high: self.high.max(other.high) }
    }
}

/// Blocks for the marks whose own boxes are `boxes`, and the marks in each. Blocks in `kept` are
/// used again where they serve.
#[must_use]
pub fn arrange(boxes: &[Block], kept: &[Block]) -> Vec<(Block, Vec<usize>)> {
    let mut groups: Vec<(Block, Vec<usize>)> = boxes
        .iter()
        .enumerate()
        .map(|(at, own)| {
            let guarded = own.grown(DVec3::splat(GUARD_MM));
            let room = DVec3::splat(ROOM_MM).max((own.high - own.low) * ROOM_SHARE);
            (kept.iter().find(|k| k.holds(&guarded)).copied().unwrap_or_else(|| own.grown(room)), vec![at])
        })
        .collect();
    // join groups until no two blocks meet
    'again: loop {
        for a in 0..groups.len() {
            for b in a + 1..groups.len() {
                if groups[a].0.meets(&groups[b].0) {
                    let (other, marks) = groups.remove(b);
                    let joined = groups[a].0.with(&other);
                    groups[a].0 = kept.iter().find(|k| k.holds(&joined)).copied().unwrap_or(joined);
                    groups[a].1.extend(marks);
                    groups[a].1.sort_unstable();
                    continue 'again;
                }
            }
        }
        return groups;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn marks_that_lie_together_share_a_block_and_kept_blocks_are_used_again() {
        let unit = |x: f64| Block { low: DVec3::new(x, 0.0, 0.0), high: DVec3::new(x + 1.0, 1.0, 1.0) };
        let groups = arrange(&[unit(0.0), unit(100.0), unit(3.0)], &[]);
        assert_eq!(groups.iter().map(|(_, m)| m.clone()).collect::<Vec<_>>(), vec![vec![0, 2], vec![1]]);
        let kept: Vec<Block> = groups.iter().map(|(b, _)| *b).collect();
        let moved = arrange(&[unit(0.5), unit(100.0), unit(2.5)], &kept);
        assert!(moved.iter().all(|(b, _)| kept.contains(b)));
    }
}
