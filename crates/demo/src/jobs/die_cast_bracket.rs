//! The die-cast bracket: lettering over creases.

use super::DemoJob;
use super::pieces::{face, file, lettering, level, mark, material, pin, read, tool};
use crate::parts;
use glam::DVec3;
use solid::{Surface, formats::stl};
use trade::{
    Area, Assigned, FaceName, Field, Job, Lettering, Mark, PartRef, Parting, Place, Relief, Sense, Slide, Steel, Tie,
    Tool,
};

pub(super) fn die_cast_bracket() -> DemoJob {
    let bytes = stl::write(&parts::die_cast_bracket());
    let file = file("bracket.stl");
    let part = read(&file, &bytes);
    let foot = face(&part, |s| level(s, DVec3::Z, 5.0));
    // the flank that looks away from the rib
    let flank = face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.x > 0.99 && normal.z > 0.01));
    let like_foot = lettering("overpass", 4.0);
    DemoJob {
        job: Job {
            name: "Bracket BR-31".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            face_names: vec![FaceName { face: flank, name: "flank".into() }],
            tool: Tool {
                slides: vec![Slide { name: "cross core".into(), pull: [1.0, 0.0, 0.0] }],
                assigned: vec![Assigned {
                    area: Area::Faces { faces: vec![flank] },
                    to: Steel::Slide { name: "cross core".into() },
                }],
                keep_outs: vec![
                    pin("ejector 1", DVec3::new(24.0, 6.0, 5.0), 2.5),
                    pin("ejector 2", DVec3::new(24.0, 38.0, 5.0), 2.5),
                ],
                // round the foot's underside
                ..tool(Parting::Edges {
                    through: vec![[32.0, 0.0, 0.0], [64.0, 22.0, 0.0], [32.0, 44.0, 0.0], [0.0, 22.0, 0.0]],
                })
            },
            process: material("aluminium"),
            limits: "die-casting".into(),
            marks: vec![
                Mark {
                    lettering: Lettering { spacing: 0.9, ..like_foot.clone() },
                    place: Place {
                        along: Tie::FromStart { distance: 15.0 },
                        up: Tie::Middle,
                        turn: 90.0,
                        ..Place::default()
                    },
                    relief: Relief { height: 0.3, draft: 11.0, ..Relief::default() },
                    ..mark("part-number", "BR-31", foot)
                },
                Mark {
                    lettering: Lettering { spacing: 0.9, ..like_foot },
                    place: Place { along: Tie::FromEnd { distance: 6.0 }, up: Tie::Middle, ..Place::default() },
                    relief: Relief { height: 0.3, draft: 14.0, ..Relief::default() },
                    ..mark("revision", "REV C", flank)
                },
                // struck in when it has been inspected
                Mark {
                    lettering: lettering("overpass", 3.0),
                    place: Place {
                        along: Tie::FromEnd { distance: 4.0 },
                        up: Tie::At { position: 11.0 },
                        ..Place::default()
                    },
                    relief: Relief {
                        sense: Sense::Stamp,
                        field: Field { margin: 1.5, corner: 1.0 },
                        ..Relief::default()
                    },
                    ..mark("inspected", "INSP 00", foot)
                },
            ],
            ..Job::default()
        },
        part: bytes,
    }
}
