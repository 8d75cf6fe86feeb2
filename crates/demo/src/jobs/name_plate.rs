//! The name plate: a part without thickness.

use super::DemoJob;
use super::pieces::{file, lettering, mark, read};
use crate::parts;
use solid::formats::stl;
use trade::{BodySide, Job, Lettering, Mark, PartRef, Relief, Tool, Walls};

/// A surface body.
pub(super) fn name_plate() -> DemoJob {
    let bytes = stl::write(&parts::name_plate());
    let mut file = file("name-plate.stl");
    file.surface_body = Some(BodySide::Front);
    let part = read(&file, &bytes);
    DemoJob {
        job: Job {
            name: "Name plate NP-2".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            tool: Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() },
            marks: vec![Mark {
                lettering: Lettering { spacing: 0.6, ..lettering("barlow", 4.0) },
                relief: Relief { height: 0.3, draft: 5.0, walls: Walls::Pull, ..Relief::default() },
                ..mark("maker", "MARROWBY\nTHRUPP", 0)
            }],
            ..Job::default()
        },
        part: bytes,
    }
}
