//! Date codes: a year with its ISO 8601 week, its day, its month or a letter for the month.
//!
//! Week dates are those of ISO 8601: weeks begin on Monday, week 1 is the one with the year's first Thursday,
//! and the year of a week date is the week's, which differs from the calendar's round New Year.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use time::{Date, Month, Weekday};

/// What a date code says beside the year.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DateOf {
    /// ISO 8601 week, 01 to 53.
    Week,
    /// Week and day of the week, 1 is Monday: 483.
    WeekDay,
    /// Day of the year, 001 to 366.
    Day,
    /// Month, 01 to 12.
    Month,
    /// A to M without I (common practice).
    MonthLetter,
    /// Month and day: 1126.
    MonthDay,
    /// The year alone.
    Year,
}

/// Where the year stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum YearPlace {
    First,
    Last,
    /// It is left out.
    None,
}

/// How a date is written.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DateForm {
    pub of: DateOf,
    pub year: YearPlace,
    /// Digits of the year, 1 to 4, its last ones.
    pub digits: u8,
    /// Stands between year and the rest, and between month and day.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub between: String,
}

/// A to M without I, which is taken for a 1 (common practice).
const MONTH_LETTERS: [char; 12] = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H', 'J', 'K', 'L', 'M'];

impl DateForm {
    /// # Errors
    /// What can't be written so.
    pub fn check(&self) -> Result<(), String> {
        if !(1..=4).contains(&self.digits) {
            return Err(format!("a year is written with 1 to 4 digits, not {}", self.digits));
        }
        if self.between.chars().count() > 3 || self.between.chars().any(char::is_control) {
            return Err("the separator of a date has at most 3 characters".into());
        }
        if self.of == DateOf::Year && self.year == YearPlace::None {
            return Err("a date of the year alone can't be without its year".into());
        }
        Ok(())
    }

    /// The code of a date.
    #[must_use]
    pub fn write(&self, date: Date) -> String {
        let between = &self.between;
        let (week_year, week, weekday) = date.to_iso_week_date();
        let (month, day) = (u8::from(date.month()), date.day());
        let (year, rest) = match self.of {
            DateOf::Week => (week_year, format!("{week:02}")),
            DateOf::WeekDay => (week_year, format!("{week:02}{between}{}", weekday.number_from_monday())),
            DateOf::Day => (date.year(), format!("{:03}", date.ordinal())),
            DateOf::Month => (date.year(), format!("{month:02}")),
            DateOf::MonthLetter => (date.year(), MONTH_LETTERS[usize::from(month) - 1].to_string()),
            DateOf::MonthDay if self.year == YearPlace::Last => (date.year(), format!("{day:02}{between}{month:02}")),
            DateOf::MonthDay => (date.year(), format!("{month:02}{between}{day:02}")),
            DateOf::Year => (date.year(), String::new()),
        };
        let full = format!("{year:04}");
        let year = &full[full.len().saturating_sub(usize::from(self.digits))..];
        match (self.of, self.year) {
            (DateOf::Year, _) => year.into(),
            (_, YearPlace::First) => format!("{year}{between}{rest}"),
            (_, YearPlace::Last) => format!("{rest}{between}{year}"),
            (_, YearPlace::None) => rest,
        }
    }
}

/// A date as it is typed: `2026-11-26`, `2026-W48`, `2026-W48-4` or `2026-330`. A week alone is its Monday.
///
/// # Errors
/// Says how a date is written, or which day there is none of.
pub fn read(text: &str) -> Result<Date, String> {
    let how = || format!("“{text}” is not a date; write 2026-11-26, 2026-W48, 2026-W48-4 or 2026-330");
    let number = |s: &str, digits: usize| -> Result<u16, String> {
        if s.len() != digits || !s.bytes().all(|b| b.is_ascii_digit()) {
            return Err(how());
        }
        s.parse().map_err(|_| how())
    };
    let small = |s: &str, digits| number(s, digits).and_then(|n| u8::try_from(n).map_err(|_| how()));
    let pieces: Vec<&str> = text.trim().split('-').collect();
    let Some((year, rest)) = pieces.split_first() else { return Err(how()) };
    let year = i32::from(number(year, 4)?);
    let none = |e: time::error::ComponentRange| format!("there is no {text}: {e}");
    match rest {
        [week] if week.starts_with('W') => {
            Date::from_iso_week_date(year, small(&week[1..], 2)?, Weekday::Monday).map_err(none)
        }
        [week, day] if week.starts_with('W') => {
            let day = small(day, 1)?;
            if !(1..=7).contains(&day) {
                return Err(how());
            }
            let weekday = Weekday::Monday.nth_next(day - 1);
            Date::from_iso_week_date(year, small(&week[1..], 2)?, weekday).map_err(none)
        }
        [day] => Date::from_ordinal_date(year, number(day, 3)?).map_err(none),
        [month, day] => {
            let month = Month::try_from(small(month, 2)?).map_err(none)?;
            Date::from_calendar_date(year, month, small(day, 2)?).map_err(none)
        }
        _ => Err(how()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn form(of: DateOf, year: YearPlace, digits: u8, between: &str) -> DateForm {
        DateForm { of, year, digits, between: between.into() }
    }

    fn day(text: &str) -> Date {
        read(text).unwrap()
    }

    /// Week dates as ISO 8601 gives them in its examples (from memory): round New Year the year of a week is not
    /// the calendar's, and some years have 53 weeks.
    #[test]
    fn week_dates_round_new_year_are_those_of_the_standard() {
        let week = form(DateOf::WeekDay, YearPlace::First, 4, "-");
        for (date, written) in [
            ("2005-01-01", "2004-53-6"),
            ("2005-01-02", "2004-53-7"),
            ("2005-12-31", "2005-52-6"),
            ("2007-01-01", "2007-01-1"),
            ("2007-12-31", "2008-01-1"),
            ("2008-12-28", "2008-52-7"),
            ("2008-12-29", "2009-01-1"),
            ("2009-12-31", "2009-53-4"),
            ("2010-01-03", "2009-53-7"),
            ("2010-01-04", "2010-01-1"),
        ] {
            assert_eq!(week.write(day(date)), written, "{date}");
        }
    }

    #[test]
    fn a_date_is_written_in_every_form_and_width() {
        let date = day("2026-11-26");
        for (form, written) in [
            (form(DateOf::Week, YearPlace::First, 2, ""), "2648"),
            (form(DateOf::Week, YearPlace::Last, 2, "/"), "48/26"),
            (form(DateOf::Week, YearPlace::None, 2, ""), "48"),
            (form(DateOf::Day, YearPlace::First, 1, ""), "6330"),
            (form(DateOf::Month, YearPlace::Last, 4, "."), "11.2026"),
            (form(DateOf::MonthLetter, YearPlace::First, 2, ""), "26L"),
            (form(DateOf::MonthDay, YearPlace::First, 4, "-"), "2026-11-26"),
            (form(DateOf::MonthDay, YearPlace::Last, 2, "."), "26.11.26"),
            (form(DateOf::Year, YearPlace::First, 3, ""), "026"),
        ] {
            form.check().unwrap();
            assert_eq!(form.write(date), written);
        }
        // I is left out
        assert_eq!(form(DateOf::MonthLetter, YearPlace::None, 2, "").write(day("2026-09-01")), "J");
        assert!(form(DateOf::Year, YearPlace::None, 2, "").check().is_err());
        assert!(form(DateOf::Week, YearPlace::First, 0, "").check().is_err());
        assert!(form(DateOf::Week, YearPlace::First, 2, "week").check().is_err());
    }

    #[test]
    fn dates_are_read_as_iso_8601_writes_them_and_no_others() {
        for text in ["2026-11-26", "2026-W48-4", "2026-330"] {
            assert_eq!(read(text).unwrap(), Date::from_calendar_date(2026, Month::November, 26).unwrap());
        }
        assert_eq!(read("2026-W48").unwrap().day(), 23);
        for text in [
            "26.11.2026",
            "2026-13-01",
            "2026-02-30",
            "2025-W53",
            "2025-366",
            "2026-W48-8",
            "",
            "2026",
            "2026-W",
            "２０２６-11-26",
        ] {
            assert!(read(text).is_err(), "{text}");
        }
        assert!(read("2025-366").unwrap_err().contains("there is no 2025-366"));
    }

    /// Against the rules themselves, day by day over 400 years, after which the Gregorian calendar repeats:
    /// weekdays follow one another, weeks begin on Monday, and 4 January lies in week 1.
    #[test]
    fn weeks_follow_one_another_over_400_years() {
        let form = form(DateOf::WeekDay, YearPlace::First, 4, "-");
        let mut date = day("1900-01-01");
        let mut before = form.write(date);
        assert_eq!(before, "1900-01-1");
        let mut long_years = 0;
        for _ in 0..146_097 {
            date = date.next_day().unwrap();
            let now = form.write(date);
            let field = |code: &str, at: usize| -> u32 { code.split('-').nth(at).unwrap().parse().unwrap() };
            let ((y, w, d), (y1, w1, d1)) = (
                (field(&before, 0), field(&before, 1), field(&before, 2)),
                (field(&now, 0), field(&now, 1), field(&now, 2)),
            );
            if d < 7 {
                assert_eq!((y1, w1, d1), (y, w, d + 1));
            } else if y1 == y {
                assert_eq!((w1, d1), (w + 1, 1));
            } else {
                assert!(y1 == y + 1 && (w1, d1) == (1, 1) && (w == 52 || w == 53), "{before} {now}");
                long_years += u32::from(w == 53);
            }
            if date.month() == Month::January && date.day() == 4 {
                assert_eq!((y1, w1), (date.year() as u32, 1));
            }
            before = now;
        }
        // 71 of 400 years have 53 weeks
        assert_eq!(long_years, 71);
    }
}
