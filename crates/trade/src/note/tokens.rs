//! A drawing's note as words, figures and signs, each with where it stands.

/// A piece of the note; `from` and `to` count its characters.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Token {
    pub from: usize,
    pub to: usize,
    pub kind: Kind,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum Kind {
    /// In capitals, without full stops: `P/N`, `NO`, `REV`.
    Word(String),
    Figure(Figure),
    /// What stands between quotation marks.
    Quoted(String),
    Sign(char),
    /// The end of a line.
    Break,
}

/// A number as it is written.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Figure {
    pub value: f64,
    /// Digits after the point.
    pub decimals: usize,
    /// `.015`: as inches are written.
    pub bare_point: bool,
    /// `1/8`, `1 1/2`.
    pub fraction: bool,
}

impl Token {
    pub fn word(&self) -> Option<&str> {
        match &self.kind {
            Kind::Word(word) => Some(word),
            _ => None,
        }
    }

    pub fn figure(&self) -> Option<Figure> {
        match self.kind {
            Kind::Figure(figure) => Some(figure),
            _ => None,
        }
    }

    pub fn is(&self, sign: char) -> bool {
        self.kind == Kind::Sign(sign)
    }
}

/// Quotation marks that open, each with those that close. Straight ones after a figure are inches.
const QUOTES: [(char, &str); 5] = [('“', "”\""), ('„', "“”"), ('‘', "’"), ('«', "»"), ('"', "\"")];

pub(super) fn tokens(note: &str) -> Vec<Token> {
    let all: Vec<char> = note.chars().collect();
    let mut found: Vec<Token> = Vec::new();
    let mut at = 0;
    while at < all.len() {
        let c = all[at];
        let from = at;
        let kind = if c == '\n' {
            at += 1;
            Kind::Break
        } else if c.is_whitespace() {
            at += 1;
            continue;
        } else if let Some((figure, to)) = figure(&all, at) {
            at = to;
            Kind::Figure(figure)
        } else if c.is_alphabetic() {
            at = word_end(&all, at);
            let word: String = all[from..at].iter().filter(|c| **c != '.').collect();
            Kind::Word(word.to_uppercase())
        } else if let Some((text, to)) = quoted(&all, at, found.last()) {
            at = to;
            Kind::Quoted(text)
        } else {
            at += 1;
            Kind::Sign(match c {
                '″' | '”' | '“' => '"',
                'º' | '˚' => '°',
                '×' => 'x',
                '–' | '—' | '−' => '-',
                'Ø' | '⌀' => 'Ø',
                other => other,
            })
        };
        found.push(Token { from, to: at, kind });
    }
    found
}

/// A word ends where letters do; `P/N`, `P.N.` and `PART#` hold together.
fn word_end(all: &[char], from: usize) -> usize {
    let letter = |k: usize| all.get(k).is_some_and(|c| c.is_alphabetic());
    let mut at = from;
    while letter(at) {
        at += 1;
    }
    // single letters between strokes and points
    while at - from <= 4
        && matches!(all.get(at), Some('/' | '.'))
        && letter(at + 1)
        && !letter(at + 2)
        && single(all, at)
    {
        at += 2;
    }
    // the point of R.015 is its figure's
    if all.get(at) == Some(&'.') && !all.get(at + 1).is_some_and(char::is_ascii_digit) {
        at += 1;
    }
    at
}

/// Is what stands before this place one letter alone?
fn single(all: &[char], at: usize) -> bool {
    at >= 1 && all[at - 1].is_alphabetic() && (at < 2 || !all[at - 2].is_alphabetic())
}

/// `3`, `3.0`, `3,5`, `.015`, `1/8`, `1 1/2`, `1-1/2`.
fn figure(all: &[char], at: usize) -> Option<(Figure, usize)> {
    // within a word a digit is no figure
    if at > 0 && (all[at - 1].is_alphanumeric()) && !all[at - 1].is_ascii_digit() && !followed_by_figure(all, at) {
        return None;
    }
    let (whole, decimals, bare_point, to) = plain(all, at)?;
    let none = Figure { value: whole, decimals, bare_point, fraction: false };
    if decimals > 0 {
        return Some((none, to));
    }
    let over = |from: usize| -> Option<(f64, usize)> {
        let (over, none, _, to) = plain(all, from)?;
        let (under, none_under, _, end) = (all.get(to) == Some(&'/')).then(|| plain(all, to + 1))??;
        // a date and a list are no fraction
        let fits = none == 0 && none_under == 0 && over > 0.0 && [2.0, 4.0, 8.0, 16.0, 32.0, 64.0].contains(&under);
        (fits && over < under).then_some((over / under, end))
    };
    if let Some((value, end)) = over(at) {
        return Some((Figure { value, fraction: true, ..none }, end));
    }
    let next = match (all.get(to), all.get(to + 1)) {
        (Some(' ' | '-'), Some(c)) if c.is_ascii_digit() => over(to + 1),
        _ => None,
    };
    Some(match next {
        Some((value, end)) => (Figure { value: whole + value, fraction: true, ..none }, end),
        None => (none, to),
    })
}

/// A letter that stands for what follows: `R0.2`, `H3`.
fn followed_by_figure(all: &[char], at: usize) -> bool {
    matches!(all[at - 1].to_ascii_uppercase(), 'R' | 'H' | 'X') && (at < 2 || !all[at - 2].is_alphanumeric())
        || (all[at - 1].eq_ignore_ascii_case(&'x') && at >= 2 && (all[at - 2].is_ascii_digit() || all[at - 2] == ' '))
}

/// Digits with at most one point or comma: value, digits after it, nothing before it, where it ends.
fn plain(all: &[char], from: usize) -> Option<(f64, usize, bool, usize)> {
    let digit = |k: usize| all.get(k).is_some_and(char::is_ascii_digit);
    let mut at = from;
    while digit(at) {
        at += 1;
    }
    let before = at - from;
    let mut decimals = 0;
    if matches!(all.get(at), Some('.' | ',')) && digit(at + 1) {
        at += 1;
        while digit(at) {
            at += 1;
            decimals += 1;
        }
    }
    if before + decimals == 0 || before + decimals > 9 {
        return None;
    }
    let text: String = all[from..at].iter().map(|c| if *c == ',' { '.' } else { *c }).collect();
    let value = if before == 0 { format!("0{text}").parse() } else { text.parse() };
    Some((value.ok()?, decimals, before == 0, at))
}

fn quoted(all: &[char], at: usize, last: Option<&Token>) -> Option<(String, usize)> {
    let (_, closing) = QUOTES.iter().find(|(open, _)| *open == all[at])?;
    // 1/8" is an eighth of an inch
    if all[at] == '"' && last.is_some_and(|t| t.figure().is_some() && t.to == at) {
        return None;
    }
    let length = all[at + 1..].iter().take_while(|c| **c != '\n').position(|c| closing.contains(*c))?;
    let text: String = all[at + 1..at + 1 + length].iter().collect();
    (!text.trim().is_empty()).then(|| (text.trim().to_owned(), at + length + 2))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kinds(note: &str) -> Vec<Kind> {
        tokens(note).into_iter().map(|t| t.kind).collect()
    }

    fn figures(note: &str) -> Vec<f64> {
        tokens(note).iter().filter_map(Token::figure).map(|f| f.value).collect()
    }

    #[test]
    fn figures_are_read_as_they_are_written_on_drawings() {
        assert_eq!(
            figures("3.0 3,5 .015 1/8 1 1/2 1-1/2 2X R0.2 H3"),
            [3.0, 3.5, 0.015, 0.125, 1.5, 1.5, 2.0, 0.2, 3.0]
        );
        // a date is no fraction, and a part number holds its digits
        assert_eq!(figures("12/26 SB3"), [12.0, 26.0]);
        assert_eq!(kinds("P/N AND REV."), ["P/N", "AND", "REV"].map(|w| Kind::Word(w.into())));
        assert_eq!(kinds("mark “SB-3 118” 1/8\"")[1], Kind::Quoted("SB-3 118".into()));
        assert!(kinds("1/8\" high, 1/4\" wide").iter().all(|k| !matches!(k, Kind::Quoted(_))));
    }

    #[test]
    fn each_piece_knows_where_it_stands() {
        let found = tokens("é 3°");
        assert_eq!((found[1].from, found[1].to), (2, 3));
        assert!(found[2].is('°') && found[2].to == 4);
    }
}
