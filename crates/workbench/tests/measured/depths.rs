use crate::made::*;
use glam::DVec3;
use inspection::{Check, State};
use trade::Sense;

/// A shaft of 16 facets a turn: its flats lie R(1 − cos π/16) = 0.288 inside it, so that a cut of 0.35 is 0.06 deep there.
#[test]
fn facets_that_spoil_the_relief_are_told() {
    for (sides, sound) in [(16, false), (24, false), (180, true)] {
        let part =
            solid::Part::from_mesh(&demo::shapes::cylinder_of(DVec3::ZERO, DVec3::X * 60.0, 15.0, sides)).unwrap();
        let mut m = mark("HIL", round(&part), 4.0, Sense::Sunken);
        m.relief.height = 0.35;
        // over the middle of a facet beside the crown
        m.place.up = trade::Tie::At { position: 15.0 * std::f64::consts::PI / sides as f64 };
        let depth = found(&job(vec![m], vec![]), part, Check::UniformDepth);
        assert_eq!(depth.state == State::Passes, sound, "{sides}: {}", depth.sentence);
        assert_eq!(depth.sentence.contains("too coarse"), !sound, "{}", depth.sentence);
        if !sound {
            let sag = 15.0 * (1.0 - (std::f64::consts::PI / sides as f64).cos());
            let words: Vec<f64> =
                depth.sentence.split(|c: char| c.is_whitespace()).filter_map(|w| w.parse().ok()).collect();
            let [least, greatest] = [words[words.len() - 3], words[words.len() - 2]];
            assert!((least - (0.35 - sag)).abs() < 0.01 && greatest > least && greatest <= 0.351, "{}", depth.sentence);
        }
    }
}
