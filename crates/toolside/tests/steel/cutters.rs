//! What cutters leave, held to closed forms of bars on a plate.

use super::{HEIGHT, built, job, plate, upright};
use std::f64::consts::PI;
use toolside::{Cutting, Left, cutting, left, one_pass};
use trade::{Cutter, Job, MeasuredAt, Relief, Sense};

/// Two bars of a width w with a gap g between them, by hand: 2 h tan 10° is what draft takes at the other end of the walls.
#[test]
fn a_cutter_passes_by_the_narrowest_stroke_of_what_is_cut_and_the_narrowest_gap_of_what_stands() {
    let (bench, face) = plate();
    let found = |sense, measured_at| -> Cutting {
        let mut job = job("II", face, Relief { draft: 10.0, measured_at, ..upright(sense) });
        job.marks[0].lettering.spacing = 0.4;
        cutting(&built(&bench, &job).1, 1.02).unwrap()
    };
    let mut spaced = job("II", face, upright(Sense::Raised));
    spaced.marks[0].lettering.spacing = 0.4;
    let bars: Vec<_> =
        lettering::drawn(&spaced.marks[0]).unwrap().characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    let (wide, gap) = (bars[0].1.x - bars[0].0.x, bars[1].0.x - bars[0].1.x);
    let moved = 2.0 * HEIGHT * 10.0_f64.to_radians().tan();
    let near = |a: f64, b: f64| assert!((a - b * 1.02).abs() < 0.004, "{a} for {}", b * 1.02);
    near(found(Sense::Raised, MeasuredAt::Top).widest, wide);
    near(found(Sense::Raised, MeasuredAt::Root).widest, wide - moved);
    near(found(Sense::Sunken, MeasuredAt::Root).widest, gap);
    near(found(Sense::Sunken, MeasuredAt::Top).widest, gap - moved);
    near(found(Sense::Sunken, MeasuredAt::Top).standing.unwrap(), wide + moved);
    near(found(Sense::Sunken, MeasuredAt::Root).deep, HEIGHT);
    assert_eq!(found(Sense::Raised, MeasuredAt::Top).standing, None);
}

fn bars(sense: Sense, relief: Relief) -> Job {
    let mut job = job("II", plate().1, Relief { sense, ..relief });
    job.marks[0].lettering.spacing = 1.0;
    job
}

/// A square corner of a pocket keeps (1 − π/4) r² of a cutter of radius r; sides that its flanks keep it off keep strips.
#[test]
fn a_cutter_leaves_the_corners_of_a_pocket_and_a_flank_keeps_it_off_the_walls() {
    let (bench, _) = plate();
    let found = |job: &Job, cutter: Cutter| -> Left { left(&built(&bench, job).1, &cutter, 1.02).unwrap() };
    let raised = bars(Sense::Raised, upright(Sense::Raised));
    let corner = |r: f64| (1.0 - PI / 4.0) * r * r;
    let straight = found(&raised, Cutter::straight(0.3));
    assert!((straight.area / (8.0 * corner(0.15)) - 1.0).abs() < 0.03, "{}", straight.area);
    assert_eq!(straight.letters.len(), 2);
    // one wider than the bars gets in nowhere
    let placed = built(&bench, &raised).1;
    let boxes = placed.placed.characters.iter().filter_map(|c| c.region.bounds());
    let all = 1.02 * 1.02 * boxes.map(|(low, high)| (high - low).element_product()).sum::<f64>();
    assert!((straight.whole.unwrap() / all - 1.0).abs() < 1e-6 && !straight.too_wide());
    let wide = found(&raised, Cutter::straight(2.0));
    assert!((wide.area / all - 1.0).abs() < 1e-6 && wide.too_wide(), "{} of {all}", wide.area);
    assert!(straight.leans.is_none() && !straight.short && !straight.nothing());
    assert!((straight.deep - 1.02 * HEIGHT).abs() < 1e-9);
    // what stands has outer corners alone: a cutter goes round them, and passes between them where it is narrow enough
    let sunken = bars(Sense::Sunken, upright(Sense::Sunken));
    assert!(found(&sunken, Cutter::straight(0.3)).nothing());
    assert!(found(&sunken, Cutter::straight(4.0)).area > 0.5 && !found(&sunken, Cutter::straight(4.0)).too_wide());
    // 10° a side beside upright walls: its middle stays h · tan 10° further off, on a strip all round
    let off = 1.02 * HEIGHT * 10.0_f64.to_radians().tan();
    let tapered = found(&raised, Cutter { taper: 10.0, ..Cutter::straight(0.3) });
    let around: f64 = built(&bench, &raised)
        .1
        .placed
        .characters
        .iter()
        .map(|c| {
            let (low, high) = c.region.bounds().unwrap();
            2.0 * (high - low).element_sum() * 1.02
        })
        .sum();
    let strips = around * off - 8.0 * off * off + 8.0 * corner(0.15);
    assert!((tapered.area / strips - 1.0).abs() < 0.02, "{} for {strips}", tapered.area);
    assert!((tapered.leans.unwrap() - 10.0).abs() < 1e-9);
    // as much as the walls do is no more than the tip alone
    let leaning = bars(Sense::Raised, Relief { draft: 10.0, measured_at: MeasuredAt::Top, ..upright(Sense::Raised) });
    let along = found(&leaning, Cutter { taper: 10.0, ..Cutter::straight(0.3) });
    assert!((along.area / straight.area - 1.0).abs() < 1e-6 && along.leans.is_none(), "{}", along.area);
    let short = found(&raised, Cutter { reach: Some(0.3), ..Cutter::straight(0.3) });
    assert!(short.short && !short.nothing(), "0.306 must be cut");
    let through = Relief { through: true, ..upright(Sense::Sunken) };
    assert_eq!(left(&built(&bench, &bars(Sense::Sunken, through)).1, &Cutter::straight(0.3), 1.0), None);
}

#[test]
fn lettering_that_is_offered_for_a_cutter_is_cut_by_it_in_one_pass() {
    let (bench, face) = plate();
    for measured_at in [MeasuredAt::Top, MeasuredAt::Root] {
        let relief = Relief { draft: 5.0, measured_at, ..upright(Sense::Raised) };
        let mut job = job("R8", face, relief);
        let cutter = Cutter { taper: 5.0, ..Cutter::straight(0.5) };
        let before = built(&bench, &job).1;
        assert!(!left(&before, &cutter, 1.02).unwrap().nothing());
        job.marks[0].lettering = one_pass(&before, &cutter, 1.02).expect("a stroke of 0.5 fits capitals of 4 mm");
        let after = built(&bench, &job).1;
        let found = left(&after, &cutter, 1.02).unwrap();
        assert!(found.nothing(), "{measured_at:?}: {} mm² at {:?}", found.area, found.letters);
        // the stroke's width at the surface is that of the tip and the walls over the depth: no deeper than the relief asks
        assert!((found.depth_of_stroke.unwrap() - 1.02 * HEIGHT).abs() < 0.06, "{:?}", found.depth_of_stroke);
        assert_eq!(one_pass(&after, &cutter, 1.02), None, "it is so already");
    }
    let built = built(&bench, &job("R8", face, upright(Sense::Raised))).1;
    assert_eq!(one_pass(&built, &Cutter::straight(1.5), 1.02), None, "letters of 4 mm would fill");
    assert_eq!(one_pass(&built, &Cutter { taper: 5.0, ..Cutter::straight(0.3) }, 1.02), None, "walls are upright");
}
