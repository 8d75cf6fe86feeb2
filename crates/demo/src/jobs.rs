//! The demo's jobs: each a part file and what is to be marked on it.

use crate::parts;
use glam::DVec3;
use solid::{Part, Surface, formats::stl};
use trade::{
    Held, Job, Lettering, Mark, PartRef, Parting, Place, Relief, SeatRef, Sense, Tie, Tool, Unit, Walls, job::VERSION,
};

pub struct DemoJob {
    pub job: Job,
    pub part: Vec<u8>,
}

/// All demo jobs, in the order they are listed.
#[must_use]
pub fn jobs() -> Vec<DemoJob> {
    vec![valve_body(), plain_block()]
}

fn mark(id: &str, text: &str, face: u32) -> Mark {
    Mark {
        id: id.into(),
        on: true,
        text: text.into(),
        seat: SeatRef { face },
        place: Place::default(),
        lettering: Lettering::default(),
        relief: Relief::default(),
    }
}

fn lettering(face: &str, cap_height: f64) -> Lettering {
    Lettering { face: face.into(), cap_height, line_gap: cap_height / 2.0, ..Lettering::default() }
}

fn face(part: &Part, wanted: impl Fn(&Surface) -> bool) -> u32 {
    part.faces.iter().position(|f| wanted(&f.surface)).expect("the demo's parts have the faces its jobs name") as u32
}

fn level(surface: &Surface, towards: DVec3, height: f64) -> bool {
    matches!(surface, Surface::Plane { origin, normal } if normal.dot(towards) > 0.9999 && (origin.dot(towards) - height).abs() < 1e-3)
}

fn barrel(surface: &Surface) -> bool {
    matches!(surface, Surface::Cylinder { radius, inside: false, .. } if (radius - parts::BARREL_RADIUS).abs() < 0.01)
}

fn valve_body() -> DemoJob {
    let bytes = stl::write(&parts::valve_body());
    let part = Part::read("valve-body.stl", &bytes, Some(Unit::Mm)).expect("the demo's parts can be read");
    let fall = 20.0_f64.to_radians();
    let leaning = DVec3::new(fall.sin(), 0.0, fall.cos());
    let flange = face(&part, |s| level(s, DVec3::Z, 3.0));
    let barrel = face(&part, barrel);
    let land = face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.dot(leaning) > 0.9999));
    let marks = vec![
        Mark {
            lettering: lettering("osifont", 3.5),
            place: Place { along: Tie::FromStart { distance: 5.0 }, up: Tie::At { position: 1.6 }, turn: 0.0 },
            ..mark("part-number", "VB-20-07 D", barrel)
        },
        Mark {
            lettering: Lettering { spacing: 0.3, ..lettering("centre-line", 4.0) },
            place: Place { along: Tie::Middle, up: Tie::FromStart { distance: 12.0 }, turn: 0.0 },
            relief: Relief { height: 0.4, ..Relief::default() },
            ..mark("maker", "MARROWBY\nTHRUPP", flange)
        },
        Mark {
            lettering: lettering("overpass-mono", 3.6),
            relief: Relief { sense: Sense::Sunken, height: 0.25, draft: 5.0, held: Held::Root, walls: Walls::Pull },
            ..mark("cavity", "C 04", land)
        },
        Mark {
            lettering: Lettering { spacing: 0.1, ..lettering("barlow", 3.2) },
            place: Place { along: Tie::FromEnd { distance: 18.0 }, up: Tie::At { position: -4.5 }, turn: 0.0 },
            relief: Relief { walls: Walls::Pull, ..Relief::default() },
            ..mark("material", ">PA66-GF30<", barrel)
        },
    ];
    DemoJob {
        job: Job {
            version: VERSION,
            name: "Valve body VB-20".into(),
            part: PartRef { file: "valve-body.stl".into(), sha256: Some(part.sha256), unit: Some(Unit::Mm) },
            tool: Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![Parting::Plane { height: 0.0 }] },
            limits: "thermoplastic".into(),
            reading_distance: 500.0,
            marks,
        },
        part: bytes,
    }
}

fn plain_block() -> DemoJob {
    let bytes = stl::write(&parts::plain_block());
    let part = Part::read("block.stl", &bytes, Some(Unit::Mm)).expect("the demo's parts can be read");
    let top = face(&part, |s| level(s, DVec3::Z, 12.0));
    DemoJob {
        job: Job {
            version: VERSION,
            name: "Spacer block SB-3".into(),
            part: PartRef { file: "block.stl".into(), sha256: Some(part.sha256), unit: Some(Unit::Mm) },
            tool: Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![Parting::Silhouette] },
            limits: "die-casting".into(),
            reading_distance: 500.0,
            marks: vec![Mark {
                lettering: Lettering { spacing: 0.9, ..lettering("saira-stencil-one", 6.0) },
                relief: Relief { draft: 11.0, height: 0.5, ..Relief::default() },
                ..mark("part-number", "SB-3-118", top)
            }],
        },
        part: bytes,
    }
}
