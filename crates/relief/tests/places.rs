//! Where marks lie: anchors and ties, lines beside edges, pads under them.

use demo::shapes::{cylinder, prism};
use glam::{DVec2, DVec3};
use relief::{
    BuiltMark, Role, Seat, Tag,
    edge::points,
    marked::Stock,
    place::{carried, place},
};
use solid::{Part, Surface, boolean::Body, soundness};
use std::sync::Arc;
use trade::{
    Anchor, Baseline, BoxSide, Extents, Justify, Lettering, Mark, Pad, PadForm, Place, PointKind, Relief, SeatRef,
    Sense, Tie,
};

/// A pad of 60 × 40 × 6 with a corner cut off and a hole of Ø 10 in it, seen from above.
fn pad() -> (Part, u32) {
    let corners: Vec<DVec3> = [(0.0, 0.0), (60.0, 0.0), (60.0, 25.0), (45.0, 40.0), (0.0, 40.0)]
        .iter()
        .map(|&(x, y)| DVec3::new(x, y, 0.0))
        .collect();
    let body = |mesh: &solid::Mesh| Body::new(mesh, "a piece").unwrap();
    let block = body(&prism(&corners, DVec3::Z * 6.0));
    let hole = body(&cylinder(DVec3::new(15.0, 20.0, -1.0), DVec3::Z * 8.0, 5.0));
    let part = Part::from_mesh(&block.with(&[], &[hole]).unwrap().traced().mesh).unwrap();
    let top = face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.99));
    (part, top)
}

fn face(part: &Part, wanted: impl Fn(&Surface) -> bool) -> u32 {
    part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32
}

fn mark(text: &str, face: u32) -> Mark {
    Mark {
        id: "m".into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height: 3.0, ..Lettering::default() },
        relief: Relief { height: 0.4, draft: 3.0, ..Relief::default() },
        ..Mark::default()
    }
}

/// Where x = y = z = 0 of the part lies on the strip of its top.
fn origin(seat: &Seat) -> DVec2 {
    seat.strip(DVec3::new(0.0, 0.0, 6.0))
}

/// Least and greatest corner of all ink, from the part's corner.
fn ink(seat: &Seat, m: &Mark) -> (DVec2, DVec2) {
    let placed = place(m, seat).unwrap();
    let bounds = placed.characters.iter().filter_map(|c| c.region.bounds());
    let (low, high) = bounds.reduce(|(a, b), (c, d)| (a.min(c), b.max(d))).unwrap();
    (low - origin(seat), high - origin(seat))
}

#[test]
fn nine_anchors_hold_the_box_of_the_capitals_or_of_all_ink() {
    let (part, top) = pad();
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    for side in [None, Some(BoxSide::Start), Some(BoxSide::Middle), Some(BoxSide::End)] {
        for of in [Extents::Capitals, Extents::Ink] {
            let mut m = mark("Qg", top);
            m.place.anchor = Anchor { along: side, up: side, of };
            m.place.along = Tie::FromStart { distance: 20.0 };
            m.place.up = Tie::FromEnd { distance: 8.0 };
            let (low, high) = ink(&seat, &m);
            // the Q's tail and the g hang below the baseline
            let placed = place(&m, &seat).unwrap();
            let baseline = if of == Extents::Ink { low.y } else { placed.outline[0].y - origin(&seat).y };
            let cap = if of == Extents::Ink { high.y } else { baseline + 3.0 };
            let x = match side {
                None | Some(BoxSide::Start) => low.x,
                Some(BoxSide::Middle) => (low.x + high.x) / 2.0,
                Some(BoxSide::End) => high.x,
            };
            let y = match side {
                Some(BoxSide::Start) => baseline,
                Some(BoxSide::Middle) => (baseline + cap) / 2.0,
                None | Some(BoxSide::End) => cap,
            };
            assert!((x - 20.0).abs() < 1e-6 && (y - 32.0).abs() < 1e-6, "{side:?} {of:?}: {x} {y}");
            if of == Extents::Capitals {
                assert!(low.y < baseline - 0.3);
            }
        }
    }
    // larger text, the same anchor
    let mut m = mark("Qg", top);
    m.place.anchor.along = Some(BoxSide::End);
    m.place.along = Tie::At { position: origin(&seat).x + 50.0 };
    for cap in [2.0, 5.0] {
        m.lettering.cap_height = cap;
        assert!((ink(&seat, &m).1.x - 50.0).abs() < 1e-6);
    }
}

#[test]
fn between_is_midway_between_the_edges_that_the_box_meets_first() {
    let (part, top) = pad();
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let mut m = mark("R8", top);
    // to the right of the hole, at its height: from the hole's edge at 20 to the side at 60
    m.place.up = Tie::At { position: origin(&seat).y + 20.0 };
    m.place.along = Tie::Between { near: origin(&seat).x + 40.0 };
    let (low, high) = ink(&seat, &m);
    // the hole's facets lie up to 5 (1 − cos(half a facet)) inside, and the box is 3 high
    let reach = (25.0_f64 - 1.5 * 1.5).sqrt();
    assert!((low.x + high.x - 80.0).abs() < 0.02 && reach < 5.0, "{low} {high}");
    // to its left: from the side at 0 to the hole's edge at 10
    m.place.along = Tie::Between { near: origin(&seat).x + 3.0 };
    m.lettering.cap_height = 2.0;
    let (low, high) = ink(&seat, &m);
    assert!((low.x + high.x - 10.0).abs() < 0.05, "{low} {high}");
    // beside the cut corner: at the height of 34 it ends at 51
    m.place.up = Tie::At { position: origin(&seat).y + 34.0 };
    m.place.along = Tie::Between { near: origin(&seat).x + 40.0 };
    let (low, high) = ink(&seat, &m);
    // the capitals reach up to 35, where the cut corner has come in to 50
    assert!((low.x + high.x - 50.0).abs() < 1e-6, "{low} {high}");
}

#[test]
fn points_of_the_part_are_its_corners_hole_centres_and_the_middles_of_edges() {
    let (part, top) = pad();
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let found = points(&seat);
    let has =
        |kind, x: f64, y: f64| found.iter().any(|p| p.kind == kind && p.point.distance(DVec3::new(x, y, 6.0)) < 0.01);
    for (x, y) in [(0.0, 0.0), (60.0, 0.0), (60.0, 25.0), (45.0, 40.0), (0.0, 40.0)] {
        assert!(has(PointKind::Corner, x, y), "{x} {y} {found:?}");
    }
    assert!(has(PointKind::Centre, 15.0, 20.0), "{found:?}");
    for (x, y) in [(30.0, 0.0), (60.0, 12.5), (52.5, 32.5), (22.5, 40.0), (0.0, 20.0)] {
        assert!(has(PointKind::Halfway, x, y), "{x} {y} {found:?}");
    }
    assert_eq!(found.len(), 11, "{found:?}");
}

fn beside(near: DVec3, turned: bool) -> Baseline {
    let near = near.to_array();
    Baseline::Edge { near, gap: 1.5, share: 50.0, stands: Justify::Middle, turned, bent: false }
}

#[test]
fn text_beside_a_slanted_edge_runs_along_it_and_keeps_its_gap() {
    let (part, top) = pad();
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let mut m = mark("HNH", top);
    m.place.baseline = beside(DVec3::new(53.0, 33.0, 6.0), false);
    let placed = place(&m, &seat).unwrap();
    // the edge falls at 45° from (45, 40) to (60, 25): upright, read downhill, its tops 1.5 from it
    assert!((placed.along - DVec2::new(1.0, -1.0).normalize()).length() < 1e-6, "{}", placed.along);
    let off = |p: DVec2| {
        let p = p - origin(&seat);
        (85.0 - p.x - p.y) / 2.0_f64.sqrt()
    };
    let all: Vec<f64> = placed.characters.iter().flat_map(|c| c.region.contours()).flatten().map(|&p| off(p)).collect();
    let (least, most) = all.iter().fold((f64::MAX, f64::MIN), |(a, b), &v| (a.min(v), b.max(v)));
    assert!((least - 1.5).abs() < 0.004 && (most - 4.5).abs() < 0.004, "{least} {most}");
    // its middle stands at the edge's
    let middle = placed.middle - origin(&seat);
    assert!((middle.x - middle.y - 20.0).abs() < 1e-6, "{middle}");
    // from the other side: feet to the edge
    m.place.baseline = beside(DVec3::new(53.0, 33.0, 6.0), true);
    let turned = place(&m, &seat).unwrap();
    assert!((turned.along + placed.along).length() < 1e-6);
    // dragged along and away it keeps to its edge
    let to = placed.middle + DVec2::new(2.0, -2.0) + DVec2::new(-1.0, -1.0);
    m.place.baseline = beside(DVec3::new(53.0, 33.0, 6.0), false);
    m.place = carried(&m.place, &placed, &seat, to);
    let there = place(&m, &seat).unwrap();
    assert!(there.middle.distance(to) < 0.02, "{} {to}", there.middle);
    assert!((there.along - placed.along).length() < 1e-6);
    // longer than its edge it is refused in words
    m.text = "HNHNHNHNHN".into();
    let error = place(&m, &seat).unwrap_err().to_string();
    assert!(error.contains("the edge beside it"), "{error}");
}

#[test]
fn text_beside_a_round_hole_runs_round_it() {
    let (part, top) = pad();
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let mut m = mark("HNH", top);
    m.lettering.cap_height = 2.0;
    m.place.baseline = beside(DVec3::new(15.0, 25.0, 6.0), false);
    let placed = place(&m, &seat).unwrap();
    let hole = DVec2::new(15.0, 20.0);
    for c in &placed.characters {
        let middle = c.middle - origin(&seat) - hole;
        // feet 1.5 off the rim, upright at the top of the hole
        assert!((middle.length() - 7.5).abs() < 0.03, "{}: {middle}", c.text);
        assert!(c.along.perp().dot(middle.normalize()) > 0.999, "{}", c.along);
    }
    assert!((placed.characters[1].middle - origin(&seat) - hole).normalize().y > 0.999);
}

fn build(part: &Part, m: &Mark) -> (BuiltMark, relief::MarkedSolid) {
    let seat = Arc::new(Seat::over(part, &m.seat.faces(), Some(DVec3::Z)).unwrap());
    let built = BuiltMark::new(m, seat, Some(DVec3::Z)).unwrap();
    let solid = Stock::of(part).unwrap().marked(&[(0, &built)]).unwrap();
    let sound = soundness::examine(&solid.mesh);
    assert_eq!(sound.complaint(), None);
    assert_eq!(sound.shells, 1);
    (built, solid)
}

/// Levels of the facets of a role of the letters, or of the pad, above the part's top.
fn levels(solid: &relief::MarkedSolid, pad: bool, wanted: Role) -> Vec<f64> {
    let of = |t: &usize| match solid.tags[*t] {
        Tag::Relief { character, role, .. } => role == wanted && pad == (character == relief::body::PAD),
        _ => false,
    };
    (0..solid.tags.len()).filter(of).flat_map(|t| solid.mesh.corners(t)).map(|p| p.z - 6.0).collect()
}

#[test]
fn letters_stand_on_a_raised_pad_and_in_a_recessed_one() {
    let (part, top) = pad();
    let bare = part.mesh.volume();
    for (form, sense, level, lettering) in [
        (PadForm::Raised, Sense::Raised, 0.6, 1.0),
        (PadForm::Raised, Sense::Sunken, 0.6, 0.2),
        (PadForm::Recessed, Sense::Raised, -0.6, -0.2),
        (PadForm::Recessed, Sense::Sunken, -0.6, -1.0),
    ] {
        let mut m = mark("R8", top);
        m.place.along = Tie::At { position: origin_of(&part, top).x + 38.0 };
        m.relief.sense = sense;
        m.relief.pad = Some(Pad { form, height: 0.6, draft: 5.0, clears: 0.0 });
        m.relief.field = trade::Field { margin: 2.0, corner: 1.0 };
        let (built, solid) = build(&part, &m);
        let role = if form == PadForm::Raised { Role::Top } else { Role::Floor };
        let own = if sense == Sense::Raised { Role::Top } else { Role::Floor };
        for (found, wanted) in [(levels(&solid, true, role), level), (levels(&solid, false, own), lettering)] {
            assert!(
                !found.is_empty() && found.iter().all(|z| (z - wanted).abs() < 1e-6),
                "{form:?} {sense:?} {wanted}"
            );
        }
        // the box of the ink and its margin all round, less its corners, and what 5° add to it below
        let ink = built.placed.characters.iter().filter_map(|c| c.region.bounds());
        let (low, high) = ink.reduce(|(a, b), (c, d)| (a.min(c), b.max(d))).unwrap();
        let size = high - low + 4.0;
        let field = size.x * size.y - (4.0 - std::f64::consts::PI);
        let round = 2.0 * (size.x + size.y) - (8.0 - 2.0 * std::f64::consts::PI);
        let spread = 0.6 * 5.0_f64.to_radians().tan();
        let pad = 0.6 * (field + round * spread / 2.0 + std::f64::consts::PI * spread * spread / 3.0);
        let moved = solid.mesh.volume() - bare;
        let letters = moved - if form == PadForm::Raised { pad } else { -pad };
        let ink: f64 = built.placed.characters.iter().map(|c| c.region.area()).sum();
        let wanted = if sense == Sense::Raised { 0.4 * ink } else { -0.4 * ink };
        // draft of 3° over 0.4 mm makes letters a little larger
        assert!((letters / wanted - 1.0).abs() < 0.12, "{form:?} {sense:?}: {letters} {wanted}");
    }
}

fn origin_of(part: &Part, top: u32) -> DVec2 {
    origin(&Seat::on(part, top, Some(DVec3::Z)).unwrap())
}

#[test]
fn a_recessed_pad_clears_the_ribs_round_a_mark_and_follows_a_cylinder() {
    // a cylinder of R 15 with ribs along it, 0.8 high
    let body = |mesh: &solid::Mesh| Body::new(mesh, "a piece").unwrap();
    let ribs: Vec<Body> = (0..24)
        .map(|k| {
            let turn = f64::from(k) * 15.0_f64.to_radians();
            let (out, side) = (DVec3::new(turn.sin(), 0.0, turn.cos()), DVec3::new(turn.cos(), 0.0, -turn.sin()));
            let at = |o: f64, s: f64| out * o + side * s + DVec3::Y * 30.0;
            body(&prism(&[at(14.0, -0.5), at(14.0, 0.5), at(15.8, 0.5), at(15.8, -0.5)], DVec3::NEG_Y * 25.0))
        })
        .collect();
    let barrel = body(&cylinder(DVec3::ZERO, DVec3::Y * 40.0, 15.0)).with(&ribs, &[]).unwrap();
    let part = Part::from_mesh(&barrel.traced().mesh).unwrap();
    let on_barrel = |s: &Surface| matches!(s, Surface::Cylinder { radius, .. } if (radius - 15.0).abs() < 0.05);
    let faces: Vec<u32> =
        (0..part.faces.len() as u32).filter(|&f| on_barrel(&part.faces[f as usize].surface)).collect();
    let face =
        *faces.iter().max_by(|a, b| part.faces[**a as usize].area.total_cmp(&part.faces[**b as usize].area)).unwrap();
    let mut m = mark("R8", face);
    let seat = Seat::on(&part, face, Some(DVec3::Z)).unwrap();
    let here = seat.chart.grid(seat.strip(DVec3::new(1.5, 18.0, 15.0)));
    m.place.along = Tie::At { position: here.x };
    m.place.up = Tie::At { position: here.y };
    m.relief.pad = Some(Pad { form: PadForm::Recessed, height: 0.05, draft: 5.0, clears: 1.2 });
    let (built, solid) = build(&part, &m);
    let field = &built.placed.pad.as_ref().unwrap().islands[0].outer;
    let inside = |p: DVec3| {
        let (at, height) = built.ground.chart.strip(p);
        let at = built.ground.chart.turned_to(at, built.placed.middle);
        flat::contains(field, at).then_some(height)
    };
    let heights: Vec<f64> = (0..solid.tags.len())
        .filter(|&t| matches!(solid.tags[t], Tag::Part { .. }))
        .filter_map(|t| inside(solid.mesh.centroid(t)))
        .filter(|h| *h > -0.06)
        .collect();
    assert!(heights.is_empty(), "{heights:?}");
    let floor = (0..solid.tags.len()).filter(|&t| {
        matches!(solid.tags[t], Tag::Relief { character, role: Role::Floor, .. } if character == relief::body::PAD)
    });
    for t in floor {
        for p in solid.mesh.corners(t) {
            let off = DVec2::new(p.x, p.z).length() - 14.95;
            assert!(off.abs() < 0.003, "{off}");
        }
    }
}

#[test]
fn one_letter_is_sunken_among_raised_ones() {
    let (part, top) = pad();
    let mut m = mark("RH8", top);
    m.place.along = Tie::At { position: origin_of(&part, top).x + 38.0 };
    m.letters = vec![trade::LetterChange { sense: Some(Sense::Sunken), ..trade::LetterChange::plain(1, "H") }];
    let (built, solid) = build(&part, &m);
    let all = |role| levels(&solid, false, role);
    assert!(all(Role::Top).iter().all(|z| (z - 0.4).abs() < 1e-9));
    assert!(!all(Role::Floor).is_empty() && all(Role::Floor).iter().all(|z| (z + 0.4).abs() < 1e-9));
    assert_eq!([0, 1, 2].map(|c| built.relief(c).sense), [Sense::Raised, Sense::Sunken, Sense::Raised]);
}

#[test]
fn ties_that_the_seat_cannot_give_are_said_in_words() {
    let barrel = Part::from_mesh(&cylinder(DVec3::ZERO, DVec3::X * 40.0, 15.0)).unwrap();
    let round = face(&barrel, |s| matches!(s, Surface::Cylinder { .. }));
    let seat = Seat::on(&barrel, round, Some(DVec3::Z)).unwrap();
    let mut m = mark("R8", round);
    m.place.up = Tie::FromStart { distance: 3.0 };
    let error = place(&m, &seat).unwrap_err().to_string();
    assert!(error.contains("closes on itself upward"), "{error}");
    m.place = Place { baseline: Baseline::Ring { bent: false }, ..Place::default() };
    assert!(place(&m, &seat).is_err());
}

#[test]
fn a_field_that_no_memory_could_hold_is_refused_in_words() {
    let barrel = Part::from_mesh(&cylinder(DVec3::ZERO, DVec3::X * 40.0, 15.0)).unwrap();
    let round = face(&barrel, |s| matches!(s, Surface::Cylinder { .. }));
    let lever = Part::from_mesh(&demo::parts::shut_off_lever()).unwrap();
    let grip = face(&lever, |s| matches!(s, Surface::Freeform));
    for (part, on) in [(&barrel, round), (&lever, grip)] {
        let seat = Seat::on(part, on, Some(DVec3::Z)).unwrap();
        let mut m = mark("R8", on);
        m.relief.pad = Some(Pad { form: PadForm::Raised, height: 0.3, draft: 3.0, clears: 0.0 });
        m.relief.field.margin = 1000.0;
        let error = place(&m, &seat).unwrap_err().to_string();
        assert!(error.contains("too large") || error.contains("once round"), "{error}");
    }
}
