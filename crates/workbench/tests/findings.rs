//! Findings on the demo's parts against figures that can be worked out by hand.

use glam::DVec3;
use inspection::{Check, Finding, State, Witness};
use solid::{Part, Surface};
use trade::{Job, Lettering, Mark, MeasuredAt, PartRef, Parting, Relief, SeatRef, Sense, Tie, Tool, Walls};
use workbench::{Bench, Scope, Steps};

fn job(marks: Vec<Mark>, parting: Vec<Parting>) -> Job {
    Job {
        name: "test".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), parting, ..Tool::default() },
        marks,
        ..Job::default()
    }
}

fn mark(text: &str, face: u32) -> Mark {
    Mark {
        id: text.to_lowercase(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), ..Lettering::default() },
        ..Mark::default()
    }
}

fn face(part: &Part, wanted: impl Fn(&Surface) -> bool) -> u32 {
    part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32
}

fn looking(part: &Part, way: DVec3) -> u32 {
    face(part, |s| matches!(s, Surface::Plane { normal, .. } if normal.dot(way) > 0.999))
}

fn block() -> Part {
    Part::from_mesh(&demo::parts::plain_block()).unwrap()
}

fn barrel(radius: f64) -> Part {
    Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, radius)).unwrap()
}

fn found(job: &Job, part: Part, at: usize, check: Check) -> Finding {
    let outcome = Bench::new(part).outcome(job, Scope::NearMarks);
    outcome.marks[at].findings.iter().find(|f| f.check == check).unwrap().clone()
}

#[test]
fn letters_on_a_cylinder_release_only_near_the_crown() {
    // trade rule: walls square to the seat keep α − θ; R = 15, α = 10°: free within R·α = 2.618 mm of the crown
    let round = |part: &Part| face(part, |s| matches!(s, Surface::Cylinder { .. }));
    for (top, leaves) in [(2.55, true), (2.75, false)] {
        let part = barrel(15.0);
        let mut mark = mark("I", round(&part));
        mark.relief.draft = 10.0;
        mark.lettering.cap_height = 2.0;
        mark.place.up = Tie::At { position: top - 1.0 };
        let draft = found(&job(vec![mark], vec![]), part, 0, Check::Draft).measured.unwrap();
        let at_top = 10.0 - (top / 15.0_f64).to_degrees();
        // what the check claims
        assert!((draft - at_top).abs() < 0.05, "{draft} against {at_top}");
        assert_eq!(draft > 0.0, leaves, "{draft}");
    }
}

#[test]
fn walls_along_the_pull_keep_their_draft_all_over_the_cylinder() {
    let part = barrel(15.0);
    let mut mark = mark("E", face(&part, |s| matches!(s, Surface::Cylinder { .. })));
    mark.relief.walls = Walls::Pull;
    mark.relief.draft = 5.0;
    mark.place.up = Tie::At { position: 6.0 };
    let draft = found(&job(vec![mark], vec![]), part, 0, Check::Draft);
    assert!((draft.measured.unwrap() - 5.0).abs() < 0.1, "{:?}", draft.measured);
    assert_eq!(draft.state, State::Passes);
}

#[test]
fn clearance_to_a_parting_plane_is_the_distance_that_was_set() {
    // on the block's front face, letters 3.5 high without draft, their feet at z = 4: 4 − 1.25 = 2.75 from z = 1.25
    let part = block();
    let mut m = mark("HEL", looking(&part, -DVec3::Y));
    m.relief.draft = 0.0;
    m.place.up = Tie::FromStart { distance: 4.0 };
    let job = job(vec![m], vec![Parting::Plane { height: 1.25 }]);
    let clear = found(&job, part, 0, Check::Parting);
    assert!((clear.measured.unwrap() - 2.75).abs() < 0.002, "{:?}", clear.measured);
    let Some(Witness::Pair { from, to }) = clear.witnesses.first() else { panic!("two points are named") };
    assert!((from.distance(*to) - clear.measured.unwrap()).abs() < 1e-9);
    assert!((from.z - 1.25).abs() < 1e-6 || (to.z - 1.25).abs() < 1e-6);
}

#[test]
fn clearance_counts_the_root_with_its_draft() {
    // held at the top, 3° over 0.3: the root reaches 0.3·tan 3° = 0.01572 further
    let part = block();
    let mut m = mark("HEL", looking(&part, -DVec3::Y));
    m.place.up = Tie::FromStart { distance: 4.0 };
    let job = job(vec![m], vec![Parting::Plane { height: 1.25 }]);
    let clear = found(&job, part, 0, Check::Parting).measured.unwrap();
    assert!((clear - (2.75 - 0.3 * 3.0_f64.to_radians().tan())).abs() < 0.002, "{clear}");
}

#[test]
fn a_mark_over_the_parting_line_fails_whatever_the_distance() {
    let part = block();
    let mut m = mark("HEL", looking(&part, -DVec3::Y));
    m.place.up = Tie::FromStart { distance: 4.0 };
    let job = job(vec![m], vec![Parting::Plane { height: 5.5 }]);
    let crossing = found(&job, part, 0, Check::Parting);
    assert_eq!(crossing.state, State::Fails);
    assert!(crossing.sentence.contains("runs through"), "{}", crossing.sentence);
}

#[test]
fn without_pull_or_parting_line_those_checks_say_not_checked() {
    let part = block();
    let mut job = job(vec![mark("A1", looking(&part, DVec3::Z))], vec![]);
    job.tool = Tool::default();
    let outcome = Bench::new(part).outcome(&job, Scope::NearMarks);
    for check in [Check::Draft, Check::Release, Check::Parting] {
        let finding = outcome.marks[0].findings.iter().find(|f| f.check == check).unwrap();
        assert_eq!(finding.state, State::NotChecked, "{check:?}");
        assert!(finding.sentence.len() > 20);
    }
    assert_eq!(outcome.state(), outcome.marks[0].state());
}

#[test]
fn under_a_ledge_the_mark_is_caught_though_its_walls_have_draft() {
    // a bracket: a floor with a roof over half of it, both looking up
    let solid = |low, high| solid::boolean::Body::new(&demo::shapes::block(low, high), "block").unwrap();
    let bracket = solid(DVec3::ZERO, DVec3::new(30.0, 20.0, 4.0))
        .with(
            &[
                solid(DVec3::new(26.0, 0.0, 0.0), DVec3::new(30.0, 20.0, 16.0)),
                solid(DVec3::new(8.0, 0.0, 12.0), DVec3::new(30.0, 20.0, 16.0)),
            ],
            &[],
        )
        .unwrap();
    let part = Part::from_mesh(&bracket.traced().mesh).unwrap();
    let floor = face(&part, |s| matches!(s, Surface::Plane { normal, origin } if normal.z > 0.999 && origin.z < 5.0));
    let mut m = mark("LOT", floor);
    m.place.along = Tie::FromEnd { distance: 3.0 };
    let job = job(vec![m], vec![]);
    assert_eq!(found(&job, part.clone(), 0, Check::Draft).state, State::Passes);
    let caught = found(&job, part, 0, Check::Release);
    assert_eq!(caught.state, State::Fails, "{}", caught.sentence);
}

#[test]
fn a_cut_deeper_than_the_wall_breaks_through_and_a_shallow_one_leaves_what_is_left() {
    let shell = || {
        let solid = |low, high| solid::boolean::Body::new(&demo::shapes::block(low, high), "block").unwrap();
        let shell = solid(DVec3::ZERO, DVec3::new(40.0, 20.0, 10.0))
            .with(&[], &[solid(DVec3::new(2.0, 2.0, -1.0), DVec3::new(38.0, 18.0, 7.6))])
            .unwrap();
        Part::from_mesh(&shell.traced().mesh).unwrap()
    };
    let part = shell();
    let top = looking(&part, DVec3::Z);
    let mut m = mark("DO", top);
    m.relief = Relief { sense: Sense::Sunken, height: 0.6, ..Relief::default() };
    let wall = found(&job(vec![m.clone()], vec![]), part, 0, Check::Wall);
    // 2.4 − 0.6 = 1.8 left: 75 %
    assert!((wall.measured.unwrap() - 75.0).abs() < 0.5, "{:?}", wall.measured);
    assert_eq!(wall.state, State::Passes);
    m.relief.height = 2.6;
    let part = shell();
    let wall = found(&job(vec![m], vec![]), part, 0, Check::Wall);
    assert_eq!(wall.state, State::Fails);
    assert!(wall.sentence.contains("through"), "{}", wall.sentence);
}

#[test]
fn a_mark_that_is_cut_deeper_behind_another_leaves_it_less_wall() {
    let part = block();
    let sunken = |text: &str, face: u32| {
        let mut m = mark(text, face);
        m.lettering.cap_height = 6.0;
        m.relief = Relief { sense: Sense::Sunken, height: 0.5, ..Relief::default() };
        m
    };
    let marks = vec![sunken("HHH", looking(&part, DVec3::Z)), sunken("XXX", looking(&part, -DVec3::Z))];
    let mut job = job(marks, vec![]);
    // one bench for all: what it keeps of the first mark must know of the second
    let bench = Bench::new(block());
    for depth in [0.5, 3.0, 1.0, 3.0] {
        job.marks[1].relief.height = depth;
        let outcome = bench.outcome(&job, Scope::NearMarks);
        assert_eq!(outcome.groups.len(), 2);
        let wall = outcome.marks[0].findings.iter().find(|f| f.check == Check::Wall).unwrap();
        // of 12, floor over floor; what is left over the wall there was under the letter
        let left = 100.0 * (12.0 - 0.5 - depth) / (12.0 - depth);
        assert!((wall.measured.unwrap() - left).abs() < 0.2, "{depth}: {:?}, not {left}", wall.measured);
        let fresh = Bench::new(block()).outcome(&job, Scope::NearMarks);
        for (kept, fresh) in outcome.findings().zip(fresh.findings()) {
            assert_eq!((kept.check, kept.state), (fresh.check, fresh.state));
            let near = kept.measured.zip(fresh.measured).is_none_or(|(a, b)| (a - b).abs() < 1e-6);
            assert!(near, "{:?}: {:?} and {:?}", kept.check, kept.measured, fresh.measured);
        }
    }
}

#[test]
fn raised_letters_add_to_the_wall() {
    let part = block();
    let mut m = mark("TIE", looking(&part, DVec3::Z));
    m.relief.height = 0.6;
    let wall = found(&job(vec![m], vec![]), part, 0, Check::Wall);
    assert!((wall.measured.unwrap() - 5.0).abs() < 0.1, "0.6 on 12 is 5 %: {:?}", wall.measured);
}

#[test]
fn letters_that_hang_over_the_edge_are_not_whole() {
    for sense in [Sense::Raised, Sense::Sunken] {
        let part = block();
        let mut m = mark("EDGE", looking(&part, DVec3::Z));
        m.relief.sense = sense;
        m.place.along = Tie::FromEnd { distance: -2.0 };
        let outcome = Bench::new(part).outcome(&job(vec![m], vec![]), Scope::NearMarks);
        assert_eq!(outcome.marks[0].problem, None, "{sense:?}: it is built, and found to hang over");
        let whole = outcome.findings().find(|f| f.check == Check::Complete).unwrap();
        assert_eq!(whole.state, State::Fails, "{sense:?}: {}", whole.sentence);
        assert!(whole.sentence.contains("edge of its face"), "{}", whole.sentence);
    }
}

#[test]
fn counters_that_the_draft_closes_are_missed() {
    // a bold stencil-free B at 2 mm with 25° over 0.6: 2·h·tan α = 0.56 eats its counters
    let part = block();
    let mut m = mark("B", looking(&part, DVec3::Z));
    m.lettering.cap_height = 2.0;
    m.relief = Relief { height: 0.6, draft: 25.0, ..Relief::default() };
    let outcome = Bench::new(part).outcome(&job(vec![m], vec![]), Scope::NearMarks);
    assert_eq!(outcome.marks[0].problem, None, "it is built, and its counters are found to be gone");
    let bad: Vec<Check> = outcome.findings().filter(|f| f.state == State::Fails).map(|f| f.check).collect();
    assert!(bad.contains(&Check::Complete) || bad.contains(&Check::Counter), "{bad:?}");
}

#[test]
fn letters_set_too_close_run_together() {
    let part = block();
    let mut m = mark("HH", looking(&part, DVec3::Z));
    m.lettering.spacing = -0.72;
    let job = job(vec![m], vec![]);
    let outcome = Bench::new(part).outcome(&job, Scope::NearMarks);
    assert_eq!(outcome.marks[0].problem, None);
    let state = |check| outcome.marks[0].findings.iter().find(|f| f.check == check).unwrap().state;
    assert_eq!(state(Check::Gap).max(state(Check::Complete)), State::Fails);
}

#[test]
fn cap_height_and_stroke_follow_the_level_they_are_measured_at() {
    // held at the root, the top is smaller by 2·h·tan α = 2 · 0.3 · tan 5° = 0.0525 in height
    let part = block();
    let mut m = mark("HE", looking(&part, DVec3::Z));
    m.relief = Relief { draft: 5.0, measured_at: MeasuredAt::Root, ..Relief::default() };
    let caps = found(&job(vec![m], vec![]), part, 0, Check::CapHeight).measured.unwrap();
    assert!((caps - (3.5 - 2.0 * 0.3 * 5.0_f64.to_radians().tan())).abs() < 0.005, "{caps}");
}

#[test]
fn look_alikes_stand_in_one_mark() {
    let part = block();
    let finding = found(&job(vec![mark("B8-1I", looking(&part, DVec3::Z))], vec![]), part, 0, Check::LookAlikes);
    assert_eq!(finding.state, State::Marginal);
    assert!(finding.sentence.contains('8') && finding.sentence.contains('B'));
}

#[test]
fn near_the_marks_and_on_the_whole_solid_the_findings_are_the_same() {
    for demo in demo::jobs() {
        let part = demo.read();
        let bench = Bench::new(part);
        let near = bench.outcome(&demo.job, Scope::NearMarks);
        let whole = bench.outcome(&demo.job, Scope::Whole);
        assert!(near.groups.iter().all(|g| g.block.is_some() != g.apart));
        assert!(whole.groups.iter().all(|g| g.block.is_none()));
        for (a, b) in near.findings().zip(whole.findings()) {
            // a figure may lie where it is rounded up or down
            let words = |sentence: &str| sentence.replace(|c: char| c.is_ascii_digit(), "0");
            assert_eq!((&a.mark, a.check, a.state), (&b.mark, b.check, b.state));
            assert_eq!(words(&a.sentence), words(&b.sentence));
            match (a.measured, b.measured) {
                // the trees of both searches differ, and with them the last digits
                (Some(x), Some(y)) => assert!((x - y).abs() <= a.error.max(1e-6), "{} {:?}: {x} {y}", a.mark, a.check),
                (x, y) => assert_eq!(x, y),
            }
        }
    }
}

#[test]
fn the_pieces_and_the_rest_make_up_the_whole_solid() {
    for demo in demo::jobs() {
        let part = demo.read();
        let bench = Bench::new(part);
        let near = bench.outcome(&demo.job, Scope::NearMarks);
        // what is joined to nothing is no piece of the solid, and a surface body is none
        let pieces: f64 = near.groups.iter().filter(|g| !g.apart).map(|g| g.solid.mesh.volume()).sum();
        let whole = bench.outcome(&demo.job, Scope::Whole);
        let Some(whole) = whole.whole().map(|solid| solid.mesh.volume()) else { continue };
        let rest = bench.work().rest(&near).unwrap().mesh.volume();
        assert!((pieces + rest - whole).abs() < 1e-7 * whole, "{pieces} + {rest} against {whole}");
    }
}

#[test]
fn a_changed_text_leaves_the_pieces_of_other_marks_alone() {
    let demo = demo::jobs().remove(0);
    let part = demo.read();
    let bench = Bench::new(part);
    let before = bench.outcome(&demo.job, Scope::NearMarks);
    let mut changed = demo.job.clone();
    changed.marks[1].text = "M & T".replace('&', "+");
    let after = bench.outcome(&changed, Scope::NearMarks);
    let same = |key: &str| before.groups.iter().any(|g| g.key == key);
    let of = |mark: u32| after.groups.iter().find(|g| g.marks.contains(&mark)).unwrap();
    assert!(!same(&of(1).key));
    assert!(after.groups.iter().filter(|g| !g.marks.contains(&1)).all(|g| same(&g.key)));
}

#[test]
fn a_mark_that_changes_by_itself_is_joined_as_if_all_were_joined_at_once() {
    // three marks of the valve body lie in one piece, one of them sunken
    let demo = demo::jobs().remove(0);
    let bench = Bench::new(demo.read());
    let mut job = demo.job.clone();
    let _ = bench.outcome(&job, Scope::NearMarks);
    for (at, height) in [(3, 0.31), (3, 0.33), (2, 0.27), (3, 0.35)] {
        job.marks[at].relief.height = height;
        let again = bench.outcome(&job, Scope::NearMarks);
        let anew = Bench::new(demo.read()).outcome(&job, Scope::NearMarks);
        let group = again.groups.iter().find(|g| g.marks.contains(&3)).unwrap();
        assert_eq!(group.marks, [0, 2, 3]);
        let areas = |outcome: &workbench::Outcome| {
            let mut areas = std::collections::BTreeMap::new();
            for group in &outcome.groups {
                for (t, tag) in group.solid.tags.iter().enumerate() {
                    // blocks that are kept may be larger than new ones: of the part there may be more
                    if matches!(tag, relief::Tag::Relief { .. }) {
                        *areas.entry(format!("{tag:?}")).or_insert(0.0) += group.solid.mesh.area(t);
                    }
                }
            }
            areas
        };
        let (one, other) = (areas(&again), areas(&anew));
        assert!(one.keys().eq(other.keys()), "{at} {height}");
        for (key, area) in &one {
            assert!((area - other[key]).abs() < 1e-6, "{key:?}: {area} and {}", other[key]);
        }
        for (a, b) in again.findings().zip(anew.findings()) {
            assert_eq!((a.check, a.state), (b.check, b.state));
            let near = a.measured.zip(b.measured).is_none_or(|(a, b)| (a - b).abs() < 1e-3 * (1.0 + a.abs()));
            assert!(near, "{:?}: {:?} and {:?}", a.check, a.measured, b.measured);
        }
    }
}

#[test]
fn marks_that_cant_be_built_say_why_and_hold_up_no_others() {
    let part = block();
    let top = looking(&part, DVec3::Z);
    let mut missing = mark("A漢B", top);
    missing.id = "arrow".into();
    let mut off = mark("OFF", top);
    off.place.along = Tie::At { position: 500.0 };
    let mut nowhere = mark("NO", 99);
    nowhere.id = "nowhere".into();
    let mut good = mark("YES", top);
    good.place.up = Tie::FromStart { distance: 3.0 };
    let outcome = Bench::new(part).outcome(&job(vec![missing, off, nowhere, good], vec![]), Scope::NearMarks);
    let problem = |at: usize| outcome.marks[at].problem.clone().unwrap();
    assert!(problem(0).contains('漢') && problem(0).contains("overpass"), "{}", problem(0));
    assert!(problem(1).contains("off its seat"), "{}", problem(1));
    assert!(problem(2).contains("no face 99"), "{}", problem(2));
    assert_eq!(outcome.marks[3].problem, None);
    assert_eq!(outcome.groups.len(), 1);
}

#[test]
fn an_open_part_is_not_marked_and_every_check_says_so() {
    let mut mesh = demo::parts::plain_block();
    mesh.triangles.pop();
    let part = Part::from_mesh(&mesh).unwrap();
    let top = looking(&part, DVec3::Z);
    let outcome = Bench::new(part).outcome(&job(vec![mark("A", top)], vec![]), Scope::NearMarks);
    assert!(outcome.marks[0].problem.clone().unwrap().contains("open edges"));
    assert!(outcome.findings().all(|f| matches!(f.state, State::Fails | State::NotChecked)));
}

#[test]
fn a_mark_that_is_switched_off_is_neither_built_nor_checked() {
    let part = block();
    let mut m = mark("A", looking(&part, DVec3::Z));
    m.on = false;
    let outcome = Bench::new(part).outcome(&job(vec![m], vec![]), Scope::NearMarks);
    assert!(outcome.marks[0].findings.is_empty() && outcome.groups.is_empty());
}

/// Walls along the pull lean over a crease and over a fillet so that their rim is sharp there: that is no hole in the wall,
/// which is the block's, 15 mm and more.
#[test]
fn walls_that_lean_over_a_crease_or_a_fillet_are_no_thin_wall() {
    let demo = demo::jobs().into_iter().find(|d| d.job.name.contains("Manifold")).unwrap();
    let outcome = Bench::new(demo.read()).outcome(&demo.job, Scope::NearMarks);
    for id in ["size", "size-back"] {
        let mark = outcome.marks.iter().find(|m| m.id == id).unwrap();
        let wall = mark.findings.iter().find(|f| f.check == Check::Wall).unwrap();
        assert_eq!(wall.state, State::Passes, "{id}: {}", wall.sentence);
        assert!(
            wall.letters.iter().all(|l| l.measured.is_some_and(|percent| percent > 95.0)),
            "{id}: {:?}",
            wall.letters
        );
    }
}

/// Letters that are missing or off the part matter more than any figure, a mark that isn't built more than one that is.
#[test]
fn what_is_not_there_is_told_before_how_it_measures() {
    let top = looking(&block(), DVec3::Z);
    let upright = |text: &str| {
        let mut mark = mark(text, top);
        mark.relief.draft = 0.0;
        mark
    };
    let steep = upright("II");
    let mut hangs = upright("HHHHHHHH");
    hangs.place.along = Tie::At { position: 1000.0 };
    let worst = |marks: Vec<Mark>| {
        let outcome = Bench::new(block()).outcome(&job(marks, vec![]), Scope::NearMarks);
        let (mark, finding) = outcome.worst().expect("walls of 0° don't leave");
        (mark.id.clone(), finding.check, finding.sentence.clone())
    };
    let (id, check, _) = worst(vec![steep.clone()]);
    assert_eq!((id.as_str(), check), ("ii", Check::Draft));
    let (id, check, sentence) = worst(vec![steep.clone(), hangs.clone()]);
    assert_eq!((id.as_str(), check), ("hhhhhhhh", Check::Complete), "{sentence}");
    // more of it over the edge than the face holds: half of it stands, and that is said before its walls
    hangs.place.along = Tie::At { position: 0.0 };
    hangs.place.up = Tie::At { position: 5.0 };
    let (id, check, sentence) = worst(vec![steep, hangs]);
    assert_eq!((id.as_str(), check), ("hhhhhhhh", Check::Complete), "{sentence}");
}
