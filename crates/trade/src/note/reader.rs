//! A note gone through from left to right: what stands at a place, which unit its figures have, and what is left.

use super::{
    Phrase, Read,
    measure::{Measure, Unit, measure},
    tokens::{Kind, Token, tokens},
    wish::Wish,
    words::{KEYS, Key, NOISE, NOT, SENSES},
};
use crate::PadForm;

/// Before its unit is known.
pub(super) enum Found {
    Of(Key, Measure),
    Pad(PadForm, Option<Measure>),
    Wish(Wish),
}

pub(super) struct Reader {
    pub(super) all: Vec<Token>,
}

/// What a phrase that begins at a place asks for, and where it ends.
pub(super) type Step = Option<(Vec<Found>, usize)>;

pub(super) fn read(note: &str, inch: Option<bool>) -> Read {
    let reader = Reader { all: tokens(note) };
    let mut found: Vec<(usize, usize, Vec<Found>)> = Vec::new();
    let mut at = 0;
    while at < reader.all.len() {
        if let Some(to) = reader.refused(at) {
            at = to;
        } else if let Some((what, to)) = reader.phrase(at) {
            found.push((at, to, what));
            at = to;
        } else {
            at += 1;
        }
    }
    let inch = reader.inch(&found, inch);
    let left = reader.left(&found);
    let phrases = found.into_iter().map(|(from, to, what)| Phrase {
        from: reader.all[from].from,
        to: reader.all[to - 1].to,
        wishes: what.into_iter().map(|f| wish(f, inch)).collect(),
    });
    Read { phrases: phrases.collect(), left, inch }
}

fn wish(found: Found, inch: bool) -> Wish {
    match found {
        Found::Wish(wish) => wish,
        Found::Pad(form, measure) => Wish::Pad { form, asked: measure.map(|m| m.asked(inch)) },
        Found::Of(key, measure) => {
            let asked = measure.asked(inch);
            match key {
                Key::CapHeight => Wish::CapHeight { asked },
                Key::Height => Wish::Height { asked },
                Key::Draft => Wish::Draft { asked },
                Key::Stroke => Wish::Stroke { asked },
                Key::Spacing => Wish::Spacing { asked },
                Key::EdgeRadius => Wish::EdgeRadius { asked },
                Key::Bevel => Wish::Bevel { asked },
                Key::Root => Wish::Root { asked },
            }
        }
    }
}

impl Reader {
    pub(super) fn word(&self, at: usize) -> Option<&str> {
        self.all.get(at).and_then(Token::word)
    }

    pub(super) fn sign(&self, at: usize, c: char) -> bool {
        self.all.get(at).is_some_and(|t| t.is(c))
    }

    /// Where these words end, if they stand here.
    pub(super) fn words(&self, at: usize, words: &str) -> Option<usize> {
        let mut to = at;
        for word in words.split(' ') {
            let same = match self.all.get(to)?.kind {
                Kind::Word(ref own) => own == word,
                Kind::Figure(figure) => word.parse::<f64>().is_ok_and(|v| v == figure.value),
                Kind::Sign(sign) => word.len() == sign.len_utf8() && word.starts_with(sign),
                _ => false,
            };
            if !same {
                return None;
            }
            to += 1;
        }
        Some(to)
    }

    pub(super) fn one_of<'a, T>(&self, at: usize, known: &'a [(&'a str, T)]) -> Option<(&'a T, usize)> {
        let found = known.iter().filter_map(|(words, what)| Some((what, self.words(at, words)?)));
        found.max_by_key(|(_, to)| *to)
    }

    /// Past words that join a name to its figure.
    pub(super) fn joined(&self, mut at: usize) -> usize {
        loop {
            let joins = matches!(
                self.word(at),
                Some("OF" | "TO" | "BE" | "IS" | "SHALL" | "MUST" | "A" | "WITH" | "BY" | "AT")
            );
            if joins || self.sign(at, ':') || self.sign(at, '=') {
                at += 1;
            } else {
                return at;
            }
        }
    }

    pub(super) fn length(&self, at: usize) -> Option<(Measure, usize)> {
        measure(&self.all, at).filter(|(m, _)| m.unit != Some(Unit::Degrees))
    }

    pub(super) fn angle(&self, at: usize) -> Option<(Measure, usize)> {
        measure(&self.all, at).filter(|(m, _)| m.unit == Some(Unit::Degrees))
    }

    /// Is this name that of a figure which stands here, rather than of the next one?
    pub(super) fn named_after(&self, at: usize) -> bool {
        // an angle is no length: what names one begins the next phrase
        self.one_of(at, KEYS).is_some_and(|(key, _)| *key != Key::Draft)
            || self.one_of(at, SENSES).is_some()
            || self.is_lettering(at)
    }

    pub(super) fn is_lettering(&self, at: usize) -> bool {
        matches!(
            self.word(at),
            Some("LETTERS" | "LETTERING" | "CHARACTERS" | "TEXT" | "CAPS" | "CAPITALS" | "NUMERALS" | "CHARS")
        )
    }

    /// The end of what is negated or left to choice, up to the next mark of punctuation.
    fn refused(&self, at: usize) -> Option<usize> {
        let not = self.word(at).is_some_and(|w| NOT.contains(&w));
        let choice = || {
            let (_, to) = self.one_of(at, SENSES)?;
            (self.word(to) == Some("OR")).then_some(())
        };
        if !not && choice().is_none() {
            return None;
        }
        let ends = |t: &Token| t.kind == Kind::Break || ",;.".chars().any(|c| t.is(c));
        Some(self.all[at..].iter().position(ends).map_or(self.all.len(), |k| at + k))
    }

    /// `5.` or `5)` at the beginning of a line.
    pub(super) fn numbering(&self, at: usize) -> bool {
        let begins = at == 0 || self.all[at - 1].kind == Kind::Break || self.word(at - 1) == Some("NOTE");
        begins
            && self.all[at].figure().is_some()
            && (self.sign(at + 1, '.') || self.sign(at + 1, ')') || self.sign(at + 1, ':'))
    }

    /// Are figures without a unit inches? What the note says of itself; else the units of its other figures; else what was given;
    /// else how its figures are written: fractions, no nought before the point, three digits after it, capitals under half a mm.
    fn inch(&self, found: &[(usize, usize, Vec<Found>)], given: Option<bool>) -> bool {
        let all = || found.iter().flat_map(|(.., what)| what);
        if let Some(told) =
            all().find_map(|f| if let Found::Wish(Wish::InUnit { inch }) = f { Some(*inch) } else { None })
        {
            return told;
        }
        let measures: Vec<(Option<Key>, Measure)> = all()
            .filter_map(|f| match f {
                Found::Of(Key::Draft, _) | Found::Wish(_) => None,
                Found::Of(key, m) => Some((Some(*key), *m)),
                Found::Pad(_, m) => m.map(|m| (None, m)),
            })
            .collect();
        let units: Vec<Unit> = measures.iter().filter_map(|(_, m)| m.unit).collect();
        if let Some(first) = units.first() {
            return *first != Unit::Mm;
        }
        given.unwrap_or_else(|| {
            measures.iter().any(|(key, m)| {
                let f = m.figure;
                let small = *key == Some(Key::CapHeight) && f.value < 0.5;
                f.fraction || f.bare_point || (f.decimals >= 3 && f.value < 1.0) || small
            })
        })
    }

    /// What no phrase has and is no noise, piece by piece.
    fn left(&self, found: &[(usize, usize, Vec<Found>)]) -> Vec<(usize, usize)> {
        let taken = |k: usize| found.iter().any(|(from, to, _)| (*from..*to).contains(&k));
        let quiet = |k: usize| match &self.all[k].kind {
            Kind::Word(word) => NOISE.split_whitespace().any(|n| n == word),
            Kind::Sign(_) | Kind::Break => true,
            Kind::Figure(_) => self.numbering(k),
            Kind::Quoted(_) => false,
        };
        let mut left: Vec<(usize, usize)> = Vec::new();
        let mut open: Option<(usize, usize)> = None;
        for k in 0..=self.all.len() {
            let ends = k == self.all.len()
                || taken(k)
                || self.all[k].kind == Kind::Break
                || self.sign(k, ',')
                || self.sign(k, ';');
            if ends {
                left.extend(open.take());
            } else if !quiet(k) {
                open = Some((open.map_or(self.all[k].from, |o| o.0), self.all[k].to));
            }
        }
        left
    }
}
