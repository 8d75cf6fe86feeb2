use crate::made::*;
use glam::DVec3;
use inspection::{Check, State};
use relief::Role;
use trade::{Area, Assigned, Sense, Slide, Spot, Steel, Tie};

/// A bridge 2 wide over an I of 10, 8 above it, hides a fifth of it; twice as long and moved aside it hides nothing.
#[test]
fn a_bridge_over_the_middle_of_a_letter_bars_it() {
    for sense in [Sense::Raised, Sense::Sunken] {
        for (y, wide, free) in [(0.0, 2.0, false), (0.0, 0.5, false), (3.0, 1.0, false), (8.0, 2.0, true)] {
            let bridge = block([-25.0, y - wide / 2.0, 8.0], [25.0, y + wide / 2.0, 10.0]);
            let legs = [
                block([-25.0, y - wide / 2.0, -1.0], [-23.0, y + wide / 2.0, 9.0]),
                block([23.0, y - wide / 2.0, -1.0], [25.0, y + wide / 2.0, 9.0]),
            ];
            let all = [&[bridge][..], &legs].concat();
            let solid = block([-30.0, -15.0, -5.0], [30.0, 15.0, 0.0]).with(&all, &[]).unwrap();
            let part = part(&solid);
            let floor = part.faces.iter().position(|f| matches!(f.surface, solid::Surface::Plane { normal, origin } if normal.z > 0.999 && origin.z.abs() < 1e-6)).unwrap();
            let mut m = mark("I", floor as u32, 10.0, sense);
            m.relief.draft = 3.0;
            let release = found(&job(vec![m], vec![]), part, Check::Release);
            assert_eq!(release.state == State::Passes, free, "{sense:?} {y} {wide}: {}", release.sentence);
        }
    }
}

/// Letters round a cylinder are each formed by their own half; one on the boundary by neither.
#[test]
fn letters_on_both_halves_are_judged_by_their_own_and_one_between_them_fails() {
    let barrel = || solid::Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 15.0)).unwrap();
    // crown of the one half, of the other, and the line between them
    let quarter = 15.0 * std::f64::consts::FRAC_PI_2;
    for (up, sound) in [(0.0, true), (2.0 * quarter, true), (-2.0 * quarter, true), (quarter, false), (-quarter, false)]
    {
        let part = barrel();
        let mut m = mark("H", round(&part), 3.0, Sense::Raised);
        m.relief.height = 0.3;
        m.relief.draft = 10.0;
        m.place.up = Tie::At { position: up };
        let outcome = outcome(&job(vec![m], vec![]), part);
        let (draft, release) = (of(&outcome, Check::Draft), of(&outcome, Check::Release));
        assert_eq!(draft.measured.unwrap() > 0.0, sound, "{up}: {}", draft.sentence);
        let divided = release.sentence.contains("two parts of the tool");
        assert_eq!(divided, !sound, "{up}: {}", release.sentence);
    }
}

/// A slide forms a disc of the top whose edge lies 0.4 inside an end of a letter, or 0.4 beside it.
#[test]
fn a_slide_that_takes_an_end_of_a_letter_is_told_wherever_it_is() {
    let part = plate(5.0, &[]);
    let top = looking(&part, DVec3::Z);
    for sense in [Sense::Raised, Sense::Sunken] {
        for text in ["I", "HIH", "O"] {
            let mut m = mark(text, top, 10.0, sense);
            m.relief.draft = 3.0;
            let mut job = job(vec![m], vec![]);
            let feet = corners(&outcome(&job, part.clone()), &[Role::Wall]);
            let (low, high) = extent(&feet, DVec3::Y);
            let right = extent(&feet, DVec3::X).1;
            job.tool.slides = vec![Slide { name: "pin".into(), pull: [0.0, 0.0, 1.0] }];
            for (middle, way) in
                [([0.0, high, 0.0], DVec3::Y), ([0.0, low, 0.0], -DVec3::Y), ([right, 0.0, 0.0], DVec3::X)]
            {
                for (inside, sound) in [(0.4, false), (-0.4, true)] {
                    let radius = 3.0;
                    let middle = (DVec3::from(middle) + way * (radius - inside)).to_array();
                    let area = Area::Painted { spots: vec![Spot { at: middle, radius }] };
                    job.tool.assigned = vec![Assigned { area, to: Steel::Slide { name: "pin".into() } }];
                    let release = found(&job, part.clone(), Check::Release);
                    assert_eq!(
                        release.state == State::Passes,
                        sound,
                        "{sense:?} {text} {way} {inside}: {}",
                        release.sentence
                    );
                }
            }
        }
    }
}
