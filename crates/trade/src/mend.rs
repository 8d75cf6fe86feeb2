//! What can be done to a part file that is no closed solid, or whose faces were told apart wrongly.

use crate::area::{MOST, Spot};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A mend of the part's mesh that changes no more than it says.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PartMend {
    /// Facets that lie on one another are dropped: of a pair that faces both ways both, of copies all
    /// but one.
    DropDoubles,
    /// Separate bits far smaller than the part are dropped.
    DropLoose,
    /// Facets are turned so that the surface faces one way everywhere, outward; hollows inward.
    Turn,
    /// Flat holes in the surface are closed.
    CloseHoles,
}

impl PartMend {
    /// In the order in which they help one another.
    pub const ALL: [Self; 4] = [Self::DropDoubles, Self::DropLoose, Self::Turn, Self::CloseHoles];
}

/// Which side of a surface body is its outside: the one that its file's facets face, or the
/// other.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BodySide {
    Front,
    Back,
}

/// Wrong splits of the surface into faces, mended by hand. No face gets another number by it: what names
/// faces goes on naming them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "do", deny_unknown_fields)]
pub enum FaceMend {
    /// The second face becomes part of the first; its number stays empty.
    Join {
        face: u32,
        with: u32,
        /// A place on each, mm in the part, by which they are found where faces are numbered otherwise; the program
        /// keeps it. Left out, the numbers are taken as they are.
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(required = true))]
        at: Option<[[f64; 3]; 2]>,
    },
    /// The facets of a face that the brush touched become a face of their own, which gets the next
    /// number.
    Divide {
        face: u32,
        spots: Vec<Spot>,
        /// A place on the face, as for faces that are joined.
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(required = true))]
        at: Option<[f64; 3]>,
    },
}

/// Most such mends of one part: far above what a hand does.
pub const MOST_FACE_MENDS: usize = 500;

impl FaceMend {
    pub(crate) fn check(&self) -> Result<(), String> {
        match self {
            Self::Join { face, with, .. } if face == with => Err(format!("face {face} can't be joined with itself")),
            Self::Join { .. } => Ok(()),
            Self::Divide { spots, .. } if spots.is_empty() || spots.len() > MOST => {
                Err(format!("a face is divided by 1 to {MOST} touches of the brush, not by {}", spots.len()))
            }
            Self::Divide { spots, .. } => spots.iter().try_for_each(Spot::check),
        }
    }
}
