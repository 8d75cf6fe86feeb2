//! Casting under gravity into coated permanent moulds: the coat rounds what is fine.

use super::{COMMON, Shipped, least, most};
use crate::limits::Subject;

pub const SHEET: Shipped = Shipped {
    id: "gravity-casting",
    name: "gravity die casting",
    version: 3,
    rows: &[
        least(Subject::Draft, 3.0, 0.5, "2° to 3° on what shrinks away from the mould, common practice"),
        least(
            Subject::SunkenDraft,
            5.0,
            0.5,
            "3° to 5° on what shrinks onto it, coated moulds the more, common practice",
        ),
        most(Subject::UniformDepth, 10.0, 2.0, COMMON),
        least(Subject::ReliefHeight, 0.5, 0.05, COMMON),
        least(Subject::CapHeight, 3.0, 0.2, COMMON),
        least(Subject::Stroke, 0.6, 0.06, COMMON),
        least(Subject::Counter, 0.6, 0.06, COMMON),
        least(Subject::Island, 1.0, 0.1, COMMON),
        least(Subject::SteelBetween, 0.8, 0.08, COMMON),
        least(Subject::SteelOfLetters, 0.8, 0.08, COMMON),
        least(Subject::InnerCorner, 0.2, 0.02, COMMON),
        least(Subject::Parting, 2.0, 0.2, COMMON),
        least(Subject::WallLeast, 3.0, 0.3, COMMON),
    ],
};
