//! The shut-off lever: lettering on a freeform grip.

use super::DemoJob;
use super::pieces::{face, file, lettering, level, mark, material, read, tool};
use crate::parts;
use glam::DVec3;
use solid::{Surface, formats::stl};
use trade::{
    Area, FaceName, Job, KeepOut, KeepOutKind, Lettering, Mark, PartRef, Parting, Place, Process, Relief, Sense, Spot,
    Tie, Tool, Walls,
};

pub(super) fn shut_off_lever() -> DemoJob {
    let bytes = stl::write(&parts::shut_off_lever());
    let file = file("shut-off-lever.stl");
    let part = read(&file, &bytes);
    let hub = face(&part, |s| level(s, DVec3::Z, parts::HUB_TOP));
    let grip = part
        .faces
        .iter()
        .enumerate()
        .filter(|(_, f)| matches!(f.surface, Surface::Freeform))
        .max_by(|a, b| a.1.area.total_cmp(&b.1.area))
        .map(|(at, _)| at as u32)
        .expect("the lever has a freeform grip");
    DemoJob {
        job: Job {
            name: "Shut-off lever SL-8".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            face_names: vec![FaceName { face: grip, name: "grip".into() }],
            tool: Tool {
                // where the thumb lies
                keep_outs: vec![KeepOut {
                    name: "thumb".into(),
                    kind: KeepOutKind::Clamping,
                    area: Area::Painted { spots: vec![Spot { at: [64.0, 0.0, 3.0], radius: 6.0 }] },
                    margin: None,
                }],
                ..tool(Parting::Plane { height: 0.0 })
            },
            process: Process { texture: 0.02, ..material("pom") },
            marks: vec![
                Mark {
                    lettering: Lettering { spacing: 0.2, ..lettering("barlow", 3.0) },
                    place: Place { along: Tie::Middle, up: Tie::FromStart { distance: 3.2 }, ..Place::default() },
                    relief: Relief { height: 0.25, draft: 3.0, ..Relief::default() },
                    ..mark("part-number", "SL-8", hub)
                },
                Mark {
                    lettering: Lettering { spacing: 0.25, ..lettering("barlow", 4.0) },
                    place: Place { along: Tie::FromStart { distance: 14.0 }, ..Place::default() },
                    relief: Relief {
                        sense: Sense::Inlay,
                        height: 0.3,
                        draft: 4.0,
                        walls: Walls::Pull,
                        ..Relief::default()
                    },
                    ..mark("maker", "MARROWBY", grip)
                },
            ],
            ..Job::default()
        },
        part: bytes,
    }
}
