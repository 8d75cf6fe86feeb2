//! Letters that lie over a crease of their seat, and keeping them off it.

use super::{PlacedCharacter, PlacedMark, place};
use crate::{ReliefError, body::built_as, off_crease, seat::Seat};
use flat::{
    Region,
    overlay::{common, joined},
};
use glam::DVec2;
use trade::{LetterChange, Mark};

/// Shifts are told to this, mm.
const STEP: f64 = 0.01;
/// A crease that would shift a letter by more than so many of its own sizes runs along the text.
const MOST: f64 = 2.0;
/// A mark that is tied by its middle moves back by half of what it grows: so it comes near in as many steps.
const ROUNDS: usize = 400;

/// The places among a mark's characters of those whose relief crosses a crease of its seat.
#[must_use]
pub fn over_creases(mark: &Mark, placed: &PlacedMark, seat: &Seat) -> Vec<usize> {
    let over = |c: &PlacedCharacter| off_crease::is_over(seat, &built_as(&mark.relief_of(c.at, &c.text)), &c.region);
    placed.characters.iter().enumerate().filter(|(_, c)| over(c)).map(|(k, _)| k).collect()
}

/// The mark with letters shifted along their line, and those beyond with them, so that none crosses a crease of the seat.
///
/// # Errors
/// The mark can't be placed; [`ReliefError::OverCrease`] where no shift along the line keeps a letter off.
pub fn off_creases(mark: &Mark, seat: &Seat) -> Result<Mark, ReliefError> {
    let mut shifted = mark.clone();
    // the letters of a figure have no changes of their own
    let rounds = if mark.figure.is_some() { 0 } else { ROUNDS };
    let mut forward: Vec<Option<bool>> = Vec::new();
    let mut placed = place(&shifted, seat)?;
    for _ in 0..rounds {
        let Some(k) = over_creases(&shifted, &placed, seat).first().copied() else { return Ok(shifted) };
        forward.resize(placed.characters.len(), None);
        let c = &placed.characters[k];
        let refused = || ReliefError::OverCrease { character: c.text.clone() };
        let bounds = c.region.bounds().ok_or_else(refused)?;
        // farther than the letter is shifted
        let about = 1.5 * MOST * bounds.0.distance(bounds.1);
        let relief = built_as(&shifted.relief_of(c.at, &c.text));
        let barrier = off_crease::band(seat, &relief, bounds, about).ok_or_else(refused)?;
        let [back, on] = ways_off(c, &barrier).ok_or_else(refused)?;
        // once it was put on one side it stays there
        let on_side = *forward[k].get_or_insert(on <= back);
        let by = if on_side { on } else { -back };
        let steps = (by.abs() / STEP).ceil() * STEP * by.signum();
        if by.abs() > MOST * bounds.0.distance(bounds.1) {
            return Err(refused());
        }
        let beyond = |other: usize| if on_side { other >= k } else { other <= k };
        let moved = placed.characters.iter().enumerate();
        for (_, other) in moved.filter(|(at, other)| beyond(*at) && other.line == c.line) {
            shift(&mut shifted, other, steps);
        }
        let now = place(&shifted, seat)?;
        // a letter that stands alone stays where its mark is tied
        if now.characters[k].middle.distance(c.middle) < STEP / 4.0 {
            return Err(refused());
        }
        placed = now;
    }
    let letter = over_creases(&shifted, &placed, seat).first().map(|&k| placed.characters[k].text.clone());
    letter.map_or(Ok(shifted), |character| Err(ReliefError::OverCrease { character }))
}

/// How far back and on along its line a letter must go to lie off the barrier that it meets, mm.
fn ways_off(c: &PlacedCharacter, barrier: &Region) -> Option<[f64; 2]> {
    let level = |p: DVec2| DVec2::new(c.along.x, -c.along.y).rotate(p - c.middle);
    let (letter, barrier) = (c.region.mapped(level), barrier.mapped(level));
    let (low, high) = letter.bounds()?;
    // what of the barrier lies at the letter's height
    let (left, right) = (low.x - 1e3, high.x + 1e3);
    let row = joined(&[[(left, low.y), (right, low.y), (right, high.y), (left, high.y)].map(DVec2::from).to_vec()]);
    let beside = common(&barrier, &row);
    let ends = beside.islands.iter().filter_map(|island| {
        let xs = island.outer.iter().map(|p| p.x);
        let (from, to) = xs.fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), x| (a.min(x), b.max(x)));
        (from < high.x && to > low.x).then_some((from, to))
    });
    let (from, to) = ends.reduce(|a, b| (a.0.min(b.0), a.1.max(b.1)))?;
    Some([high.x - from, to - low.x])
}

fn shift(mark: &mut Mark, c: &PlacedCharacter, by: f64) {
    let to_step = |v: f64| (v / STEP).round() * STEP;
    match mark.letters.iter_mut().find(|l| l.at == c.at && l.text == c.text) {
        Some(change) => change.along = to_step(change.along + by),
        None => mark.letters.push(LetterChange { along: to_step(by), ..LetterChange::plain(c.at, &c.text) }),
    }
}
