use crate::made::*;
use glam::DVec3;
use inspection::{Check, State};
use relief::Role;
use trade::{Area, KeepOut, KeepOutKind, Pad, PadForm, Parting, Sense};

fn sealing(area: Area, margin: Option<f64>) -> KeepOut {
    KeepOut { name: "seal".into(), kind: KeepOutKind::Sealing, area, margin }
}

/// On the far side of a cylinder a line is as far as it is, not under the letter.
#[test]
fn a_parting_line_on_the_far_side_is_not_under_the_letter() {
    let part = solid::Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 4.0)).unwrap();
    let mut m = mark("I", round(&part), 3.0, Sense::Raised);
    m.relief.height = 0.2;
    let low = -3.9;
    let outcome = outcome(&job(vec![m], vec![Parting::Plane { height: low }]), part);
    let parting = of(&outcome, Check::Parting);
    let side = (16.0_f64 - low * low).sqrt();
    let away = |p: &DVec3| (p.y.abs() - side).hypot(p.z - low);
    // the root lies lowest: corners of walls on the cylinder itself
    let root = corners(&outcome, &[Role::Wall]).into_iter().filter(|p| p.y.hypot(p.z) < 4.0 + 1e-4);
    let least = root.map(|p| away(&p)).fold(f64::MAX, f64::min);
    assert!((parting.measured.unwrap() - least).abs() < 0.02, "{least}: {}", parting.sentence);
    assert_eq!(parting.state, State::Passes, "{}", parting.sentence);
}

#[test]
fn a_line_that_misses_the_part_leaves_the_parting_line_unchecked() {
    let part = plate(10.0, &[]);
    let top = looking(&part, DVec3::Z);
    let m = mark("I", top, 3.0, Sense::Raised);
    let lines = vec![Parting::Plane { height: -5.0 }, Parting::Plane { height: 900.0 }];
    let parting = found(&job(vec![m.clone()], lines), part.clone(), Check::Parting);
    assert_eq!(parting.state, State::NotChecked, "{}", parting.sentence);
    assert!(parting.sentence.contains("line 2"), "{}", parting.sentence);
    let parting = found(&job(vec![m], vec![Parting::Plane { height: -5.0 }]), part, Check::Parting);
    assert_eq!(parting.state, State::Passes, "{}", parting.sentence);
}

/// A gate on the side of the plate, 0.2 below its edge; the letter stands 0.3 from the edge: the gate's highest place
/// is as far below the edge less its radius.
#[test]
fn a_gate_round_the_edge_is_seen_and_one_behind_the_wall_is_not() {
    let part = plate(1.0, &[]);
    let top = looking(&part, DVec3::Z);
    let mut m = mark("I", top, 6.0, Sense::Raised);
    m.place.along = trade::Tie::FromEnd { distance: 0.3 };
    let mut j = job(vec![m], vec![]);
    let gate = |middle: [f64; 3], radius: f64| KeepOut {
        name: "gate".into(),
        kind: KeepOutKind::Gate,
        area: Area::Circle { middle, radius },
        margin: Some(0.5),
    };
    j.tool.keep_outs = vec![gate([30.0, 0.0, -0.2], 0.05)];
    let near = found(&j, part.clone(), Check::KeepOuts);
    let away = 0.3_f64.hypot(0.2 - 0.05);
    assert!((near.measured.unwrap() - away).abs() < 0.004 && near.state == State::Fails, "{away}: {}", near.sentence);
    j.tool.keep_outs = vec![sealing(Area::Faces { faces: vec![looking(&part, -DVec3::Z)] }, Some(2.0))];
    let behind = found(&j, part.clone(), Check::KeepOuts);
    assert_eq!(behind.state, State::Passes, "{}", behind.sentence);
    // nowhere on the part
    j.tool.keep_outs = vec![gate([400.0, 0.0, 0.0], 3.0)];
    let lost = found(&j, part, Check::KeepOuts);
    assert_eq!(lost.state, State::NotChecked, "{}", lost.sentence);
}

/// Of a circle that reaches over the edge of its face only what lies on the face counts, not the ball of its radius: a pin of
/// 3 mm whose middle is 1 mm inside the bottom's edge comes no nearer to a letter on the side than that edge.
#[test]
fn a_circle_over_an_edge_is_what_of_it_lies_on_the_part() {
    let part = plate(10.0, &[]);
    let mut m = mark("I", looking(&part, DVec3::X), 2.0, Sense::Raised);
    let pin = KeepOut {
        name: "pin".into(),
        kind: KeepOutKind::EjectorPin,
        area: Area::Circle { middle: [29.0, 0.0, -10.0], radius: 3.0 },
        margin: Some(1.0),
    };
    for (low, state) in [(1.4, State::Passes), (0.8, State::Fails)] {
        m.place.up = trade::Tie::FromStart { distance: low };
        let mut j = job(vec![m.clone()], vec![]);
        j.tool.keep_outs = vec![pin.clone()];
        let found = found(&j, part.clone(), Check::KeepOuts);
        assert!((found.measured.unwrap() - low).abs() < 0.003 && found.state == state, "{low}: {}", found.sentence);
    }
}

#[test]
fn what_stands_on_a_keep_out_fails_whatever_the_margin_and_so_does_what_swallows_one() {
    let part = plate(5.0, &[]);
    let top = looking(&part, DVec3::Z);
    let mut j = job(vec![mark("I", top, 6.0, Sense::Raised)], vec![]);
    j.tool.keep_outs = vec![sealing(Area::Faces { faces: vec![top] }, Some(0.0))];
    assert_eq!(found(&j, part.clone(), Check::KeepOuts).state, State::Fails);
    // a pin of 0.5 under the middle of a pad of 10 or more, far from its edges and from the letter
    let pin = |x: f64| sealing(Area::Circle { middle: [x, 4.0, 0.0], radius: 0.25 }, Some(0.2));
    for form in [PadForm::Raised, PadForm::Recessed] {
        j.marks[0].relief.pad = Some(Pad { form, height: 0.5, draft: 3.0, clears: 0.0 });
        j.marks[0].relief.field.margin = 6.0;
        j.tool.keep_outs = vec![pin(3.0)];
        let swallowed = found(&j, part.clone(), Check::KeepOuts);
        assert_eq!(
            (swallowed.state, swallowed.measured),
            (State::Fails, Some(0.0)),
            "{form:?}: {}",
            swallowed.sentence
        );
        j.tool.keep_outs = vec![pin(20.0)];
        assert_eq!(found(&j, part.clone(), Check::KeepOuts).state, State::Passes);
    }
}

/// Of marks with capitals of 24 12 mm are asked; 11 apart is too near, on the other side of a wall of 1 it isn't.
#[test]
fn marks_are_seen_as_far_as_the_limit_asks_and_not_through_a_wall() {
    let large = part(&block([-80.0, -40.0, -1.0], [80.0, 40.0, 0.0]));
    let (top, bottom) = (looking(&large, DVec3::Z), looking(&large, -DVec3::Z));
    let at = |id: &str, face: u32, along: f64| {
        let mut m = mark("I", face, 24.0, Sense::Raised);
        m.id = id.into();
        m.place.along = trade::Tie::FromStart { distance: 60.0 + along };
        m
    };
    let wide = extent(&corners(&outcome(&job(vec![at("a", top, 0.0)], vec![]), large.clone()), &[Role::Top]), DVec3::X);
    let wide = wide.1 - wide.0;
    for (apart, sound) in [(11.0, false), (13.5, true)] {
        let both = job(vec![at("a", top, 0.0), at("b", top, wide + apart)], vec![]);
        let clearance = found(&both, large.clone(), Check::Clearance);
        assert_eq!(clearance.state == State::Passes, sound, "{apart}: {}", clearance.sentence);
        // the plate's edges are farther away than the other mark, and past what is asked for they are what is told
        assert!(sound || (clearance.measured.unwrap() * 24.0 - apart).abs() < 0.005, "{apart}: {}", clearance.sentence);
    }
    let both = job(vec![at("a", top, 0.0), at("b", bottom, 0.0)], vec![]);
    let clearance = found(&both, large, Check::Clearance);
    assert_eq!(clearance.state, State::Passes, "{}", clearance.sentence);
}
