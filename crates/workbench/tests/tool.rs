//! Keep-outs and slides as they bear on marks, against distances that were set.

use glam::DVec3;
use inspection::{Check, Finding, State, Witness};
use solid::{Part, Surface};
use trade::{
    Area, Assigned, FaceMend, FaceName, Job, KeepOut, KeepOutKind, Lettering, Mark, MeasuredAt, PartRef, Parting,
    Place, Relief, SeatRef, Slide, Spot, Steel, Tie, Tool,
};
use workbench::{Bench, Scope, Steps, revision::face_mended};

fn block() -> Part {
    Part::from_mesh(&demo::parts::plain_block()).unwrap()
}

fn looking(part: &Part, way: DVec3) -> u32 {
    let wanted = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.dot(way) > 0.999);
    part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32
}

/// "HEL" on a face, its footprint as large as its outline.
fn mark(face: u32) -> Mark {
    Mark {
        id: "mark-1".into(),
        text: "HEL".into(),
        seat: SeatRef::on(face),
        place: Place {
            along: Tie::FromStart { distance: 6.0 },
            up: Tie::FromStart { distance: 4.0 },
            ..Place::default()
        },
        lettering: Lettering { face: "overpass".into(), ..Lettering::default() },
        relief: Relief { measured_at: MeasuredAt::Root, ..Relief::default() },
        ..Mark::default()
    }
}

fn job(mark: Mark, tool: Tool) -> Job {
    Job {
        name: "test".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![Parting::Plane { height: 0.0 }], ..tool },
        marks: vec![mark],
        ..Job::default()
    }
}

fn keep_out(kind: KeepOutKind, area: Area, margin: Option<f64>) -> Tool {
    Tool { keep_outs: vec![KeepOut { name: "this one".into(), kind, area, margin }], ..Tool::default() }
}

fn find(job: &Job, check: Check) -> Finding {
    let outcome = Bench::new(block()).outcome(job, Scope::NearMarks);
    outcome.marks[0].findings.iter().find(|f| f.check == check).unwrap().clone()
}

#[test]
fn clearance_to_a_sealing_face_is_the_distance_that_was_set_from_its_edge() {
    let part = block();
    let top = looking(&part, DVec3::Z);
    for (kind, margin, state) in [
        (KeepOutKind::Sealing, None, State::Passes),
        (KeepOutKind::Sealing, Some(6.05), State::Fails),
        (KeepOutKind::Sealing, Some(5.95), State::Marginal),
    ] {
        let tool = keep_out(kind, Area::Faces { faces: vec![looking(&part, -DVec3::X)] }, margin);
        let found = find(&job(mark(top), tool), Check::KeepOuts);
        assert!((found.measured.unwrap() - 6.0).abs() < 0.002, "{:?}", found.measured);
        assert_eq!(found.state, state, "{}", found.sentence);
        assert!(found.sentence.contains("“this one” (sealing face)"), "{}", found.sentence);
        // shipped: 1.5 from sealing faces, common practice
        assert_eq!(found.limit.as_ref().unwrap().value, margin.unwrap_or(1.5));
    }
}

#[test]
fn clearance_to_an_ejector_pin_is_measured_to_its_circle() {
    let part = block();
    let top = looking(&part, DVec3::Z);
    // The H's foot begins at (6, 4) from the corner (0, 0): a pin of radius 1 with its middle at
    // (3, 0.5, 12) is √(3² + 3.5²) − 1 away from it.
    let area = Area::Circle { middle: [3.0, 0.5, 12.0], radius: 1.0 };
    let found = find(&job(mark(top), keep_out(KeepOutKind::EjectorPin, area, None)), Check::KeepOuts);
    assert!((found.measured.unwrap() - (3.0_f64.hypot(3.5) - 1.0)).abs() < 0.003, "{:?}", found.measured);
    let Some(Witness::Pair { from, to }) = found.witnesses.first() else { panic!("two points are named") };
    assert!(from.distance(DVec3::new(6.0, 4.0, 12.0)) < 0.01, "{from}");
    assert!((to.distance(DVec3::new(3.0, 0.5, 12.0)) - 1.0).abs() < 1e-6);
}

#[test]
fn a_pin_inside_a_stroke_is_run_over_and_one_on_the_far_side_is_not_met() {
    let part = block();
    let top = looking(&part, DVec3::Z);
    // in the H's left stem
    let pin = |z: f64| Area::Circle { middle: [6.2, 6.0, z], radius: 0.05 };
    let over = find(&job(mark(top), keep_out(KeepOutKind::EjectorPin, pin(12.0), None)), Check::KeepOuts);
    assert_eq!((over.measured, over.state), (Some(0.0), State::Fails));
    assert!(over.sentence.contains("lies on"), "{}", over.sentence);
    let under = find(&job(mark(top), keep_out(KeepOutKind::EjectorPin, pin(0.0), None)), Check::KeepOuts);
    assert_eq!((under.measured, under.state), (None, State::Passes));
}

#[test]
fn a_mark_on_a_face_that_is_kept_out_of_fails_and_without_keep_outs_nothing_is_in_the_way() {
    let part = block();
    let top = looking(&part, DVec3::Z);
    let tool = keep_out(KeepOutKind::Polished, Area::Faces { faces: vec![top] }, None);
    let on = find(&job(mark(top), tool), Check::KeepOuts);
    assert_eq!((on.measured, on.state), (Some(0.0), State::Fails));
    let none = find(&job(mark(top), Tool::default()), Check::KeepOuts);
    assert_eq!(none.state, State::DoesNotApply);
    assert!(none.sentence.starts_with("No keep-outs are set"));
    // one that means nothing on this part is not passed over in silence
    let tool = keep_out(KeepOutKind::Polished, Area::Faces { faces: vec![99] }, None);
    let lost = find(&job(mark(top), tool), Check::KeepOuts);
    assert_eq!(lost.state, State::NotChecked, "{}", lost.sentence);
}

#[test]
fn a_mark_on_an_upright_wall_leaves_with_the_slide_that_forms_the_wall_and_with_nothing_else() {
    let part = block();
    let wall = looking(&part, DVec3::X);
    let slide = Slide { name: "side core".into(), pull: [1.0, 0.0, 0.0] };
    let steel = Steel::Slide { name: "side core".into() };
    let given = vec![Assigned { area: Area::Faces { faces: vec![wall] }, to: steel.clone() }];
    let halves = job(mark(wall), Tool::default());
    assert_eq!(find(&halves, Check::Draft).state, State::Fails);
    // a slide that is there but was not said to form the wall changes nothing: the halves could form it
    let idle = job(mark(wall), Tool { slides: vec![slide.clone()], ..Tool::default() });
    assert_eq!(find(&idle, Check::Draft).state, State::Fails);
    let formed = job(mark(wall), Tool { slides: vec![slide], assigned: given, ..Tool::default() });
    let draft = find(&formed, Check::Draft);
    assert_eq!(draft.state, State::Passes, "{}", draft.sentence);
    // square to the wall the slide's pull gives the draft that was set
    assert!((draft.measured.unwrap() - formed.marks[0].relief.draft).abs() < 0.01);
    let outcome = Bench::new(block()).outcome(&formed, Scope::NearMarks);
    assert_eq!(outcome.marks[0].steel, Some(steel));
    let outcome = Bench::new(block()).outcome(&halves, Scope::NearMarks);
    assert_eq!(outcome.marks[0].steel, Some(Steel::Fixed));
}

#[test]
fn a_limit_of_the_jobs_own_and_a_texture_are_what_the_finding_is_measured_against() {
    let part = block();
    let mut textured = job(mark(looking(&part, DVec3::Z)), Tool::default());
    // 1.5° + 1° for 0.025 mm against walls of 3°
    textured.process.texture = 0.05;
    let draft = find(&textured, Check::Draft);
    assert_eq!(draft.state, State::Fails);
    assert!((draft.limit.unwrap().value - 3.5).abs() < 1e-9);
    textured.own_limits.push(trade::OwnLimit {
        subject: trade::limits::Subject::Draft,
        value: 2.0,
        source: "drawing note 7".into(),
    });
    let draft = find(&textured, Check::Draft);
    assert_eq!((draft.state, draft.limit.unwrap().source.as_str()), (State::Passes, "drawing note 7"));
}

mod revisions {
    use super::*;
    use solid::{boolean::Body, matching::Match};
    use std::collections::BTreeMap;
    use workbench::revision::{Use, propose, revised};

    /// The block 2 mm longer and 1 mm lower, with a pocket in its top.
    fn newer() -> Part {
        let whole = Body::block(DVec3::ZERO, DVec3::new(62.0, 30.0, 11.0));
        let pocket = Body::block(DVec3::new(45.0, 15.0, 8.0), DVec3::new(55.0, 25.0, 20.0));
        Part::from_mesh(&whole.with(&[], &[pocket]).unwrap().traced().mesh).unwrap()
    }

    fn marked() -> (Job, Bench) {
        let part = block();
        let (top, end) = (looking(&part, DVec3::Z), looking(&part, DVec3::X));
        let mut tool = keep_out(KeepOutKind::Sealing, Area::Faces { faces: vec![end] }, None);
        tool.assigned = vec![Assigned { area: Area::Faces { faces: vec![end] }, to: Steel::Fixed }];
        let mut job = job(mark(top), tool);
        job.tool.parting = vec![Parting::Plane { height: 12.0 }];
        job.face_names = vec![trade::FaceName { face: top, name: "lid".into() }];
        let mut far = job.marks[0].clone();
        far.id = "mark-2".into();
        far.place.along = Tie::FromEnd { distance: 10.0 };
        far.place.up = Tie::At { position: 5.0 };
        job.marks.push(far);
        (job, Bench::new(part))
    }

    #[test]
    fn marks_names_keep_outs_and_parting_planes_go_along_with_their_faces() {
        let (job, old) = marked();
        let new = Bench::new(newer());
        let rows = propose(&job, &old, &new);
        assert_eq!(rows.len(), 2);
        assert!(rows.iter().all(|r| matches!(r.found, Match::Moved { .. })), "{rows:?}");
        let top = rows.iter().find(|r| r.uses.contains(&Use::Name("lid".into()))).unwrap();
        assert_eq!(top.uses.len(), 4, "two marks, a name, a parting plane: {top:?}");
        let made = revised(&job, &old, &new, PartRef::of_file("newer.stl", None), &BTreeMap::new());
        made.check().unwrap();
        let lid = top.found.to().unwrap();
        assert!(made.marks.iter().all(|m| m.seat.face == lid));
        assert_eq!(made.tool.parting, vec![Parting::Plane { height: 11.0 }]);
        assert_eq!(made.face_names[0].face, lid);
        assert_eq!(made.tool.keep_outs[0].area, Area::Faces { faces: vec![looking(new.part(), DVec3::X)] });
        // a tie to the far end keeps its distance: the mark went 2 mm along with the end
        let right = |bench: &Bench, job: &Job| {
            let seat = bench.seat(&job.marks[1].seat, Some(DVec3::Z)).unwrap();
            let placed = relief::place::place(&job.marks[1], &seat).unwrap();
            seat.chart.point(placed.outline[1], 0.0)
        };
        let (before, after) = (right(&old, &job), right(&new, &made));
        assert!((after.x - before.x - 2.0).abs() < 1e-9 && (after.x - 52.0).abs() < 1e-9);
        assert_eq!(new.outcome(&made, Scope::NearMarks).marks.iter().filter(|m| m.problem.is_none()).count(), 2);
    }

    #[test]
    fn circles_painted_areas_and_picked_edges_go_along_with_the_face_they_lie_on() {
        let (mut job, old) = marked();
        let pin = Area::Circle { middle: [20.0, 10.0, 12.0], radius: 1.5 };
        // one touch on the lid, one on the bottom, which stays
        let touch = |at: [f64; 3]| Spot { at, radius: 1.0 };
        let painted = Area::Painted { spots: vec![touch([50.0, 5.0, 12.0]), touch([50.0, 5.0, 0.0])] };
        let keep_out =
            |name: &str, area: Area| KeepOut { name: name.into(), kind: KeepOutKind::EjectorPin, area, margin: None };
        job.tool.keep_outs = vec![keep_out("pin", pin), keep_out("brushed", painted.clone())];
        job.tool.assigned = vec![Assigned { area: painted, to: Steel::Fixed }];
        job.tool.parting.push(Parting::Edges { through: vec![[30.0, 0.01, 12.0]] });
        let new = Bench::new(newer());
        let rows = propose(&job, &old, &new);
        let lid = rows.iter().find(|r| r.uses.contains(&Use::KeepOut("pin".into()))).unwrap();
        for used in [Use::KeepOut("brushed".into()), Use::Assigned(0), Use::Edge(1)] {
            assert!(lid.uses.contains(&used), "{lid:?}");
        }
        // the lid grew and came down by 1: what lies on it comes down and stays where it was otherwise
        let made = revised(&job, &old, &new, PartRef::of_file("newer.stl", None), &BTreeMap::new());
        let [pin, brushed] = &made.tool.keep_outs[..] else { panic!("{:?}", made.tool.keep_outs) };
        let near = |a: [f64; 3], b: [f64; 3]| DVec3::from(a).distance(DVec3::from(b)) < 1e-9;
        assert!(near(pin.area.spots()[0].at, [20.0, 10.0, 11.0]), "{:?}", pin.area);
        let spots = brushed.area.spots();
        assert!(near(spots[0].at, [50.0, 5.0, 11.0]) && near(spots[1].at, [50.0, 5.0, 0.0]), "{spots:?}");
        let Parting::Edges { through } = &made.tool.parting[1] else { panic!("{:?}", made.tool.parting) };
        assert!(near(through[0], [30.0, 0.01, 11.0]), "{through:?}");
        // with the lid left out goes what lies on nothing else
        let made = revised(&job, &old, &new, made.part, &BTreeMap::from([(lid.face, None)]));
        let names: Vec<&str> = made.tool.keep_outs.iter().map(|k| k.name.as_str()).collect();
        assert_eq!((names, made.tool.assigned[0].area.spots().len()), (vec!["brushed"], 1));
        assert_eq!(made.tool.parting.len(), 1);
    }

    #[test]
    fn what_is_left_out_is_left_out_and_nothing_else() {
        let (job, old) = marked();
        let new = Bench::new(newer());
        let end = job.tool.keep_outs[0].area.clone();
        let Area::Faces { faces } = &end else { panic!() };
        let choices = BTreeMap::from([(faces[0], None)]);
        let made = revised(&job, &old, &new, PartRef::of_file("newer.stl", None), &choices);
        assert!(made.tool.keep_outs.is_empty() && made.tool.assigned.is_empty());
        assert_eq!(made.marks.len(), 2);
    }
}

#[test]
fn a_mark_goes_with_the_facets_it_stands_on_when_its_face_is_divided_and_comes_back_when_it_is_joined() {
    let barrel = demo::shapes::cylinder(DVec3::ZERO, DVec3::Z * 40.0, 12.0);
    let bench = Bench::new(Part::from_mesh(&barrel).unwrap());
    let part = bench.part();
    let face = part.faces.iter().position(|f| matches!(f.surface, Surface::Cylinder { .. })).unwrap() as u32;
    let pull = Some(DVec3::Z);
    let seat = bench.seat(&SeatRef::on(face), pull).unwrap();
    // on the side of +x, which is parted off
    let (at, _) = seat.chart.strip(DVec3::new(12.0, 0.0, 20.0));
    let mut mark = mark(face);
    mark.place = Place { along: Tie::At { position: at.x }, up: Tie::At { position: at.y }, ..Place::default() };
    let area = Area::Faces { faces: vec![face] };
    let mut job = job(mark, keep_out(KeepOutKind::Clamping, area.clone(), None));
    job.face_names = vec![FaceName { face, name: "cylinder".into() }];
    let spots = part
        .triangles_of(face)
        .map(|t| part.mesh.centroid(t as usize))
        .filter(|c| c.x > 0.0)
        .map(|c| Spot { at: c.to_array(), radius: 0.05 })
        .collect();
    let made = part.faces.len() as u32;
    let divided = FaceMend::Divide { face, spots, at: None };
    let halved = face_mended(&job, &bench, &divided).unwrap();
    assert_eq!(halved.marks[0].seat.face, made);
    assert_eq!(halved.tool.keep_outs[0].area, Area::Faces { faces: vec![face, made] });
    assert_eq!(halved.face_names, job.face_names);
    let bench = bench.face_mended(&[divided]).unwrap();
    let middle = |bench: &Bench, mark: &Mark| {
        let seat = bench.seat(&mark.seat, pull).unwrap();
        seat.chart.point(relief::place::place(mark, &seat).unwrap().middle, 0.0)
    };
    assert!(middle(&bench, &halved.marks[0]).distance(DVec3::new(12.0, 0.0, 20.0)) < 0.02);
    assert_eq!(bench.outcome(&halved, Scope::NearMarks).marks[0].problem, None);
    let join = FaceMend::Join { face, with: made, at: None };
    let joined = face_mended(&halved, &bench, &join).unwrap();
    assert_eq!((joined.marks[0].seat.face, &joined.tool.keep_outs[0].area), (face, &area));
    let bench = bench.face_mended(&[join]).unwrap();
    assert!(middle(&bench, &joined.marks[0]).distance(DVec3::new(12.0, 0.0, 20.0)) < 0.02);
}
