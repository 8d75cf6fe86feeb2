//! Casting into ceramic shells about wax patterns.

use super::{COMMON, Shipped, least};
use crate::limits::Subject;

pub const SHEET: Shipped = Shipped {
    id: "investment-casting",
    name: "investment casting",
    version: 3,
    rows: &[
        least(Subject::Draft, 3.0, 0.25, "wax patterns 3° to 5°, common practice"),
        least(Subject::SunkenDepth, 0.4, 0.04, "0.4 to 0.8 mm: slurry fills what is narrow, common practice"),
        least(Subject::ReliefHeight, 0.5, 0.05, "0.5 to 0.8 mm investment cast, from memory"),
        least(Subject::Stroke, 0.4, 0.04, COMMON),
        least(Subject::Counter, 0.5, 0.05, COMMON),
        least(Subject::Island, 0.6, 0.06, COMMON),
        least(Subject::SteelBetween, 0.4, 0.04, COMMON),
        least(Subject::SteelOfLetters, 0.4, 0.04, COMMON),
        least(Subject::InnerCorner, 0.1, 0.01, COMMON),
        least(Subject::Parting, 1.0, 0.1, COMMON),
        least(Subject::WallLeast, 1.5, 0.15, COMMON),
    ],
};
