//! Lengths and angles of a note, with their units, ranges and tolerances.

use super::{
    tokens::{Figure, Kind, Token},
    wish::{Asked, OPEN},
};
use crate::length::MM_PER_INCH;

/// Without a tolerance a figure is met to half of its last digit, but not coarser than this: mm, degrees. Common practice.
const COARSEST_MM: f64 = 0.05;
const COARSEST_DEGREES: f64 = 0.25;

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Unit {
    Mm,
    Inch,
    /// Thousandths of an inch.
    Thou,
    Degrees,
}

/// A figure with what stands about it, in the unit it is written in.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Measure {
    pub figure: Figure,
    least: f64,
    most: f64,
    value: f64,
    /// It was said how far it may be off.
    told: bool,
    pub unit: Option<Unit>,
}

impl Measure {
    /// With a least (true) or a most.
    #[must_use]
    pub fn bounded(self, least: bool) -> Self {
        if least { Self { most: OPEN, told: true, ..self } } else { Self { least: 0.0, told: true, ..self } }
    }

    #[must_use]
    pub fn in_degrees(self) -> Self {
        Self { unit: Some(Unit::Degrees), ..self }
    }

    /// In mm, or degrees; `inch` is the note's unit.
    pub fn asked(&self, inch: bool) -> Asked {
        let scale = match self.unit {
            Some(Unit::Mm) => 1.0,
            Some(Unit::Inch) => MM_PER_INCH,
            Some(Unit::Thou) => MM_PER_INCH / 1000.0,
            Some(Unit::Degrees) => 1.0,
            None if inch => MM_PER_INCH,
            None => 1.0,
        };
        let coarsest = if self.unit == Some(Unit::Degrees) { COARSEST_DEGREES } else { COARSEST_MM };
        let own = scale * 0.5 * 10_f64.powi(-(self.figure.decimals as i32));
        let off = if self.told {
            0.0
        } else if self.figure.fraction {
            COARSEST_MM
        } else {
            own.min(coarsest)
        };
        // a ten-thousandth of a millimetre is what nobody writes
        let round = |v: f64| (v * 1e4).round() / 1e4;
        let most = if self.most >= OPEN { OPEN } else { round(self.most * scale + off) };
        Asked { value: round(self.value * scale), least: round(self.least * scale - off), most, told: self.told }
    }
}

/// Does the word say that a figure is no hard one?
pub(super) fn is_loose(word: &str) -> bool {
    LOOSE.contains(&word)
}

const LOOSE: [&str; 8] = ["REF", "NOM", "NOMINAL", "APPROX", "APPROXIMATELY", "ABOUT", "TYP", "TYPICAL"];

fn unit(all: &[Token], at: usize) -> Option<(Unit, usize)> {
    let token = all.get(at)?;
    if token.is('"') {
        return Some((Unit::Inch, at + 1));
    }
    if token.is('°') {
        return Some((Unit::Degrees, at + 1));
    }
    Some(match token.word()? {
        "MM" | "MILLIMETRE" | "MILLIMETRES" | "MILLIMETER" | "MILLIMETERS" => (Unit::Mm, at + 1),
        "INCH" | "INCHES" | "INS" => (Unit::Inch, at + 1),
        "THOU" | "MIL" | "MILS" => (Unit::Thou, at + 1),
        "DEG" | "DEGS" | "DEGREE" | "DEGREES" => (Unit::Degrees, at + 1),
        // "3 in a recess" is no inch
        "IN" if ends(all.get(at + 1)) => (Unit::Inch, at + 1),
        _ => return None,
    })
}

/// Does what follows "in" end the figure?
fn ends(next: Option<&Token>) -> bool {
    match next.map(|t| &t.kind) {
        None | Some(Kind::Break) => true,
        Some(Kind::Sign(sign)) => ",.;)-±+".contains(*sign) || *sign == 'x',
        Some(Kind::Word(word)) => matches!(
            word.as_str(),
            "HIGH"
                | "HI"
                | "TALL"
                | "DEEP"
                | "RAISED"
                | "HEIGHT"
                | "HT"
                | "DEPTH"
                | "X"
                | "BY"
                | "MIN"
                | "MAX"
                | "LETTERS"
                | "CHARACTERS"
                | "TEXT"
                | "WIDE"
                | "THICK"
                | "AND"
                | "EMBOSSED"
                | "ENGRAVED"
                | "SUNKEN"
                | "PROUD"
                | "LETTERING"
                | "TO"
                | "STROKE"
                | "CAPS"
                | "CAPITALS"
        ),
        _ => false,
    }
}

/// A measure that begins here, and where it ends.
pub(super) fn measure(all: &[Token], from: usize) -> Option<(Measure, usize)> {
    let word = |k: usize| all.get(k).and_then(Token::word);
    let number = |k: usize| all.get(k).and_then(Token::figure);
    let sign = |k: usize, c: char| all.get(k).is_some_and(|t| t.is(c));
    let mut at = from;
    let mut bound = None;
    while let Some(before) =
        word(at).filter(|w| LOOSE.contains(w) || matches!(*w, "MIN" | "MAX" | "MINIMUM" | "MAXIMUM"))
    {
        bound = bound.or(limit(before));
        at += 1;
    }
    if sign(at, '~') {
        at += 1;
    }
    let figure = number(at)?;
    at += 1;
    let mut found =
        Measure { figure, least: figure.value, most: figure.value, value: figure.value, told: false, unit: None };
    let take_unit = |found: &mut Measure, at: &mut usize| {
        if let Some((unit, next)) = unit(all, *at) {
            found.unit = Some(unit);
            *at = next;
        }
    };
    take_unit(&mut found, &mut at);
    // a range
    let between = sign(at, '-') || sign(at, '/') || word(at) == Some("TO");
    if between && let Some(other) = number(at + 1).filter(|o| o.value > figure.value) {
        at += 2;
        found.most = other.value;
        found.value = (figure.value + other.value) / 2.0;
        found.told = true;
        take_unit(&mut found, &mut at);
    }
    // a tolerance on both sides, or on each
    let both = if sign(at, '±') {
        Some(at + 1)
    } else {
        (sign(at, '+') && sign(at + 1, '/') && sign(at + 2, '-')).then_some(at + 3)
    };
    if let Some(off) = both.and_then(number) {
        at = both.unwrap_or(at) + 1;
        (found.least, found.most, found.told) = (figure.value - off.value, figure.value + off.value, true);
        take_unit(&mut found, &mut at);
    } else if sign(at, '+')
        && let Some(over) = number(at + 1)
    {
        let minus = at + 2 + usize::from(sign(at + 2, '/'));
        if sign(minus, '-')
            && let Some(under) = number(minus + 1)
        {
            at = minus + 2;
            (found.least, found.most, found.told) = (figure.value - under.value, figure.value + over.value, true);
            take_unit(&mut found, &mut at);
        }
    }
    while let Some(after) = word(at).filter(|w| LOOSE.contains(w) || limit(w).is_some()) {
        bound = bound.or(limit(after));
        at += 1;
    }
    Some((bound.map_or(found, |least| found.bounded(least)), at))
}

/// Is it a least (true) or a most?
pub(super) fn limit(word: &str) -> Option<bool> {
    match word {
        "MIN" | "MINIMUM" => Some(true),
        "MAX" | "MAXIMUM" => Some(false),
        _ => None,
    }
}
