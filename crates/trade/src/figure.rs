//! What a mark draws in place of a text: a date dial, a tally grid, the pocket of a bought insert, or artwork.

use crate::{
    date_code,
    place::Tops,
    range::Within,
    recipe::{DateFrom, Source},
    roster::Roster,
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use time::Date;

/// Drawn in place of a text, out of characters that are checked like letters.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Figure {
    Dial(Dial),
    Tally(Tally),
    Pocket(Pocket),
    Artwork(Artwork),
}

/// Numbers in rings, an arrow at the one that counts, the year in the middle. The capitals' height of the lettering
/// is that of its numbers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Dial {
    pub from: DateFrom,
    /// Over its outermost line, mm.
    pub diameter: f64,
    /// The outermost first.
    pub rings: Vec<DialRing>,
    /// Which way the tops of the numbers point.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub tops: Tops,
    /// Clear distance between lines and numbers, mm.
    pub gap: f64,
    /// Digits of the year: 0, 2 or 4.
    pub year: u8,
    /// The arrow with its year, which turns in the tool, is handed off as a body of its own.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub core_apart: bool,
}

/// One ring of a dial.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DialRing {
    pub of: DialOf,
    /// Every so many is a number, those between are dots.
    pub every: u8,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DialOf {
    Months,
    /// ISO 8601 weeks.
    Weeks,
    /// Days of the month.
    Days,
}

/// A row of months for each year, with a dot in every one that is over; the others are kept free for dots to come.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Tally {
    /// The last month that has a dot.
    pub from: DateFrom,
    pub first_year: i32,
    pub years: u8,
    /// From a month to the next and from a year to the next, mm.
    pub pitch: f64,
    /// Diameter of a dot, mm.
    pub dot: f64,
    /// Months are numbered above, years stand before their rows.
    pub labels: bool,
}

/// The hole that a bought insert sits in.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pocket {
    /// Of the insert, mm.
    pub diameter: f64,
    /// All round it, mm.
    pub gap: f64,
}

/// A drawing that was read from a file. The job holds its outline: nothing else is needed to build it anywhere.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Artwork {
    /// Name of the file that it was read from.
    pub file: String,
    /// Closed contours as SVG path data of M, L and Z, y up, outer ones counter-clockwise, [`DRAWN_HIGH`] high.
    pub outline: String,
    /// mm.
    pub height: f64,
    /// What was joined, changed or left out when it was read.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub told: Vec<String>,
    /// Those of them that say what of the file is lacking.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub left_out: Vec<String>,
}

/// Height of the outline of artwork, in its own units.
pub const DRAWN_HIGH: f64 = 100.0;
/// Longest outline, bytes.
const LONGEST_OUTLINE: usize = 2 << 20;

impl DialOf {
    /// Into how many the ring is divided.
    #[must_use]
    pub fn divisions(self) -> u8 {
        match self {
            Self::Months => 12,
            Self::Weeks => 53,
            Self::Days => 31,
        }
    }

    /// The number of a date, from 1.
    #[must_use]
    pub fn of(self, date: Date) -> u8 {
        match self {
            Self::Months => date.month().into(),
            Self::Weeks => date.iso_week(),
            Self::Days => date.day(),
        }
    }

    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Months => "months",
            Self::Weeks => "weeks",
            Self::Days => "days",
        }
    }
}

impl Dial {
    /// The year that it shows: a week's own, which differs from the calendar's round New Year.
    #[must_use]
    pub fn year_of(&self, date: Date) -> i32 {
        let weeks = self.rings.iter().any(|r| r.of == DialOf::Weeks);
        if weeks { date.to_iso_week_date().0 } else { date.year() }
    }

    /// The date as far as the dial tells it: `2026-11`, `2026-W48`, or the day.
    fn written(&self, date: Date) -> String {
        let has = |of: DialOf| self.rings.iter().any(|r| r.of == of);
        match (has(DialOf::Days), has(DialOf::Weeks), has(DialOf::Months)) {
            (false, true, false) => {
                let (year, week, _) = date.to_iso_week_date();
                format!("{year:04}-W{week:02}")
            }
            (false, false, _) => month(date),
            _ => format!("{}-{:02}", month(date), date.day()),
        }
    }
}

impl Artwork {
    /// Its file's name without the ending.
    #[must_use]
    pub fn name(&self) -> &str {
        self.file.rsplit_once('.').map_or(self.file.as_str(), |(name, _)| name)
    }
}

fn month(date: Date) -> String {
    format!("{:04}-{:02}", date.year(), u8::from(date.month()))
}

/// The day that the text of a dial or a tally stands for; a month is its first day.
///
/// # Errors
/// The text is no date.
pub fn day(text: &str) -> Result<Date, String> {
    date_code::read(text).or_else(|why| date_code::read(&format!("{text}-01")).map_err(|_| why))
}

impl Figure {
    /// What it is called.
    #[must_use]
    pub fn word(&self) -> &'static str {
        match self {
            Self::Dial(_) => "date dial",
            Self::Tally(_) => "tally grid",
            Self::Pocket(_) => "pocket of an insert",
            Self::Artwork(_) => "artwork",
        }
    }

    /// Where its date comes from.
    #[must_use]
    pub fn date(&self) -> Option<&DateFrom> {
        match self {
            Self::Dial(Dial { from, .. }) | Self::Tally(Tally { from, .. }) => Some(from),
            Self::Pocket(_) | Self::Artwork(_) => None,
        }
    }

    pub(crate) fn date_mut(&mut self) -> Option<&mut DateFrom> {
        match self {
            Self::Dial(Dial { from, .. }) | Self::Tally(Tally { from, .. }) => Some(from),
            Self::Pocket(_) | Self::Artwork(_) => None,
        }
    }

    /// Every setting inside its range?
    pub(crate) fn check(&self, within: Within<'_>, roster: &Roster) -> Result<(), String> {
        if let Some(from) = self.date() {
            from.check(roster).map_err(|e| format!("{}: {e}", self.word()))?;
        }
        match self {
            Self::Dial(dial) => {
                within("diameter of the dial", dial.diameter, 1.0..=500.0, " mm")?;
                within("gap of the dial", dial.gap, 0.02..=20.0, " mm")?;
                if !(1..=3).contains(&dial.rings.len()) {
                    return Err(format!("a dial has 1 to 3 rings, not {}", dial.rings.len()));
                }
                let kinds = |of: DialOf| dial.rings.iter().filter(|r| r.of == of).count();
                if let Some(ring) = dial.rings.iter().find(|r| kinds(r.of) > 1) {
                    return Err(format!("two rings of the dial are {}", ring.of.word()));
                }
                if let Some(ring) = dial.rings.iter().find(|r| !(1..=r.of.divisions()).contains(&r.every)) {
                    let most = ring.of.divisions();
                    return Err(format!("every {} of the {} is numbered; 1 to {most}", ring.every, ring.of.word()));
                }
                if ![0, 2, 4].contains(&dial.year) {
                    return Err(format!("the year of a dial has 2 or 4 digits or none, not {}", dial.year));
                }
                Ok(())
            }
            Self::Tally(tally) => {
                within("first year of the tally", f64::from(tally.first_year), 1900.0..=2200.0, "")?;
                within("years of the tally", f64::from(tally.years), 1.0..=30.0, "")?;
                within("pitch of the tally", tally.pitch, 0.2..=100.0, " mm")?;
                within("diameter of the dots", tally.dot, 0.1..=0.9 * tally.pitch, " mm")
            }
            Self::Pocket(pocket) => {
                within("diameter of the insert", pocket.diameter, 0.5..=500.0, " mm")?;
                within("gap round the insert", pocket.gap, 0.0..=5.0, " mm")
            }
            Self::Artwork(artwork) => {
                let Artwork { file, outline, height, told, left_out } = artwork;
                let long = |says: &[String]| says.iter().any(|t| t.chars().count() > 300) || says.len() > 20;
                let long = long(told) || long(left_out);
                if file.is_empty() || file.chars().count() > 200 || outline.len() > LONGEST_OUTLINE || long {
                    return Err("the artwork's name or outline is too long, or it has none".into());
                }
                within("height of the artwork", *height, 0.2..=500.0, " mm")
            }
        }
    }

    /// What it says: the date that it shows, as far as it shows it; the pocket's diameter; the artwork's name.
    ///
    /// # Errors
    /// There is no date.
    pub(crate) fn says(&self, source: Source<'_>) -> Result<String, String> {
        let date = |from: &DateFrom| {
            let none = || format!("the {} has no date: its cell is empty", self.word());
            from.day(source)?.ok_or_else(none)
        };
        match self {
            Self::Dial(dial) => Ok(dial.written(date(&dial.from)?)),
            Self::Tally(tally) => Ok(month(date(&tally.from)?)),
            Self::Pocket(pocket) => Ok(format!("Ø{}", pocket.diameter + 2.0 * pocket.gap)),
            Self::Artwork(artwork) => Ok(artwork.name().into()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Job, Mark};

    const TODAY: Date = time::macros::date!(2026 - 11 - 26);

    fn dial(of: &[DialOf], from: DateFrom) -> Dial {
        let rings = of.iter().map(|of| DialRing { of: *of, every: 1 }).collect();
        Dial { from, diameter: 20.0, rings, tops: Tops::Out, gap: 0.3, year: 2, core_apart: false }
    }

    fn job(figure: Figure) -> Job {
        Job { marks: vec![Mark { id: "a".into(), figure: Some(figure), ..Mark::default() }], ..Job::default() }
    }

    #[test]
    fn a_figure_says_its_date_as_far_as_it_shows_it() {
        for (of, says) in [
            (&[DialOf::Months][..], "2026-11"),
            (&[DialOf::Weeks], "2026-W48"),
            (&[DialOf::Months, DialOf::Days], "2026-11-26"),
            (&[DialOf::Weeks, DialOf::Days], "2026-11-26"),
        ] {
            let job = job(Figure::Dial(dial(of, DateFrom::Handoff)));
            job.check().unwrap();
            let filled = job.filled(None, TODAY);
            assert_eq!(filled.marks[0].text, says);
            // it can be drawn from what it says
            let day = day(says).unwrap();
            assert!(of.iter().all(|of| of.of(day) == of.of(TODAY)), "{says}");
        }
        // the week's year round New Year
        let weeks = dial(&[DialOf::Weeks], DateFrom::Set { day: "2027-01-01".into() });
        assert_eq!(job(Figure::Dial(weeks.clone())).filled(None, TODAY).marks[0].text, "2026-W53");
        assert_eq!(weeks.year_of(day("2026-W53").unwrap()), 2026);
        assert_eq!(weeks.year_of(day("2026-W01").unwrap()), 2026, "its Monday lies in 2025");
    }

    #[test]
    fn an_empty_or_missing_date_is_said() {
        let from = DateFrom::Column { column: "made".into() };
        let mut job = job(Figure::Dial(dial(&[DialOf::Months], from)));
        assert!(job.check().unwrap_err().to_string().contains("“made”, which the roster doesn't have"));
        let roster = std::sync::Arc::make_mut(&mut job.roster);
        roster.columns.push(crate::Column { name: "made".into(), kind: crate::ColumnKind::Date });
        for (id, cell) in [(1, ""), (2, "2026-02-30"), (3, "2026-02-28")] {
            roster.rows.push(crate::Row { id, cells: vec![cell.into()] });
        }
        job.check().unwrap();
        let unsaid = |row: u32| job.filled(Some(row), TODAY).marks[0].unsaid.clone();
        assert!(unsaid(1).unwrap().contains("its cell is empty"));
        assert!(unsaid(2).unwrap().contains("2026-02-30"), "{:?}", unsaid(2));
        assert_eq!(unsaid(3), None);
    }

    #[test]
    fn settings_out_of_range_are_named() {
        let plain = dial(&[DialOf::Months], DateFrom::Handoff);
        let tally = Tally { from: DateFrom::Handoff, first_year: 2026, years: 3, pitch: 3.0, dot: 1.0, labels: true };
        let months = DialRing { of: DialOf::Months, every: 1 };
        for (figure, says) in [
            (Figure::Dial(Dial { rings: Vec::new(), ..plain.clone() }), "1 to 3 rings"),
            (Figure::Dial(Dial { rings: vec![months, months], ..plain.clone() }), "two rings of the dial are months"),
            (Figure::Dial(Dial { rings: vec![DialRing { every: 0, ..months }], ..plain.clone() }), "every 0"),
            (Figure::Dial(Dial { diameter: f64::NAN, ..plain.clone() }), "diameter of the dial"),
            (Figure::Dial(Dial { year: 3, ..plain.clone() }), "2 or 4 digits"),
            (Figure::Tally(Tally { dot: 3.0, ..tally.clone() }), "diameter of the dots"),
            (Figure::Tally(Tally { years: 0, ..tally }), "years of the tally"),
            (Figure::Pocket(Pocket { diameter: 6.0, gap: -1.0 }), "gap round the insert"),
            (Figure::Pocket(Pocket { diameter: 6.0, gap: 0.1 }), "is sunken"),
        ] {
            let error = job(figure).check().unwrap_err().to_string();
            assert!(error.contains(says), "{error} should say {says}");
        }
    }
}
