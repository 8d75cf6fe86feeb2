//! A patch of the part's surface, in the ways a person points at one.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Most faces or spots of one area: far above what a hand paints, it keeps a broken file from
/// costing minutes.
pub const MOST: usize = 5_000;

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "kind", deny_unknown_fields)]
pub enum Area {
    /// Whole faces, by their numbers in the part.
    Faces { faces: Vec<u32> },
    /// The surface within `radius` mm of a point of the part: on a flat face a circle.
    Circle { middle: [f64; 3], radius: f64 },
    /// The surface within any of several circles: what a brush went over.
    Painted { spots: Vec<Spot> },
}

/// One touch of the brush, mm in part coordinates.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Spot {
    pub at: [f64; 3],
    pub radius: f64,
}

impl Area {
    /// The circles of a circle or a painted area; none for whole faces.
    #[must_use]
    pub fn spots(&self) -> Vec<Spot> {
        match self {
            Self::Faces { .. } => Vec::new(),
            Self::Circle { middle, radius } => vec![Spot { at: *middle, radius: *radius }],
            Self::Painted { spots } => spots.clone(),
        }
    }

    pub(crate) fn check(&self) -> Result<(), String> {
        let size = match self {
            Self::Faces { faces } => faces.len(),
            Self::Circle { .. } => 1,
            Self::Painted { spots } => spots.len(),
        };
        if size == 0 {
            return Err("its area is empty; click a face, set a circle or paint".into());
        }
        if size > MOST {
            return Err(format!("its area has {size} pieces; at most {MOST} are kept"));
        }
        self.spots().iter().try_for_each(Spot::check)
    }
}

impl Spot {
    pub(crate) fn check(&self) -> Result<(), String> {
        if !self.at.iter().all(|c| c.is_finite()) {
            return Err("its circle's centre is not a point".into());
        }
        if !(0.01..=10_000.0).contains(&self.radius) {
            return Err(format!("its circle's radius is {} mm; it must lie between 0.01 and 10000 mm", self.radius));
        }
        Ok(())
    }
}
