//! The filter cup.

use super::DemoJob;
use super::pieces::{face, file, lettering, mark, material, read};
use crate::parts;
use solid::{Surface, formats::stl};
use trade::{
    Baseline, FaceName, Job, Lettering, Mark, MeasuredAt, PartRef, Parting, Place, Relief, Sense, Tool, Walls,
};

/// Hollow like a vase: lettering round its belly, on a part that has an inside to break into.
pub(super) fn filter_cup() -> DemoJob {
    let bytes = stl::write(&parts::filter_cup());
    let file = file("filter-cup.stl");
    let part = read(&file, &bytes);
    let belly = face(&part, |s| matches!(s, Surface::Torus { inside: false, .. }));
    DemoJob {
        job: Job {
            name: "Filter cup FC-60".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            face_names: vec![FaceName { face: belly, name: "belly".into() }],
            tool: Tool {
                pull: Some([0.0, -1.0, 0.0]),
                parting: vec![Parting::Silhouette { slide: None }],
                ..Tool::default()
            },
            process: material("pp"),
            marks: vec![Mark {
                lettering: Lettering { spacing: 0.3, ..lettering("barlow", 3.4) },
                place: Place { baseline: Baseline::Ring { bent: false }, ..Place::default() },
                relief: Relief {
                    sense: Sense::Sunken,
                    measured_at: MeasuredAt::Root,
                    height: 0.25,
                    draft: 5.0,
                    walls: Walls::Pull,
                    ..Relief::default()
                },
                ..mark("part-number", "FC-60", belly)
            }],
            ..Job::default()
        },
        part: bytes,
    }
}
