//! Limits sheets: the thresholds of one process, each with the source it comes from.
//!
//! Nothing in the checks is hard-wired: they ask the sheet. "from memory" marks a figure written
//! down without its source at hand, "common practice" a rule of thumb without a published source.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What a limit is about. The names are those of the inspection sheet's columns.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Subject {
    /// Least draft of the walls, degrees.
    Draft,
    /// Spread of the relief height (greatest − least) / nominal, percent.
    EvenDepth,
    /// Least cap height, mm.
    CapHeight,
    /// Least angle the cap height fills at the reading distance, minutes of arc.
    ReadingAngle,
    /// Least stroke on land or floor, mm.
    Stroke,
    /// Least counter opening at the root, mm.
    Counter,
    /// Least gap between characters at the root, in strokes.
    Gap,
    /// Least stroke over relief height.
    StrokeToHeight,
    /// Least distance to the parting line, mm.
    Parting,
    /// Least wall left under sunken lettering, percent of the wall before.
    WallLeft,
    /// Least wall left under sunken lettering, mm.
    WallLeast,
    /// Most added to the wall by raised lettering, percent of the wall before.
    WallAdded,
}

/// One threshold. At least or at most `value`; what holds by less than `margin` is close.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Limit {
    pub subject: Subject,
    pub value: f64,
    pub side: Side,
    pub margin: f64,
    pub source: &'static str,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Side {
    AtLeast,
    AtMost,
}

/// How a figure stands against its limit.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum State {
    Holds,
    /// The check could not be made; the finding says why.
    Unchecked,
    Close,
    Fails,
}

impl Limit {
    /// How `measured` stands; not a number is [`State::Unchecked`].
    ///
    /// `error` is how far the measurement itself may be off, in the limit's unit: a figure that
    /// misses the limit by no more than that is close, not failing.
    #[must_use]
    pub fn judge(&self, measured: f64, error: f64) -> State {
        if measured.is_nan() {
            return State::Unchecked;
        }
        let clear = match self.side {
            Side::AtLeast => measured - self.value,
            Side::AtMost => self.value - measured,
        };
        if clear < -error {
            State::Fails
        } else if clear < self.margin {
            State::Close
        } else {
            State::Holds
        }
    }
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Sheet {
    pub id: &'static str,
    pub name: &'static str,
    pub limits: &'static [Limit],
}

impl Sheet {
    /// The limit on `subject`; every shipped sheet has one for each.
    #[must_use]
    pub fn limit(&self, subject: Subject) -> Limit {
        *self
            .limits
            .iter()
            .find(|l| l.subject == subject)
            .expect("a test holds that every shipped sheet covers every subject")
    }
}

const COMMON: &str = "common practice";
const MEMORY: &str = "from memory";

const fn least(subject: Subject, value: f64, margin: f64, source: &'static str) -> Limit {
    Limit { subject, value, side: Side::AtLeast, margin, source }
}
const fn most(subject: Subject, value: f64, margin: f64, source: &'static str) -> Limit {
    Limit { subject, value, side: Side::AtMost, margin, source }
}

static SHEETS: [Sheet; 2] = [
    Sheet {
        id: "thermoplastic",
        name: "thermoplastic moulding",
        limits: &[
            least(Subject::Draft, 1.5, 0.25, "1° to 3°, from memory"),
            most(Subject::EvenDepth, 5.0, 1.0, COMMON),
            least(Subject::CapHeight, 2.0, 0.1, "0.08 in, marking for identification, from memory"),
            least(Subject::ReadingAngle, 16.0, 4.0, "16′ least, 20′ preferred, human engineering, from memory"),
            least(Subject::Stroke, 0.2, 0.02, COMMON),
            least(Subject::Counter, 0.2, 0.05, COMMON),
            least(Subject::Gap, 1.0, 0.1, "one stroke, from memory"),
            least(Subject::StrokeToHeight, 1.0, 0.1, COMMON),
            least(Subject::Parting, 1.0, 0.1, COMMON),
            least(Subject::WallLeft, 60.0, 5.0, COMMON),
            least(Subject::WallLeast, 0.8, 0.1, COMMON),
            most(Subject::WallAdded, 50.0, 5.0, COMMON),
        ],
    },
    Sheet {
        id: "die-casting",
        name: "pressure die casting",
        limits: &[
            least(Subject::Draft, 10.0, 0.5, MEMORY),
            most(Subject::EvenDepth, 5.0, 1.0, COMMON),
            least(Subject::CapHeight, 2.0, 0.1, "0.08 in, marking for identification, from memory"),
            least(Subject::ReadingAngle, 16.0, 4.0, "16′ least, 20′ preferred, human engineering, from memory"),
            least(Subject::Stroke, 0.3, 0.03, COMMON),
            least(Subject::Counter, 0.3, 0.05, COMMON),
            least(Subject::Gap, 1.0, 0.1, "one stroke, from memory"),
            least(Subject::StrokeToHeight, 1.0, 0.1, COMMON),
            least(Subject::Parting, 1.5, 0.15, COMMON),
            least(Subject::WallLeft, 60.0, 5.0, COMMON),
            least(Subject::WallLeast, 1.0, 0.1, COMMON),
            most(Subject::WallAdded, 50.0, 5.0, COMMON),
        ],
    },
];

/// The shipped sheets.
#[must_use]
pub fn sheets() -> &'static [Sheet] {
    &SHEETS
}

/// The shipped sheet called `id`.
#[must_use]
pub fn sheet(id: &str) -> Option<&'static Sheet> {
    SHEETS.iter().find(|s| s.id == id)
}

pub(crate) fn ids() -> Vec<&'static str> {
    SHEETS.iter().map(|s| s.id).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_sheet_has_every_limit_once_with_its_source() {
        for sheet in sheets() {
            let mut subjects: Vec<Subject> = sheet.limits.iter().map(|l| l.subject).collect();
            subjects.sort();
            subjects.dedup();
            assert_eq!(subjects.len(), 12, "{}", sheet.name);
            assert_eq!(sheet.limits.len(), 12, "{}", sheet.name);
            assert!(sheet.limits.iter().all(|l| l.source.contains(COMMON) || l.source.contains(MEMORY)));
        }
    }

    #[test]
    fn a_figure_below_by_less_than_its_own_error_is_close() {
        let limit = least(Subject::Draft, 3.0, 0.25, COMMON);
        assert_eq!(limit.judge(3.3, 0.01), State::Holds);
        assert_eq!(limit.judge(3.0, 0.01), State::Close);
        assert_eq!(limit.judge(2.995, 0.01), State::Close);
        assert_eq!(limit.judge(2.98, 0.01), State::Fails);
        assert_eq!(limit.judge(f64::NAN, 0.01), State::Unchecked);
        let limit = most(Subject::WallAdded, 50.0, 5.0, COMMON);
        assert_eq!(limit.judge(44.0, 0.0), State::Holds);
        assert_eq!(limit.judge(51.0, 0.0), State::Fails);
    }
}
