//! The text form of DXF: lines in pairs, a group code and a value, grouped into items by code 0.

use crate::error::ArtworkError;
use glam::DVec2;
use std::borrow::Cow;

/// A group code and its value.
#[derive(Clone, Copy, Debug)]
pub struct Pair<'a> {
    pub code: i32,
    pub value: &'a str,
    /// Of the value, from 1.
    pub line: usize,
}

/// What stands between one code 0 and the next: a section's or a table's begin or end, an entity, a vertex.
#[derive(Clone, Copy, Debug)]
pub struct Item<'a> {
    pub kind: &'a str,
    pub pairs: &'a [Pair<'a>],
}

/// The text of a file; old ones are written in the code page of their machine, of which plain letters are read.
///
/// # Errors
/// It is a binary DXF.
pub fn text(bytes: &[u8]) -> Result<Cow<'_, str>, ArtworkError> {
    if bytes.contains(&0) {
        return Err(ArtworkError::Unreadable("it is a binary DXF; save it as text".into()));
    }
    Ok(String::from_utf8_lossy(bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes)))
}

/// # Errors
/// A group code is no whole number, or the last has no value.
pub fn pairs(text: &str) -> Result<Vec<Pair<'_>>, ArtworkError> {
    let mut out = Vec::new();
    let mut lines = text.lines().enumerate();
    while let Some((at, code)) = lines.next() {
        let line = at + 1;
        let Ok(code) = code.trim().parse() else {
            if code.trim().is_empty() && lines.all(|(_, l)| l.trim().is_empty()) {
                break;
            }
            let shown: String = code.trim().chars().take(40).collect();
            return Err(ArtworkError::Unreadable(format!("line {line}: “{shown}” is not a DXF group code")));
        };
        let Some((_, value)) = lines.next() else {
            return Err(ArtworkError::Unreadable(format!("line {line}: the file ends in the middle of it")));
        };
        if code != 999 {
            out.push(Pair { code, value: value.trim(), line: line + 1 });
        }
    }
    Ok(out)
}

/// Everything between codes 0.
pub fn items<'a>(pairs: &'a [Pair<'a>]) -> Vec<Item<'a>> {
    let starts: Vec<usize> = (0..pairs.len()).filter(|&k| pairs[k].code == 0).collect();
    let ends = starts.iter().skip(1).copied().chain([pairs.len()]);
    starts
        .iter()
        .zip(ends)
        .map(|(&from, until)| Item { kind: pairs[from].value, pairs: &pairs[from + 1..until] })
        .collect()
}

impl Pair<'_> {
    /// # Errors
    /// It is no finite number.
    pub fn number(&self) -> Result<f64, ArtworkError> {
        let number = self.value.parse::<f64>().ok().filter(|v| v.abs() < 1e12);
        number.ok_or_else(|| {
            let shown: String = self.value.chars().take(40).collect();
            ArtworkError::Unreadable(format!("line {}: “{shown}” is not a number", self.line))
        })
    }
}

impl<'a> Item<'a> {
    pub fn text(&self, code: i32) -> Option<&'a str> {
        self.pairs.iter().find(|p| p.code == code).map(|p| p.value)
    }

    /// The first number with a code.
    pub fn number(&self, code: i32) -> Result<Option<f64>, ArtworkError> {
        self.pairs.iter().find(|p| p.code == code).map(Pair::number).transpose()
    }

    pub fn number_or(&self, code: i32, otherwise: f64) -> Result<f64, ArtworkError> {
        Ok(self.number(code)?.unwrap_or(otherwise))
    }

    pub fn flag(&self, code: i32, bit: i64) -> Result<bool, ArtworkError> {
        Ok(self.number_or(code, 0.0)? as i64 & bit != 0)
    }

    pub fn numbers(&self, code: i32) -> Result<Vec<f64>, ArtworkError> {
        self.pairs.iter().filter(|p| p.code == code).map(Pair::number).collect()
    }

    /// The point whose x has a code; y has that plus 10.
    pub fn point(&self, code: i32) -> Result<DVec2, ArtworkError> {
        Ok(DVec2::new(self.number_or(code, 0.0)?, self.number_or(code + 10, 0.0)?))
    }

    pub fn points(&self, code: i32) -> Result<Vec<DVec2>, ArtworkError> {
        let (x, y) = (self.numbers(code)?, self.numbers(code + 10)?);
        Ok(x.into_iter().zip(y).map(|(x, y)| DVec2::new(x, y)).collect())
    }

    /// The layer that it lies on.
    pub fn layer(&self) -> &'a str {
        self.text(8).unwrap_or("0")
    }
}
