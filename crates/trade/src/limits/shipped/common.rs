//! What all processes ask alike.

use super::{COMMON, Row, least, most};
use crate::limits::Subject;

pub const ROWS: &[Row] = &[
    most(Subject::UniformDepth, 5.0, 1.0, COMMON),
    least(Subject::CapHeight, 2.0, 0.1, "0.08 in, marking for identification, from memory"),
    least(Subject::ReadingAngle, 16.0, 4.0, "16′ least, 20′ preferred, human engineering, from memory"),
    least(Subject::Gap, 1.0, 0.1, "one stroke, from memory"),
    least(Subject::WordGap, 0.5, 0.05, "half a character, common practice; one character preferred, from memory"),
    least(
        Subject::LineGap,
        0.3,
        0.05,
        "half a capital from line to line, from memory, less what tails and rounds take",
    ),
    least(Subject::StrokeToHeight, 1.0, 0.1, COMMON),
    least(Subject::StrokeToCap, 0.07, 0.01, "h/14, ISO 3098 type A, from memory"),
    least(Subject::ReliefToCap, 0.02, 0.005, COMMON),
    least(Subject::InnerCorner, 0.0, 0.01, "none required, common practice"),
    least(Subject::Clearance, 0.5, 0.05, COMMON),
    least(Subject::WallLeft, 60.0, 5.0, COMMON),
    most(Subject::WallAdded, 50.0, 5.0, COMMON),
    least(Subject::FromPolished, 1.0, 0.1, COMMON),
    least(Subject::FromSealing, 1.5, 0.15, COMMON),
    least(Subject::FromClamping, 0.5, 0.1, COMMON),
    least(Subject::FromGate, 2.0, 0.2, COMMON),
    least(Subject::FromEjectorPin, 1.0, 0.1, COMMON),
    least(Subject::FromWeldLine, 1.0, 0.1, COMMON),
    least(Subject::Reading, 0.03, 0.03, "own trial: 104 texts, held against a character reader"),
];
