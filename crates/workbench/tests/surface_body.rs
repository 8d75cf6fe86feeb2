//! Marks on a surface body: bodies of their own that end on it, judged as on a solid.

use glam::DVec3;
use inspection::{Check, State};
use solid::{Mesh, Part, Surface, boolean::Body, soundness};
use trade::{
    BodySide, Job, Lettering, Mark, MeasuredAt, PartRef, Parting, Place, Relief, SeatRef, Sense, Tie, Tool, Walls,
};
use workbench::{Bench, Outcome, Scope, Steps};

/// Only the facets of one face of a solid.
fn surface_of(solid: &Mesh, wanted: impl Fn(&Surface) -> bool, side: BodySide) -> Part {
    let part = Part::from_mesh(solid).unwrap();
    let face = part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32;
    let triangles = part.triangles_of(face).map(|t| part.mesh.triangles[t as usize]).collect();
    let mut surface = Part::from_mesh(&Mesh { vertices: part.mesh.vertices.clone(), triangles }).unwrap();
    assert!(surface.markable().is_err());
    surface.take_as_surface_body(side);
    assert_eq!((surface.surface_body, surface.markable()), (Some(side), Ok(())));
    surface
}

fn up(s: &Surface) -> bool {
    matches!(s, Surface::Plane { normal, .. } if normal.z > 0.999)
}

fn round(s: &Surface) -> bool {
    matches!(s, Surface::Cylinder { .. })
}

fn job(face: u32, relief: Relief) -> Job {
    Job {
        name: "surface".into(),
        part: PartRef::of_file("surface.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![Parting::Plane { height: 0.0 }], ..Tool::default() },
        marks: vec![Mark {
            id: "mark-1".into(),
            text: "HEB 8".into(),
            seat: SeatRef::on(face),
            lettering: Lettering { face: "overpass".into(), ..Lettering::default() },
            relief,
            ..Mark::default()
        }],
        ..Job::default()
    }
}

fn figures(outcome: &Outcome) -> Vec<(Check, State, Option<f64>)> {
    assert_eq!(outcome.marks[0].problem, None);
    outcome.marks[0].findings.iter().map(|f| (f.check, f.state, f.measured)).collect()
}

#[test]
fn every_check_finds_on_a_surface_body_what_it_finds_on_the_solid_it_was_taken_from() {
    let block = demo::parts::plain_block();
    let solid = Part::from_mesh(&block).unwrap();
    let top = solid.faces.iter().position(|f| up(&f.surface)).unwrap() as u32;
    for sense in [Sense::Raised, Sense::Sunken] {
        for held in [MeasuredAt::Top, MeasuredAt::Root] {
            let relief = Relief { sense, measured_at: held, ..Relief::default() };
            let on_solid = figures(&Bench::new(solid.clone()).outcome(&job(top, relief), Scope::NearMarks));
            let surface = surface_of(&block, up, BodySide::Front);
            let on_surface = figures(&Bench::new(surface).outcome(&job(0, relief), Scope::NearMarks));
            // what has a figure on the solid, and so can differ
            let figured = on_solid.iter().filter(|(_, _, measured)| measured.is_some()).count();
            assert!(figured >= 9, "{figured}: {on_solid:?}");
            for ((check, state, measured), (other, found, figure)) in on_solid.into_iter().zip(on_surface) {
                assert_eq!(check, other);
                if check == Check::Wall {
                    assert_eq!((found, figure), (State::DoesNotApply, None));
                    continue;
                }
                // the plane runs round the foot of the solid, which the surface body hasn't
                if check == Check::Parting {
                    assert_eq!((state, found, figure), (State::Passes, State::NotChecked, None));
                    continue;
                }
                assert_eq!(state, found, "{check:?} {sense:?} {held:?}");
                match (measured, figure) {
                    (Some(a), Some(b)) => assert!((a - b).abs() < 2e-3 * a.abs().max(1.0), "{check:?} {a} {b}"),
                    (a, b) => assert_eq!(a, b, "{check:?}"),
                }
            }
        }
    }
}

#[test]
fn bodies_on_a_surface_body_are_closed_and_end_on_it() {
    let block = demo::parts::plain_block();
    let tube = demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 15.0);
    for (sense, held) in [(Sense::Raised, MeasuredAt::Top), (Sense::Sunken, MeasuredAt::Root)] {
        let relief =
            Relief { sense, measured_at: held, height: 0.4, draft: 2.0, walls: Walls::Seat, ..Relief::default() };
        let flat = Bench::new(surface_of(&block, up, BodySide::Front));
        let outcome = flat.outcome(&job(0, relief), Scope::Whole);
        let built = outcome.marks[0].built.as_ref().unwrap();
        for body in &built.bodies {
            assert!(soundness::examine(&body.mesh).is_solid());
            let (low, high) = body.mesh.bounds();
            let wanted = if sense == Sense::Raised { (12.0, 12.4) } else { (11.6, 12.0) };
            assert!((low.z - wanted.0).abs() < 1e-9 && (high.z - wanted.1).abs() < 1e-9, "{low} {high}");
        }
        let barrel = Bench::new(surface_of(&tube, round, BodySide::Front));
        let outcome = barrel.outcome(&job(0, relief), Scope::Whole);
        for body in &outcome.marks[0].built.as_ref().unwrap().bodies {
            assert!(soundness::examine(&body.mesh).is_solid());
            let radii: Vec<f64> = body.mesh.vertices.iter().map(|v| v.y.hypot(v.z)).collect();
            let (least, most) = radii.iter().fold((f64::MAX, 0.0_f64), |(l, m), r| (l.min(*r), m.max(*r)));
            let wanted = if sense == Sense::Raised { (15.0, 15.4) } else { (14.6, 15.0) };
            assert!((least - wanted.0).abs() < 1e-6 && (most - wanted.1).abs() < 1e-6, "{least} {most}");
        }
    }
}

#[test]
fn turned_over_a_surface_body_is_marked_from_its_other_side() {
    let block = demo::parts::plain_block();
    let back = surface_of(&block, up, BodySide::Back);
    assert!(matches!(back.faces[0].surface, Surface::Plane { normal, .. } if normal.z < -0.999));
    let relief = Relief { height: 0.4, ..Relief::default() };
    let outcome = Bench::new(back).outcome(&job(0, relief), Scope::Whole);
    let (low, high) = outcome.marks[0].built.as_ref().unwrap().bounds();
    assert!((low.z - 11.6).abs() < 1e-9 && (high.z - 12.0).abs() < 1e-9, "{low} {high}");
    // a bore's inside is the outside now
    let tube = demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 15.0);
    assert!(surface_of(&tube, round, BodySide::Back).faces[0].surface.inside());
}

#[test]
fn a_letter_over_the_edge_or_over_a_hole_of_the_surface_is_caught() {
    let block = demo::parts::plain_block();
    // a hole of 1 mm in the middle of the plate, and a letter's stroke over it
    let hole = demo::shapes::cylinder(DVec3::new(30.0, 15.0, -1.0), DVec3::Z * 20.0, 0.5);
    let drilled = Body::new(&block, "the block").unwrap().with(&[], &[Body::new(&hole, "a hole").unwrap()]).unwrap();
    let complete = |part: Part, text: &str, place: Place| {
        let mut job = job(0, Relief::default());
        (job.marks[0].text, job.marks[0].place) = (text.into(), place);
        let outcome = Bench::new(part).outcome(&job, Scope::NearMarks);
        assert_eq!(outcome.marks[0].problem, None);
        outcome.marks[0].findings.iter().find(|f| f.check == Check::Complete).unwrap().clone()
    };
    let whole = complete(surface_of(&block, up, BodySide::Front), "I", Place::default());
    assert_eq!(whole.state, State::Passes, "{}", whole.sentence);
    let over_hole = complete(surface_of(&drilled.traced().mesh, up, BodySide::Front), "I", Place::default());
    assert!(over_hole.sentence.contains("“I” hangs over the edge"), "{}", over_hole.sentence);
    let beyond = Place { along: Tie::FromStart { distance: -1.0 }, ..Place::default() };
    let over_edge = complete(surface_of(&block, up, BodySide::Front), "HI", beyond);
    assert!(over_edge.sentence.contains("“H” hangs over the edge"), "{}", over_edge.sentence);
    assert_eq!(over_edge.letters.iter().filter(|l| l.state == State::Fails).count(), 1);
    // the strip of a tube is one turn: letters on its seam lie on it as well as others
    let tube = demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 15.0);
    let seam = Place { along: Tie::At { position: 46.0 }, ..Place::default() };
    let on_seam = complete(surface_of(&tube, round, BodySide::Front), "HEI", seam);
    assert_eq!(on_seam.state, State::Passes, "{}", on_seam.sentence);
}

#[test]
fn a_face_that_lies_across_the_seam_of_its_strip_is_one_piece() {
    // the roof of a tunnel: in a bore the crown lies at the bottom, so that the seam runs along the roof
    let arc = |x: f64, k: f64| {
        let (s, c) = (30.0 + 3.0 * k).to_radians().sin_cos();
        DVec3::new(x, 25.0 * c, 25.0 * s)
    };
    let mut roof = Mesh::default();
    for k in 0..40 {
        let [a, b, c, d] = [(0.0, 0), (70.0, 0), (70.0, 1), (0.0, 1)].map(|(x, up)| arc(x, f64::from(k + up)));
        let first = roof.vertices.len() as u32;
        roof.vertices.extend([a, b, c, d]);
        roof.triangles.extend([[first, first + 1, first + 2], [first, first + 2, first + 3]]);
    }
    let mut part = Part::from_mesh(&roof).unwrap();
    part.take_as_surface_body(BodySide::Front);
    assert!(part.faces[0].surface.inside());
    let bench = Bench::new(part);
    let seat = bench.seat(&SeatRef::on(0), Some(DVec3::Z)).unwrap();
    assert_eq!(seat.closed(), [false, false]);
    let arc_length = 25.0 * 120_f64.to_radians();
    assert!((seat.end.y - seat.start.y - arc_length).abs() < 1e-6, "{} {}", seat.start, seat.end);
    let mut job = job(0, Relief::default());
    for up in [Tie::Middle, Tie::At { position: -25.0 * std::f64::consts::PI }] {
        job.marks[0].place.up = up;
        let outcome = bench.outcome(&job, Scope::NearMarks);
        let built = outcome.marks[0].built.as_ref().unwrap();
        assert!((built.placed.margins(&seat)[2] - (arc_length - 3.5) / 2.0).abs() < 1e-6);
        let whole = outcome.marks[0].findings.iter().find(|f| f.check == Check::Complete).unwrap();
        assert_eq!(whole.state, State::Passes, "{}", whole.sentence);
    }
}

#[test]
fn letters_that_run_together_on_a_surface_body_are_named() {
    let mut job = job(0, Relief::default());
    job.marks[0].lettering.spacing = -2.5;
    let outcome = Bench::new(surface_of(&demo::parts::plain_block(), up, BodySide::Front)).outcome(&job, Scope::Whole);
    let found = outcome.marks[0].findings.iter().find(|f| f.check == Check::Complete).unwrap();
    assert!(found.sentence.contains("run together"), "{}", found.sentence);
}

mod surface_only {
    use super::*;
    use trade::{Area, KeepOut, KeepOutKind};

    fn flat() -> Relief {
        Relief { sense: Sense::Surface, ..Relief::default() }
    }

    #[test]
    fn lettering_on_the_surface_only_changes_nothing_of_the_solid_and_is_measured_like_any_other() {
        let block = Part::from_mesh(&demo::parts::plain_block()).unwrap();
        let top = block.faces.iter().position(|f| up(&f.surface)).unwrap() as u32;
        let bench = Bench::new(block);
        let outcome = bench.outcome(&job(top, flat()), Scope::Whole);
        assert!(outcome.whole().is_none());
        // as wide and as far from the parting line as upright walls would be
        let upright = Relief { draft: 0.0, ..Relief::default() };
        let raised = figures(&bench.outcome(&job(top, upright), Scope::Whole));
        let found = figures(&outcome);
        for ((check, state, measured), (_, _, figure)) in found.into_iter().zip(raised) {
            match check {
                Check::Draft
                | Check::Release
                | Check::UniformDepth
                | Check::ReliefHeight
                | Check::StrokeToHeight
                | Check::Steel
                | Check::Wall => {
                    assert_eq!((state, measured), (State::DoesNotApply, None), "{check:?}");
                }
                _ => match (measured, figure) {
                    (Some(a), Some(b)) => assert!((a - b).abs() < 2e-3 * b.abs().max(1.0), "{check:?} {a} {b}"),
                    (a, b) => assert_eq!(a, b, "{check:?}"),
                },
            }
        }
        // beside a raised mark the solid is that mark's alone
        let mut both = job(top, flat());
        let mut other = both.marks[0].clone();
        (other.id, other.relief.sense, other.place.up) =
            ("mark-2".into(), Sense::Raised, Tie::FromStart { distance: 2.0 });
        both.marks.push(other.clone());
        let mut alone = both.clone();
        alone.marks.remove(0);
        for scope in [Scope::NearMarks, Scope::Whole] {
            let outcome = bench.outcome(&both, scope);
            assert_eq!(outcome.groups.iter().filter(|g| g.apart).count(), 1);
            assert!(outcome.marks.iter().all(|m| m.problem.is_none() && !m.findings.is_empty()));
        }
        let volume = |job: &Job| bench.outcome(job, Scope::Whole).whole().unwrap().mesh.volume();
        assert!((volume(&both) - volume(&alone)).abs() < 1e-9);
    }

    #[test]
    fn its_patch_lies_on_the_seat_and_has_the_area_of_its_outline() {
        for (mesh, wanted) in [
            (demo::parts::plain_block(), up as fn(&Surface) -> bool),
            (demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 15.0), round),
        ] {
            let part = Part::from_mesh(&mesh).unwrap();
            let face = part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32;
            let surface = part.faces[face as usize].surface.clone();
            let outcome = Bench::new(part).outcome(&job(face, flat()), Scope::Whole);
            let built = outcome.marks[0].built.as_ref().unwrap();
            let patch = relief::marked::patches(&built.bodies);
            let area: f64 = (0..patch.triangles.len()).map(|t| patch.area(t)).sum();
            let outline: f64 = built.placed.characters.iter().map(|c| c.region.area()).sum();
            assert!((area / outline - 1.0).abs() < 1e-3, "{area} {outline}");
            for t in 0..patch.triangles.len() {
                let at = patch.centroid(t);
                assert!(surface.height(at).unwrap().abs() < 0.003, "{:?}", surface.height(at));
                assert!(surface.normal(at).unwrap().dot(patch.cross(t)) > 0.0, "it looks outward");
            }
        }
    }

    #[test]
    fn over_the_edge_or_on_a_face_that_is_kept_out_of_it_is_caught() {
        let block = Part::from_mesh(&demo::parts::plain_block()).unwrap();
        let top = block.faces.iter().position(|f| up(&f.surface)).unwrap() as u32;
        let bench = Bench::new(block);
        let mut job = job(top, flat());
        job.marks[0].place.along = Tie::FromStart { distance: -1.0 };
        let area = Area::Faces { faces: vec![top] };
        job.tool.keep_outs = vec![KeepOut { name: "lid".into(), kind: KeepOutKind::Polished, area, margin: None }];
        let outcome = bench.outcome(&job, Scope::NearMarks);
        let state = |check: Check| outcome.marks[0].findings.iter().find(|f| f.check == check).unwrap();
        assert!(
            state(Check::Complete).sentence.contains("“H” hangs over the edge"),
            "{}",
            state(Check::Complete).sentence
        );
        assert!(state(Check::KeepOuts).sentence.contains("lies on “lid”"), "{}", state(Check::KeepOuts).sentence);
    }
}
