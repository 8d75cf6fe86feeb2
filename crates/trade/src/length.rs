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
    if let Some((whole, rest)) = typed.trim().split_once(',') {
        let digits: String = rest.chars().take_while(char::is_ascii_digit).collect();
        // 1,250 is a quarter more than one to some and more than a thousand to others; 0,250 is plain
        if digits.len() == 3 && !matches!(whole.trim_start_matches(['-', '−']), "" | "0") && !rest.contains(',') {
            return Err(format!(
                "“{}” can be {whole}.{digits} or {whole}{digits}; type one of them without the comma",
                typed.trim()
            ));
        }
    }
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

/// A round surface that a height is measured from.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Round {
    /// mm.
    pub radius: f64,
    /// It is seen from inside, as a bore is.
    pub inside: bool,
    /// The relief goes into the material.
    pub sinks: bool,
}

impl Round {
    /// The radius that a relief so high, or deep, reaches to, mm.
    #[must_use]
    pub fn reaches(self, height: f64) -> f64 {
        if self.inside == self.sinks { self.radius + height } else { self.radius - height }
    }

    /// The height, or depth, of a relief that reaches to a radius, mm.
    fn height(self, reaches: f64) -> f64 {
        if self.inside == self.sinks { reaches - self.radius } else { self.radius - reaches }
    }
}

/// A height above a round surface as typed, in mm: as [`parse_mm`], or by what it reaches to: `to Ø53`, `Ø 2.1in`,
/// `to R 26.5`, `dia 53`.
///
/// # Errors
/// A sentence that says what would be right: no length, or a radius that relief of this sense doesn't reach.
pub fn parse_height(typed: &str, round: Round) -> Result<f64, String> {
    let text = typed.trim().to_lowercase();
    let reach = text.strip_prefix("to ").unwrap_or(&text).trim_start();
    let across = ["ø", "⌀", "dia.", "dia", "d"].iter().find_map(|sign| reach.strip_prefix(sign));
    let (given, share) = match (across, reach.strip_prefix('r')) {
        (Some(rest), _) => (rest, 0.5),
        (None, Some(rest)) => (rest, 1.0),
        (None, None) if text.starts_with("to ") => {
            return Err(format!("“{}” could be a diameter or a radius; type Ø {reach} or R {reach}", typed.trim()));
        }
        _ => return parse_mm(typed),
    };
    let reaches = parse_mm(given)? * share;
    let height = round.height(reaches);
    if height > 0.0 && reaches > 0.0 {
        // a radius that was found in facets is off by less: Ø 53 over R 24.9999999 is 1.5
        return Ok((height * 1e4).round() / 1e4);
    }
    let than = if round.inside == round.sinks { "more" } else { "less" };
    let shown = |v: f64| (v * 1e3).round() / 1e3;
    Err(format!(
        "the surface there has R {} (Ø {}): type {than} than that",
        shown(round.radius),
        shown(2.0 * round.radius)
    ))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_a_height_reaches_to_is_a_diameter_or_a_radius_and_never_taken_for_the_other() {
        let ball = Round { radius: 25.0, inside: false, sinks: false };
        for typed in ["to Ø 53", "Ø53", "⌀ 53 mm", "to R 26.5", "r26,5", "dia 53", "1.5"] {
            assert_eq!(parse_height(typed, ball), Ok(1.5), "{typed}");
        }
        // 2 1/8 in across: 53.975 mm
        assert_eq!(parse_height("Ø 2 1/8 in", ball), Ok(1.9875));
        assert_eq!(parse_height("to Ø 48", Round { sinks: true, ..ball }), Ok(1.0));
        let bore = Round { inside: true, ..ball };
        assert_eq!(parse_height("to Ø 48", bore), Ok(1.0));
        assert_eq!(parse_height("to R 26", Round { sinks: true, ..bore }), Ok(1.0));
        assert!(parse_height("to Ø 48", ball).unwrap_err().contains("Ø 50): type more"));
        assert!(parse_height("to Ø 53", bore).unwrap_err().contains("type less"));
        assert!(parse_height("to 53", ball).unwrap_err().contains("Ø 53 or R 53"));
        assert!(parse_height("to Ø x", ball).is_err());
        for round in [ball, bore, Round { sinks: true, ..ball }, Round { sinks: true, ..bore }] {
            assert!((parse_height(&format!("r {}", round.reaches(0.3)), round).unwrap() - 0.3).abs() < 1e-9);
            let found = Round { radius: 24.999_999_87, ..round };
            assert_eq!(parse_height(&format!("r {}", round.reaches(1.5)), found), Ok(1.5));
        }
    }

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
        // thousands to some, a decimal comma to others
        for typed in ["1,250", "12,500 mm", "-1,250"] {
            assert!(parse_mm(typed).unwrap_err().contains("without the comma"), "{typed}");
        }
        assert_eq!([parse_mm("0,250"), parse_mm("1,25"), parse_mm("1.250")], [Ok(0.25), Ok(1.25), Ok(1.25)]);
    }
}
