//! Date dials, tally grids and pockets of inserts on finished solids.

use demo::shapes::{block, cylinder};
use glam::{DVec2, DVec3};
use inspection::{Check, Finding, State};
use relief::{Tag, body::FREE, marked::patches};
use solid::{Part, Surface, soundness};
use std::f64::consts::PI;
use trade::{
    Field, Figure, Job, Lettering, Mark, MeasuredAt, Pad, PadForm, PartRef, Relief, SeatRef, Sense, Tie, Tool, Tops,
    figure::{Dial, DialOf, DialRing, Pocket, Tally},
    recipe::DateFrom,
};
use workbench::{Bench, Outcome, Scope};

const TODAY: time::Date = time::macros::date!(2026 - 11 - 26);

fn top(part: &Part) -> u32 {
    let up = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.999);
    part.faces.iter().position(|f| up(&f.surface)).unwrap() as u32
}

fn slab() -> Part {
    Part::from_mesh(&block(DVec3::new(0.0, 0.0, -5.0), DVec3::new(100.0, 80.0, 0.0))).unwrap()
}

fn dial(of: &[DialOf], diameter: f64) -> Dial {
    let rings = of.iter().map(|of| DialRing { of: *of, every: 1 }).collect();
    Dial { from: DateFrom::Handoff, diameter, rings, tops: Tops::Out, gap: 0.4, year: 2, core_apart: false }
}

fn mark(figure: Figure, face: u32) -> Mark {
    Mark {
        id: "a".into(),
        figure: Some(figure),
        seat: SeatRef::on(face),
        lettering: Lettering { cap_height: 3.0, ..Lettering::default() },
        relief: Relief { height: 0.2, draft: 3.0, ..Relief::default() },
        ..Mark::default()
    }
}

fn job(marks: Vec<Mark>) -> Job {
    let job = Job {
        name: "test".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() },
        marks,
        ..Job::default()
    };
    job.check().unwrap();
    job.filled(None, TODAY)
}

fn of(outcome: &Outcome, at: usize, check: Check) -> Finding {
    outcome.marks[at].findings.iter().find(|f| f.check == check).unwrap().clone()
}

/// Area that an outcome's first mark draws, mm².
fn ink(outcome: &Outcome) -> f64 {
    let built = outcome.marks[0].built.as_ref().unwrap_or_else(|| panic!("{:?}", outcome.marks[0].problem));
    built.placed.characters.iter().map(|c| c.region.area()).sum()
}

#[test]
fn a_dial_on_a_plane_is_whole_even_and_as_large_as_its_drawing() {
    let part = slab();
    let bare = part.mesh.volume();
    let face = top(&part);
    let bench = Bench::new(part);
    for sense in [Sense::Raised, Sense::Sunken] {
        let mut m = mark(Figure::Dial(dial(&[DialOf::Days, DialOf::Months], 66.0)), face);
        m.relief = Relief { sense, draft: 0.0, ..m.relief };
        let outcome = bench.outcome(&job(vec![m]), Scope::Whole);
        let solid = outcome.whole().unwrap();
        let sound = soundness::examine(&solid.mesh);
        assert!(sound.complaint().is_none() && sound.shells == 1);
        // without draft the relief is a prism over what is drawn
        let wanted = 0.2 * ink(&outcome) * if sense == Sense::Raised { 1.0 } else { -1.0 };
        assert!((solid.mesh.volume() - bare - wanted).abs() < 1e-4 * wanted.abs(), "{sense:?}");
        for check in [Check::Complete, Check::UniformDepth, Check::CapHeight, Check::Stroke, Check::LookAlikes] {
            let finding = of(&outcome, 0, check);
            // it is read by position: nothing in it can be confused
            let sound = if check == Check::LookAlikes { State::DoesNotApply } else { State::Passes };
            assert_eq!(finding.state, sound, "{sense:?} {}", finding.sentence);
        }
        // every number is as high as set, however it is turned
        let heights = of(&outcome, 0, Check::CapHeight).letters;
        let numbers: Vec<f64> = heights.iter().filter_map(|l| l.measured).collect();
        assert_eq!(numbers.len(), 31 + 12 + 2);
        assert!(numbers.iter().all(|h| (h - 3.0).abs() < 0.01), "{numbers:?}");
    }
}

#[test]
fn a_dial_lies_evenly_on_a_cylinder_in_a_round_recessed_pad() {
    let part = Part::from_mesh(&cylinder(DVec3::new(-30.0, 0.0, 0.0), DVec3::X * 60.0, 25.0)).unwrap();
    let round = |s: &Surface| matches!(s, Surface::Cylinder { .. });
    let face = part.faces.iter().position(|f| round(&f.surface)).unwrap() as u32;
    let bench = Bench::new(part);
    let mut m = mark(Figure::Dial(dial(&[DialOf::Months], 28.0)), face);
    m.relief.pad = Some(Pad { form: PadForm::Recessed, height: 0.5, draft: 5.0, clears: 0.0 });
    m.relief.field = Field { margin: 1.5, corner: 0.0 };
    let outcome = bench.outcome(&job(vec![m]), Scope::Whole);
    let built = outcome.marks[0].built.as_ref().unwrap();
    // the field is a circle, whatever its corners are set to
    let field = built.placed.pad.as_ref().unwrap();
    assert!((field.area() - PI * 15.5 * 15.5).abs() < 0.2, "{}", field.area());
    assert!(soundness::examine(&outcome.whole().unwrap().mesh).complaint().is_none());
    let even = of(&outcome, 0, Check::UniformDepth);
    assert_eq!(even.state, State::Passes, "{}", even.sentence);
    assert_eq!(of(&outcome, 0, Check::Complete).state, State::Passes);
}

#[test]
fn a_dial_on_an_arc_is_carried_and_not_bent() {
    let part = slab();
    let face = top(&part);
    let bench = Bench::new(part);
    let straight = mark(Figure::Dial(dial(&[DialOf::Months], 30.0)), face);
    let mut on_arc = straight.clone();
    on_arc.place.baseline = serde_json::from_value(
        serde_json::json!({"line": "arc", "radius": 10.0, "tops": "out", "share": 50.0, "stands": "middle", "bent": false}),
    )
    .unwrap();
    on_arc.place.up = Tie::At { position: -15.0 };
    let areas = |m: Mark| {
        let outcome = bench.outcome(&job(vec![m]), Scope::NearMarks);
        let built = outcome.marks[0].built.clone().unwrap_or_else(|| panic!("{:?}", outcome.marks[0].problem));
        let middles: Vec<DVec2> = built.placed.characters.iter().map(|c| c.middle).collect();
        middles.iter().map(|m| m.distance(middles[0])).collect::<Vec<f64>>()
    };
    for (a, b) in areas(straight).into_iter().zip(areas(on_arc)) {
        assert!((a - b).abs() < 1e-6, "{a} {b}");
    }
}

#[test]
fn the_core_of_a_dial_is_a_body_of_its_own_where_that_is_asked_for() {
    let part = slab();
    let face = top(&part);
    let bench = Bench::new(part);
    let m = mark(Figure::Dial(Dial { core_apart: true, ..dial(&[DialOf::Months], 30.0) }), face);
    let outcome = bench.outcome(&job(vec![m]), Scope::Whole);
    let built = outcome.marks[0].built.as_ref().unwrap();
    let shells = |core| soundness::examine(&built.united(core).unwrap()).shells;
    // arrow and two digits; two lines and twelve numbers, three of which have two digits
    assert_eq!((shells(Some(true)), shells(Some(false)), shells(None)), (3, 2 + 15, 20));
}

fn tally() -> Tally {
    Tally { from: DateFrom::Handoff, first_year: 2026, years: 3, pitch: 5.0, dot: 1.2, labels: true }
}

fn patches_of(outcome: &Outcome) -> solid::Mesh {
    patches(&outcome.marks[0].built.as_ref().unwrap().free)
}

#[test]
fn a_tally_keeps_its_fields_free_and_on_its_face() {
    let part = slab();
    let face = top(&part);
    let bench = Bench::new(part);
    let grid = mark(Figure::Tally(tally()), face);
    let outcome = bench.outcome(&job(vec![grid.clone()]), Scope::Whole);
    assert!(soundness::examine(&outcome.whole().unwrap().mesh).complaint().is_none());
    assert_eq!(of(&outcome, 0, Check::Complete).state, State::Passes, "{:?}", of(&outcome, 0, Check::Complete));
    let built = outcome.marks[0].built.clone().unwrap();
    assert_eq!(built.placed.fields.len(), 3 * 12 - 11);
    // as patches on the face, and hatched where the solid is looked at; no part of the solid
    let patches = patches_of(&outcome);
    let area = (0..patches.triangles.len()).map(|t| patches.cross(t).length() / 2.0).sum::<f64>();
    let wanted = built.placed.fields.iter().map(|f| f.area()).sum::<f64>();
    assert!((area - wanted).abs() < 1e-6 * wanted, "{area} of {wanted}");
    let corners =
        |mesh: &solid::Mesh| -> Vec<DVec3> { (0..mesh.triangles.len()).flat_map(|t| mesh.corners(t)).collect() };
    assert!(corners(&patches).iter().all(|p| p.z.abs() < 1e-9) && (0..8).all(|t| patches.normal(t).z > 0.999));
    let group = &outcome.groups[0];
    let is_film = |t: &&Tag| matches!(t, Tag::Relief { character: FREE, .. });
    assert!(group.shown().tags.iter().filter(is_film).count() > 25 && !group.solid.tags.iter().any(|t| is_film(&t)));
    // another mark in a field of a month to come: the last of the lowest row
    let (low, high) = built.placed.fields[24].bounds().unwrap();
    let at = built.seat.chart.grid((low + high) / 2.0);
    let mut other = Mark { id: "b".into(), text: "I".into(), figure: None, ..grid.clone() };
    other.lettering.cap_height = 1.5;
    other.place.along = Tie::At { position: at.x };
    other.place.up = Tie::At { position: at.y };
    let outcome = bench.outcome(&job(vec![grid.clone(), other.clone()]), Scope::NearMarks);
    let room = of(&outcome, 1, Check::Clearance);
    assert!(room.state == State::Fails && room.sentence.contains("overlaps the mark “2026-11”"), "{}", room.sentence);
    // between two rows it lies in no field
    other.place.up = Tie::At { position: at.y - 7.0 };
    let outcome = bench.outcome(&job(vec![grid.clone(), other]), Scope::NearMarks);
    assert_ne!(of(&outcome, 1, Check::Clearance).state, State::Fails, "{}", of(&outcome, 1, Check::Clearance).sentence);
    // in a recessed pad the fields lie on its floor
    let mut sunk = grid.clone();
    sunk.relief.pad = Some(Pad { form: PadForm::Recessed, height: 0.5, draft: 5.0, clears: 0.0 });
    let outcome = bench.outcome(&job(vec![sunk]), Scope::Whole);
    let free = patches_of(&outcome);
    assert!(!free.triangles.is_empty() && corners(&free).iter().all(|p| (p.z + 0.5).abs() < 1e-9));
    // the last months reach past the face, where nothing is built yet
    let mut off = grid;
    off.place.along = Tie::FromEnd { distance: -1.0 };
    let outcome = bench.outcome(&job(vec![off]), Scope::NearMarks);
    let complete = of(&outcome, 0, Check::Complete);
    assert!(complete.state == State::Fails && complete.sentence.contains("kept free"), "{}", complete.sentence);
}

#[test]
fn a_pocket_is_as_deep_and_wide_as_its_insert_asks_for() {
    let part = slab();
    let bare = part.mesh.volume();
    let face = top(&part);
    let bench = Bench::new(part);
    let mut m = mark(Figure::Pocket(Pocket { diameter: 6.0, gap: 0.05 }), face);
    m.relief = Relief { sense: Sense::Sunken, height: 3.0, draft: 0.0, measured_at: MeasuredAt::Root, ..m.relief };
    let outcome = bench.outcome(&job(vec![m]), Scope::Whole);
    let gone = bare - outcome.whole().unwrap().mesh.volume();
    let wanted = PI * 3.05 * 3.05 * 3.0;
    assert!((gone - wanted).abs() < 2e-3 * wanted, "{gone} of {wanted}");
    for (check, state) in [
        (Check::Draft, State::Fails),
        (Check::CapHeight, State::DoesNotApply),
        (Check::UniformDepth, State::Passes),
        (Check::Complete, State::Passes),
    ] {
        let finding = of(&outcome, 0, check);
        assert_eq!(finding.state, state, "{}", finding.sentence);
    }
}

#[test]
fn a_figure_without_room_says_why_and_holds_up_no_other_mark() {
    let part = slab();
    let face = top(&part);
    let bench = Bench::new(part);
    let small = mark(Figure::Dial(dial(&[DialOf::Days], 20.0)), face);
    let plain = Mark { id: "b".into(), text: "A7".into(), figure: None, ..small.clone() };
    let outcome = bench.outcome(&job(vec![small, plain]), Scope::NearMarks);
    assert!(outcome.marks[0].problem.as_ref().unwrap().contains("the 31 numbers of the ring of days"));
    assert!(outcome.marks[1].built.is_some());
}
