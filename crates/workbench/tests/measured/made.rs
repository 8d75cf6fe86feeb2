//! Parts, jobs and what is read off them.

use glam::DVec3;
use inspection::{Check, Finding};
use relief::{Role, Tag};
use solid::{Mesh, Part, Surface, boolean::Body};
use trade::{Job, Lettering, Mark, PartRef, Parting, Relief, SeatRef, Sense, Tool};
use workbench::{Bench, Outcome, Scope};

/// A mark cut 0.6 deep, or standing as high, without draft.
pub fn mark(text: &str, face: u32, cap_height: f64, sense: Sense) -> Mark {
    Mark {
        id: text.to_lowercase(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height, ..Lettering::default() },
        relief: Relief { sense, height: 0.6, draft: 0.0, ..Relief::default() },
        ..Mark::default()
    }
}

pub fn job(marks: Vec<Mark>, parting: Vec<Parting>) -> Job {
    Job {
        name: "made".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), parting, ..Tool::default() },
        marks,
        ..Job::default()
    }
}

pub fn body(mesh: &Mesh) -> Body {
    Body::new(mesh, "body").unwrap()
}

pub fn block(low: [f64; 3], high: [f64; 3]) -> Body {
    body(&demo::shapes::block(low.into(), high.into()))
}

pub fn rod(start: [f64; 3], along: [f64; 3], radius: f64) -> Body {
    body(&demo::shapes::cylinder(start.into(), along.into(), radius))
}

pub fn part(solid: &Body) -> Part {
    Part::from_mesh(&solid.traced().mesh).unwrap()
}

/// A plate of 60 by 30 round the origin, its top at z = 0, with what is cut out of it.
pub fn plate(thick: f64, cut: &[Body]) -> Part {
    part(&block([-30.0, -15.0, -thick], [30.0, 15.0, 0.0]).with(&[], cut).unwrap())
}

/// The face that looks along `way`, the farthest of several.
pub fn looking(part: &Part, way: DVec3) -> u32 {
    let far = |f: &u32| match part.faces[*f as usize].surface {
        Surface::Plane { normal, origin } if normal.dot(way) > 0.999 => Some(origin.dot(way)),
        _ => None,
    };
    let faces = (0..part.faces.len() as u32).filter(|f| far(f).is_some());
    faces.max_by(|a, b| far(a).unwrap().total_cmp(&far(b).unwrap())).unwrap()
}

pub fn round(part: &Part) -> u32 {
    part.faces.iter().position(|f| matches!(f.surface, Surface::Cylinder { .. })).unwrap() as u32
}

pub fn outcome(job: &Job, part: Part) -> Outcome {
    let outcome = Bench::new(part).outcome(job, Scope::Whole);
    for mark in &outcome.marks {
        assert_eq!(mark.problem, None, "{}", mark.id);
    }
    outcome
}

/// The finding of the first mark.
pub fn found(job: &Job, part: Part, check: Check) -> Finding {
    of(&outcome(job, part), check)
}

pub fn of(outcome: &Outcome, check: Check) -> Finding {
    outcome.marks[0].findings.iter().find(|f| f.check == check).unwrap().clone()
}

/// Corners of the marked solid's facets with one of these roles.
pub fn corners(outcome: &Outcome, roles: &[Role]) -> Vec<DVec3> {
    let mut out = Vec::new();
    for group in &outcome.groups {
        for (t, tag) in group.solid.tags.iter().enumerate() {
            if matches!(tag, Tag::Relief { role, .. } if roles.contains(role)) {
                out.extend(group.solid.mesh.corners(t));
            }
        }
    }
    out
}

/// Least and greatest of what the corners have along a direction.
pub fn extent(corners: &[DVec3], way: DVec3) -> (f64, f64) {
    corners.iter().map(|p| p.dot(way)).fold((f64::MAX, f64::MIN), |(l, h), d| (l.min(d), h.max(d)))
}

/// The number before " mm are left" of a sentence on walls, or that of the wall under the floor.
pub fn left(finding: &Finding) -> f64 {
    let words: Vec<&str> = finding.sentence.split_whitespace().collect();
    let at = words.windows(3).position(|w| w == ["mm", "are", "left."]);
    let at = at.or_else(|| words.iter().position(|w| *w == "mm,")).unwrap();
    words[at - 1].parse().unwrap()
}
