//! What a check found: the figure, its limit, how it stands, the evidence, one sentence.

use crate::check::Check;
use glam::DVec3;
use serde::Serialize;
use trade::limits::{Limit, Side, State};

/// Where a figure was measured, mm in part coordinates.
#[derive(Clone, Debug, PartialEq, Serialize)]
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

/// A character by its place in the mark, its text, and its figure with a witness, or nothing where
/// the check doesn't apply.
pub type Measured = (u32, String, Option<(f64, Option<Witness>)>);

/// One character's share of a finding.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Letter {
    /// Its place in the mark.
    pub character: u32,
    pub text: String,
    /// In the finding's unit; `None` where the check does not apply to this character.
    pub measured: Option<f64>,
    pub state: State,
    pub witness: Option<Witness>,
}

#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LimitShown {
    pub value: f64,
    pub side: Side,
    pub margin: f64,
    pub source: String,
}

impl From<Limit> for LimitShown {
    fn from(limit: Limit) -> Self {
        Self { value: limit.value, side: limit.side, margin: limit.margin, source: limit.source.into_owned() }
    }
}

#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Id of the mark.
    pub mark: String,
    pub check: Check,
    pub state: State,
    /// The worst figure of the mark, in [`Finding::unit`].
    pub measured: Option<f64>,
    pub unit: &'static str,
    pub limit: Option<LimitShown>,
    /// How far the measurement itself may be off, in the unit.
    pub error: f64,
    pub sentence: String,
    pub letters: Vec<Letter>,
    /// The worst place first.
    pub witnesses: Vec<Witness>,
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
        }
    }

    /// Letters judged against one limit; the worst of them is the mark's figure.
    ///
    /// `measured` gives for each letter its figure and witness, or nothing where it doesn't apply.
    #[must_use]
    pub fn judged(
        mark: &str,
        check: Check,
        unit: &'static str,
        limit: &Limit,
        error: f64,
        measured: Vec<Measured>,
    ) -> Self {
        let mut letters = Vec::with_capacity(measured.len());
        let mut worst: Option<(f64, Option<Witness>)> = None;
        for (character, text, figure) in measured {
            let state = figure.as_ref().map_or(State::Passes, |(value, _)| limit.judge(*value, error));
            if let Some((value, witness)) = &figure {
                let worse = worst.as_ref().is_none_or(|(w, _)| match limit.side {
                    Side::AtLeast => *value < w - TIE,
                    Side::AtMost => *value > w + TIE,
                });
                if worse && !value.is_nan() {
                    worst = Some((*value, witness.clone()));
                }
            }
            let (measured, witness) = figure.map_or((None, None), |(v, w)| (v.is_finite().then_some(v), w));
            letters.push(Letter { character, text, measured, state, witness });
        }
        let state = letters.iter().map(|l| l.state).max().unwrap_or(State::NotChecked);
        Self {
            mark: mark.to_owned(),
            check,
            state,
            measured: worst.as_ref().map(|(v, _)| *v),
            unit,
            limit: Some(limit.clone().into()),
            error,
            sentence: String::new(),
            witnesses: worst.and_then(|(_, w)| w).into_iter().collect(),
            letters,
        }
    }

    #[must_use]
    pub fn says(mut self, sentence: impl Into<String>) -> Self {
        self.sentence = sentence.into();
        self
    }

    /// The first letter that stands as the finding does.
    #[must_use]
    pub fn worst_letter(&self) -> &str {
        let worst = self.letters.iter().find(|l| l.measured.is_some() && l.measured == self.measured);
        worst.map_or("", |l| &l.text)
    }
}
