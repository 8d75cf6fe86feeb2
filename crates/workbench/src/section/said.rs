//! Sections in words.

use super::{Edge, Measured, Plane, Section};
use crate::outcome::Outcome;
use glam::DVec3;
use relief::{Role, Tag, body::PAD};
use solid::{
    Part,
    cut_edge::{Circle, Middles, Shape},
};
use trade::Job;

/// What the names of edges come from.
#[derive(Clone, Copy)]
pub struct Names<'a> {
    pub job: &'a Job,
    pub part: &'a Part,
    /// None for the bare part.
    pub outcome: Option<&'a Outcome>,
}

impl Names<'_> {
    /// A face by the name that it was given, else its kind.
    #[must_use]
    pub fn face(&self, face: u32) -> String {
        let own = self.job.face_names.iter().find(|n| n.face == face).map(|n| n.name.clone());
        let kind = || self.part.faces.get(face as usize).map(|f| f.surface.word().to_owned());
        own.or_else(kind).unwrap_or_default()
    }

    /// What an edge is of: “wall of “R””, the name of a face or its kind.
    #[must_use]
    pub fn of(&self, tag: Tag) -> String {
        let (mark, character, role) = match tag {
            Tag::Part { face } => return self.face(face),
            Tag::Cut | Tag::Under { .. } => return "underside".into(),
            Tag::Relief { mark, character, role } => (mark, character, role),
        };
        let role = match role {
            Role::Top => "top",
            Role::Floor => "floor",
            Role::Wall => "wall",
            Role::Edge => "rounded edge",
            Role::Root => "rounded root",
            Role::Skirt => "side",
            Role::Base => "underside",
        };
        let built = self.outcome.and_then(|o| o.marks.get(mark as usize)?.built.as_ref());
        match built.and_then(|b| b.placed.characters.iter().find(|c| c.at == character)) {
            Some(letter) => format!("{role} of “{}”", letter.text),
            None if character == PAD => format!("{role} of the pad"),
            None => role.into(),
        }
    }
}

/// A number with a real minus, and none before a zero.
fn signed(value: f64, places: usize) -> String {
    let said = format!("{value:.places$}");
    if said.trim_start_matches('-').chars().all(|c| matches!(c, '0' | '.')) {
        return said.trim_start_matches('-').into();
    }
    said.replace('-', "−")
}

#[must_use]
pub fn circle(circle: &Circle) -> String {
    /// A miss that nobody asks about, mm.
    const NONE: f64 = 0.0005;
    let Circle { centre, radius, miss, spans } = circle;
    let points = if *miss < NONE { String::new() } else { format!(", points within {miss:.3}") };
    let middle = centre.to_array().map(|c| signed(c, 2)).join(", ");
    format!("R {radius:.3} mm over {spans:.0}°{points}, its middle at {middle}")
}

#[must_use]
pub fn middles(middles: &Middles) -> String {
    let (how, apart, within) = match middles {
        Middles::Concentric { apart, within } => ("concentric", apart, within),
        Middles::Apart { apart, within } => ("not concentric", apart, within),
        Middles::TooShort { apart, within } => ("too short to tell whether concentric", apart, within),
    };
    format!("middles {apart:.3} mm apart, known within {within:.3}: {how}")
}

/// A piece of the edge: what it is of, how long, its line or circle, its angle to the pull and its draft.
#[must_use]
pub fn edge(edge: &Edge, plane: Plane, pull: Option<DVec3>, names: Names<'_>) -> String {
    let mut said = vec![format!("{}: {:.3} mm long", names.of(edge.of), edge.length)];
    match &edge.shape {
        Shape::Straight { .. } => said.push("straight".into()),
        Shape::Arc(found) => said.push(circle(found)),
        Shape::Curve => {}
    }
    if let Some(angle) = pull.and_then(|pull| edge.seen_angle(plane, pull)) {
        said.push(format!("{angle:.2}° to the pull in this cut"));
    }
    if let Some(draft) = edge.draft_asked() {
        said.push(format!("draft {}°", signed(draft, 2)));
    }
    said.join(", ")
}

/// All that was measured, a sentence each.
#[must_use]
pub fn measured(section: &Section, measured: &Measured, pull: Option<DVec3>, names: Names<'_>) -> Vec<String> {
    let mut said: Vec<String> =
        measured.edges.iter().map(|&k| edge(&section.edges[k], section.plane, pull, names)).collect();
    if let Some(apart) = &measured.apart {
        said.push(format!("{:.3} mm apart: {:.3} up, {:.3} across", apart.distance, apart.up, apart.across));
    }
    said.extend(measured.middles.as_ref().map(middles));
    said.extend(measured.circle.as_ref().map(|c| format!("through the three places: {}", circle(c))));
    said
}
