//! Casting into sand from a pattern: what stands thin in the mould is sand.

use super::{COMMON, Shipped, least, most};
use crate::limits::Subject;

pub const SHEET: Shipped = Shipped {
    id: "sand-casting",
    name: "sand casting",
    version: 3,
    rows: &[
        least(Subject::Draft, 10.0, 1.0, "lettering on patterns 10° and more, common practice"),
        most(Subject::UniformDepth, 15.0, 3.0, COMMON),
        least(Subject::ReliefHeight, 0.8, 0.08, COMMON),
        least(Subject::SunkenDepth, 1.2, 0.12, "raised sand washes and rounds off, common practice"),
        least(Subject::CapHeight, 5.0, 0.5, COMMON),
        least(Subject::Stroke, 1.0, 0.1, COMMON),
        least(Subject::Counter, 1.2, 0.12, COMMON),
        least(Subject::Island, 2.0, 0.2, COMMON),
        least(Subject::SteelBetween, 1.5, 0.15, COMMON),
        least(Subject::SteelOfLetters, 1.5, 0.15, COMMON),
        least(Subject::InnerCorner, 0.3, 0.03, COMMON),
        least(Subject::Parting, 3.0, 0.3, COMMON),
        least(Subject::WallLeast, 4.0, 0.4, COMMON),
    ],
};
