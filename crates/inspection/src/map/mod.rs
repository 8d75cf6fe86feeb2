//! What a check finds, place by place over the marked solid: the same figures by the same ways, not the worst alone.

mod depth;
mod draft;
mod near;
mod wall;

use crate::{checks, finding::LimitShown, needs::Need, site::Site};
use glam::DVec3;
use trade::{
    Check,
    limits::{Limit, Side},
};

/// A piece of a facet.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Piece {
    /// mm, counter-clockwise from outside.
    pub corners: [DVec3; 3],
    /// At the corners, in the map's unit.
    pub values: [f64; 3],
    /// What is asked of them, in the map's unit.
    pub limit: f64,
    /// It fails whatever its values are.
    pub fails: bool,
    /// Its letter's place in the mark, or that of its pad; `None` on the part beside the mark.
    pub character: Option<u32>,
}

impl Piece {
    /// The one of its values that is farthest beyond its limit, or nearest to it.
    #[must_use]
    pub fn worst(&self, side: Side) -> f64 {
        let worse = |a: f64, b: f64| match side {
            Side::AtLeast => a.min(b),
            Side::AtMost => {
                if a.abs() > b.abs() {
                    a
                } else {
                    b
                }
            }
        };
        self.values.into_iter().reduce(worse).unwrap_or(f64::NAN)
    }

    /// mm².
    #[must_use]
    pub fn area(&self) -> f64 {
        let [a, b, c] = self.corners;
        (b - a).cross(c - a).length() / 2.0
    }
}

/// Figures of one mark over the solid.
#[derive(Clone, Debug)]
pub struct Map {
    pub check: Check,
    pub unit: &'static str,
    /// Of what most of the mark's letters are. Values of a limit that is a most may be negative: their amount counts.
    pub limit: LimitShown,
    /// How far a value may be off, in the unit: it breaks a limit by no less.
    pub error: f64,
    pub pieces: Vec<Piece>,
}

impl Map {
    fn new(check: Check, (unit, error): (&'static str, f64), limit: Limit, pieces: Vec<Piece>) -> Self {
        Self { check, unit, limit: limit.into(), error, pieces }
    }

    /// Does some place of a piece fail?
    #[must_use]
    pub fn is_beyond(&self, piece: &Piece) -> bool {
        let worst = piece.worst(self.limit.side);
        piece.fails
            || match self.limit.side {
                Side::AtLeast => worst < piece.limit - self.error,
                Side::AtMost => worst.abs() > piece.limit + self.error,
            }
    }

    /// The worst value on the mark itself, and the piece that it is on.
    #[must_use]
    pub fn worst(&self) -> Option<(f64, &Piece)> {
        let side = self.limit.side;
        let badness = |value: f64| if side == Side::AtLeast { -value } else { value.abs() };
        let own = self.pieces.iter().filter(|p| p.character.is_some()).map(|p| (p.worst(side), p));
        own.max_by(|a, b| badness(a.0).total_cmp(&badness(b.0)))
    }

    /// Area of the mark on which the limit is not kept, and all of it that has figures, mm².
    #[must_use]
    pub fn beyond(&self) -> [f64; 2] {
        let own = || self.pieces.iter().filter(|p| p.character.is_some());
        let beyond = own().filter(|p| self.is_beyond(p));
        // the sum of nothing is −0
        [beyond.map(Piece::area).sum::<f64>() + 0.0, own().map(Piece::area).sum::<f64>() + 0.0]
    }
}

type Method = fn(&Site<'_>) -> Result<Map, String>;

/// Checks whose figures stand in a map, and how it is made.
const MAPS: &[(Check, &[Need], Method)] = &[
    (Check::Draft, checks::draft::NEEDS, draft::map),
    (Check::UniformDepth, checks::uniform_depth::NEEDS, depth::map),
    (Check::Wall, checks::wall::NEEDS, wall::map),
    (Check::Clearance, checks::clearance::NEEDS, near::clearance),
    (Check::Parting, checks::parting::NEEDS, near::parting),
];

/// Those checks.
pub fn mapped() -> impl Iterator<Item = Check> {
    MAPS.iter().map(|(check, ..)| *check)
}

/// The map of a check on a mark.
///
/// # Errors
/// There is nothing to ask, or no way to tell: why, in a sentence.
pub fn of(site: &Site<'_>, check: Check) -> Result<Map, String> {
    let Some((_, needs, made)) = MAPS.iter().find(|(mapped, ..)| *mapped == check) else {
        return Err("There is no map of this check: it has one figure for each letter.".into());
    };
    match needs.iter().find_map(|need| need.lacking(site)) {
        Some(why) => Err(why.into()),
        None => made(site).and_then(|map| if map.pieces.is_empty() { Err(NOTHING.into()) } else { Ok(map) }),
    }
}

const NOTHING: &str = "Nothing of the mark is left on the finished solid to measure.";
