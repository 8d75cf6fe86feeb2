//! A plain block, to begin with.

use super::DemoJob;
use super::pieces::{face, file, lettering, level, mark, read, tool};
use crate::parts;
use glam::DVec3;
use solid::formats::stl;
use trade::{Job, Lettering, Mark, MeasuredAt, PartRef, Parting, Relief};

pub(super) fn plain_block() -> DemoJob {
    let bytes = stl::write(&parts::plain_block());
    let file = file("block.stl");
    let part = read(&file, &bytes);
    let top = face(&part, |s| level(s, DVec3::Z, 12.0));
    DemoJob {
        job: Job {
            name: "Spacer block SB-3".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            tool: tool(Parting::Silhouette { slide: None }),
            limits: "die-casting".into(),
            marks: vec![Mark {
                lettering: Lettering { spacing: 0.9, ..lettering("saira-stencil-one", 6.4) },
                // the bridges of a stencil face are narrow: measured at the root, draft closes none of them
                relief: Relief { draft: 11.0, height: 0.5, measured_at: MeasuredAt::Root, ..Relief::default() },
                ..mark("part-number", "SB-3-118", top)
            }],
            ..Job::default()
        },
        part: bytes,
    }
}
