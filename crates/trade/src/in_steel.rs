//! How a mark comes into the tool, and from where the toolmaker measures.

use crate::range::Within;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How a mark comes into the steel. Lengths are the steel's: shrinkage is in them.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "way", deny_unknown_fields)]
pub enum InSteel {
    /// Cut into the tool itself.
    #[default]
    Cut,
    /// Sunk by sparks from an electrode of its raised lettering.
    Electrode {
        /// Between the electrode and the steel when it is all the way down, on every side, mm.
        gap: f64,
        /// Under the letters, to be clamped by, mm.
        stock: f64,
        /// Of the stock past the letters, all round, mm.
        margin: f64,
    },
    /// On a loose piece of steel that is let into the tool.
    Insert {
        /// Past the lettering, all round, mm.
        margin: f64,
        /// From the deepest of the lettering to the back, mm.
        deep: f64,
        /// Between the insert and its pocket, all round, mm.
        clearance: f64,
    },
}

impl InSteel {
    #[must_use]
    pub fn is_cut(&self) -> bool {
        *self == Self::Cut
    }

    pub(crate) fn check(&self, within: Within<'_>) -> Result<(), String> {
        match *self {
            Self::Cut => Ok(()),
            Self::Electrode { gap, stock, margin } => {
                within("spark gap", gap, 0.005..=1.0, " mm")?;
                within("stock of the electrode", stock, 1.0..=200.0, " mm")?;
                within("margin of the electrode's stock", margin, 0.0..=100.0, " mm")
            }
            Self::Insert { margin, deep, clearance } => {
                within("margin of the insert", margin, 0.1..=100.0, " mm")?;
                within("depth of the insert", deep, 1.0..=200.0, " mm")?;
                within("clearance of the insert", clearance, 0.0..=1.0, " mm")
            }
        }
    }
}

/// The zero from which the toolmaker measures. Where it is no point of its own, it lies on the parting plane, or, where
/// none is set, as far along the pull as the part's zero.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "datum", deny_unknown_fields)]
pub enum Datum {
    /// The part's own zero.
    #[default]
    Zero,
    /// The middle of the part's extents.
    Centre,
    /// A corner of the part's extents, seen on the steel.
    Corner { right: bool, upper: bool },
    /// A point of the part, mm: a corner, a point of a hole's axis.
    Point { at: [f64; 3] },
}

impl Datum {
    #[must_use]
    pub fn is_zero(&self) -> bool {
        *self == Self::Zero
    }

    pub(crate) fn check(&self) -> Result<(), String> {
        match self {
            Self::Point { at } if !at.iter().all(|c| c.is_finite() && c.abs() <= 1e5) => {
                Err(format!("the datum {at:?} is no point; give three numbers of at most 100000 mm"))
            }
            _ => Ok(()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::range::within;

    #[test]
    fn what_is_out_of_range_is_named() {
        let electrode = |gap: f64| InSteel::Electrode { gap, stock: 10.0, margin: 2.0 }.check(&within);
        assert!(electrode(0.1).is_ok());
        assert!(electrode(0.0).unwrap_err().contains("spark gap"));
        let insert = |deep: f64| InSteel::Insert { margin: 1.5, deep, clearance: 0.01 }.check(&within);
        assert!(insert(12.0).is_ok());
        assert!(insert(f64::NAN).unwrap_err().contains("depth of the insert"));
        assert!(Datum::Point { at: [0.0, f64::INFINITY, 0.0] }.check().is_err());
    }
}
