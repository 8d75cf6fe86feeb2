//! Limit sets: the thresholds of one process, each with the source it comes from.
//!
//! Nothing in the checks is hard-wired: they ask the set. "from memory" marks a figure written
//! down without its source at hand, "common practice" a rule of thumb without a published source.

use crate::process::Process;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::borrow::Cow;

/// What a limit is about. The names are those of the columns at Inspect.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Subject {
    /// Least draft of the walls, degrees.
    Draft,
    /// Spread of the relief height (greatest − least) / nominal, percent.
    UniformDepth,
    /// Least relief height or depth, mm.
    ReliefHeight,
    /// Least cap height, mm.
    CapHeight,
    /// Least angle the cap height subtends at the reading distance, minutes of arc.
    ReadingAngle,
    /// Least stroke on top or floor, mm.
    Stroke,
    /// Least counter opening at the root, mm.
    Counter,
    /// Least gap between characters at the root, in strokes.
    Gap,
    /// Least stroke over relief height.
    StrokeToHeight,
    /// Least distance to the parting line, mm.
    Parting,
    /// Least distance to the edges of the face and to other marks, in cap heights.
    Clearance,
    /// Least wall left under sunken lettering, percent of the wall before.
    WallLeft,
    /// Least wall left under sunken lettering, mm.
    WallLeast,
    /// Most added to the wall by raised lettering, percent of the wall before.
    WallAdded,
    /// Least distance to a polished face, mm; the margins of the other kinds of keep-out likewise.
    FromPolished,
    FromSealing,
    FromClamping,
    FromGate,
    FromEjectorPin,
    FromWeldLine,
}

impl Subject {
    /// Values that make sense in the subject's unit.
    #[must_use]
    pub fn range(self) -> std::ops::RangeInclusive<f64> {
        match self {
            Self::Draft => 0.0..=60.0,
            Self::UniformDepth | Self::WallLeft | Self::WallAdded => 0.0..=100.0,
            Self::ReadingAngle => 0.0..=600.0,
            _ => 0.0..=1000.0,
        }
    }
}

/// A limit that one job sets otherwise than its set.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OwnLimit {
    pub subject: Subject,
    pub value: f64,
    /// Who asks for it: a drawing note, a customer's standard.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub source: String,
}

impl OwnLimit {
    pub(crate) fn check(&self) -> Result<(), String> {
        let range = self.subject.range();
        if !range.contains(&self.value) {
            return Err(format!(
                "a limit set for the job is {}; it must lie between {} and {}",
                self.value,
                range.start(),
                range.end()
            ));
        }
        if self.source.chars().count() > 200 {
            return Err("the source of a limit has at most 200 characters".into());
        }
        Ok(())
    }
}

/// One threshold. At least or at most `value`; what holds by less than `margin` is close.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Limit {
    pub subject: Subject,
    pub value: f64,
    pub side: Side,
    pub margin: f64,
    pub source: Cow<'static, str>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Side {
    AtLeast,
    AtMost,
}

/// How a figure stands against its limit; what matters more is greater.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum State {
    /// There is nothing to ask; the finding says why.
    DoesNotApply,
    Passes,
    Marginal,
    /// The check could not be made, or not everywhere; the finding says why. Nobody knows whether it passes.
    NotChecked,
    Fails,
}

impl State {
    /// As one reads it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::DoesNotApply => "does not apply",
            Self::Passes => "passes",
            Self::Marginal => "marginal",
            Self::NotChecked => "not checked",
            Self::Fails => "fails",
        }
    }
}

impl Limit {
    /// How `measured` stands; not a number is [`State::NotChecked`].
    ///
    /// `error` is how far the measurement itself may be off, in the limit's unit: a figure that
    /// misses the limit by no more than that is marginal, not failing, and one that passes does so with the error
    /// against it.
    #[must_use]
    pub fn judge(&self, measured: f64, error: f64) -> State {
        if measured.is_nan() {
            return State::NotChecked;
        }
        let clear = match self.side {
            Side::AtLeast => measured - self.value,
            Side::AtMost => self.value - measured,
        };
        if clear < -error {
            State::Fails
        } else if clear < self.margin.max(error) {
            State::Marginal
        } else {
            State::Passes
        }
    }
}

#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LimitSet {
    pub id: &'static str,
    pub name: &'static str,
    pub limits: Cow<'static, [Limit]>,
}

impl LimitSet {
    /// The limit on `subject`; every shipped set has one for each.
    #[must_use]
    pub fn limit(&self, subject: Subject) -> Limit {
        self.limits
            .iter()
            .find(|l| l.subject == subject)
            .expect("a test holds that every shipped set covers every subject")
            .clone()
    }

    /// The set with what a texture adds to the draft, and with the limits that a job sets otherwise.
    /// A draft of the job's own is taken as it is: whoever sets it knows the texture.
    #[must_use]
    pub fn adapted(&self, process: &Process, own: &[OwnLimit]) -> Self {
        let mut limits = self.limits.to_vec();
        for limit in &mut limits {
            let texture = process.texture_draft();
            if limit.subject == Subject::Draft && texture > 0.0 {
                limit.source =
                    format!("{}; {texture:.2}° of it for the texture, 1° for each 0.025 mm, from memory", limit.source)
                        .into();
                limit.value += texture;
            }
            let over = SEEN_OVER_TEXTURE * process.texture;
            if limit.subject == Subject::ReliefHeight && over > limit.value {
                limit.source = format!("{SEEN_OVER_TEXTURE:.0} times the texture’s depth, common practice").into();
                limit.value = over;
            }
            if let Some(own) = own.iter().find(|o| o.subject == limit.subject) {
                limit.value = own.value;
                limit.source =
                    if own.source.is_empty() { "set for this job".into() } else { Cow::Owned(own.source.clone()) };
            }
        }
        Self { limits: Cow::Owned(limits), ..*self }
    }
}

/// Relief less than so many times as deep as the texture is lost in it.
const SEEN_OVER_TEXTURE: f64 = 4.0;
const COMMON: &str = "common practice";
const MEMORY: &str = "from memory";

const fn least(subject: Subject, value: f64, margin: f64, source: &'static str) -> Limit {
    Limit { subject, value, side: Side::AtLeast, margin, source: Cow::Borrowed(source) }
}
const fn most(subject: Subject, value: f64, margin: f64, source: &'static str) -> Limit {
    Limit { subject, value, side: Side::AtMost, margin, source: Cow::Borrowed(source) }
}

static SETS: [LimitSet; 2] = [
    LimitSet {
        id: "thermoplastic",
        name: "thermoplastic moulding",
        limits: Cow::Borrowed(&[
            least(Subject::Draft, 1.5, 0.25, "1° to 3°, from memory"),
            most(Subject::UniformDepth, 5.0, 1.0, COMMON),
            least(Subject::ReliefHeight, 0.2, 0.02, "0.2 to 0.5 mm moulded, common practice"),
            least(Subject::CapHeight, 2.0, 0.1, "0.08 in, marking for identification, from memory"),
            least(Subject::ReadingAngle, 16.0, 4.0, "16′ least, 20′ preferred, human engineering, from memory"),
            least(Subject::Stroke, 0.2, 0.02, COMMON),
            least(Subject::Counter, 0.2, 0.05, COMMON),
            least(Subject::Gap, 1.0, 0.1, "one stroke, from memory"),
            least(Subject::StrokeToHeight, 1.0, 0.1, COMMON),
            least(Subject::Parting, 1.0, 0.1, COMMON),
            least(Subject::Clearance, 0.5, 0.05, COMMON),
            least(Subject::WallLeft, 60.0, 5.0, COMMON),
            least(Subject::WallLeast, 0.8, 0.1, COMMON),
            most(Subject::WallAdded, 50.0, 5.0, COMMON),
            least(Subject::FromPolished, 1.0, 0.1, COMMON),
            least(Subject::FromSealing, 1.5, 0.15, COMMON),
            least(Subject::FromClamping, 0.5, 0.1, COMMON),
            least(Subject::FromGate, 2.0, 0.2, COMMON),
            least(Subject::FromEjectorPin, 1.0, 0.1, COMMON),
            least(Subject::FromWeldLine, 1.0, 0.1, COMMON),
        ]),
    },
    LimitSet {
        id: "die-casting",
        name: "pressure die casting",
        limits: Cow::Borrowed(&[
            least(Subject::Draft, 10.0, 0.5, MEMORY),
            most(Subject::UniformDepth, 5.0, 1.0, COMMON),
            least(Subject::ReliefHeight, 0.25, 0.02, "0.25 to 0.5 mm die cast, from memory"),
            least(Subject::CapHeight, 2.0, 0.1, "0.08 in, marking for identification, from memory"),
            least(Subject::ReadingAngle, 16.0, 4.0, "16′ least, 20′ preferred, human engineering, from memory"),
            least(Subject::Stroke, 0.3, 0.03, COMMON),
            least(Subject::Counter, 0.3, 0.05, COMMON),
            least(Subject::Gap, 1.0, 0.1, "one stroke, from memory"),
            least(Subject::StrokeToHeight, 1.0, 0.1, COMMON),
            least(Subject::Parting, 1.5, 0.15, COMMON),
            least(Subject::Clearance, 0.5, 0.05, COMMON),
            least(Subject::WallLeft, 60.0, 5.0, COMMON),
            least(Subject::WallLeast, 1.0, 0.1, COMMON),
            most(Subject::WallAdded, 50.0, 5.0, COMMON),
            least(Subject::FromPolished, 1.0, 0.1, COMMON),
            least(Subject::FromSealing, 1.5, 0.15, COMMON),
            least(Subject::FromClamping, 0.5, 0.1, COMMON),
            least(Subject::FromGate, 2.0, 0.2, COMMON),
            least(Subject::FromEjectorPin, 1.0, 0.1, COMMON),
            least(Subject::FromWeldLine, 1.0, 0.1, COMMON),
        ]),
    },
];

/// The shipped sets.
#[must_use]
pub fn sets() -> &'static [LimitSet] {
    &SETS
}

/// The shipped set called `id`.
#[must_use]
pub fn set(id: &str) -> Option<&'static LimitSet> {
    SETS.iter().find(|s| s.id == id)
}

pub(crate) fn ids() -> Vec<&'static str> {
    SETS.iter().map(|s| s.id).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_set_has_every_limit_once_with_its_source() {
        for set in sets() {
            let mut subjects: Vec<Subject> = set.limits.iter().map(|l| l.subject).collect();
            subjects.sort();
            subjects.dedup();
            assert_eq!(subjects.len(), 20, "{}", set.name);
            assert_eq!(set.limits.len(), 20, "{}", set.name);
            assert!(set.limits.iter().all(|l| l.source.contains(COMMON) || l.source.contains(MEMORY)));
        }
    }

    #[test]
    fn texture_adds_its_draft_and_a_limit_of_the_jobs_own_outdoes_the_set() {
        let set = set("thermoplastic").unwrap();
        // 0.05 mm deep: 2° on top of 1.5°, 1° for each 0.025 mm (from memory)
        let process = Process { texture: 0.05, ..Process::default() };
        let draft = set.adapted(&process, &[]).limit(Subject::Draft);
        assert!((draft.value - 3.5).abs() < 1e-12 && draft.source.contains("2.00°"), "{draft:?}");
        let height = set.adapted(&process, &[]).limit(Subject::ReliefHeight);
        assert!((height.value - 0.2).abs() < 1e-12 && !height.source.contains("texture"), "{height:?}");
        let coarse = Process { texture: 0.08, ..Process::default() };
        let height = set.adapted(&coarse, &[]).limit(Subject::ReliefHeight);
        assert!((height.value - 0.32).abs() < 1e-12 && height.source.contains("texture"), "{height:?}");
        let own = OwnLimit { subject: Subject::Draft, value: 3.0, source: "drawing note 7".into() };
        let draft = set.adapted(&process, &[own]).limit(Subject::Draft);
        assert_eq!((draft.value, &*draft.source, draft.margin), (3.0, "drawing note 7", 0.25));
        assert_eq!(set.adapted(&Process::default(), &[]), *set);
    }

    #[test]
    fn a_figure_below_by_less_than_its_own_error_is_close() {
        let limit = least(Subject::Draft, 3.0, 0.25, COMMON);
        assert_eq!(limit.judge(3.3, 0.01), State::Passes);
        assert_eq!(limit.judge(3.0, 0.01), State::Marginal);
        assert_eq!(limit.judge(2.995, 0.01), State::Marginal);
        assert_eq!(limit.judge(2.98, 0.01), State::Fails);
        assert_eq!(limit.judge(f64::NAN, 0.01), State::NotChecked);
        let limit = most(Subject::WallAdded, 50.0, 5.0, COMMON);
        assert_eq!(limit.judge(44.0, 0.0), State::Passes);
        assert_eq!(limit.judge(51.0, 0.0), State::Fails);
    }
}
