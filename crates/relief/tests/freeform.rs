//! Lettering on freeform faces: strips against surfaces that are known otherwise, heights against the
//! facets and the formulas that the faces were made from.

use glam::{DVec2, DVec3};
use lettering::region::contains;
use relief::{
    MarkedSolid, Role, Seat, Tag,
    marked::{BuiltMark, Stock},
};
use solid::{Face, Mesh, Part, Surface, queries::Queries, soundness};
use std::sync::Arc;
use trade::{Held, Lettering, Mark, Place, Relief, SeatRef, Sense, Tie, Walls};

/// A block 40 × 24 whose top is z = `height`(x, y), its facets `step` mm wide.
fn block_under(height: impl Fn(f64, f64) -> f64, step: f64) -> Mesh {
    let (columns, rows) = ((40.0 / step) as u32, (24.0 / step) as u32);
    let mut mesh = Mesh::default();
    for layer in 0..2 {
        for j in 0..=rows {
            for i in 0..=columns {
                let (x, y) = (f64::from(i) * step - 20.0, f64::from(j) * step - 12.0);
                mesh.vertices.push(DVec3::new(x, y, if layer == 0 { -8.0 } else { height(x, y) }));
            }
        }
    }
    let all = (columns + 1) * (rows + 1);
    let at = |layer: u32, i: u32, j: u32| layer * all + j * (columns + 1) + i;
    let mut quad = |a, b, c, d| mesh.triangles.extend([[a, b, c], [a, c, d]]);
    for j in 0..rows {
        for i in 0..columns {
            quad(at(1, i, j), at(1, i + 1, j), at(1, i + 1, j + 1), at(1, i, j + 1));
            quad(at(0, i, j), at(0, i, j + 1), at(0, i + 1, j + 1), at(0, i + 1, j));
        }
    }
    for i in 0..columns {
        quad(at(0, i, 0), at(0, i + 1, 0), at(1, i + 1, 0), at(1, i, 0));
        quad(at(0, i + 1, rows), at(0, i, rows), at(1, i, rows), at(1, i + 1, rows));
    }
    for j in 0..rows {
        quad(at(0, columns, j), at(0, columns, j + 1), at(1, columns, j + 1), at(1, columns, j));
        quad(at(0, 0, j + 1), at(0, 0, j), at(1, 0, j), at(1, 0, j + 1));
    }
    mesh
}

/// The part with the face that looks up taken for freeform, whatever it is.
fn freeform_top(mesh: &Mesh) -> (Part, u32) {
    let mut part = Part::from_mesh(mesh).unwrap();
    let top = (0..part.mesh.triangles.len()).find(|&t| part.mesh.normal(t).z > 0.5).map(|t| part.face_of[t]).unwrap();
    let face: &mut Face = &mut part.faces[top as usize];
    face.surface = Surface::Freeform;
    (part, top)
}

fn mark(text: &str, face: u32) -> Mark {
    Mark {
        id: "m".into(),
        on: true,
        text: text.into(),
        seat: SeatRef { face },
        place: Place::default(),
        lettering: Lettering { face: "overpass".into(), cap_height: 3.5, ..Lettering::default() },
        relief: Relief { height: 0.4, draft: 3.0, ..Relief::default() },
    }
}

fn build(part: &Part, mark: &Mark) -> (BuiltMark, MarkedSolid) {
    let seat = Arc::new(Seat::on(part, mark.seat.face, Some(DVec3::Z)).unwrap());
    let built = BuiltMark::new(mark, seat, Some(DVec3::Z)).unwrap();
    let solid = Stock::of(part).unwrap().marked(&[(0, &built)]).unwrap();
    let sound = soundness::examine(&solid.mesh);
    assert!(sound.is_solid(), "{:?}", sound.complaint());
    assert_eq!(sound.shells, 1);
    (built, solid)
}

fn wavy(x: f64, y: f64) -> f64 {
    1.6 * (x / 9.0).sin() + 0.03 * y * y - 0.012 * x * y
}

#[test]
fn a_developable_face_unrolls_as_the_barrel_that_it_is() {
    // part of a barrel of radius 14 along y, taken for freeform
    let (part, top) = freeform_top(&block_under(|x, _| (30.0_f64 * 30.0 - x * x).sqrt() - 30.0, 0.8));
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let arc = 2.0 * 30.0 * (20.0_f64 / 30.0).asin();
    let size = seat.end - seat.start;
    // chords are shorter than arcs by (step / R)² / 24
    assert!((size.x - arc).abs() < 0.01 && (size.y - 24.0).abs() < 1e-3, "{size}");
    for (x, y) in [(-15.0, 3.0), (2.0, -7.0), (18.0, 11.0)] {
        let p = DVec3::new(x, y, (30.0_f64 * 30.0 - x * x).sqrt() - 30.0);
        let at = seat.chart.strip(p).0;
        let expected = DVec2::new(30.0 * (x / 30.0).asin() + arc / 2.0, y + 12.0);
        assert!(at.distance(expected) < 0.02, "{at} {expected}");
    }
    let placed = relief::place::place(&mark("VB-20", top), &seat).unwrap();
    assert!(placed.stretch.scale.abs() < 2e-3 && placed.stretch.shear_deg < 0.1, "{:?}", placed.stretch);
}

#[test]
fn strip_and_space_are_inverses_of_one_another_over_a_doubly_bent_face() {
    let (part, top) = freeform_top(&block_under(wavy, 0.5));
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let mut worst: f64 = 0.0;
    for i in 0..40 {
        for j in 0..24 {
            let at = seat.start + (seat.end - seat.start) * DVec2::new(f64::from(i) / 39.0, f64::from(j) / 23.0);
            if !seat.covers(at) {
                continue;
            }
            for height in [-0.5, 0.0, 0.7] {
                let (back, up) = seat.chart.strip(seat.chart.point(at, height));
                worst = worst.max(back.distance(at)).max((up - height).abs());
            }
        }
    }
    assert!(worst < 1e-7, "{worst}");
    // the outline on the strip lies round the face: its middle is covered, what lies beyond is not
    let ring = &seat.outline[0];
    assert!(contains(ring, (seat.start + seat.end) / 2.0) && !seat.covers(seat.start - DVec2::ONE));
}

#[test]
fn height_on_a_freeform_face_is_even_within_ten_micrometres() {
    for (sense, walls) in [(Sense::Raised, Walls::Seat), (Sense::Sunken, Walls::Seat), (Sense::Raised, Walls::Pull)] {
        let mesh = block_under(wavy, 0.5);
        let (part, top) = freeform_top(&mesh);
        let mut mark = mark("SL-8 R2", top);
        mark.place = Place { along: Tie::Middle, up: Tie::Middle, turn: 12.0, ..Place::default() };
        mark.relief = Relief { sense, walls, held: Held::Land, ..mark.relief };
        let (_, solid) = build(&part, &mark);
        let skin = Queries::new(mesh);
        let role = if sense == Sense::Raised { Role::Land } else { Role::Floor };
        let mut seen = 0;
        for t in (0..solid.tags.len()).filter(|&t| matches!(solid.tags[t], Tag::Relief { role: r, .. } if r == role)) {
            let [a, b, c] = solid.mesh.corners(t);
            for p in [a, b, c, (a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0, (a + b + c) / 3.0] {
                let off = skin.nearest(p, 5.0).unwrap().distance;
                assert!((off - 0.4).abs() < 0.01, "{sense:?} {walls:?}: {off} at {p}");
                // and from the surface that the facets were taken from: along its normal to the first order
                let slope = DVec2::new(
                    (wavy(p.x + 1e-4, p.y) - wavy(p.x - 1e-4, p.y)) / 2e-4,
                    (wavy(p.x, p.y + 1e-4) - wavy(p.x, p.y - 1e-4)) / 2e-4,
                );
                let straight_up = (p.z - wavy(p.x, p.y)).abs() / (1.0 + slope.length_squared()).sqrt();
                assert!((straight_up - 0.4).abs() < 0.03, "{straight_up}");
                seen += 1;
            }
        }
        assert!(seen > 1000, "{seen}");
    }
}

#[test]
fn a_handle_that_goes_once_round_is_marked_on_the_side_that_looks_to_the_pull() {
    let part = Part::from_mesh(&demo::parts::shut_off_lever()).unwrap();
    let freeform = |f: &&(usize, &Face)| matches!(f.1.surface, Surface::Freeform);
    let faces: Vec<(usize, &Face)> = part.faces.iter().enumerate().collect();
    let grip = faces.iter().filter(freeform).max_by(|a, b| a.1.area.total_cmp(&b.1.area)).unwrap().0 as u32;
    let mut mark = mark("MARROWBY", grip);
    mark.relief.height = 0.3;
    let (built, solid) = build(&part, &mark);
    assert!(built.seat.chart.normal(built.placed.middle).z > 0.9);
    assert!(built.placed.stretch.scale.abs() < 0.05, "{:?}", built.placed.stretch);
    assert!(solid.mesh.volume() > part.mesh.volume() + 1.0);
}
