//! The manifold block: figures.

use super::DemoJob;
use super::pieces::{face, file, lettering, mark, material, read, tool};
use crate::parts;
use glam::DVec3;
use solid::{Surface, formats::stl};
use trade::{
    Area, Assigned, FaceName, Field, Job, Lettering, Mark, MeasuredAt, Pad, PadForm, PartPoint, PartRef, Parting,
    Place, PointKind, Relief, SeatRef, Sense, Slide, Steel, Tie, Tool, Walls,
};

/// One mark on each of its six faces, one on its bevel, one over the crease beside it, one from its lower bevel over a fillet.
pub(super) fn manifold_block() -> DemoJob {
    let bytes = stl::write(&parts::manifold_block());
    let file = file("manifold-block.stl");
    let part = read(&file, &bytes);
    let looks = |d: DVec3| face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.dot(d) > 0.999));
    let bevel = looks(DVec3::new(0.0, -1.0, 1.0).normalize());
    let front = looks(DVec3::NEG_Y);
    let (lower, back) = (looks(DVec3::new(0.0, 1.0, -1.0).normalize()), looks(DVec3::Y));
    let fillet = face(&part, |s| matches!(s, Surface::Cylinder { inside: false, .. }));
    let style = |m: Mark| Mark { style: Some("ports".into()), ..m };
    // over its hole, or in the middle of the face without one
    let port = |id: &str, text: &str, on: DVec3, up: Tie| {
        style(Mark {
            lettering: Lettering { spacing: 0.4, stroke: Some(0.6), ..lettering("overpass", 4.0) },
            place: Place { up, ..Place::default() },
            relief: Relief {
                sense: Sense::Sunken,
                measured_at: MeasuredAt::Root,
                height: 0.3,
                draft: 5.0,
                ..Relief::default()
            },
            ..mark(id, text, looks(on))
        })
    };
    // 3 clear of the hole's rim, wherever that is
    let centre = |near: [f64; 3]| Tie::Point { point: PartPoint { kind: PointKind::Centre, near }, distance: 10.0 };
    // the slide leaves the bevel at 45°
    let along_pull = Relief {
        sense: Sense::Sunken,
        measured_at: MeasuredAt::Root,
        height: 0.25,
        draft: 5.0,
        walls: Walls::Pull,
        ..Relief::default()
    };
    let size = parts::MANIFOLD;
    let half = size / 2.0;
    let mut marks = vec![
        port("port-1", "P1", DVec3::NEG_X, centre([0.0, half, 10.0])),
        port("port-2", "P2", DVec3::X, centre([size, half, 10.0])),
        port("port-3", "T", DVec3::Y, centre([half, size, parts::BACK_PORT])),
        port("port-4", "A", DVec3::NEG_Y, centre([half, 0.0, 10.0])),
        port("port-5", "B", DVec3::Z, Tie::FromEnd { distance: 3.0 }),
        Mark {
            lettering: Lettering { spacing: 0.2, stroke: Some(0.45), ..lettering("overpass", 3.0) },
            relief: Relief {
                height: 0.3,
                draft: 5.0,
                pad: Some(Pad { form: PadForm::Recessed, height: 0.5, draft: 10.0, clears: 0.0 }),
                field: Field { margin: 2.5, corner: 1.5 },
                ..Relief::default()
            },
            ..mark("foot", "MB-6\nMARROWBY", looks(DVec3::NEG_Z))
        },
    ];
    marks.push(Mark {
        lettering: Lettering { spacing: 0.3, stroke: Some(0.5), ..lettering("overpass-mono", 3.4) },
        place: Place {
            along: Tie::FromStart { distance: 3.0 },
            up: Tie::FromEnd { distance: 2.2 },
            ..Place::default()
        },
        relief: along_pull,
        ..mark("part-number", "MB-6-014", bevel)
    });
    // from the bevel over its crease on to the front
    marks.push(Mark {
        seat: SeatRef { face: bevel, with: vec![front] },
        lettering: Lettering { spacing: 0.3, ..lettering("overpass", 5.0) },
        place: Place { along: Tie::FromEnd { distance: 3.0 }, up: Tie::FromEnd { distance: 8.8 }, ..Place::default() },
        relief: along_pull,
        ..mark("size", "G1/8", bevel)
    });
    // from the lower bevel over the fillet on to the back
    marks.push(Mark {
        seat: SeatRef { face: lower, with: vec![fillet, back] },
        lettering: Lettering { spacing: 0.3, ..lettering("overpass", 3.4) },
        place: Place {
            along: Tie::FromStart { distance: 2.2 },
            up: Tie::FromStart { distance: 6.7 },
            ..Place::default()
        },
        relief: along_pull,
        ..mark("size-back", "G3/8", lower)
    });
    let sides = [
        ("left slide", DVec3::NEG_X, vec![looks(DVec3::NEG_X)]),
        ("right slide", DVec3::X, vec![looks(DVec3::X)]),
        ("back slide", DVec3::Y, vec![back, fillet, lower]),
        ("front slide", DVec3::NEG_Y, vec![front, bevel]),
    ];
    let round_the_foot = Parting::Edges {
        through: vec![[half, 0.0, 0.0], [size, half, 0.0], [half, size - parts::LOWER_BEVEL, 0.0], [0.0, half, 0.0]],
    };
    let slides = sides.iter().map(|(name, pull, _)| Slide { name: (*name).into(), pull: pull.to_array() }).collect();
    let given = sides
        .into_iter()
        .map(|(name, _, faces)| Assigned { area: Area::Faces { faces }, to: Steel::Slide { name: name.into() } })
        .collect();
    DemoJob {
        job: Job {
            name: "Manifold block MB-6".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            face_names: vec![FaceName { face: bevel, name: "bevel".into() }], // each side is formed by a slide of its own, a bevel by that beside it
            tool: Tool { slides, assigned: given, ..tool(round_the_foot) },
            process: material("pom"),
            marks,
            ..Job::default()
        },
        part: bytes,
    }
}
