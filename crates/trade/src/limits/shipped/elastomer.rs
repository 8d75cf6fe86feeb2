//! Moulded rubber and thermoplastic elastomers; silicone moulds, which give way as the part does.

use super::{COMMON, Shipped, least};
use crate::limits::Subject;

pub const SHEET: Shipped = Shipped {
    id: "elastomer",
    name: "rubber and flexible moulds",
    version: 1,
    rows: &[
        least(Subject::Draft, 0.5, 0.25, "0.5° to 2°: what gives way releases with little, common practice"),
        least(Subject::ReliefHeight, 0.25, 0.02, COMMON),
        least(Subject::Stroke, 0.4, 0.04, COMMON),
        least(Subject::Counter, 0.4, 0.05, COMMON),
        least(Subject::Island, 0.5, 0.05, COMMON),
        least(Subject::SteelBetween, 0.3, 0.03, COMMON),
        least(Subject::SteelOfLetters, 0.3, 0.03, COMMON),
        least(Subject::Parting, 1.0, 0.1, COMMON),
        least(Subject::WallLeft, 50.0, 5.0, COMMON),
        least(Subject::WallLeast, 1.0, 0.1, COMMON),
    ],
};
