//! The phrases that are known.

use super::{
    Phrase, Read,
    measure::{Measure, Unit, measure},
    tokens::{Kind, Token, tokens},
    wish::{Content, Wish},
    words::{CONTENTS, FACES, KEYS, Key, NOISE, NOT, SENSES},
};
use crate::PadForm;

/// Before its unit is known.
enum Found {
    Of(Key, Measure),
    Pad(PadForm, Option<Measure>),
    Wish(Wish),
}

struct Reader {
    all: Vec<Token>,
}

type Step = Option<(Vec<Found>, usize)>;

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
    fn word(&self, at: usize) -> Option<&str> {
        self.all.get(at).and_then(Token::word)
    }

    fn sign(&self, at: usize, c: char) -> bool {
        self.all.get(at).is_some_and(|t| t.is(c))
    }

    /// Where these words end, if they stand here.
    fn words(&self, at: usize, words: &str) -> Option<usize> {
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

    fn one_of<'a, T>(&self, at: usize, known: &'a [(&'a str, T)]) -> Option<(&'a T, usize)> {
        let found = known.iter().filter_map(|(words, what)| Some((what, self.words(at, words)?)));
        found.max_by_key(|(_, to)| *to)
    }

    /// Past words that join a name to its figure.
    fn joined(&self, mut at: usize) -> usize {
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

    fn length(&self, at: usize) -> Option<(Measure, usize)> {
        measure(&self.all, at).filter(|(m, _)| m.unit != Some(Unit::Degrees))
    }

    fn angle(&self, at: usize) -> Option<(Measure, usize)> {
        measure(&self.all, at).filter(|(m, _)| m.unit == Some(Unit::Degrees))
    }

    /// Is this name that of a figure which stands here, rather than of the next one?
    fn named_after(&self, at: usize) -> bool {
        // an angle is no length: what names one begins the next phrase
        self.one_of(at, KEYS).is_some_and(|(key, _)| *key != Key::Draft)
            || self.one_of(at, SENSES).is_some()
            || self.is_lettering(at)
    }

    fn is_lettering(&self, at: usize) -> bool {
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

    fn phrase(&self, at: usize) -> Step {
        if self.numbering(at) {
            return None;
        }
        self.unit_told(at)
            .or_else(|| self.pad(at))
            .or_else(|| self.face(at))
            .or_else(|| self.measured(at))
            .or_else(|| self.radius(at))
            .or_else(|| self.named(at))
            .or_else(|| self.sensed(at))
            .or_else(|| self.content(at))
            .or_else(|| self.lettering_face(at))
            .or_else(|| self.times(at))
    }

    /// `5.` or `5)` at the beginning of a line.
    fn numbering(&self, at: usize) -> bool {
        let begins = at == 0 || self.all[at - 1].kind == Kind::Break || self.word(at - 1) == Some("NOTE");
        begins
            && self.all[at].figure().is_some()
            && (self.sign(at + 1, '.') || self.sign(at + 1, ')') || self.sign(at + 1, ':'))
    }

    /// `DIMENSIONS IN MM`, `UNITS: INCHES`.
    fn unit_told(&self, at: usize) -> Step {
        let begins = [
            "ALL DIMENSIONS",
            "DIMENSIONS",
            "DIMS",
            "ALL DIMS",
            "UNITS",
            "UNIT",
            "UNLESS OTHERWISE SPECIFIED DIMENSIONS",
        ];
        let mut to = begins.iter().filter_map(|words| self.words(at, words)).max()?;
        while matches!(self.word(to), Some("ARE" | "IN" | "IS")) || self.sign(to, ':') || self.sign(to, '=') {
            to += 1;
        }
        let inch = match self.word(to)? {
            "MM" | "MILLIMETRES" | "MILLIMETERS" | "METRIC" => false,
            "INCH" | "INCHES" => true,
            _ => return None,
        };
        Some((vec![Found::Wish(Wish::InUnit { inch })], to + 1))
    }

    /// `IN A RECESSED PAD 0.4 DEEP`, `RAISED PANEL`.
    fn pad(&self, at: usize) -> Step {
        let form = match self.word(at)? {
            "RECESSED" | "SUNKEN" | "SUNK" => PadForm::Recessed,
            "RAISED" => PadForm::Raised,
            _ => return None,
        };
        if !matches!(self.word(at + 1), Some("PAD" | "PANEL" | "AREA" | "FIELD" | "POCKET" | "PLATFORM" | "PLATE")) {
            return None;
        }
        let deep =
            |to: usize| self.words(to, "DEEP").or_else(|| self.words(to, "HIGH")).or_else(|| self.words(to, "DEPTH"));
        let own = self.joined(at + 2);
        let (measure, to) = match self.length(own) {
            Some((m, to)) => match deep(to) {
                Some(to) => (Some(m), to),
                None if !self.named_after(to) => (Some(m), to),
                None => (None, at + 2),
            },
            None => (None, at + 2),
        };
        Some((vec![Found::Pad(form, measure)], to))
    }

    /// `ON SURFACE A`, `ON FACE "B"`, `ON BOTH SIDES`, `CENTERED`.
    fn face(&self, at: usize) -> Step {
        let centred = ["CENTERED", "CENTRED", "CENTER", "CENTRE"];
        if self.word(at).is_some_and(|w| centred.contains(&w)) {
            return Some((vec![Found::Wish(Wish::Centred)], at + 1));
        }
        let start = if self.word(at) == Some("ON") { at + 1 } else { at };
        if let Some(to) = ["BOTH SIDES", "BOTH FACES", "EACH SIDE"].iter().find_map(|w| self.words(start, w)) {
            return Some((vec![Found::Wish(Wish::BothSides)], to));
        }
        let mut name = start;
        while self.word(name) == Some("THE") {
            name += 1;
        }
        if !matches!(self.word(name), Some("SURFACE" | "FACE" | "DATUM")) {
            return None;
        }
        let surface = match &self.all.get(name + 1)?.kind {
            Kind::Word(word)
                if word.chars().count() <= 2 && !NOISE.split(' ').any(|n| n == word && n != "A") && word != "OF" =>
            {
                word.clone()
            }
            Kind::Quoted(text) => text.clone(),
            Kind::Sign('-') => match (&self.all.get(name + 2)?.kind, self.sign(name + 3, '-')) {
                (Kind::Word(word), true) => {
                    return Some((vec![Found::Wish(Wish::On { surface: word.clone() })], name + 4));
                }
                _ => return None,
            },
            _ => return None,
        };
        Some((vec![Found::Wish(Wish::On { surface })], name + 2))
    }

    /// A figure and what it is that of: `3.0 HIGH X 0.3`, `.015 RAISED`, `3° DRAFT`, `2.5 MM LETTERS`.
    fn measured(&self, at: usize) -> Step {
        if let Some((angle, to)) = self.angle(at) {
            let side = self.words(to, "PER SIDE").or_else(|| self.words(to, "EACH SIDE")).unwrap_or(to);
            let end = self
                .words(side, "DRAFT ANGLE")
                .or_else(|| self.words(side, "DRAFT"))
                .or_else(|| self.words(side, "TAPER"))
                .or_else(|| self.words(side, "WALLS"))
                .or_else(|| self.words(side, "SIDES"))
                .or_else(|| self.words(side, "LETTERS"))?;
            let end = self.words(end, "PER SIDE").unwrap_or(end);
            let end = self.limited(end);
            return Some((vec![Found::Of(Key::Draft, self.again(angle, at, end))], end));
        }
        let (first, to) = self.length(at)?;
        let to = if self.words(to, "OF").is_some() { to + 1 } else { to };
        let (mut found, mut to) = if let Some((key, end)) = self.one_of(to, KEYS) {
            (vec![Found::Of(*key, first)], end)
        } else if let Some((sense, end)) = self.one_of(to, SENSES).filter(|(s, _)| s.has_relief()) {
            (vec![Found::Wish(Wish::Sense { sense: *sense }), Found::Of(Key::Height, first)], end)
        } else if self.is_lettering(to) {
            (vec![Found::Of(Key::CapHeight, first)], to + 1)
        } else {
            return None;
        };
        to = self.limited(to);
        if let Some(Found::Of(_, measure)) = found.last_mut() {
            *measure = self.again(*measure, at, to);
        }
        if matches!(found[..], [Found::Of(Key::CapHeight, _)])
            && let Some((height, end)) = self.second(to)
        {
            found.extend(height);
            to = end;
        }
        Some((found, to))
    }

    /// The second figure of `3.0 HIGH X 0.3`: how far it stands out or is sunk.
    fn second(&self, at: usize) -> Step {
        let by = self.sign(at, 'x') || matches!(self.word(at), Some("X" | "BY"));
        let (second, to) = by.then(|| self.length(at + 1))??;
        match (self.one_of(to, KEYS), self.one_of(to, SENSES)) {
            (Some((Key::Height, end)), _) => Some((vec![Found::Of(Key::Height, second)], end)),
            (Some((Key::CapHeight, end)), _) => Some((vec![Found::Of(Key::Height, second)], end)),
            (Some(_), _) => None,
            (None, Some((sense, end))) => {
                Some((vec![Found::Wish(Wish::Sense { sense: *sense }), Found::Of(Key::Height, second)], end))
            }
            (None, None) => Some((vec![Found::Of(Key::Height, second)], to)),
        }
    }

    /// `MIN` and `MAX` after the name too.
    fn limited(&self, at: usize) -> usize {
        if matches!(self.word(at), Some("MIN" | "MAX" | "MINIMUM" | "MAXIMUM" | "TYP" | "REF" | "NOM")) {
            at + 1
        } else {
            at
        }
    }

    /// The measure read with the limit that stands after its name.
    fn again(&self, measure_of: Measure, at: usize, to: usize) -> Measure {
        let last = self.word(to.saturating_sub(1));
        if to == 0 || !matches!(last, Some("MIN" | "MAX" | "MINIMUM" | "MAXIMUM")) {
            return measure_of;
        }
        let mut all: Vec<Token> = self.all[at..to].to_vec();
        let limit = all.pop();
        // right behind the figure and its unit
        let after = all.iter().position(|t| t.figure().is_some()).map_or(0, |k| k + 1);
        let after = after
            + usize::from(
                all.get(after).is_some_and(|t| t.is('°') || t.is('"') || matches!(t.word(), Some("MM" | "DEG"))),
            );
        all.splice(after..after, limit);
        measure(&all, 0).map_or(measure_of, |(m, _)| m)
    }

    /// `R0.3 AT ROOT`, `R 0.1 ON EDGES`, `RADIUS 0.2 AT BASE`.
    fn radius(&self, at: usize) -> Step {
        let (key, start) = match self.word(at)? {
            "R" | "RADIUS" | "RAD" => (None, at + 1),
            "CORNER" | "EDGE" | "EDGES" | "TOP" if matches!(self.word(at + 1), Some("R" | "RAD" | "RADIUS")) => {
                (Some(Key::EdgeRadius), at + 2)
            }
            "ROOT" | "BASE" | "FILLET" if matches!(self.word(at + 1), Some("R" | "RAD" | "RADIUS")) => {
                (Some(Key::Root), at + 2)
            }
            _ => return None,
        };
        let (measure, to) = self.length(self.joined(start))?;
        if let Some(key) = key {
            return Some((vec![Found::Of(key, measure)], to));
        }
        let mut place = to;
        while matches!(
            self.word(place),
            Some("AT" | "ON" | "IN" | "THE" | "OF" | "ALL" | "LETTER" | "TOP" | "BOTTOM" | "OUTER" | "INNER")
        ) {
            // the top of the letters is their edge by itself
            if self.word(place) == Some("TOP") && !matches!(self.word(place + 1), Some("EDGE" | "EDGES" | "OF")) {
                return Some((vec![Found::Of(Key::EdgeRadius, measure)], place + 1));
            }
            place += 1;
        }
        match self.word(place)? {
            "ROOT" | "ROOTS" | "BASE" | "FILLET" | "FILLETS" | "FLOOR" => {
                Some((vec![Found::Of(Key::Root, measure)], place + 1))
            }
            "EDGE" | "EDGES" | "CORNERS" | "RIM" => Some((vec![Found::Of(Key::EdgeRadius, measure)], place + 1)),
            _ => None,
        }
    }

    /// A name and its figure: `CAP HEIGHT 3.5`, `DEPTH = .010`, `DRAFT 3°`.
    fn named(&self, at: usize) -> Step {
        let (key, to) = match self.one_of(at, KEYS) {
            Some((key, to)) => (*key, to),
            None if self.word(at) == Some("H") => (Key::CapHeight, at + 1),
            None => return None,
        };
        let to = if matches!(self.word(to), Some("R" | "RAD" | "RADIUS")) { to + 1 } else { to };
        let own = self.joined(to);
        if key == Key::Draft {
            let (measure, end) = measure(&self.all, own)?;
            let end = self.words(end, "PER SIDE").unwrap_or(end);
            let fits = matches!(measure.unit, None | Some(Unit::Degrees));
            return fits.then(|| (vec![Found::Of(key, measure.in_degrees())], end));
        }
        let (measure, end) = self.length(own)?;
        // a figure that has a name of its own behind it is that of the next phrase
        if self.named_after(end) && !self.is_lettering(end) {
            return None;
        }
        let end = if key == Key::Bevel {
            self.words(end, "X 45 °").or_else(|| self.words(end, "x 45 °")).unwrap_or(end)
        } else {
            end
        };
        let mut found = vec![Found::Of(key, measure)];
        if key == Key::CapHeight
            && let Some((height, to)) = self.second(end)
        {
            found.extend(height);
            return Some((found, to));
        }
        Some((found, end))
    }

    /// `RAISED 0.3`, `ENGRAVED TO A DEPTH OF .010`, `EMBOSSED`.
    fn sensed(&self, at: usize) -> Step {
        let (sense, to) = self.one_of(at, SENSES)?;
        let wish = || Found::Wish(Wish::Sense { sense: *sense });
        let own = self.joined(to);
        if sense.has_relief()
            && let Some((measure, end)) = self.length(own)
        {
            let deep =
                ["DEEP", "DEPTH", "PROUD", "ABOVE SURFACE", "BELOW SURFACE", "ABOVE THE SURFACE", "BELOW THE SURFACE"];
            if let Some(end) = deep.iter().find_map(|w| self.words(end, w)) {
                return Some((vec![wish(), Found::Of(Key::Height, measure)], end));
            }
            if !self.named_after(end) {
                return Some((vec![wish(), Found::Of(Key::Height, measure)], end));
            }
        }
        Some((vec![wish()], to))
    }

    fn content(&self, at: usize) -> Step {
        if let Kind::Quoted(text) = &self.all[at].kind {
            return Some((vec![Found::Wish(Wish::Text { text: text.clone() })], at + 1));
        }
        let (content, to) = self.one_of(at, CONTENTS)?;
        // what is cut out of the mould's material is no code of it
        let material_of = *content == Content::MaterialCode && to == at + 1 && self.word(to) == Some("OF");
        (!material_of).then(|| (vec![Found::Wish(Wish::Content { content: *content })], to))
    }

    fn lettering_face(&self, at: usize) -> Step {
        let known = FACES.iter().filter_map(|(words, face, called)| Some((face, called, self.words(at, words)?)));
        let (face, called, to) = known.max_by_key(|(.., to)| *to)?;
        Some((vec![Found::Wish(Wish::Face { face: (*face).into(), called: (*called).into() })], to))
    }

    /// `2X`, `4 PLACES`, `2 PLCS`.
    fn times(&self, at: usize) -> Step {
        let figure =
            self.all[at].figure().filter(|f| f.decimals == 0 && !f.fraction && (1.0..=200.0).contains(&f.value))?;
        let joined = self.all.get(at + 1).is_some_and(|t| t.from == self.all[at].to);
        let x = joined && (self.word(at + 1) == Some("X") || self.sign(at + 1, 'x'));
        let places = matches!(self.word(at + 1), Some("PLACES" | "PLCS" | "PLS" | "OFF" | "LOCATIONS" | "TIMES"));
        (x || places).then(|| (vec![Found::Wish(Wish::Times { count: figure.value as u32 })], at + 2))
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
