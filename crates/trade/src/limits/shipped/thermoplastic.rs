//! Injection moulding of thermoplastics, into steel.

use super::{COMMON, Shipped, least};
use crate::limits::Subject;

pub const SHEET: Shipped = Shipped {
    id: "thermoplastic",
    name: "thermoplastic moulding",
    version: 1,
    rows: &[
        least(Subject::Draft, 1.5, 0.25, "1° to 3°, from memory"),
        least(Subject::ReliefHeight, 0.2, 0.02, "0.2 to 0.5 mm moulded, common practice"),
        least(Subject::Stroke, 0.2, 0.02, COMMON),
        least(Subject::Counter, 0.2, 0.05, COMMON),
        least(Subject::Island, 0.3, 0.03, COMMON),
        least(Subject::SteelBetween, 0.2, 0.02, COMMON),
        least(Subject::SteelOfLetters, 0.2, 0.02, COMMON),
        least(Subject::Parting, 1.0, 0.1, COMMON),
        least(Subject::WallLeast, 0.8, 0.1, COMMON),
    ],
};
