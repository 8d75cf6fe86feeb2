//! A waiver: somebody answers for a finding that fails, as it is. It is no pass. It holds as long as the figure gets no
//! worse and the mark, the part and the limit are what they were.

use crate::{
    Job, Mark,
    check::Check,
    limits::{Side, State},
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use time::{Date, format_description::BorrowedFormatItem, macros::format_description};

/// Waivers of one job.
const MOST_WAIVERS: usize = 1_000;
/// Of a reason, characters.
const LONGEST_REASON: usize = 500;

const DAY: &[BorrowedFormatItem<'static>] = format_description!("[year]-[month]-[day]");

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Waiver {
    pub id: String,
    /// The finding: the mark's id and the check.
    pub mark: String,
    pub check: Check,
    /// Ids of the rows of the roster that it is for; left out, all.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub rows: Option<Vec<u32>>,
    pub reason: String,
    /// Who answers for it.
    pub by: String,
    /// The day on which it was given, and the last on which it holds, as 2026-11-30.
    pub on: String,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub until: Option<String>,
    /// The finding as it was.
    pub of: Waived,
}

/// What a waiver was given for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Waived {
    /// In the unit; none where the finding has no figure.
    pub figure: Option<f64>,
    pub unit: String,
    pub limit: Option<f64>,
    pub side: Option<Side>,
    pub sentence: String,
    /// SHA-256 of the mark's settings and of how the part was read.
    pub mark: String,
    pub part: String,
}

/// A finding, as far as a waiver asks.
#[derive(Clone, Copy, Debug)]
pub struct Asked<'a> {
    pub mark: &'a str,
    pub check: Check,
    pub state: State,
    pub measured: Option<f64>,
    /// How far the figure may be off, in its unit.
    pub error: f64,
    pub limit: Option<(Side, f64)>,
    pub sentence: &'a str,
}

/// How a job was filled: for which row, on which day.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FilledFor {
    pub row: Option<u32>,
    pub day: Date,
}

/// A finding that a waiver was given for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WaivedBy {
    /// The waiver's id.
    pub id: String,
    pub reason: String,
    pub by: String,
    pub on: String,
    pub until: Option<String>,
    /// Why it holds no more.
    pub lapsed: Option<String>,
}

/// A day as it is written in job files.
#[must_use]
pub fn written(day: Date) -> String {
    day.format(DAY).expect("a date has a year, a month and a day")
}

fn with_unit(figure: f64, unit: &str) -> String {
    format!("{figure:.3}{}{unit}", if matches!(unit, "°" | "′" | "") { "" } else { " " })
}

fn read(day: &str) -> Option<Date> {
    Date::parse(day, DAY).ok()
}

fn digest(value: &impl Serialize) -> String {
    let json = serde_json::to_vec(value).expect("settings have string keys and finite numbers");
    Sha256::digest(json).iter().map(|b| format!("{b:02x}")).collect()
}

impl Waiver {
    /// # Errors
    /// Which of its words or days is wrong.
    pub fn check(&self) -> Result<(), String> {
        let of = |what: &str| format!("the waiver of {} on mark “{}” {what}", self.check.name(), self.mark);
        let long = self.reason.chars().count();
        if self.reason.trim().is_empty() || long > LONGEST_REASON {
            return Err(of(&format!("needs a reason of 1 to {LONGEST_REASON} characters; it has {long}")));
        }
        if self.by.trim().is_empty() || self.by.chars().count() > 80 {
            return Err(of("needs the name of whoever answers for it, 1 to 80 characters"));
        }
        if self.id.is_empty() || self.id.chars().count() > 100 {
            return Err(of("needs an id of 1 to 100 characters"));
        }
        for day in std::iter::once(&self.on).chain(&self.until) {
            read(day).ok_or_else(|| of(&format!("names the day “{day}”; write it as 2026-11-30")))?;
        }
        Ok(())
    }

    fn is_of(&self, asked: &Asked<'_>, row: Option<u32>) -> bool {
        let for_row = self.rows.as_ref().is_none_or(|rows| row.is_some_and(|row| rows.contains(&row)));
        self.mark == asked.mark && self.check == asked.check && for_row
    }

    /// Why it doesn't hold, if it doesn't. `day` is not known where a job was not filled: a waiver that ends doesn't hold then.
    fn lapsed(&self, asked: &Asked<'_>, day: Option<Date>, mark: &str, part: &str) -> Option<String> {
        /// Figures closer than this are the same.
        const SAME: f64 = 1e-6;
        let ended = |until: &String| day.is_none_or(|day| read(until).is_none_or(|until| day > until));
        let limit = |of: Option<(Side, f64)>| of.map(|(side, value)| (side == Side::AtLeast, value));
        let worse = match (self.of.figure, asked.measured, asked.limit) {
            (Some(was), Some(is), Some((side, _))) => {
                let by = if side == Side::AtLeast { was - is } else { is - was };
                by > asked.error.max(SAME)
            }
            // without a figure the sentence says what it was
            (None, None, _) => self.of.sentence != asked.sentence,
            (Some(was), Some(is), None) => was != is,
            _ => true,
        };
        if let Some(until) = self.until.as_ref().filter(|until| ended(until)) {
            return Some(format!("it ended on {until}"));
        }
        let changed = [
            (self.of.part != part, "part"),
            (self.of.mark != mark, "mark"),
            (limit(self.of.side.zip(self.of.limit)) != limit(asked.limit), "limit"),
        ];
        if let Some((_, what)) = changed.iter().find(|(changed, _)| *changed) {
            return Some(format!("the {what} was changed since"));
        }
        worse.then(|| match (self.of.figure, asked.measured) {
            (Some(was), Some(is)) => {
                format!(
                    "the figure is worse: {} instead of {}",
                    with_unit(is, &self.of.unit),
                    with_unit(was, &self.of.unit)
                )
            }
            _ => "the finding is another one".into(),
        })
    }
}

impl Job {
    /// How its part was read, for telling whether that was changed.
    #[must_use]
    pub fn part_digest(&self) -> String {
        let part = crate::PartRef { file: String::new(), replaces: None, ..self.part.clone() };
        digest(&part)
    }

    /// A mark's settings, for telling whether they were changed: of what its pieces make another row doesn't matter.
    #[must_use]
    pub fn mark_digest(&self, mark: &Mark) -> String {
        let text = if mark.is_made() { String::new() } else { mark.text.clone() };
        let bare = Mark { id: String::new(), on: true, text, style: None, ..mark.bare() };
        let face = self.own_faces.iter().find(|f| f.name == mark.lettering.face);
        digest(&(bare, face))
    }

    /// What was given for a finding that fails: a waiver that holds; else the newest that held once. Everything else has none.
    #[must_use]
    pub fn waived(&self, asked: &Asked<'_>, row: Option<u32>, day: Option<Date>) -> Option<WaivedBy> {
        if asked.state != State::Fails || self.waivers.is_empty() {
            return None;
        }
        let mut given = self.waivers.iter().filter(|w| w.is_of(asked, row)).peekable();
        given.peek()?;
        let mark = self.marks.iter().find(|m| m.id == asked.mark).map(|m| self.mark_digest(m)).unwrap_or_default();
        let part = self.part_digest();
        let told = given.map(|w| (w, w.lapsed(asked, day, &mark, &part))).collect::<Vec<_>>();
        let (waiver, lapsed) = told.iter().find(|(_, lapsed)| lapsed.is_none()).or(told.last())?;
        Some(WaivedBy {
            id: waiver.id.clone(),
            reason: waiver.reason.clone(),
            by: waiver.by.clone(),
            on: waiver.on.clone(),
            until: waiver.until.clone(),
            lapsed: lapsed.clone(),
        })
    }

    pub(crate) fn check_waivers(&self) -> Result<(), String> {
        if self.waivers.len() > MOST_WAIVERS {
            return Err(format!("a job has at most {MOST_WAIVERS} waivers; it has {}", self.waivers.len()));
        }
        self.waivers.iter().try_for_each(Waiver::check)?;
        let mut ids = std::collections::HashSet::new();
        match self.waivers.iter().find(|w| !ids.insert(&w.id)) {
            Some(twice) => Err(format!("two waivers are called “{}”; each needs an id of its own", twice.id)),
            None => Ok(()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use time::macros::date;

    const ASKED: Asked<'static> = Asked {
        mark: "a",
        check: Check::Draft,
        state: State::Fails,
        measured: Some(1.5),
        error: 0.01,
        limit: Some((Side::AtLeast, 3.0)),
        sentence: "The walls of “R” have 1.5° of draft.",
    };

    fn job() -> Job {
        let mark = Mark { id: "a".into(), text: "R".into(), ..Mark::default() };
        let mut job = Job { marks: vec![mark], ..Job::default() };
        let of = Waived {
            figure: Some(1.5),
            unit: "°".into(),
            limit: Some(3.0),
            side: Some(Side::AtLeast),
            sentence: ASKED.sentence.into(),
            mark: job.mark_digest(&job.marks[0]),
            part: job.part_digest(),
        };
        job.waivers.push(Waiver {
            id: "w".into(),
            mark: "a".into(),
            check: Check::Draft,
            rows: None,
            reason: "polished steel, tried".into(),
            by: "C. Hecker".into(),
            on: "2026-11-30".into(),
            until: Some("2026-12-31".into()),
            of,
        });
        job
    }

    const DAY: Option<Date> = Some(date!(2026 - 12 - 31));

    fn lapsed(job: &Job, asked: Asked<'_>) -> Option<String> {
        job.waived(&asked, None, DAY).expect("a waiver was given").lapsed
    }

    #[test]
    fn a_waiver_holds_on_its_last_day_for_a_figure_that_is_no_worse() {
        let job = job();
        job.check_waivers().unwrap();
        assert_eq!(lapsed(&job, ASKED), None);
        assert_eq!(lapsed(&job, Asked { measured: Some(1.495), ..ASKED }), None, "within the measurement's own error");
        assert_eq!(lapsed(&job, Asked { measured: Some(2.0), ..ASKED }), None);
        assert_eq!(
            lapsed(&job, Asked { measured: Some(1.4), ..ASKED }).unwrap(),
            "the figure is worse: 1.400° instead of 1.500°"
        );
        let ended = job.waived(&ASKED, None, Some(date!(2027 - 01 - 01))).unwrap().lapsed;
        assert_eq!(ended.unwrap(), "it ended on 2026-12-31");
        assert!(job.waived(&ASKED, None, None).unwrap().lapsed.is_some(), "nobody knows the day");
        // what doesn't fail needs none, and another check has none
        assert_eq!(job.waived(&Asked { state: State::Marginal, ..ASKED }, None, DAY), None);
        assert_eq!(job.waived(&Asked { check: Check::Wall, ..ASKED }, None, DAY), None);
    }

    #[test]
    fn a_waiver_lapses_with_the_mark_the_part_and_the_limit() {
        let changed = |change: &dyn Fn(&mut Job)| {
            let mut job = job();
            change(&mut job);
            lapsed(&job, ASKED)
        };
        assert_eq!(changed(&|j| j.marks[0].relief.height += 0.05).unwrap(), "the mark was changed since");
        assert_eq!(changed(&|j| j.marks[0].text = "P".into()).unwrap(), "the mark was changed since");
        assert_eq!(changed(&|j| j.part.sha256 = Some("0".into())).unwrap(), "the part was changed since");
        assert_eq!(changed(&|j| j.part.file = "other.stl".into()), None, "the same bytes under another name");
        assert_eq!(changed(&|j| j.marks[0].style = Some("small".into())), None);
        let limit = lapsed(&job(), Asked { limit: Some((Side::AtLeast, 2.0)), ..ASKED });
        assert_eq!(limit.unwrap(), "the limit was changed since");
    }

    #[test]
    fn a_waiver_for_some_rows_is_for_no_others_and_another_text_of_its_recipe_is_the_same_mark() {
        let mut job = job();
        job.marks[0].recipe = vec![crate::Piece::plain(crate::recipe::PieceOf::cell("cavity"))];
        job.waivers[0].of.mark = job.mark_digest(&job.marks[0]);
        job.waivers[0].rows = Some(vec![4]);
        job.marks[0].text = "12".into();
        assert_eq!(job.waived(&ASKED, Some(4), DAY).unwrap().lapsed, None);
        assert_eq!(job.waived(&ASKED, Some(5), DAY), None);
        assert_eq!(job.waived(&ASKED, None, DAY), None);
    }

    #[test]
    fn what_is_wrong_with_a_waiver_is_said() {
        let wrong = |change: &dyn Fn(&mut Waiver)| {
            let mut job = job();
            change(&mut job.waivers[0]);
            job.check_waivers().unwrap_err()
        };
        assert!(wrong(&|w| w.reason = "  ".into()).contains("needs a reason"));
        assert!(wrong(&|w| w.until = Some("31.12.2026".into())).contains("write it as 2026-11-30"));
        assert!(wrong(&|w| w.by.clear()).contains("answers for it"));
        let mut twice = job();
        twice.waivers.push(twice.waivers[0].clone());
        assert!(twice.check_waivers().unwrap_err().contains("an id of its own"));
    }
}
