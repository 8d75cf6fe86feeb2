//! The filter dome: lettering on a sphere.

use super::DemoJob;
use super::pieces::{face, file, lettering, level, mark, read, tool};
use glam::DVec3;
use solid::Surface;
use trade::{Baseline, Job, Justify, Lettering, Mark, PartRef, Parting, Place, Relief, Tops, Walls};

/// A part that is shipped as STEP, with one mark on the plane that looks along `towards` at `height`.
pub(super) fn on_a_ring(
    name: &str,
    file_name: &str,
    bytes: &[u8],
    towards: DVec3,
    height: f64,
    mark: impl Fn(u32) -> Mark,
) -> DemoJob {
    let file = file(file_name);
    let part = read(&file, bytes);
    let ring = face(&part, |s| level(s, towards, height));
    DemoJob {
        job: Job {
            name: name.into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            tool: tool(Parting::Plane { height: 0.0 }),
            marks: vec![mark(ring)],
            ..Job::default()
        },
        part: bytes.to_vec(),
    }
}

pub(super) fn filter_dome() -> DemoJob {
    let bytes = include_bytes!("../../files/filter-dome.step");
    let mut dome = on_a_ring("Filter dome FD-40", "filter-dome.step", bytes, DVec3::Z, 3.0, |ring| Mark {
        lettering: Lettering { spacing: 0.25, ..lettering("overpass", 2.8) },
        // half-way between the dome and the rim
        place: Place {
            baseline: Baseline::Arc { radius: 28.1, tops: Tops::In, share: 50.0, stands: Justify::Middle, bent: false },
            ..Place::default()
        },
        relief: Relief { height: 0.25, draft: 3.0, ..Relief::default() },
        ..mark("part-number", "FD-40", ring)
    });
    // round the crown of the dome, walls along the pull: square to the seat they would lock away from it
    let part = read(&dome.job.part, bytes);
    let ball = face(&part, |s| matches!(s, Surface::Sphere { inside: false, .. }));
    // the same ring of lettering above and below
    for (id, text, tops, radius) in [("maker", "MARROWBY", Tops::Out, 9.0), ("maker-2", "THRUPP", Tops::In, 11.8)] {
        let baseline = Baseline::Arc { radius, tops, share: 50.0, stands: Justify::Middle, bent: false };
        dome.job.marks.push(Mark {
            lettering: Lettering { spacing: 0.5, ..lettering("overpass", 2.8) },
            place: Place { baseline, ..Place::default() },
            relief: Relief { height: 0.25, draft: 3.0, walls: Walls::Pull, ..Relief::default() },
            ..mark(id, text, ball)
        });
    }
    dome
}
