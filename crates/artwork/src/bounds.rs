//! How much is asked of a drawing, and how closely it is followed.

/// Largest file that is read, bytes.
pub const LARGEST: usize = 20 << 20;

/// Most points of the outlines that are left of it.
pub const MOST_POINTS: usize = 50_000;

/// Points that are worked through.
pub const MOST_ON_THE_WAY: usize = 5 * MOST_POINTS;

/// Crossings beyond which nothing is drawn: putting outlines together takes as long as there are crossings.
pub const MOST_CROSSINGS: usize = 20_000;

/// Curves are flattened to this, a share of a hundredth of the drawing's height.
pub const FLAT: f64 = 0.003;
