use crate::made::*;
use glam::{DVec2, DVec3};
use inspection::{Check, State};
use trade::Sense;

/// On the top of raised lettering in a bore of 3, 0.5 high, the way round is 2.5/3 as long as on the bore; text turned by
/// 90° stands round it.
#[test]
fn in_a_bore_lengths_round_it_are_those_of_the_top() {
    let tube = || {
        part(&rod([0.0; 3], [40.0, 0.0, 0.0], 8.0).with(&[], &[rod([-1.0, 0.0, 0.0], [42.0, 0.0, 0.0], 3.0)]).unwrap())
    };
    let bore = |part: &solid::Part| {
        part.faces.iter().position(|f| matches!(f.surface, solid::Surface::Cylinder { inside: true, .. })).unwrap()
            as u32
    };
    let flat = plate(5.0, &[]);
    let top = looking(&flat, DVec3::Z);
    for (turn, cap) in [(90.0, 2.0 * 2.5 / 3.0), (0.0, 2.0)] {
        let part = tube();
        let mut m = mark("I", bore(&part), 2.0, Sense::Raised);
        m.relief.height = 0.5;
        m.place.turn = turn;
        let outcome = outcome(&job(vec![m.clone()], vec![]), part);
        let height = of(&outcome, Check::CapHeight);
        // letters that stand round the bore: their heights are shorter; those that stand along it: their strokes are
        let across = if turn == 0.0 { 2.0 } else { cap };
        let measured = height.measured.unwrap();
        let along_axis = (measured - 2.0).abs() < 0.005;
        let round_it = (measured - 2.0 * 2.5 / 3.0).abs() < 0.005;
        assert!(along_axis || round_it, "{turn} {across}: {}", height.sentence);
        m.seat = trade::SeatRef::on(top);
        let drawn = found(&job(vec![m], vec![]), flat.clone(), Check::Stroke).measured.unwrap();
        let stroke = of(&outcome, Check::Stroke).measured.unwrap();
        let wanted = if round_it { drawn } else { drawn * 2.5 / 3.0 };
        assert!((stroke - wanted).abs() < 0.005, "{turn}: {stroke} for {wanted}");
    }
}

#[test]
fn accents_and_tails_are_no_part_of_a_capitals_height() {
    let part = plate(5.0, &[]);
    let top = looking(&part, DVec3::Z);
    for text in ["ÄÖ", "Q", "Ç", "H"] {
        let mut m = mark(text, top, 1.75, Sense::Raised);
        m.relief.height = 0.2;
        let height = found(&job(vec![m], vec![]), part.clone(), Check::CapHeight);
        assert!((height.measured.unwrap() - 1.75).abs() < 0.06, "{text}: {}", height.sentence);
        assert_eq!(height.state, State::Fails, "{text}: {}", height.sentence);
    }
}

#[test]
fn what_goes_through_is_read_by_its_rim() {
    let part = plate(2.0, &[]);
    let top = looking(&part, DVec3::Z);
    let mut m = mark("HI", top, 5.0, Sense::Sunken);
    let sunken = outcome(&job(vec![m.clone()], vec![]), part.clone());
    m.relief.through = true;
    let through = outcome(&job(vec![m], vec![]), part);
    for check in [Check::Stroke, Check::CapHeight] {
        let (one, other) = (of(&through, check), of(&sunken, check));
        assert!((one.measured.unwrap() - other.measured.unwrap()).abs() < 1e-6, "{}", one.sentence);
        assert_eq!(one.state, other.state);
    }
    assert!(through.state() < State::NotChecked || of(&through, Check::Parting).state == State::NotChecked);
    assert_eq!(of(&through, Check::Wall).state, State::DoesNotApply);
}

#[test]
fn a_six_that_stands_upside_down_is_told() {
    let part = plate(5.0, &[]);
    let top = looking(&part, DVec3::Z);
    let mut m = mark("6-A", top, 4.0, Sense::Raised);
    let upright = found(&job(vec![m.clone()], vec![]), part.clone(), Check::LookAlikes);
    assert_eq!(upright.state, State::Passes, "{}", upright.sentence);
    m.letters = vec![serde_json::from_value(serde_json::json!({ "at": 0, "text": "6", "turn": 180.0 })).unwrap()];
    let turned = found(&job(vec![m], vec![]), part, Check::LookAlikes);
    assert_eq!(turned.state, State::Marginal, "{}", turned.sentence);
    assert!(turned.sentence.contains('9'), "{}", turned.sentence);
}

#[test]
fn a_job_without_a_mark_that_is_on_has_not_been_checked() {
    let part = plate(5.0, &[]);
    let top = looking(&part, DVec3::Z);
    assert_eq!(outcome(&job(vec![], vec![]), part.clone()).state(), State::NotChecked);
    let mut off = mark("I", top, 4.0, Sense::Raised);
    off.on = false;
    let outcome = outcome(&job(vec![off], vec![]), part);
    assert_eq!((outcome.state(), outcome.not_checked()), (State::NotChecked, 1));
}

/// An I is set on a seat once upright and once lying: its height follows the one direction of the level, its stroke the
/// other. On a level h outward from a curve of radius R lengths along it are (R + h) / R of what was set.
#[test]
fn on_every_seat_heights_and_strokes_are_those_of_their_level() {
    let flat = plate(5.0, &[]);
    let drawn = |m: &trade::Mark| {
        let m = trade::Mark { seat: trade::SeatRef::on(looking(&flat, DVec3::Z)), ..m.clone() };
        found(&job(vec![m], vec![]), flat.clone(), Check::Stroke).measured.unwrap()
    };
    let of = |points: &[(f64, f64)]| points.iter().map(|&(x, y)| DVec2::new(x, y)).collect::<Vec<_>>();
    let arc =
        |middle: f64, radius: f64, from: f64, to: f64| demo::shapes::arc(DVec2::new(middle, 0.0), radius, from, to);
    let dome: Vec<DVec2> = of(&[(0.0, 0.0)]).into_iter().chain(arc(0.0, 8.0, 0.0, 90.0)).collect();
    let mut ring = arc(14.0, 5.0, -180.0, 180.0);
    ring.pop();
    let cone = of(&[(0.0, 0.0), (9.0, 0.0), (5.0, 12.0), (0.0, 12.0)]);
    let lean = (4.0_f64 / 12.0).atan();
    let turned = |profile: &[DVec2]| solid::Part::from_mesh(&demo::shapes::turned(profile)).unwrap();
    type Wanted = fn(&solid::Surface) -> bool;
    let face = |part: &solid::Part, wanted: Wanted| part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32;
    let seats: [(&str, solid::Part, Wanted); 4] = [
        ("cylinder", part(&rod([0.0; 3], [0.0, 0.0, 30.0], 4.0)), |s| matches!(s, solid::Surface::Cylinder { .. })),
        ("cone", turned(&cone), |s| matches!(s, solid::Surface::Cone { .. })),
        ("sphere", turned(&dome), |s| matches!(s, solid::Surface::Sphere { .. })),
        ("torus", turned(&ring), |s| matches!(s, solid::Surface::Torus { .. })),
    ];
    for (kind, part, wanted) in seats {
        for sense in [Sense::Raised, Sense::Sunken] {
            for turn in [0.0, 90.0] {
                let mut m = mark("I", face(&part, wanted), 2.4, sense);
                m.relief.height = 0.4;
                m.place.turn = turn;
                let outcome = outcome(&job(vec![m.clone()], vec![]), part.clone());
                let by = if sense == Sense::Raised { 0.4 } else { -0.4 };
                let tops = corners(&outcome, &[relief::Role::Top, relief::Role::Floor]);
                let axis = |p: &DVec3| p.truncate().length();
                let (near, far) =
                    tops.iter().map(axis).fold((f64::MAX, 0.0), |(l, h): (f64, f64), d| (l.min(d), h.max(d)));
                // once round the axis at the letter's middle, and along the half-section
                let out = if kind == "cone" { by * lean.cos() } else { by };
                let level = (near + far) / 2.0;
                let round = level / (level - out);
                let ratios = match kind {
                    "cylinder" | "cone" => [round, 1.0],
                    "sphere" => [(8.0 + by) / 8.0; 2],
                    // round the axis the seat doesn't unroll: only along the tube are lengths known beforehand
                    _ => [f64::NAN, (5.0 + by) / 5.0],
                };
                let high = super::made::of(&outcome, Check::CapHeight).measured.unwrap() / 2.4;
                let wide = super::made::of(&outcome, Check::Stroke).measured.unwrap() / drawn(&m);
                let near = |found: f64, known: f64, most: f64| known.is_nan() || (found - known).abs() < most;
                let fits = |[a, b]: [f64; 2]| near(high, a, 0.008 / 2.4) && near(wide, b, 0.01);
                let [a, b] = ratios;
                assert!(fits([a, b]) || fits([b, a]), "{kind} {sense:?} {turn}: {high} {wide} for {ratios:?}");
            }
        }
    }
}

/// A gravity die asks 3° of what shrinks away from it and 5° of what shrinks onto it (common practice).
#[test]
fn raised_and_sunken_letters_of_a_mark_are_judged_each_by_their_own_limit() {
    let part = plate(9.0, &[]);
    for (sense, others, state) in [
        (Sense::Raised, None, State::Passes),
        (Sense::Sunken, None, State::Fails),
        (Sense::Raised, Some(Sense::Sunken), State::Fails),
        (Sense::Sunken, Some(Sense::Raised), State::Fails),
    ] {
        let mut m = mark("HIE", looking(&part, DVec3::Z), 6.0, sense);
        m.relief.draft = 4.0;
        if let Some(sense) = others {
            m.letters = vec![trade::LetterChange { sense: Some(sense), ..trade::LetterChange::plain(1, "I") }];
        }
        let mut job = job(vec![m], vec![]);
        job.limits = "gravity-casting".into();
        let finding = found(&job, part.clone(), Check::Draft);
        assert_eq!(finding.state, state, "{sense:?} {others:?}: {}", finding.sentence);
        assert!((finding.measured.unwrap() - 4.0).abs() < 0.001, "{finding:?}");
        let failing: Vec<&str> =
            finding.letters.iter().filter(|l| l.state == State::Fails).map(|l| l.text.as_str()).collect();
        let told: &[&str] = match (sense, others) {
            (Sense::Raised, None) => &[],
            (Sense::Sunken, None) => &["H", "I", "E"],
            (Sense::Raised, _) => &["I"],
            _ => &["H", "E"],
        };
        assert_eq!(failing, told, "{sense:?} {others:?}");
    }
}
