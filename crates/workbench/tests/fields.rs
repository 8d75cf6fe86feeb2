//! Ties between marks and to the part, and what plates, stamp areas and cuts right through are found to be.

use demo::shapes::{block, cylinder};
use glam::{DVec2, DVec3};
use inspection::{Check, Finding, State};
use solid::{Part, Surface, boolean::Body, soundness};
use std::collections::BTreeMap;
use trade::{
    Anchor, BoxSide, Job, Lettering, Mark, MeasuredAt, Pad, PadForm, PartPoint, PartRef, Place, PointKind, Relief,
    SeatRef, Sense, Tie, Tool,
};
use workbench::{Bench, Outcome, Scope, Steps, revision::revised};

/// A plate of 60 × 30 × 3 with its top at 0 and a hole of Ø 8 at `hole`.
fn plate(hole: DVec2) -> Part {
    let body = |mesh: &solid::Mesh| Body::new(mesh, "a piece").unwrap();
    let block = body(&block(DVec3::new(0.0, 0.0, -3.0), DVec3::new(60.0, 30.0, 0.0)));
    let drill = body(&cylinder(hole.extend(-5.0), DVec3::Z * 8.0, 4.0));
    Part::from_mesh(&block.with(&[], &[drill]).unwrap().traced().mesh).unwrap()
}

fn face(part: &Part, way: DVec3) -> u32 {
    let looks = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.dot(way) > 0.999);
    part.faces.iter().position(|f| looks(&f.surface)).unwrap() as u32
}

fn mark(id: &str, text: &str, face: u32) -> Mark {
    Mark {
        id: id.into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height: 3.0, ..Lettering::default() },
        relief: Relief { height: 0.3, draft: 5.0, ..Relief::default() },
        ..Mark::default()
    }
}

fn job(marks: Vec<Mark>) -> Job {
    Job {
        name: "test".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() },
        marks,
        ..Job::default()
    }
}

fn of(outcome: &Outcome, at: usize, check: Check) -> Finding {
    outcome.marks[at].findings.iter().find(|f| f.check == check).unwrap().clone()
}

/// The middle of a mark's box in space.
fn middle(bench: &Bench, job: &Job, at: usize) -> DVec3 {
    let pull = Some(DVec3::Z);
    let settled = workbench::ties::settled(bench, &job.marks, &job.marks[at], pull).unwrap();
    let seat = bench.seat(&settled.seat, pull).unwrap();
    seat.chart.point(relief::place::place(&settled, &seat).unwrap().middle, 0.0)
}

#[test]
fn a_mark_stays_tied_to_a_hole_and_to_another_mark_when_they_move() {
    let part = plate(DVec2::new(15.0, 15.0));
    let top = face(&part, DVec3::Z);
    let centre = PartPoint { kind: PointKind::Centre, near: [15.0, 15.0, 0.0] };
    let mut first = mark("first", "A7", top);
    first.place.along = Tie::Point { point: centre, distance: 14.0 };
    first.place.up = Tie::Point { point: centre, distance: 0.0 };
    let mut second = mark("second", "LONGER", top);
    second.place.along = Tie::Mark { id: "first".into(), side: BoxSide::Start, distance: 0.0 };
    second.place.anchor = Anchor { along: Some(BoxSide::Start), up: Some(BoxSide::End), ..Anchor::default() };
    second.place.up = Tie::Mark { id: "first".into(), side: BoxSide::Start, distance: -1.5 };
    let mut job = job(vec![first, second]);
    let bench = Bench::new(part);
    assert!(middle(&bench, &job, 0).distance(DVec3::new(29.0, 15.0, 0.0)) < 0.01, "{}", middle(&bench, &job, 0));
    let below = |bench: &Bench, job: &Job| middle(bench, job, 0).y - middle(bench, job, 1).y;
    assert!((below(&bench, &job) - 4.5).abs() < 1e-6);
    // larger letters in the first, and the second makes room
    job.marks[0].lettering.cap_height = 4.0;
    assert!((below(&bench, &job) - (2.0 + 1.5 + 1.5)).abs() < 1e-6);
    // a newer revision with the hole elsewhere
    let newer = Bench::new(plate(DVec2::new(17.5, 13.0)));
    let moved = revised(&job, &bench, &newer, job.part.clone(), &BTreeMap::new());
    assert!(middle(&newer, &moved, 0).distance(DVec3::new(31.5, 13.0, 0.0)) < 0.01, "{}", middle(&newer, &moved, 0));
    assert!((below(&newer, &moved) - 5.0).abs() < 1e-6);
}

/// Each of forty marks tied both ways to the one before: looked up twice over each, they would be laid 2⁴⁰ times.
#[test]
fn a_column_of_marks_each_tied_both_ways_to_the_one_before_is_laid() {
    let part = plate(DVec2::new(50.0, 15.0));
    let top = face(&part, DVec3::Z);
    let mut marks = vec![mark("m0", "I", top)];
    marks[0].place.along = Tie::FromStart { distance: 3.0 };
    for k in 1..40 {
        let before = format!("m{}", k - 1);
        let mut next = mark(&format!("m{k}"), "I", top);
        next.place.along = Tie::Mark { id: before.clone(), side: BoxSide::Middle, distance: 1.0 };
        next.place.up = Tie::Mark { id: before, side: BoxSide::Middle, distance: 0.1 };
        marks.push(next);
    }
    let job = job(marks);
    let bench = Bench::new(part);
    let off = middle(&bench, &job, 39) - middle(&bench, &job, 0);
    assert!(off.distance(DVec3::new(39.0, 3.9, 0.0)) < 1e-6, "{off}");
}

#[test]
fn ties_that_nothing_can_hold_are_said_in_words() {
    let part = plate(DVec2::new(15.0, 15.0));
    let top = face(&part, DVec3::Z);
    let side = face(&part, DVec3::X);
    let bench = Bench::new(part);
    let says = |marks: Vec<Mark>| {
        let outcome = bench.outcome(&job(marks), Scope::NearMarks);
        outcome.marks[0].problem.clone().unwrap_or_default()
    };
    let to = |id: &str, other: &str| Mark {
        name: Some(id.into()),
        place: Place { along: Tie::Mark { id: other.into(), side: BoxSide::End, distance: 1.0 }, ..Place::default() },
        ..mark(id, "A7", top)
    };
    assert!(says(vec![to("a", "b")]).contains("tied to a mark that is gone"));
    let circle = says(vec![to("a", "b"), to("b", "c"), to("c", "a")]);
    assert!(circle.contains("in a circle (“a” to “b” to “c” to “a”)"), "{circle}");
    assert!(says(vec![to("a", "a")]).contains("in a circle"));
    let point = |kind, near, face| Mark {
        place: Place { along: Tie::Point { point: PartPoint { kind, near }, distance: 1.0 }, ..Place::default() },
        ..mark("a", "A7", face)
    };
    let none = says(vec![point(PointKind::Centre, [60.0, 15.0, -1.0], side)]);
    assert!(none.contains("its seat has none"), "{none}");
    let gone = says(vec![point(PointKind::Centre, [58.0, 28.0, 0.0], top)]);
    assert!(gone.contains("is gone: the nearest one is"), "{gone}");
    // tied twice over: the edge says where, and the tie too
    let mut twice = mark("a", "A7", top);
    twice.place.along = Tie::FromStart { distance: 3.0 };
    twice.place.baseline = trade::Baseline::Edge {
        near: [30.0, 0.0, 0.0],
        gap: 1.0,
        share: 50.0,
        stands: trade::Justify::Middle,
        turned: false,
        bent: false,
    };
    let error = job(vec![twice]).check().unwrap_err().to_string();
    assert!(error.contains("tied too often"), "{error}");
}

#[test]
fn a_plate_is_checked_with_its_letters_and_they_against_its_rim() {
    let part = plate(DVec2::new(8.0, 15.0));
    let top = face(&part, DVec3::Z);
    let bench = Bench::new(part);
    let mut m = mark("a", "R8", top);
    m.relief.pad = Some(Pad { form: PadForm::Raised, height: 0.5, draft: 0.4, clears: 0.0 });
    m.relief.field = trade::Field { margin: 2.0, corner: 1.0 };
    let outcome = bench.outcome(&job(vec![m.clone()]), Scope::NearMarks);
    assert_eq!(of(&outcome, 0, Check::Complete).state, State::Passes, "{:?}", of(&outcome, 0, Check::Complete));
    // the raised pad's own draft is the least
    let draft = of(&outcome, 0, Check::Draft);
    assert!((draft.measured.unwrap() - 0.4).abs() < 0.05, "{}", draft.sentence);
    assert!(draft.sentence.contains("raised pad"), "{}", draft.sentence);
    let even = of(&outcome, 0, Check::UniformDepth);
    assert!(even.measured.unwrap() < 0.5 && even.sentence.contains("0.300"), "{}", even.sentence);
    // letters stand 2 mm from the rim, less the foot of their own walls (0.3 · tan 5°)
    let room = of(&outcome, 0, Check::Clearance);
    let reach = 0.3 * 5.0_f64.to_radians().tan();
    assert!((room.measured.unwrap() * 3.0 - (2.0 - reach)).abs() < 0.01, "{}", room.sentence);
    // what is added to the wall of 3 is raised pad and letter together
    let wall = of(&outcome, 0, Check::Wall);
    assert!((wall.measured.unwrap() - 100.0 * 0.8 / 3.0).abs() < 0.5, "{}", wall.sentence);
    // a margin of nothing: letters run over the rim
    m.relief.field.margin = 0.0;
    m.relief.pad = Some(Pad { form: PadForm::Recessed, height: 0.5, draft: 3.0, clears: 0.0 });
    let outcome = bench.outcome(&job(vec![m]), Scope::NearMarks);
    let complete = of(&outcome, 0, Check::Complete);
    assert!(complete.state == State::Fails && complete.sentence.contains("the recessed pad"), "{}", complete.sentence);
}

#[test]
fn a_stamp_area_changes_nothing_and_keeps_other_marks_out() {
    let part = plate(DVec2::new(8.0, 15.0));
    let top = face(&part, DVec3::Z);
    let bench = Bench::new(part);
    let mut area = mark("inspected", "00/00", top);
    area.relief.sense = Sense::Stamp;
    let mut small = mark("a", "I", top);
    small.lettering.cap_height = 2.0;
    let outcome = bench.outcome(&job(vec![area.clone()]), Scope::Whole);
    assert!(outcome.whole().is_none());
    assert!(outcome.marks[0].findings.iter().all(|f| f.state <= State::NotChecked), "{:?}", outcome.marks[0].findings);
    // a letter right inside it
    let outcome = bench.outcome(&job(vec![area.clone(), small.clone()]), Scope::NearMarks);
    let room = of(&outcome, 1, Check::Clearance);
    assert_eq!(room.state, State::Fails);
    assert!(room.sentence.contains("overlaps the mark “00/00”"), "{}", room.sentence);
    // and one beside it
    small.place.up = Tie::FromStart { distance: 3.0 };
    let outcome = bench.outcome(&job(vec![area, small]), Scope::NearMarks);
    assert_ne!(of(&outcome, 1, Check::Clearance).state, State::Fails, "{}", of(&outcome, 1, Check::Clearance).sentence);
}

#[test]
fn a_mark_goes_through_on_purpose_only_and_its_counters_must_not_fall_out() {
    let part = plate(DVec2::new(8.0, 15.0));
    let bare = part.mesh.volume();
    let top = face(&part, DVec3::Z);
    let bench = Bench::new(part);
    let mut m = mark("a", "HI", top);
    m.relief = Relief {
        sense: Sense::Sunken,
        measured_at: MeasuredAt::Root,
        draft: 1.0,
        height: 0.3,
        through: true,
        ..m.relief
    };
    let outcome = bench.outcome(&job(vec![m.clone()]), Scope::Whole);
    assert_eq!(of(&outcome, 0, Check::Complete).state, State::Passes, "{:?}", of(&outcome, 0, Check::Complete));
    assert_eq!(of(&outcome, 0, Check::Wall).state, State::DoesNotApply);
    let solid = outcome.whole().unwrap();
    let sound = soundness::examine(&solid.mesh);
    assert!(sound.complaint().is_none() && sound.shells == 1);
    let ink: f64 = outcome.marks[0].built.as_ref().unwrap().placed.characters.iter().map(|c| c.region.area()).sum();
    let gone = bare - solid.mesh.volume();
    // through 3 mm; 1° takes 0.05 off each side on the far face
    assert!(gone < 3.0 * ink && gone > 0.75 * 3.0 * ink, "{gone} of {}", 3.0 * ink);
    // a ray through the middle of the I meets nothing
    m.text = "8".into();
    let outcome = bench.outcome(&job(vec![m.clone()]), Scope::Whole);
    let complete = of(&outcome, 0, Check::Complete);
    assert!(complete.state == State::Fails && complete.sentence.contains("falls out"), "{}", complete.sentence);
    // not asked for, it is a fail
    m.text = "HI".into();
    m.relief.through = false;
    m.relief.height = 3.4;
    let outcome = bench.outcome(&job(vec![m.clone()]), Scope::Whole);
    let wall = of(&outcome, 0, Check::Wall);
    assert!(wall.state == State::Fails && wall.sentence.contains("cuts through the wall"), "{}", wall.sentence);
    m.relief = Relief { sense: Sense::Raised, through: true, ..m.relief };
    assert!(job(vec![m]).check().unwrap_err().to_string().contains("only sunken lettering can"));
}

#[test]
fn sunken_over_the_parts_edge_cuts_clean_and_is_told() {
    let part = plate(DVec2::new(8.0, 15.0));
    let bare = part.mesh.volume();
    let top = face(&part, DVec3::Z);
    let bench = Bench::new(part);
    for off in [-0.4, -0.001, 0.0, 0.001] {
        let mut m = mark("a", "HH", top);
        m.relief = Relief { sense: Sense::Sunken, measured_at: MeasuredAt::Root, height: 0.5, draft: 5.0, ..m.relief };
        // the last stroke runs over the edge by so much
        m.place.along = Tie::FromEnd { distance: off };
        let outcome = bench.outcome(&job(vec![m.clone()]), Scope::Whole);
        let solid = outcome.whole().unwrap();
        let sound = soundness::examine(&solid.mesh);
        assert_eq!(sound.complaint(), None, "{off}");
        assert_eq!(sound.shells, 1, "{off}: a sliver is left");
        assert!(solid.mesh.volume() < bare);
        // no fin thinner than a cutter leaves stands between the letter and the side
        if off < -0.01 {
            let above = (0..solid.mesh.triangles.len())
                .filter(|&t| matches!(solid.tags[t], relief::Tag::Part { .. }))
                .filter(|&t| solid.mesh.corners(t).iter().all(|p| p.x > 59.9 && p.z > -0.4))
                .map(|t| solid.mesh.corners(t))
                .filter(|c| c.iter().all(|p| (p.y - 15.0).abs() < 1.4))
                .count();
            assert_eq!(above, 0, "{off}");
            assert_eq!(of(&outcome, 0, Check::Complete).state, State::Fails);
        }
    }
    // a raised one that hangs over is caught
    let mut m = mark("a", "HH", top);
    m.place.along = Tie::FromEnd { distance: -0.4 };
    let complete = of(&bench.outcome(&job(vec![m]), Scope::NearMarks), 0, Check::Complete);
    assert!(complete.state == State::Fails && complete.sentence.contains("hangs over"), "{}", complete.sentence);
}

#[test]
fn hollowing_the_part_after_marking_leaves_marks_right() {
    let body = |mesh: &solid::Mesh| Body::new(mesh, "a piece").unwrap();
    let outer = body(&block(DVec3::new(0.0, 0.0, -20.0), DVec3::new(60.0, 30.0, 0.0)));
    let hollow = |wall: f64| {
        let inner = body(&block(DVec3::new(2.0, 2.0, -30.0), DVec3::new(58.0, 28.0, -wall)));
        Part::from_mesh(&outer.with(&[], &[inner]).unwrap().traced().mesh).unwrap()
    };
    let full = Part::from_mesh(&outer.traced().mesh).unwrap();
    let mut m = mark("a", "R8", face(&full, DVec3::Z));
    m.relief = Relief { sense: Sense::Sunken, measured_at: MeasuredAt::Root, height: 0.5, ..m.relief };
    let before = job(vec![m]);
    let old = Bench::new(full);
    let first = old.outcome(&before, Scope::Whole);
    let cut = |outcome: &Outcome, bare: &Bench| bare.part().mesh.volume() - outcome.whole().unwrap().mesh.volume();
    for (wall, state) in [(2.0, State::Passes), (0.9, State::Fails)] {
        let new = Bench::new(hollow(wall));
        let after = revised(&before, &old, &new, before.part.clone(), &BTreeMap::new());
        assert_eq!(after.marks.len(), 1);
        assert!(middle(&new, &after, 0).distance(middle(&old, &before, 0)) < 1e-6);
        let outcome = new.outcome(&after, Scope::Whole);
        assert!((cut(&outcome, &new) / cut(&first, &old) - 1.0).abs() < 1e-6);
        // what is under it is measured anew
        let left = of(&outcome, 0, Check::Wall);
        assert_eq!(left.state, state, "{}", left.sentence);
    }
}

#[test]
fn a_sunken_letter_among_raised_ones_is_measured_by_itself() {
    let part = plate(DVec2::new(8.0, 15.0));
    let top = face(&part, DVec3::Z);
    let bench = Bench::new(part);
    let mut m = mark("a", "RH8", top);
    m.letters = vec![trade::LetterChange { sense: Some(Sense::Sunken), ..trade::LetterChange::plain(1, "H") }];
    let outcome = bench.outcome(&job(vec![m.clone()]), Scope::NearMarks);
    for check in [Check::Complete, Check::UniformDepth, Check::Draft] {
        assert_eq!(of(&outcome, 0, check).state, State::Passes, "{}", of(&outcome, 0, check).sentence);
    }
    let wall = of(&outcome, 0, Check::Wall);
    assert_eq!(wall.letters.len(), 3, "{wall:?}");
    let measured = |letter: &str| wall.letters.iter().find(|l| l.text == letter).unwrap().measured.unwrap();
    // 0.3 into a wall of 3 leaves 90 %; 0.3 on it adds 10 %
    assert!((measured("H") - 90.0).abs() < 0.5 && (measured("R") - 10.0).abs() < 0.5, "{wall:?}");
    // it has no such letter on the surface
    m.letters[0].sense = Some(Sense::Surface);
    assert!(job(vec![m]).check().unwrap_err().to_string().contains("letter 2 “H”"));
}
