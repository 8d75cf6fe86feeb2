//! Pressure die casting of zinc, aluminium and magnesium.

use super::{COMMON, MEMORY, Shipped, least};
use crate::limits::Subject;

pub const SHEET: Shipped = Shipped {
    id: "die-casting",
    name: "pressure die casting",
    version: 1,
    rows: &[
        least(Subject::Draft, 10.0, 0.5, MEMORY),
        least(Subject::ReliefHeight, 0.25, 0.02, "0.25 to 0.5 mm die cast, from memory"),
        least(Subject::Stroke, 0.3, 0.03, COMMON),
        least(Subject::Counter, 0.3, 0.05, COMMON),
        least(Subject::Island, 0.5, 0.05, COMMON),
        least(Subject::SteelBetween, 0.3, 0.03, COMMON),
        least(Subject::SteelOfLetters, 0.4, 0.04, COMMON),
        least(Subject::Parting, 1.5, 0.15, COMMON),
        least(Subject::WallLeast, 1.0, 0.1, COMMON),
    ],
};
