//! Date codes against a date library.

use super::python::python;
use serde_json::json;

const DATES: &str = r#"
import datetime, json, sys
given = json.load(sys.stdin)
day, out = datetime.date(2000, 1, 1), []
while day < datetime.date(2400, 1, 1):
    year, week, weekday = day.isocalendar()
    out.append(f"{year:04}-W{week:02}-{weekday} {day.year:04}-{day.timetuple().tm_yday:03} {day.isoformat()}")
    day += datetime.timedelta(days=1)
print(json.dumps(out))
"#;

/// Against Python's datetime, day by day over the 400 years after which the calendar repeats.
#[test]
fn date_codes_are_those_of_another_date_library_over_400_years() {
    use trade::date_code::{DateForm, DateOf, YearPlace, read};
    let form = |of, between: &str| DateForm { of, year: YearPlace::First, digits: 4, between: between.into() };
    let (week, day) = (form(DateOf::WeekDay, "-"), form(DateOf::Day, "-"));
    let others = python(DATES, &json!({}));
    let others = others.as_array().unwrap();
    assert_eq!(others.len(), 146_097);
    for other in others {
        let [by_week, by_day, plain] = other.as_str().unwrap().split(' ').collect::<Vec<_>>()[..] else {
            panic!("{other}")
        };
        let date = read(plain).unwrap();
        assert_eq!((read(by_week).unwrap(), read(by_day).unwrap()), (date, date));
        assert_eq!(week.write(date), by_week.replace('W', ""));
        assert_eq!(day.write(date), by_day);
    }
}
