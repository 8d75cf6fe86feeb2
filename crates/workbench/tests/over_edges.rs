//! Lettering that runs over the edge of its face on purpose: volumes and extents by closed form on the marked solid, and twins
//! that must not.

use demo::shapes::{cylinder, prism, turned};
use glam::{DVec2, DVec3};
use inspection::{Check, Finding, State};
use solid::{Mesh, Part, Surface, boolean::Body, soundness};
use trade::{Job, Lettering, Mark, MeasuredAt, Parting, Place, Relief, SeatRef, Sense, Tie, Tool};
use workbench::{Bench, Outcome, Scope, Steps};

const WIDE: f64 = 1.0;
const CAP: f64 = 6.0;

/// An upright bar with round ends, 1 wide and 6 high at the top or floor, its middle at this place of the strip.
fn bar(on: u32, at: DVec2, relief: Relief) -> Mark {
    Mark {
        id: "bar".into(),
        text: "I".into(),
        seat: SeatRef::on(on),
        place: Place { along: Tie::At { position: at.x }, up: Tie::At { position: at.y }, ..Place::default() },
        lettering: Lettering {
            face: "centre-line".into(),
            cap_height: CAP,
            stroke: Some(WIDE),
            ..Lettering::default()
        },
        relief,
        ..Mark::default()
    }
}

fn run(part: &Part, mark: Mark) -> Outcome {
    let tool = Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![Parting::Plane { height: 0.0 }], ..Tool::default() };
    let job = Job { tool, marks: vec![mark], ..Job::default() };
    Bench::new(part.clone()).outcome(&job, Scope::Whole)
}

fn found(outcome: &Outcome, check: Check) -> &Finding {
    assert_eq!(outcome.marks[0].problem, None);
    outcome.marks[0].findings.iter().find(|f| f.check == check).unwrap()
}

fn marked(outcome: &Outcome) -> &Mesh {
    let mesh = &outcome.whole().unwrap().mesh;
    let sound = soundness::examine(mesh);
    assert!(sound.is_solid() && sound.shells == 1, "{:?} {}", sound.complaint(), sound.shells);
    mesh
}

fn face(part: &Part, wanted: impl Fn(&Surface) -> bool) -> u32 {
    part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32
}

fn top(part: &Part) -> u32 {
    face(part, |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.999))
}

/// Where a point of the part lies on the strip of a face.
fn strip(part: &Part, on: u32, p: DVec3) -> DVec2 {
    Bench::new(part.clone()).seat(&SeatRef::on(on), Some(DVec3::Z)).unwrap().strip(p)
}

/// 60 × 30 × 12, one corner at the origin.
fn block() -> Part {
    Part::from_mesh(&demo::parts::plain_block()).unwrap()
}

#[test]
fn what_is_sunken_is_cut_on_into_the_air() {
    let part = block();
    let on = top(&part);
    let (low, high) = part.mesh.bounds();
    // 2.5 of the bar's 6 lie on the face, with one round end
    let at = strip(&part, on, DVec3::new(30.0, high.y - 2.5 + CAP / 2.0, high.z));
    let relief = Relief { sense: Sense::Sunken, height: 0.5, draft: 0.0, runs_out: true, ..Relief::default() };
    let outcome = run(&part, bar(on, at, relief));
    let mesh = marked(&outcome);
    assert_eq!(mesh.bounds(), (low, high));
    let area = WIDE * (2.5 - WIDE / 2.0) + std::f64::consts::PI * WIDE * WIDE / 8.0;
    let cut = part.mesh.volume() - mesh.volume();
    assert!((cut / (0.5 * area) - 1.0).abs() < 2e-3, "{cut} for {}", 0.5 * area);
    let whole = found(&outcome, Check::Complete);
    assert_eq!(whole.state, State::Passes, "{}", whole.sentence);
    assert!(whole.sentence.contains("does so as set"), "{}", whole.sentence);
    assert_eq!(found(&outcome, Check::Clearance).state, State::Passes);
    let wall = found(&outcome, Check::Wall);
    assert!(wall.state == State::Passes && wall.sentence.contains("11.50 mm"), "{}", wall.sentence);
    // not asked for it is a fault
    let outcome = run(&part, bar(on, at, Relief { runs_out: false, ..relief }));
    assert_eq!(found(&outcome, Check::Complete).state, State::Fails);
}

#[test]
fn what_is_raised_ends_on_its_face() {
    let part = block();
    let on = top(&part);
    let (low, high) = part.mesh.bounds();
    let at = strip(&part, on, DVec3::new(30.0, high.y - 2.5 + CAP / 2.0, high.z));
    for (draft, root) in [(0.0, 0.0), (5.0, 0.0), (8.0, 0.1)] {
        let relief = Relief { height: 0.5, draft, root, runs_out: true, ..Relief::default() };
        let outcome = run(&part, bar(on, at, relief));
        let mesh = marked(&outcome);
        let (l, h) = mesh.bounds();
        assert!(l.distance(low) < 1e-9 && h.truncate() == high.truncate() && (h.z - high.z - 0.5).abs() < 1e-9);
        // nothing of it stands past the edge, and its foot comes within a hair of it
        let raised = mesh.vertices.iter().filter(|p| p.z > high.z - 1e-6 && (p.x - 30.0).abs() < 3.0);
        let reaches = raised.map(|p| p.y).fold(f64::MIN, f64::max);
        assert!(reaches < high.y && reaches > high.y - 0.05, "{draft} {root}: {reaches} of {}", high.y);
        assert_eq!(found(&outcome, Check::Complete).state, State::Passes);
        if draft == 0.0 {
            let area = WIDE * (2.49 - WIDE / 2.0) + std::f64::consts::PI * WIDE * WIDE / 8.0;
            let added = mesh.volume() - part.mesh.volume();
            assert!((added / (0.5 * area) - 1.0).abs() < 2e-3, "{added} for {}", 0.5 * area);
        }
        let outcome = run(&part, bar(on, at, Relief { runs_out: false, ..relief }));
        assert_eq!(found(&outcome, Check::Complete).state, State::Fails);
    }
}

/// Over the end of a shaft, which runs once round, and over the rim of a hole.
#[test]
fn it_ends_at_edges_of_any_shape() {
    let shaft = Part::from_mesh(&cylinder(DVec3::ZERO, DVec3::X * 40.0, 15.0)).unwrap();
    let on = face(&shaft, |s| matches!(s, Surface::Cylinder { .. }));
    for (x, turn) in [(39.0, 90.0), (1.0, 90.0), (39.5, 20.0)] {
        let at = strip(&shaft, on, DVec3::new(x, 0.0, 15.0));
        for sense in [Sense::Raised, Sense::Sunken] {
            let relief = Relief { sense, height: 0.4, draft: 4.0, runs_out: true, ..Relief::default() };
            let mut mark = bar(on, at, relief);
            mark.place.turn = turn;
            let outcome = run(&shaft, mark);
            let (low, high) = marked(&outcome).bounds();
            assert!(low.x > -1e-9 && high.x < 40.0 + 1e-9, "{sense:?} {x}: {low} {high}");
            assert_eq!(found(&outcome, Check::Complete).state, State::Passes, "{sense:?} {x}");
        }
    }
    let plate = Body::new(&demo::parts::plain_block(), "the plate").unwrap();
    let hole = Body::new(&cylinder(DVec3::new(30.0, 15.0, -1.0), DVec3::Z * 20.0, 5.0), "the hole").unwrap();
    let part = Part::from_mesh(&plate.with(&[], &[hole]).unwrap().traced().mesh).unwrap();
    let on = top(&part);
    let at = strip(&part, on, DVec3::new(30.0, 15.0 + 5.0 + 1.0, 12.0));
    let relief = Relief { height: 0.4, draft: 3.0, runs_out: true, ..Relief::default() };
    let outcome = run(&part, bar(on, at, relief));
    let raised = marked(&outcome).vertices.iter().filter(|p| p.z > 12.0 + 1e-6);
    let nearest = raised.map(|p| p.truncate().distance(DVec2::new(30.0, 15.0))).fold(f64::MAX, f64::min);
    assert!(nearest > 5.0 && nearest < 5.05, "{nearest}");
    assert_eq!(found(&outcome, Check::Complete).state, State::Passes);
}

#[test]
fn what_is_cut_in_under_a_wall_or_lies_wholly_beyond_the_edge_is_told() {
    // an L: a foot with an upright along y at its far end
    let side = [(0.0, 0.0), (40.0, 0.0), (40.0, 20.0), (30.0, 20.0), (30.0, 8.0), (0.0, 8.0)];
    let base: Vec<DVec3> = side.iter().map(|&(x, z)| DVec3::new(x, 20.0, z)).collect();
    let part = Part::from_mesh(&prism(&base, DVec3::NEG_Y * 20.0)).unwrap();
    let on = face(&part, |s| matches!(s, Surface::Plane { origin, normal } if normal.z > 0.999 && origin.z < 10.0));
    let at = strip(&part, on, DVec3::new(29.0, 10.0, 8.0));
    let relief = Relief { sense: Sense::Sunken, height: 0.5, draft: 3.0, runs_out: true, ..Relief::default() };
    let mut mark = bar(on, at, relief);
    mark.place.turn = 90.0;
    let outcome = run(&part, mark);
    let whole = found(&outcome, Check::Complete);
    assert!(whole.state == State::Fails && whole.sentence.contains("cut in under"), "{}", whole.sentence);
    let part = block();
    let on = top(&part);
    let (_, high) = part.mesh.bounds();
    for sense in [Sense::Raised, Sense::Sunken] {
        let relief = Relief { sense, measured_at: MeasuredAt::Root, runs_out: true, ..Relief::default() };
        let mut mark = bar(on, strip(&part, on, DVec3::new(high.x - 1.0, 15.0, high.z)), relief);
        (mark.text, mark.lettering.face) = ("HHI".into(), "overpass".into());
        let outcome = run(&part, mark);
        let whole = found(&outcome, Check::Complete);
        assert!(whole.state == State::Fails && whole.sentence.contains("“I” is lost"), "{}", whole.sentence);
    }
}

/// A bore that runs along under the face is none of the faces it may run over: a floor at the height of its axis opens into
/// both its sides, which look neither up nor down there.
#[test]
fn what_breaks_into_a_bore_is_told_though_it_may_run_over_edges() {
    let block = Body::new(&demo::parts::plain_block(), "the block").unwrap();
    for (deep, through) in [(1.5, true), (0.3, false)] {
        let bore = Body::new(&cylinder(DVec3::new(-1.0, 25.0, 10.5), DVec3::X * 62.0, 0.8), "the bore").unwrap();
        let part = Part::from_mesh(&block.with(&[], &[bore]).unwrap().traced().mesh).unwrap();
        let on = top(&part);
        let at = strip(&part, on, DVec3::new(30.0, 27.5, 12.0));
        let relief = Relief { sense: Sense::Sunken, height: deep, draft: 0.0, runs_out: true, ..Relief::default() };
        let outcome = run(&part, bar(on, at, relief));
        let (whole, wall) = (found(&outcome, Check::Complete), found(&outcome, Check::Wall));
        assert_eq!(whole.state == State::Fails, through, "{deep}: {}", whole.sentence);
        assert_eq!(wall.sentence.contains("cuts through the wall"), through, "{deep}: {}", wall.sentence);
    }
}

/// What turns once round and is closed both ways has no edge to run over.
#[test]
fn a_seat_without_edges_is_as_it_was() {
    let ring: Vec<DVec2> = demo::shapes::arc(DVec2::new(24.0, 0.0), 8.0, -180.0, 180.0).into_iter().skip(1).collect();
    let part = Part::from_mesh(&turned(&ring)).unwrap();
    let on = face(&part, |s| matches!(s, Surface::Torus { .. }));
    let at = strip(&part, on, DVec3::new(32.0, 0.0, 0.0));
    let volume = |runs_out| {
        let relief = Relief { height: 0.3, runs_out, ..Relief::default() };
        marked(&run(&part, bar(on, at, relief))).volume()
    };
    assert!((volume(true) - volume(false)).abs() < 1e-12);
}
