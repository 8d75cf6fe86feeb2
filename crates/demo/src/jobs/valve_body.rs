//! The valve body: a flat flange, a round body, an angled pad.

use super::DemoJob;
use super::drawings::brand;
use super::pieces::{column, face, file, lettering, level, mark, material, pin, read, text, tool};
use crate::parts;
use glam::DVec3;
use solid::{Surface, formats::stl};
use trade::{
    Area, Column, ColumnKind, Field, Figure, InSteel, Job, KeepOut, KeepOutKind, Lettering, Mark, MeasuredAt, Pad,
    PadForm, PartRef, Parting, Piece, Place, Relief, Roster, Row, Sense, Slide, Tie, Tool, ToolPlate, Tops, Walls,
    cavity_id::CavityNaming,
    figure::{Dial, DialOf, DialRing},
    recipe::{DateFrom, MaterialCode, PieceOf, Revision},
    tool_plate::{Corner, Layout, arranged},
};

fn barrel(surface: &Surface) -> bool {
    matches!(surface, Surface::Cylinder { radius, inside: false, .. } if (radius - parts::BARREL_RADIUS).abs() < 0.01)
}

/// From middle to middle of the valve bodies in their tool, mm.
const VALVE_PITCH: [f64; 2] = [90.0, 110.0];

/// A tool with cavities of one variant, numbered back and forth.
fn cavities(part: &str, variant: &str, layout: &Layout) -> (Roster, ToolPlate) {
    let column = |name: &str, kind| Column { name: name.into(), kind };
    let mut roster = Roster {
        columns: vec![
            column("part", ColumnKind::Text),
            column("variant", ColumnKind::Text),
            column("cavity", ColumnKind::Cavity),
        ],
        rows: vec![Row { id: 1, cells: vec![part.into(), variant.into(), String::new()] }],
    };
    let plate = arranged(layout, CavityNaming::Numbers, 1, &mut roster, 2, &trade::Given::default())
        .expect("the demo's layout is in range");
    (roster, plate)
}

pub(super) fn valve_body() -> DemoJob {
    let bytes = stl::write(&parts::valve_body());
    let file = file("valve-body.stl");
    let part = read(&file, &bytes);
    let fall = 20.0_f64.to_radians();
    let leaning = DVec3::new(fall.sin(), 0.0, fall.cos());
    let flange = face(&part, |s| level(s, DVec3::Z, 3.0));
    let barrel = face(&part, barrel);
    let top = face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.dot(leaning) > 0.9999));
    let gasket = face(&part, |s| level(s, -DVec3::X, 0.0));
    let foot = face(&part, |s| level(s, -DVec3::Z, 2.0));
    let marks = vec![
        Mark {
            lettering: lettering("osifont", 3.5),
            place: Place { along: Tie::FromStart { distance: 3.5 }, up: Tie::At { position: 1.6 }, ..Place::default() },
            recipe: vec![
                column("part"),
                text("-"),
                column("variant"),
                text(" "),
                Piece::plain(PieceOf::Revision(Revision {})),
            ],
            ..mark("part-number", "VB-20-07 D", barrel)
        },
        Mark {
            lettering: Lettering { spacing: 0.3, ..lettering("centre-line", 4.0) },
            place: Place { along: Tie::Middle, up: Tie::FromStart { distance: 12.0 }, ..Place::default() },
            relief: Relief { height: 0.4, ..Relief::default() },
            in_steel: InSteel::Electrode { gap: 0.08, stock: 12.0, margin: 2.0 },
            ..mark("maker", "MARROWBY\nTHRUPP", flange)
        },
        Mark {
            lettering: lettering("overpass-mono", 3.6),
            relief: Relief {
                sense: Sense::Sunken,
                height: 0.25,
                draft: 5.0,
                measured_at: MeasuredAt::Root,
                walls: Walls::Pull,
                ..Relief::default()
            },
            recipe: vec![text("C"), Piece { width: Some(2), ..column("cavity") }],
            // another one in each cavity
            in_steel: InSteel::Insert { margin: 1.5, deep: 12.0, clearance: 0.01 },
            ..mark("cavity", "C01", top)
        },
        Mark {
            lettering: Lettering { spacing: 0.1, ..lettering("barlow", 3.2) },
            place: Place { along: Tie::FromEnd { distance: 17.3 }, up: Tie::At { position: -4.5 }, ..Place::default() },
            relief: Relief { walls: Walls::Pull, ..Relief::default() },
            recipe: vec![Piece::plain(PieceOf::Material(MaterialCode { code: "PA66-GF30".into() }))],
            ..mark("material", ">PA66-GF30<", barrel)
        },
        Mark {
            lettering: lettering("centre-line", 2.35),
            place: Place { along: Tie::Middle, up: Tie::Middle, ..Place::default() },
            relief: Relief {
                height: 0.2,
                walls: Walls::Pull,
                pad: Some(Pad { form: PadForm::Recessed, height: 0.3, draft: 5.0, clears: 0.0 }),
                field: Field { margin: 1.2, corner: 0.0 },
                ..Relief::default()
            },
            figure: Some(Figure::Dial(Dial {
                from: DateFrom::Handoff,
                diameter: 19.0,
                rings: vec![DialRing { of: DialOf::Months, every: 1 }],
                tops: Tops::Out,
                gap: 0.35,
                year: 2,
                core_apart: true,
            })),
            ..mark("made", "2026-11", foot)
        },
        Mark {
            // on the underside of the cylinder
            place: Place { along: Tie::At { position: 30.0 }, up: Tie::At { position: -38.0 }, ..Place::default() },
            relief: Relief { walls: Walls::Pull, ..Relief::default() },
            figure: Some(brand(9.0)),
            ..mark("brand", "marrowby", barrel)
        },
    ];
    let layout = Layout::Rows {
        across: 8,
        up: 4,
        pitch: VALVE_PITCH,
        first: Corner::LowerLeft,
        by_columns: false,
        back_and_forth: true,
        turned: true,
    };
    let (roster, tool_plate) = cavities("VB-20", "07", &layout);
    DemoJob {
        job: Job {
            name: "Valve body VB-20".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            tool: Tool {
                // the bore is formed by a core that leaves through the open end
                slides: vec![Slide { name: "bore core".into(), pull: [1.0, 0.0, 0.0] }],
                keep_outs: vec![
                    KeepOut {
                        name: "gasket face".into(),
                        kind: KeepOutKind::Sealing,
                        area: Area::Faces { faces: vec![gasket] },
                        margin: None,
                    },
                    pin("ejector 1", DVec3::new(27.0, -36.5, 3.0), 1.5),
                ],
                ..tool(Parting::Plane { height: 0.0 })
            },
            process: material("pa66"),
            roster: roster.into(),
            tool_plate,
            revision: Some("D".into()),
            marks,
            ..Job::default()
        },
        part: bytes,
    }
}
