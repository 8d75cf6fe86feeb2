//! Units of length: what a file may be drawn in, and lengths as people type them.
//!
//! 1 inch = 25.4 mm exactly (international yard and pound agreement of 1959).

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

pub const MM_PER_INCH: f64 = 25.4;

/// The unit a part file is drawn in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Unit {
    Micron,
    Mm,
    Cm,
    M,
    Inch,
    Foot,
}

impl Unit {
    /// Millimetres in one of this unit.
    #[must_use]
    pub fn in_mm(self) -> f64 {
        match self {
            Unit::Micron => 0.001,
            Unit::Mm => 1.0,
            Unit::Cm => 10.0,
            Unit::M => 1000.0,
            Unit::Inch => MM_PER_INCH,
            Unit::Foot => 12.0 * MM_PER_INCH,
        }
    }
}

/// A length as typed, in mm: `3.5`, `3,5`, `3.5 mm`, `0.2in`, `3/16"`, `1 1/2 in`.
///
/// # Errors
/// A sentence that says what would be right.
pub fn parse_mm(typed: &str) -> Result<f64, String> {
    let wrong = || format!("“{}” is not a length; type for instance 3.5, 0.2in or 3/16in", typed.trim());
    let text = typed.trim().to_lowercase().replace(',', ".");
    let (number, scale) = ["inches", "inch", "in", "\"", "″"]
        .iter()
        .find_map(|unit| text.strip_suffix(unit).map(|rest| (rest, MM_PER_INCH)))
        .or_else(|| text.strip_suffix("mm").map(|rest| (rest, 1.0)))
        .unwrap_or((&text, 1.0));
    let mut total = 0.0;
    let (negative, number) = match number.trim().strip_prefix(['-', '−']) {
        Some(rest) => (true, rest),
        None => (false, number.trim()),
    };
    let pieces: Vec<&str> = number.split_whitespace().collect();
    if pieces.is_empty() || pieces.len() > 2 {
        return Err(wrong());
    }
    for (at, piece) in pieces.iter().enumerate() {
        let value = match piece.split_once('/') {
            Some((over, under)) => {
                let (over, under): (f64, f64) =
                    (over.parse().map_err(|_| wrong())?, under.parse().map_err(|_| wrong())?);
                over / under
            }
            // Only the last piece may be a fraction, and two plain numbers are no length.
            None if at == 0 => piece.parse().map_err(|_| wrong())?,
            None => return Err(wrong()),
        };
        total += value;
    }
    let value = if negative { -total } else { total } * scale;
    // 3/16 in is 4.7625, not 4.762499999999999
    let value = (value * 1e9).round() / 1e9;
    if value.is_finite() { Ok(value) } else { Err(wrong()) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lengths_are_read_as_people_type_them() {
        for (typed, mm) in [
            ("3.5", 3.5),
            (" 3,5 mm", 3.5),
            ("0.2in", 5.08),
            ("3/16in", 4.7625),
            ("1 1/2\"", 38.1),
            ("-2", -2.0),
            ("−1/4 in", -6.35),
        ] {
            let read = parse_mm(typed).unwrap();
            assert!((read - mm).abs() < 1e-12, "{typed}: {read}");
        }
    }

    #[test]
    fn a_wrong_length_says_what_would_be_right() {
        for typed in ["", "abc", "1/0", "3 4", "nan", "1e999", "1 2 3"] {
            assert!(parse_mm(typed).unwrap_err().contains("3/16in"), "{typed}");
        }
    }
}
