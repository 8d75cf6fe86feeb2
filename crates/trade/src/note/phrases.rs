//! The phrases that are known, one function for each kind.

use super::{
    measure::{Measure, Unit, is_loose, limit, measure},
    reader::{Found, Reader, Step},
    tokens::Kind,
    wish::{Content, Wish},
    words::{CONTENTS, FACES, KEYS, Key, NOISE, SENSES},
};
use crate::PadForm;

impl Reader {
    pub(super) fn phrase(&self, at: usize) -> Step {
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
            let (angle, end) = self.limited(angle, end);
            return Some((vec![Found::Of(Key::Draft, angle)], end));
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
        if let Some(Found::Of(_, measure)) = found.last_mut() {
            (*measure, to) = self.limited(*measure, to);
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

    /// What stands after a figure's name: a limit of it, or how hard it is.
    fn limited(&self, measure: Measure, at: usize) -> (Measure, usize) {
        match self.word(at) {
            Some(word) if is_loose(word) => (measure, at + 1),
            Some(word) => limit(word).map_or((measure, at), |least| (measure.bounded(least), at + 1)),
            None => (measure, at),
        }
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
}
