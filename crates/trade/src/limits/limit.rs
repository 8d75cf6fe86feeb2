//! One threshold.

use super::{State, Subject};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::borrow::Cow;

/// One threshold. At least or at most `value`; what holds by less than `margin` is close.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Limit {
    pub subject: Subject,
    pub value: f64,
    pub side: Side,
    pub margin: f64,
    pub source: Cow<'static, str>,
    /// The sheet that it stands in, and its version; or that it was set for the job.
    pub sheet: Cow<'static, str>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Side {
    AtLeast,
    AtMost,
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

#[cfg(test)]
mod tests {
    use super::*;

    fn limit(side: Side, value: f64, margin: f64) -> Limit {
        Limit { subject: Subject::Draft, value, side, margin, source: "".into(), sheet: "".into() }
    }

    #[test]
    fn a_figure_below_by_less_than_its_own_error_is_close() {
        let least = limit(Side::AtLeast, 3.0, 0.25);
        assert_eq!(least.judge(3.3, 0.01), State::Passes);
        assert_eq!(least.judge(3.0, 0.01), State::Marginal);
        assert_eq!(least.judge(2.995, 0.01), State::Marginal);
        assert_eq!(least.judge(2.98, 0.01), State::Fails);
        assert_eq!(least.judge(f64::NAN, 0.01), State::NotChecked);
        let most = limit(Side::AtMost, 50.0, 5.0);
        assert_eq!(most.judge(44.0, 0.0), State::Passes);
        assert_eq!(most.judge(51.0, 0.0), State::Fails);
    }
}
