//! Where a mark lies on its seat: ties, baseline, placement.

use crate::{Justify, range::Within};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Where the mark's box lies on the strip.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Place {
    pub along: Tie,
    pub up: Tie,
    /// Which place of the mark is tied.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub anchor: Anchor,
    /// Degrees, counter-clockwise as seen on the strip.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub turn: f64,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub baseline: Baseline,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub placement: Placement,
}

/// One of the nine places of the mark's box that ties hold.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Anchor {
    /// Left out: the side that looks to the edge it is tied to, else the middle.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub along: Option<BoxSide>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub up: Option<BoxSide>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub of: Extents,
}

/// Start is left or below, end is right or above.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BoxSide {
    Start,
    Middle,
    End,
}

/// What the box is drawn round.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Extents {
    /// From the lowest baseline to the top of the capitals, whatever hangs below or stands above.
    #[default]
    Capitals,
    /// All of the letters as they are.
    Ink,
}

/// The line that the lowest line of a text stands on.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "line", deny_unknown_fields)]
pub enum Baseline {
    #[default]
    Straight,
    /// A circle on the seat. The mark's place is that of its middle.
    Arc {
        /// From the middle to the lowest baseline along the seat, mm.
        radius: f64,
        tops: Tops,
        /// Where on the circle the text stands, percent of once round in reading direction: 50 is the
        /// highest place of a text whose tops point out, the lowest of one whose tops point in.
        share: f64,
        /// Which place of the text stands there.
        stands: Justify,
        /// Letters bend with the circle; else each stays as it is and is turned.
        bent: bool,
    },
    /// Once round the seat's own axis, through the mark's place: round a cone, a sphere or a torus.
    Ring { bent: bool },
    /// Beside an edge of the seat, from corner to corner of it. The mark has its place from the edge.
    Edge {
        /// The edge is the one nearest to this point of the part, mm.
        near: [f64; 3],
        /// Clear distance from the edge to the text, mm.
        gap: f64,
        /// Where along the edge the text stands, percent of its length in reading direction.
        share: f64,
        /// Which place of the text stands there.
        stands: Justify,
        /// Read from the other side.
        turned: bool,
        bent: bool,
    },
}

/// Where the tops of letters on a circle point.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Tops {
    /// Away from the middle: read from outside, clockwise.
    #[default]
    Out,
    /// To the middle: read counter-clockwise.
    In,
}

/// How flat lettering goes on a curved seat.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Placement {
    /// Lengths are kept along the seat.
    #[default]
    Wrapped,
    /// Parallel to the seat's normal at the mark's place.
    Projected,
    /// Parallel to the pull of the halves.
    ProjectedAlongPull,
}

/// How a mark is tied in one direction of the strip, mm. Start is left or below, end is right or above.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "tie", deny_unknown_fields)]
pub enum Tie {
    /// Midway between the seat's two outermost edges.
    #[default]
    Middle,
    /// Midway between the two edges that its box meets first to either side, those of holes too.
    Between {
        /// Which two: those on either side of this coordinate of the strip.
        near: f64,
    },
    /// So far inward from the seat's start edge.
    FromStart { distance: f64 },
    /// So far inward from the seat's end edge.
    FromEnd { distance: f64 },
    /// At this coordinate of the strip.
    At { position: f64 },
    /// So far on from a point of the part.
    Point { point: PartPoint, distance: f64 },
    /// So far on from one side, or the middle, of another mark's box.
    Mark { id: String, side: BoxSide, distance: f64 },
}

/// A point of the seat's edges, found again after the part has changed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PartPoint {
    pub kind: PointKind,
    /// It is the one of its kind nearest to here, mm.
    pub near: [f64; 3],
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PointKind {
    /// Where two edges meet.
    Corner,
    /// The middle of a hole, a disc or a round edge.
    Centre,
    /// Halfway along an edge, straight or round.
    Halfway,
}

impl Place {
    /// Every setting inside its range, and no tie that another setting leaves nothing to do?
    pub(crate) fn check(&self, within: Within<'_>) -> Result<(), String> {
        within("turn", self.turn, -360.0..=360.0, "°")?;
        match self.baseline {
            Baseline::Straight | Baseline::Ring { .. } => {}
            Baseline::Arc { radius, share, .. } => {
                within("radius of the arc", radius, 0.1..=1e4, " mm")?;
                within("share of the arc", share, 0.0..=100.0, " %")?;
            }
            Baseline::Edge { near, gap, share, .. } => {
                within("gap to the edge", gap, -1e3..=1e3, " mm")?;
                within("share of the edge", share, 0.0..=100.0, " %")?;
                for coordinate in near {
                    within("coordinate of the edge", coordinate, -1e6..=1e6, " mm")?;
                }
                if self.placement != Placement::Wrapped {
                    return Err("what stands beside an edge is wrapped; it can't be projected".into());
                }
                if self.along != Tie::Middle || self.up != Tie::Middle {
                    return Err("it is tied too often: what stands beside an edge has its place from that edge; \
                                leave its ties along and up at the middle"
                        .into());
                }
            }
        }
        for (name, tie) in [("place along", &self.along), ("place up", &self.up)] {
            let far = -1e5..=1e5;
            match tie {
                Tie::Middle => {}
                Tie::Between { near: mm } | Tie::At { position: mm } => within(name, *mm, far, " mm")?,
                Tie::FromStart { distance } | Tie::FromEnd { distance } | Tie::Mark { distance, .. } => {
                    within(name, *distance, far, " mm")?;
                }
                Tie::Point { point, distance } => {
                    within(name, *distance, far, " mm")?;
                    for coordinate in point.near {
                        within("coordinate of the point", coordinate, -1e6..=1e6, " mm")?;
                    }
                }
            }
        }
        Ok(())
    }
}
