//! Compression, transfer and injection moulding of thermosets: brittle, with flash.

use super::{COMMON, Shipped, least};
use crate::limits::Subject;

pub const SHEET: Shipped = Shipped {
    id: "thermoset",
    name: "thermoset moulding",
    version: 2,
    rows: &[
        least(Subject::Draft, 1.5, 0.25, "1° to 2°, common practice"),
        least(Subject::ReliefHeight, 0.25, 0.02, COMMON),
        least(Subject::Stroke, 0.3, 0.03, COMMON),
        least(Subject::Counter, 0.3, 0.05, COMMON),
        least(Subject::Island, 0.4, 0.04, COMMON),
        least(Subject::SteelBetween, 0.3, 0.03, COMMON),
        least(Subject::SteelOfLetters, 0.3, 0.03, COMMON),
        least(Subject::InnerCorner, 0.1, 0.01, COMMON),
        least(Subject::Parting, 1.5, 0.15, COMMON),
        least(Subject::WallLeast, 1.5, 0.15, COMMON),
    ],
};
