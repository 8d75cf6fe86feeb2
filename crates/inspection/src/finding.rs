//! What a check found: the figure, its limit, how it stands, the evidence, one sentence.

use crate::Check;
use glam::DVec3;
use serde::{Deserialize, Deserializer, Serialize, de::Error};
use trade::{
    WaivedBy,
    limits::{Limit, Side, State},
    waiver::Asked,
};

/// Where a figure was measured, mm in part coordinates.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum Witness {
    Point {
        #[cfg_attr(feature = "openapi", schema(value_type = [f64; 3]))]
        at: DVec3,
    },
    Pair {
        #[cfg_attr(feature = "openapi", schema(value_type = [f64; 3]))]
        from: DVec3,
        #[cfg_attr(feature = "openapi", schema(value_type = [f64; 3]))]
        to: DVec3,
    },
    Facet {
        #[cfg_attr(feature = "openapi", schema(value_type = [[f64; 3]; 3]))]
        corners: [DVec3; 3],
    },
}

/// What was measured of one character.
#[derive(Clone, Debug, PartialEq)]
pub enum Figure {
    /// A value in the finding's unit, how far it may be off itself, and where it is.
    Of { value: f64, error: f64, witness: Option<Witness> },
    /// There is nothing to ask of this character.
    DoesNotApply,
    /// It could not be measured.
    NotMeasured,
}

impl Figure {
    #[must_use]
    pub fn of(value: f64, error: f64, witness: Witness) -> Self {
        Self::Of { value, error, witness: Some(witness) }
    }

    /// Nothing was found to measure, where there should be something.
    #[must_use]
    pub fn found(figure: Option<(f64, f64, Witness)>) -> Self {
        figure.map_or(Self::NotMeasured, |(value, error, witness)| Self::of(value, error, witness))
    }

    #[must_use]
    pub fn value(&self) -> Option<f64> {
        match self {
            Self::Of { value, .. } => Some(*value),
            Self::DoesNotApply | Self::NotMeasured => None,
        }
    }
}

/// A character by its place in the mark, its text, and its figure.
pub type Measured = (u32, String, Figure);

/// One character's share of a finding.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Letter {
    /// Its place in the mark.
    pub character: u32,
    pub text: String,
    /// In the finding's unit; `None` where the check does not apply to this character, or could not be made.
    pub measured: Option<f64>,
    /// How far the figure itself may be off.
    pub error: f64,
    pub state: State,
    pub witness: Option<Witness>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LimitShown {
    pub value: f64,
    pub side: Side,
    pub margin: f64,
    pub source: String,
    /// The sheet that it stands in, and its version; or “this job”.
    pub sheet: String,
}

impl From<Limit> for LimitShown {
    fn from(limit: Limit) -> Self {
        let Limit { value, side, margin, source, sheet, .. } = limit;
        Self { value, side, margin, source: source.into_owned(), sheet: sheet.into_owned() }
    }
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Id of the mark.
    pub mark: String,
    pub check: Check,
    pub state: State,
    /// The worst figure of the mark, in [`Finding::unit`].
    pub measured: Option<f64>,
    #[serde(deserialize_with = "known_unit")]
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub unit: FigureUnit,
    pub limit: Option<LimitShown>,
    /// How far the figure itself may be off, in the unit.
    pub error: f64,
    pub sentence: String,
    pub letters: Vec<Letter>,
    /// The worst place first.
    pub witnesses: Vec<Witness>,
    /// Where it fails: what somebody answers for it with.
    pub waived: Option<WaivedBy>,
}

/// One of [`UNITS`].
pub type FigureUnit = &'static str;

/// Units that figures have.
const UNITS: &[&str] = &["", "mm", "°", "%", "× cap", "strokes", "cap heights", "characters"];

fn known_unit<'de, D: Deserializer<'de>>(deserializer: D) -> Result<FigureUnit, D::Error> {
    let written = String::deserialize(deserializer)?;
    let known = UNITS.iter().find(|unit| **unit == written);
    known.copied().ok_or_else(|| D::Error::custom(format!("there is no unit “{written}”")))
}

/// Figures closer than this are the same: of letters that tie the first is named, whatever the last
/// digits are.
const TIE: f64 = 1e-6;

impl Finding {
    /// A check that could not be made, and why.
    #[must_use]
    pub fn not_checked(mark: &str, check: Check, why: impl Into<String>) -> Self {
        Self::plain(mark, check, State::NotChecked, why)
    }

    /// There is nothing to ask, and why.
    #[must_use]
    pub fn does_not_apply(mark: &str, check: Check, why: impl Into<String>) -> Self {
        Self::plain(mark, check, State::DoesNotApply, why)
    }

    /// A finding without a figure.
    #[must_use]
    pub fn plain(mark: &str, check: Check, state: State, sentence: impl Into<String>) -> Self {
        Self {
            mark: mark.to_owned(),
            check,
            state,
            measured: None,
            unit: "",
            limit: None,
            error: 0.0,
            sentence: sentence.into(),
            letters: Vec::new(),
            witnesses: Vec::new(),
            waived: None,
        }
    }

    /// Letters judged against one limit; the worst of them is the mark's figure. A letter that could not be measured
    /// leaves the mark not checked, unless another fails.
    #[must_use]
    pub fn judged(mark: &str, check: Check, unit: &'static str, limit: &Limit, measured: Vec<Measured>) -> Self {
        let mut letters = Vec::with_capacity(measured.len());
        let mut worst: Option<(f64, f64, Option<Witness>)> = None;
        for (character, text, figure) in measured {
            let (measured, error, state, witness) = match figure {
                Figure::DoesNotApply => (None, 0.0, State::DoesNotApply, None),
                Figure::NotMeasured => (None, 0.0, State::NotChecked, None),
                Figure::Of { value, .. } if value.is_nan() => (None, 0.0, State::NotChecked, None),
                Figure::Of { value, error, witness } => {
                    let worse = worst.as_ref().is_none_or(|(w, ..)| match limit.side {
                        Side::AtLeast => value < w - TIE,
                        Side::AtMost => value > w + TIE,
                    });
                    if worse {
                        worst = Some((value, error, witness.clone()));
                    }
                    (value.is_finite().then_some(value), error, limit.judge(value, error), witness)
                }
            };
            letters.push(Letter { character, text, measured, error, state, witness });
        }
        let state = letters.iter().map(|l| l.state).max().unwrap_or(State::NotChecked);
        let (measured, error, witness) = worst.map_or((None, 0.0, None), |(v, e, w)| (Some(v), e, w));
        Self {
            mark: mark.to_owned(),
            check,
            state,
            measured,
            unit,
            limit: Some(limit.clone().into()),
            error,
            sentence: String::new(),
            witnesses: witness.into_iter().collect(),
            letters,
            waived: None,
        }
    }

    /// Of findings on some of a mark's characters each the worst, with all their letters in the order of the text.
    #[must_use]
    pub fn worst_of(mut findings: Vec<Self>) -> Option<Self> {
        findings.sort_by_key(|f| std::cmp::Reverse(f.state));
        let mut letters: Vec<Letter> = findings.iter().flat_map(|f| f.letters.clone()).collect();
        letters.sort_by_key(|l| l.character);
        let worst = findings.into_iter().next()?;
        Some(Self { letters, ..worst })
    }

    /// Characters that could not be measured, in quotation marks; nothing where all could.
    #[must_use]
    pub fn unmeasured(&self) -> Option<String> {
        let letters: Vec<&str> =
            self.letters.iter().filter(|l| l.state == State::NotChecked).map(|l| l.text.as_str()).collect();
        (!letters.is_empty()).then(|| format!("“{}”", letters.join("”, “")))
    }

    /// Does it fail with nobody answering for it? A waiver that lapsed is none.
    #[must_use]
    pub fn fails_unwaived(&self) -> bool {
        self.state == State::Fails && !self.is_waived()
    }

    /// Does somebody answer for it? It fails all the same.
    #[must_use]
    pub fn is_waived(&self) -> bool {
        self.waived.as_ref().is_some_and(|w| w.lapsed.is_none())
    }

    /// As a waiver asks for it.
    #[must_use]
    pub fn asked(&self) -> Asked<'_> {
        Asked {
            mark: &self.mark,
            check: self.check,
            state: self.state,
            measured: self.measured,
            error: self.error,
            limit: self.limit.as_ref().map(|l| (l.side, l.value)),
            sentence: &self.sentence,
        }
    }

    #[must_use]
    pub fn says(mut self, sentence: impl Into<String>) -> Self {
        self.sentence = sentence.into();
        if let Some(letters) = self.unmeasured() {
            self.sentence += &format!(" {letters} could not be measured.");
        }
        self
    }

    /// The first letter that stands as the finding does.
    #[must_use]
    pub fn worst_letter(&self) -> &str {
        let worst = self.letters.iter().find(|l| l.measured.is_some() && l.measured == self.measured);
        worst.map_or("", |l| &l.text)
    }
}
