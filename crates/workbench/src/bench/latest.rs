//! The pieces of the part as they were joined last. Where one mark has changed since and lies apart from the others,
//! these are joined once and kept: while it is dragged, it alone is joined.

use crate::{blocks::Block, outcome::Members, plain, steps::Steps};
use relief::{BuiltMark, MarkedSolid, ReliefError, marked::Stock};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

/// Pieces that are remembered; the oldest goes first. A job has a few places that are marked.
const MOST: usize = 64;

#[derive(Default)]
pub struct Latest(Mutex<Vec<Piece>>);

struct Piece {
    block: Block,
    /// Its marks as it was joined last.
    marks: Vec<Arc<BuiltMark>>,
    /// The piece with all its marks but one, and those marks.
    all_but_one: Option<(Vec<Arc<BuiltMark>>, Arc<Stock>)>,
}

impl Latest {
    fn pieces(&self) -> MutexGuard<'_, Vec<Piece>> {
        // entries are whole or absent, so what a panicking thread left is fit to use
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Blocks whose pieces were cut out.
    pub fn blocks(&self) -> Vec<Block> {
        self.pieces().iter().map(|p| p.block).collect()
    }

    /// A block is cut out.
    pub fn cut(&self, block: Block) {
        let mut pieces = self.pieces();
        let piece = match pieces.iter().position(|p| p.block == block) {
            Some(at) => pieces.remove(at),
            None => Piece { block, marks: Vec::new(), all_but_one: None },
        };
        pieces.push(piece);
        if pieces.len() > MOST {
            pieces.remove(0);
        }
    }

    fn change<T>(&self, block: Block, change: impl FnOnce(&mut Piece) -> T) -> Option<T> {
        self.pieces().iter_mut().find(|p| p.block == block).map(change)
    }

    /// A piece of the part with its marks.
    ///
    /// # Errors
    /// The boolean failed.
    pub fn marked_piece(
        &self,
        steps: &impl Steps,
        stock: &Stock,
        block: Block,
        members: &Members,
    ) -> Result<MarkedSolid, ReliefError> {
        let piece = steps.piece(stock, block);
        let now: Vec<Arc<BuiltMark>> = members.iter().map(|(_, b)| b.clone()).collect();
        let before = self.change(block, |p| std::mem::replace(&mut p.marks, now.clone())).unwrap_or_default();
        let Some(own) = the_one_changed(&before, &now) else {
            return plain::marked_piece(steps, stock, block, members);
        };
        let marks: Vec<(u32, &BuiltMark)> = members.iter().map(|(at, b)| (*at, &**b)).collect();
        let mine = marks[own];
        let mut others = marks.clone();
        others.remove(own);
        if others.is_empty() || others.iter().any(|(_, other)| overlap(mine.1, other)) {
            return plain::marked_piece(steps, stock, block, members);
        }
        let mut rest = now;
        rest.remove(own);
        // bodies are known by their numbers: a mark that was built once more is another
        let known = self.change(block, |p| p.all_but_one.clone()).flatten().filter(|(of, _)| same(of, &rest));
        let base = match known {
            Some((_, base)) => base,
            None => {
                let base = Arc::new(piece.with(&others)?);
                self.change(block, |p| p.all_but_one = Some((rest, base.clone())));
                base
            }
        };
        Ok(base.with(&[mine])?.told(&marks))
    }
}

fn same(a: &[Arc<BuiltMark>], b: &[Arc<BuiltMark>]) -> bool {
    a.len() == b.len() && a.iter().zip(b).all(|(a, b)| Arc::ptr_eq(a, b))
}

/// The place of the only mark that has changed.
fn the_one_changed(before: &[Arc<BuiltMark>], now: &[Arc<BuiltMark>]) -> Option<usize> {
    if before.len() != now.len() {
        return None;
    }
    let mut changed = (0..now.len()).filter(|&k| !Arc::ptr_eq(&before[k], &now[k]));
    changed.next().filter(|_| changed.next().is_none())
}

/// Do the boxes of two marks overlap, or all but?
fn overlap(a: &BuiltMark, b: &BuiltMark) -> bool {
    /// mm.
    const HAIR: f64 = 0.01;
    let ((al, ah), (bl, bh)) = (a.bounds(), b.bounds());
    ((al - bh).max(bl - ah)).max_element() < HAIR
}
