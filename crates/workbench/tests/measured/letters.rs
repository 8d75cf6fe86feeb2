use crate::made::*;
use glam::DVec3;
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
    assert_eq!(outcome(&job(vec![off], vec![]), part).state(), State::NotChecked);
}
