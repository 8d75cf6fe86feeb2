//! A section: what is cut through and its edge in pieces, in the shapes that the front end shows.

use glam::DVec3;
use relief::Tag;
use serde::{Deserialize, Serialize};
use solid::{
    Part,
    cut_edge::{Circle, Middles, Shape},
};
use trade::Job;
use utoipa::ToSchema;
use workbench::{
    Outcome,
    section::{
        Edge, Section,
        said::{self, Names},
    },
};

#[derive(Serialize, ToSchema)]
pub struct SectionView {
    /// The plane: its unit normal, and its height along that, mm.
    pub normal: [f64; 3],
    pub height: f64,
    pub bodies: Vec<CutBodyView>,
    pub edges: Vec<CutEdgeView>,
    /// Of what is cut through, mm².
    pub area: f64,
}

#[derive(Serialize, ToSchema)]
pub struct CutBodyView {
    /// It fills an inlay.
    pub filling: bool,
    /// What is cut through, as triangles that face along the normal; none where the part is open there.
    pub triangles: Vec<[[f64; 3]; 3]>,
}

/// A smooth piece of the edge.
#[derive(Serialize, ToSchema)]
pub struct CutEdgeView {
    pub points: Vec<[f64; 3]>,
    pub closed: bool,
    /// What it is the edge of, and all of it in a sentence.
    pub of: String,
    pub says: String,
    /// Of lettering, not of the part.
    pub lettering: bool,
    /// mm.
    pub length: f64,
    pub straight: bool,
    /// Where it is straight: its angle to the pull as that is seen in the cut, degrees.
    pub seen_angle: Option<f64>,
    /// The least draft of the walls that it was cut from, degrees; of tops and floors none is asked.
    pub draft: Option<f64>,
    pub circle: Option<CircleView>,
}

#[derive(Clone, Copy, Serialize, Deserialize, ToSchema)]
pub struct CircleView {
    pub centre: [f64; 3],
    /// mm.
    pub radius: f64,
    /// How far the farthest of its points lies off it, mm.
    pub miss: f64,
    /// How much of a turn its points span, degrees.
    pub spans: f64,
}

impl From<Circle> for CircleView {
    fn from(c: Circle) -> Self {
        Self { centre: c.centre.to_array(), radius: c.radius, miss: c.miss, spans: c.spans }
    }
}

impl From<CircleView> for Circle {
    fn from(c: CircleView) -> Self {
        Self { centre: c.centre.into(), radius: c.radius, miss: c.miss, spans: c.spans }
    }
}

/// The circle nearest to places.
#[derive(Serialize, ToSchema)]
pub struct CircleFound {
    pub circle: CircleView,
    /// It in a sentence.
    pub says: String,
}

impl From<Circle> for CircleFound {
    fn from(circle: Circle) -> Self {
        Self { says: said::circle(&circle), circle: circle.into() }
    }
}

/// How the middles of two circles lie.
#[derive(Serialize, ToSchema)]
pub struct MiddlesView {
    pub verdict: MiddlesAre,
    /// mm.
    pub apart: f64,
    /// What their points leave open, mm.
    pub within: f64,
    /// All of it in a sentence.
    pub says: String,
}

#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum MiddlesAre {
    Concentric,
    Apart,
    /// The arcs are too short to tell.
    TooShort,
}

impl From<Middles> for MiddlesView {
    fn from(middles: Middles) -> Self {
        let says = said::middles(&middles);
        let (verdict, apart, within) = match middles {
            Middles::Concentric { apart, within } => (MiddlesAre::Concentric, apart, within),
            Middles::Apart { apart, within } => (MiddlesAre::Apart, apart, within),
            Middles::TooShort { apart, within } => (MiddlesAre::TooShort, apart, within),
        };
        Self { verdict, apart, within, says }
    }
}

#[must_use]
pub fn section(
    section: &Section,
    job: &Job,
    part: &Part,
    outcome: Option<&Outcome>,
    pull: Option<DVec3>,
) -> SectionView {
    let names = Names { job, part, outcome };
    let edge = |edge: &Edge| CutEdgeView {
        points: edge.points.iter().map(|p| p.to_array()).collect(),
        closed: edge.closed,
        of: names.of(edge.of),
        says: said::edge(edge, section.plane, pull, names),
        lettering: matches!(edge.of, Tag::Relief { .. }),
        length: edge.length,
        straight: matches!(edge.shape, Shape::Straight { .. }),
        seen_angle: pull.and_then(|pull| edge.seen_angle(section.plane, pull)),
        draft: edge.draft_asked(),
        circle: match edge.shape {
            Shape::Arc(circle) => Some(circle.into()),
            Shape::Straight { .. } | Shape::Curve => None,
        },
    };
    SectionView {
        normal: section.plane.normal.to_array(),
        height: section.plane.height,
        bodies: section
            .bodies
            .iter()
            .map(|b| CutBodyView {
                filling: b.filling,
                triangles: b.triangles.iter().map(|t| t.map(|p| p.to_array())).collect(),
            })
            .collect(),
        edges: section.edges.iter().map(edge).collect(),
        area: section.area,
    }
}
