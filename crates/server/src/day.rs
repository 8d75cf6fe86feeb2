//! Which day it is in the shop.

use chrono::{DateTime, Datelike, Local, Utc};
use chrono_tz::Tz;
use std::sync::RwLock;

/// The shop's time zone. One process serves one shop.
static ZONE: RwLock<Option<Tz>> = RwLock::new(None);

/// The day on which what is handed off now is handed off: in the shop's time zone; where none is set, in that of the
/// machine, or in the one that the environment's `TZ` names. In UTC it would be the wrong one on steel for some hours of
/// every day.
#[must_use]
pub fn today() -> time::Date {
    of(Utc::now(), zone())
}

fn of(now: DateTime<Utc>, zone: Option<Tz>) -> time::Date {
    let here = match zone {
        Some(zone) => now.with_timezone(&zone).date_naive(),
        None => now.with_timezone(&Local).date_naive(),
    };
    // both calendars are proleptic Gregorian: only years beyond 9999 have no date
    let day = time::Date::from_ordinal_date(here.year(), u16::try_from(here.ordinal()).unwrap_or(1));
    day.unwrap_or_else(|_| time::OffsetDateTime::now_utc().date())
}

/// The time of day there now, as `hh:mm`.
pub(crate) fn clock() -> String {
    let now = Utc::now();
    match zone() {
        Some(zone) => now.with_timezone(&zone).format("%H:%M").to_string(),
        None => now.with_timezone(&Local).format("%H:%M").to_string(),
    }
}

fn zone() -> Option<Tz> {
    *ZONE.read().unwrap_or_else(std::sync::PoisonError::into_inner)
}

pub(crate) fn set_zone(zone: Option<Tz>) {
    *ZONE.write().unwrap_or_else(std::sync::PoisonError::into_inner) = zone;
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn midnight_is_the_shops() {
        // 22:30 in UTC is past midnight in a summer of Berlin, and the evening before in Chicago
        let night = "2026-07-31T22:30:00Z".parse().unwrap();
        let day = |zone: Tz| of(night, Some(zone)).to_string();
        assert_eq!(day(chrono_tz::Europe::Berlin), "2026-08-01");
        assert_eq!(day(chrono_tz::America::Chicago), "2026-07-31");
        // in winter it is not yet
        let winter = "2026-01-31T22:30:00Z".parse().unwrap();
        assert_eq!(of(winter, Some(chrono_tz::Europe::Berlin)).to_string(), "2026-01-31");
        assert_eq!(of(winter, Some(chrono_tz::Asia::Kolkata)).to_string(), "2026-02-01");
    }
}
