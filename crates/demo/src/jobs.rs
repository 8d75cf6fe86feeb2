//! The demo's jobs: each a part file and what is to be marked on it.

use crate::parts;
use glam::DVec3;
use solid::{Part, Surface, formats::stl};
use std::sync::LazyLock;
use trade::{
    Area, Baseline, Column, ColumnKind, FaceName, Field, Figure, Given, Held, Job, Justify, KeepOut, KeepOutKind,
    Lettering, Mark, PartPoint, PartRef, Parting, Piece, Place, Plate, PlateForm, PointKind, Process, Relief, Roster,
    Row, SeatRef, Sense, SheetSide, Slide, Spot, Steel, Tie, Tool, ToolPlate, Tops, Unit, Walls,
    cavity_id::CavityNaming,
    figure::{Artwork, Dial, DialOf, DialRing},
    recipe::{DateFrom, PieceOf},
    tool_plate::{Corner, Layout, laid},
};

#[derive(Clone)]
pub struct DemoJob {
    pub job: Job,
    pub part: Vec<u8>,
}

impl DemoJob {
    /// The part of the job.
    ///
    /// # Panics
    /// The STEP reader is not beside the program.
    #[must_use]
    pub fn read(&self) -> Part {
        read(&self.job.part, &self.part)
    }
}

static JOBS: LazyLock<Vec<DemoJob>> = LazyLock::new(|| {
    vec![
        valve_body(),
        plain_block(),
        filter_dome(),
        spray_nozzle(),
        shut_off_lever(),
        die_cast_bracket(),
        manifold_block(),
        filter_cup(),
        name_plate(),
    ]
});

/// All demo jobs, in the order they are listed.
///
/// # Panics
/// The STEP reader is not beside the program.
#[must_use]
pub fn jobs() -> Vec<DemoJob> {
    JOBS.clone()
}

fn read(part: &PartRef, bytes: &[u8]) -> Part {
    step::read_part(&part.file, bytes, part).expect("the demo's parts can be read")
}

fn file(name: &str) -> PartRef {
    PartRef::of_file(name, Some(Unit::Mm))
}

fn mark(id: &str, text: &str, face: u32) -> Mark {
    Mark { id: id.into(), text: text.into(), seat: SeatRef::on(face), ..Mark::default() }
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

/// Halves that open along z.
fn tool(parting: Parting) -> Tool {
    Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![parting], ..Tool::default() }
}

fn material(id: &str) -> Process {
    Process { material: Some(id.into()), ..Process::default() }
}

fn pin(name: &str, middle: DVec3, radius: f64) -> KeepOut {
    let area = Area::Circle { middle: middle.to_array(), radius };
    KeepOut { name: name.into(), kind: KeepOutKind::EjectorPin, area, margin: None }
}

fn text(text: &str) -> Piece {
    Piece::plain(PieceOf::Text { text: text.into() })
}

fn column(name: &str) -> Piece {
    Piece::plain(PieceOf::Column { column: name.into() })
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
    let plate = laid(layout, CavityNaming::Numbers, 1, &mut roster, 2).expect("the demo's layout is in range");
    (roster, plate)
}

const BRAND: (&str, &[u8]) = ("marrowby.svg", include_bytes!("../assets/marrowby.svg"));
const LETTERS: (&str, &[u8]) = ("marrowby-letters.svg", include_bytes!("../assets/marrowby-letters.svg"));

/// Drawings of the demo's maker by their files' names: its brand mark, and its letters, from which a lettering face can
/// be made.
pub const DRAWINGS: [(&str, &[u8]); 2] = [BRAND, LETTERS];

/// The brand mark of the demo's maker.
fn brand(height: f64) -> Figure {
    let (file, bytes) = BRAND;
    let drawing = artwork::read(file, bytes, &artwork::Wish::default()).expect("the demo's brand mark is read");
    Figure::Artwork(Artwork {
        file: file.into(),
        outline: artwork::outline(&drawing.region),
        height,
        told: drawing.told,
    })
}

fn valve_body() -> DemoJob {
    let bytes = stl::write(&parts::valve_body());
    let file = file("valve-body.stl");
    let part = read(&file, &bytes);
    let fall = 20.0_f64.to_radians();
    let leaning = DVec3::new(fall.sin(), 0.0, fall.cos());
    let flange = face(&part, |s| level(s, DVec3::Z, 3.0));
    let barrel = face(&part, barrel);
    let land = face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.dot(leaning) > 0.9999));
    let gasket = face(&part, |s| level(s, -DVec3::X, 0.0));
    let foot = face(&part, |s| level(s, -DVec3::Z, 2.0));
    let marks = vec![
        Mark {
            lettering: lettering("osifont", 3.5),
            place: Place { along: Tie::FromStart { distance: 3.5 }, up: Tie::At { position: 1.6 }, ..Place::default() },
            recipe: vec![column("part"), text("-"), column("variant"), text(" "), Piece::plain(PieceOf::Revision)],
            ..mark("part-number", "VB-20-07 D", barrel)
        },
        Mark {
            lettering: Lettering { spacing: 0.3, ..lettering("centre-line", 4.0) },
            place: Place { along: Tie::Middle, up: Tie::FromStart { distance: 12.0 }, ..Place::default() },
            relief: Relief { height: 0.4, ..Relief::default() },
            ..mark("maker", "MARROWBY\nTHRUPP", flange)
        },
        Mark {
            lettering: lettering("overpass-mono", 3.6),
            relief: Relief {
                sense: Sense::Sunken,
                height: 0.25,
                draft: 5.0,
                held: Held::Root,
                walls: Walls::Pull,
                ..Relief::default()
            },
            recipe: vec![text("C"), Piece { width: Some(2), ..column("cavity") }],
            ..mark("cavity", "C01", land)
        },
        Mark {
            lettering: Lettering { spacing: 0.1, ..lettering("barlow", 3.2) },
            place: Place { along: Tie::FromEnd { distance: 17.3 }, up: Tie::At { position: -4.5 }, ..Place::default() },
            relief: Relief { walls: Walls::Pull, ..Relief::default() },
            recipe: vec![Piece::plain(PieceOf::Material { code: "PA66-GF30".into() })],
            ..mark("material", ">PA66-GF30<", barrel)
        },
        Mark {
            lettering: lettering("centre-line", 2.35),
            place: Place { along: Tie::Middle, up: Tie::Middle, ..Place::default() },
            relief: Relief {
                height: 0.2,
                walls: Walls::Pull,
                plate: Some(Plate { form: PlateForm::Tray, height: 0.3, draft: 5.0, clears: 0.0 }),
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
            // on the underside of the barrel
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

fn plain_block() -> DemoJob {
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
                lettering: Lettering { spacing: 0.9, ..lettering("saira-stencil-one", 6.0) },
                relief: Relief { draft: 11.0, height: 0.5, ..Relief::default() },
                ..mark("part-number", "SB-3-118", top)
            }],
            ..Job::default()
        },
        part: bytes,
    }
}

/// A part that is shipped as STEP, with one mark on the plane that looks along `towards` at `height`.
fn on_a_ring(
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

fn filter_dome() -> DemoJob {
    let bytes = include_bytes!("../files/filter-dome.step");
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

/// Height of the middle of the spray nozzle's lettering.
const NOZZLE_LETTERED: f64 = 19.0;

fn spray_nozzle() -> DemoJob {
    let bytes = include_bytes!("../files/spray-nozzle.step");
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
            held: Held::Root,
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
    nozzle.job.tool.given = vec![Given {
        area: Area::Painted { spots: vec![Spot { at: lettered.to_array(), radius: 13.0 }] },
        to: Steel::Slide { name: "front cheek".into() },
    }];
    // round the top of the collar
    nozzle.job.tool.parting = vec![Parting::Plane { height: 8.0 }];
    nozzle
}

fn shut_off_lever() -> DemoJob {
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
                    kind: KeepOutKind::Gripped,
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

fn die_cast_bracket() -> DemoJob {
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
                given: vec![Given {
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

/// One mark on each of its six faces, one on its bevel, one over the crease beside it.
fn manifold_block() -> DemoJob {
    let bytes = stl::write(&parts::manifold_block());
    let file = file("manifold-block.stl");
    let part = read(&file, &bytes);
    let looks = |d: DVec3| face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.dot(d) > 0.999));
    let bevel = looks(DVec3::new(0.0, -1.0, 1.0).normalize());
    let front = looks(DVec3::NEG_Y);
    let manner = |m: Mark| Mark { manner: Some("ports".into()), ..m };
    // over its hole, or in the middle of the face without one
    let port = |id: &str, text: &str, on: DVec3, up: Tie| {
        manner(Mark {
            lettering: Lettering { spacing: 0.4, stroke: Some(0.6), ..lettering("overpass", 4.0) },
            place: Place { up, ..Place::default() },
            relief: Relief { sense: Sense::Sunken, held: Held::Root, height: 0.3, draft: 5.0, ..Relief::default() },
            ..mark(id, text, looks(on))
        })
    };
    // 3 clear of the hole's rim, wherever that is
    let centre = |near: [f64; 3]| Tie::Point { point: PartPoint { kind: PointKind::Centre, near }, distance: 10.0 };
    // the slide leaves the bevel at 45°
    let along_pull = Relief {
        sense: Sense::Sunken,
        held: Held::Root,
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
        port("port-3", "T", DVec3::Y, centre([half, size, 10.0])),
        port("port-4", "A", DVec3::NEG_Y, centre([half, 0.0, 10.0])),
        port("port-5", "B", DVec3::Z, Tie::FromEnd { distance: 3.0 }),
        Mark {
            lettering: Lettering { spacing: 0.2, stroke: Some(0.45), ..lettering("overpass", 3.0) },
            relief: Relief {
                height: 0.3,
                draft: 5.0,
                plate: Some(Plate { form: PlateForm::Tray, height: 0.5, draft: 10.0, clears: 0.0 }),
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
    let sides = [
        ("left slide", DVec3::NEG_X, vec![looks(DVec3::NEG_X)]),
        ("right slide", DVec3::X, vec![looks(DVec3::X)]),
        ("back slide", DVec3::Y, vec![looks(DVec3::Y)]),
        ("front slide", DVec3::NEG_Y, vec![front, bevel]),
    ];
    let round_the_foot =
        Parting::Edges { through: vec![[half, 0.0, 0.0], [size, half, 0.0], [half, size, 0.0], [0.0, half, 0.0]] };
    let slides = sides.iter().map(|(name, pull, _)| Slide { name: (*name).into(), pull: pull.to_array() }).collect();
    let given = sides
        .into_iter()
        .map(|(name, _, faces)| Given { area: Area::Faces { faces }, to: Steel::Slide { name: name.into() } })
        .collect();
    DemoJob {
        job: Job {
            name: "Manifold block MB-6".into(),
            part: PartRef { sha256: Some(part.sha256), ..file },
            face_names: vec![FaceName { face: bevel, name: "bevel".into() }], // each side is formed by a slide of its own, the bevel by the front's
            tool: Tool { slides, given, ..tool(round_the_foot) },
            process: material("pom"),
            marks,
            ..Job::default()
        },
        part: bytes,
    }
}

/// Hollow like a vase: lettering round its belly, on a part that has an inside to break into.
fn filter_cup() -> DemoJob {
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
                    held: Held::Root,
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

/// A sheet without thickness.
fn name_plate() -> DemoJob {
    let bytes = stl::write(&parts::name_plate());
    let mut file = file("name-plate.stl");
    file.sheet = Some(SheetSide::Front);
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
