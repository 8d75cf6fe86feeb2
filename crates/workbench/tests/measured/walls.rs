use crate::made::*;
use glam::DVec3;
use inspection::{Check, State};
use relief::Role;
use trade::Sense;

/// An I of 14 cut 0.6 deep into a plate of 3: 2.4 are left, over a hole from behind less.
#[test]
fn a_hole_under_a_letter_is_found_wherever_it_lies() {
    let wall = |holes: &[solid::boolean::Body]| {
        let part = plate(3.0, holes);
        let top = looking(&part, DVec3::Z);
        found(&job(vec![mark("I", top, 14.0, Sense::Sunken)], vec![]), part, Check::Wall)
    };
    let hole = |y: f64, radius: f64, up_to: f64| rod([0.0, y, -4.0], [0.0, 0.0, 4.0 + up_to], radius);
    for (y, radius) in [(0.0, 1.5), (3.3, 1.5), (-6.1, 0.5), (2.0, 0.5), (5.0, 0.25)] {
        let thin = wall(&[hole(y, radius, -0.7)]);
        assert_eq!(thin.state, State::Fails, "{y} {radius}: {}", thin.sentence);
        assert!((left(&thin) - 0.1).abs() < 0.011, "{}", thin.sentence);
        let sound = wall(&[hole(y, radius, -2.7)]);
        assert!((left(&sound) - 2.1).abs() < 0.011 && sound.state == State::Passes, "{}", sound.sentence);
    }
    // a closed hollow
    let hollow = wall(&[block([-2.0, -2.0, -2.0], [2.0, 2.0, -0.9])]);
    assert!((left(&hollow) - 0.3).abs() < 0.011 && hollow.state == State::Fails, "{}", hollow.sentence);
    let whole = wall(&[]);
    assert!((left(&whole) - 2.4).abs() < 0.011 && whole.state == State::Passes, "{}", whole.sentence);
}

/// A hollow that ends where the floor lies, or a tenth of a micrometre short of it, is no wall.
#[test]
fn a_floor_flush_with_a_hollow_cuts_through() {
    for film in [0.0, 5e-5, 1e-4, 9e-4] {
        let part = plate(3.0, &[rod([0.0, 0.0, -4.0], [0.0, 0.0, 3.4 - film], 1.5)]);
        let top = looking(&part, DVec3::Z);
        let job = job(vec![mark("I", top, 14.0, Sense::Sunken)], vec![]);
        let wall = found(&job, part, Check::Wall);
        assert_eq!(wall.state, State::Fails, "{film}: {}", wall.sentence);
        assert!(wall.sentence.contains("through"), "{film}: {}", wall.sentence);
    }
}

/// A bore along the letter, below the surface and beside it: what is left between its side and the bore.
#[test]
fn a_wall_beside_a_letter_counts_as_one_below_it() {
    let bare = plate(10.0, &[]);
    let top = looking(&bare, DVec3::Z);
    let job = job(vec![mark("I", top, 8.0, Sense::Sunken)], vec![]);
    let (_, side) = extent(&corners(&outcome(&job, bare), &[Role::Floor]), DVec3::X);
    for (left_over, sound) in [(0.28, false), (0.7, false), (1.2, true)] {
        let part = plate(10.0, &[rod([side + left_over + 1.5, -20.0, -2.0], [0.0, 40.0, 0.0], 1.5)]);
        let wall = found(&job, part, Check::Wall);
        // from the lower edge of the letter's side to the bore's axis
        let least = (left_over + 1.5).hypot(2.0 - 0.6) - 1.5;
        assert!((left(&wall) - least).abs() < 0.011, "{least}: {}", wall.sentence);
        assert_eq!(wall.state == State::Passes, sound || least > 0.9, "{}", wall.sentence);
    }
}

/// The back leans by 60°: the shortest way from the floor to it is a half of the way straight down.
#[test]
fn a_leaning_back_is_as_near_as_it_is() {
    let lean = 60_f64.to_radians();
    let low = -4.0;
    let meets = -low / lean.tan();
    let v = |x: f64, z: f64| DVec3::new(x, -20.0, z);
    // the back rises to the right until it meets the top
    let base = [v(-30.0, 0.0), v(-30.0, low - 30.0 * lean.tan()), v(meets, 0.0)];
    let part = solid::Part::from_mesh(&demo::shapes::prism(&base, DVec3::Y * 40.0)).unwrap();
    let top = looking(&part, DVec3::Z);
    let mut m = mark("I", top, 6.0, Sense::Sunken);
    m.place.along = trade::Tie::FromEnd { distance: 1.4 };
    let outcome = outcome(&job(vec![m], vec![]), part);
    // distance of the solid's own corners from the plane of the back
    let out = DVec3::new(lean.sin(), 0.0, -lean.cos());
    let least = -extent(&corners(&outcome, &[Role::Floor, Role::Wall]), out).1 + DVec3::new(meets, 0.0, 0.0).dot(out);
    let wall = of(&outcome, Check::Wall);
    assert!((left(&wall) - least).abs() < 0.011, "{least}: {}", wall.sentence);
    assert!(least < 1.5);
}

/// Sunk 0.6 into a raised pad on a plate of 3: of the wall and the pad together that much is gone, wherever the floor lies.
#[test]
fn a_floor_in_a_raised_pad_leaves_what_lies_under_it() {
    let part = plate(3.0, &[]);
    let top = looking(&part, DVec3::Z);
    for high in [0.2, 0.6, 1.0] {
        let mut m = mark("I", top, 6.0, Sense::Sunken);
        m.relief.pad = Some(trade::Pad { form: trade::PadForm::Raised, height: high, draft: 3.0, clears: 0.0 });
        m.relief.field.margin = 3.0;
        let wall = found(&job(vec![m], vec![]), part.clone(), Check::Wall);
        let letter = wall.letters.iter().find(|l| l.text == "I").unwrap();
        // to what the wall was before the mark
        let share = 100.0 * (3.0 + high - 0.6) / 3.0;
        assert!((letter.measured.unwrap() - share).abs() < 0.4, "{high}: {letter:?}");
        assert!((left(&wall) - (3.0 + high - 0.6)).abs() < 0.011, "{high}: {}", wall.sentence);
        assert_eq!(letter.state, State::Passes, "{high}");
    }
}

/// Two cuts from both sides cross: 3 − 1.4 − 1.5 are left between them.
#[test]
fn cuts_from_both_sides_leave_what_lies_between_them() {
    let part = plate(3.0, &[]);
    let (top, bottom) = (looking(&part, DVec3::Z), looking(&part, -DVec3::Z));
    let mut one = mark("I", top, 10.0, Sense::Sunken);
    let mut other = mark("I", bottom, 10.0, Sense::Sunken);
    other.id = "other".into();
    (one.relief.height, other.relief.height) = (1.4, 1.5);
    one.place.turn = 90.0;
    let crossed = job(vec![one.clone(), other], vec![]);
    let wall = found(&crossed, part.clone(), Check::Wall);
    assert!((left(&wall) - 0.1).abs() < 0.011 && wall.state == State::Fails, "{}", wall.sentence);
    let alone = found(&job(vec![one], vec![]), part, Check::Wall);
    assert!((left(&alone) - 1.6).abs() < 0.011, "{}", alone.sentence);
}

/// A raised I over a wall of 3 that has a pocket of 2.5 under its middle: 0.6 on 0.5.
#[test]
fn a_raised_mark_is_measured_where_the_wall_is_thinnest() {
    let part = plate(3.0, &[rod([0.0, 2.0, -4.0], [0.0, 0.0, 3.5], 1.0)]);
    let top = looking(&part, DVec3::Z);
    let job = job(vec![mark("I", top, 14.0, Sense::Raised)], vec![]);
    let wall = found(&job, part, Check::Wall);
    assert!((wall.measured.unwrap() - 120.0).abs() < 2.5 && wall.state == State::Fails, "{}", wall.sentence);
    let sound = found(&job, plate(3.0, &[]), Check::Wall);
    assert!((sound.measured.unwrap() - 20.0).abs() < 0.5 && sound.state == State::Passes, "{}", sound.sentence);
}

/// A letter beside the ridge of a roof whose flanks are one seat: its end is as near to the other flank as its
/// corners are to the ridge.
#[test]
fn a_wall_between_a_letter_and_its_own_seat_is_one_too() {
    let lean = 35_f64.to_radians();
    let v = |x: f64, z: f64| DVec3::new(x, -15.0, z);
    let eaves = -14.0 * lean.tan();
    let base = [v(-14.0, -24.0), v(-14.0, eaves), v(0.0, 0.0), v(14.0, eaves), v(14.0, -24.0)];
    let part = solid::Part::from_mesh(&demo::shapes::prism(&base, DVec3::Y * 30.0)).unwrap();
    let out = |side: f64| DVec3::new(side * lean.sin(), 0.0, lean.cos());
    let (right, left_flank) = (looking(&part, out(1.0)), looking(&part, out(-1.0)));
    let mut seen = 0;
    for distance in [0.4, 0.9, 1.6] {
        for side in [true, false] {
            let mut m = mark("I", right, 6.0, Sense::Sunken);
            m.seat.with = vec![left_flank];
            m.relief.height = 0.5;
            // past the ridge, to either side of it
            let distance = 14.0 / lean.cos() + distance;
            m.place.up = if side { trade::Tie::FromStart { distance } } else { trade::Tie::FromEnd { distance } };
            let outcome = outcome(&job(vec![m], vec![]), part.clone());
            let all = corners(&outcome, &[Role::Floor, Role::Wall]);
            // the other flank ends at the ridge, to which what is on this one is nearest
            let least = all.iter().map(|p| p.x.hypot(p.z)).fold(f64::MAX, f64::min);
            let wall = of(&outcome, Check::Wall);
            assert!((left(&wall) - least).abs() < 0.011, "{distance} {least}: {}", wall.sentence);
            assert_eq!(wall.state != State::Fails, least > 0.5, "{least}: {}", wall.sentence);
            seen += usize::from(wall.state == State::Fails);
        }
    }
    assert_eq!(seen, 2, "0.4 on both sides");
}
