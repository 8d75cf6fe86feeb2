//! The spray nozzle: lettering round a cone.

use super::DemoJob;
use super::filter_dome::on_a_ring;
use super::pieces::{face, lettering, mark, read};
use glam::DVec3;
use solid::Surface;
use trade::{
    Area, Assigned, Baseline, Justify, Lettering, Mark, MeasuredAt, Parting, Place, Relief, Sense, Slide, Spot, Steel,
    Tops, Walls,
};

/// Height of the middle of the spray nozzle's lettering.
const NOZZLE_LETTERED: f64 = 19.0;

pub(super) fn spray_nozzle() -> DemoJob {
    let bytes = include_bytes!("../../files/spray-nozzle.step");
    let mut nozzle = on_a_ring("Spray nozzle SN-12", "spray-nozzle.step", bytes, -DVec3::Z, 0.0, |ring| Mark {
        lettering: Lettering { spacing: 0.3, ..lettering("barlow", 2.6) },
        // half-way between the bore and the rim
        place: Place {
            baseline: Baseline::Arc { radius: 7.7, tops: Tops::Out, share: 50.0, stands: Justify::Middle, bent: false },
            ..Place::default()
        },
        relief: Relief {
            sense: Sense::Sunken,
            height: 0.25,
            draft: 5.0,
            measured_at: MeasuredAt::Root,
            walls: Walls::Seat,
            ..Relief::default()
        },
        ..mark("part-number", "SN-12", ring)
    });
    let part = read(&nozzle.job.part, bytes);
    let cone = face(&part, |s| matches!(s, Surface::Cone { inside: false, .. }));
    nozzle.job.marks.push(Mark {
        lettering: Lettering { spacing: 0.3, ..lettering("barlow", 2.6) },
        place: Place { baseline: Baseline::Ring { bent: false }, ..Place::default() },
        relief: Relief { height: 0.25, draft: 5.0, walls: Walls::Pull, ..Relief::default() },
        ..mark("size", "SPRAY 1.6", cone)
    });
    // two cheeks form the cone where it is lettered: along the halves' pull the letters would lock
    let cheek = |name: &str, y: f64| Slide { name: name.into(), pull: [0.0, y, 0.0] };
    nozzle.job.tool.slides = vec![cheek("front cheek", -1.0), cheek("back cheek", 1.0)];
    let Surface::Cone { apex, axis, angle, .. } = part.faces[cone as usize].surface else {
        unreachable!("the face was chosen as a cone")
    };
    let lettered = apex + axis * (apex.z - NOZZLE_LETTERED) + DVec3::NEG_Y * (apex.z - NOZZLE_LETTERED) * angle.tan();
    nozzle.job.tool.assigned = vec![Assigned {
        area: Area::Painted { spots: vec![Spot { at: lettered.to_array(), radius: 13.0 }] },
        to: Steel::Slide { name: "front cheek".into() },
    }];
    // round the top of the collar
    nozzle.job.tool.parting = vec![Parting::Plane { height: 8.0 }];
    nozzle
}
