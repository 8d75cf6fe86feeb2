//! Jobs whose figures of letters are known: sizes, widths, gaps, reliefs, drafts.

use crate::{
    known::{Known, known},
    made::*,
    thrown::*,
};
use glam::DVec2;
use inspection::Check;
use relief::Role;
use trade::{Job, Sense, limits::Subject};
pub fn cap_height(dice: &mut Dice) -> Known {
    // one letter, so that its height alone is the extent along the axis
    let text = dice.one(&["I", "H", "E", "L"]);
    let (job, part, share) = on_round(dice, text);
    let cap = job.marks[0].lettering.cap_height;
    let truth = if along_axis(&job, &part) { cap } else { cap * share };
    known(Check::CapHeight, Subject::CapHeight, truth, 0.006, job, part)
}

pub fn stroke(dice: &mut Dice) -> Known {
    let (job, part, share) = on_round(dice, "I");
    let (low, high) = bar(&job);
    let truth = if along_axis(&job, &part) { (high - low) * share } else { high - low };
    known(Check::Stroke, Subject::Stroke, truth, 0.006, job, part)
}

pub fn relief_height(dice: &mut Dice) -> Known {
    let text = text(dice);
    let (job, part) = if dice.share() < 0.5 {
        on_plate(dice, text)
    } else {
        let (job, part, _) = on_round(dice, text);
        (job, part)
    };
    let truth = job.marks[0].relief.height;
    known(Check::ReliefHeight, Subject::ReliefHeight, truth, 0.003, job, part)
}

/// One letter in the middle of its place: what is as long as it on the sphere is as long as it on the strip to 1 in 1,000.
pub fn cap_height_on_a_sphere(dice: &mut Dice) -> Known {
    let (job, part, share) = on_sphere(dice, "I");
    let truth = job.marks[0].lettering.cap_height * share;
    known(Check::CapHeight, Subject::CapHeight, truth, 0.012, job, part)
}

pub fn stroke_on_a_sphere(dice: &mut Dice) -> Known {
    let (job, part, share) = on_sphere(dice, "I");
    let (low, high) = bar(&job);
    known(Check::Stroke, Subject::Stroke, (high - low) * share, 0.01, job, part)
}

/// What runs one way on a shaft, and both ways on a sphere, is longer or shorter on its level: so is the area.
pub fn island_on_round(dice: &mut Dice) -> Known {
    let (job, part, share) = if dice.share() < 0.5 {
        on_round(dice, "I")
    } else {
        let (job, part, share) = on_sphere(dice, "I");
        (job, part, share * share)
    };
    let (low, high) = bar(&job);
    let area = (high - low) * job.marks[0].lettering.cap_height * share;
    known(Check::Island, Subject::Island, 2.0 * (area / std::f64::consts::PI).sqrt(), 0.012, job, part)
}

pub fn stroke_to_relief_on_round(dice: &mut Dice) -> Known {
    let (job, part, share) = if dice.share() < 0.5 {
        let (job, part, share) = on_round(dice, "I");
        let share = if along_axis(&job, &part) { share } else { 1.0 };
        (job, part, share)
    } else {
        on_sphere(dice, "I")
    };
    let (low, high) = bar(&job);
    let truth = (high - low) * share / job.marks[0].relief.height;
    known(Check::StrokeToHeight, Subject::StrokeToHeight, truth, 0.05, job, part)
}

pub fn relief_height_on_every_seat(dice: &mut Dice) -> Known {
    let of = |points: &[(f64, f64)]| points.iter().map(|&(x, y)| DVec2::new(x, y)).collect::<Vec<_>>();
    type Wanted = fn(&solid::Surface) -> bool;
    let mut ring = demo::shapes::arc(DVec2::new(20.0, 0.0), dice.between(5.0, 9.0), -180.0, 180.0);
    ring.pop();
    let cone = of(&[(0.0, 0.0), (dice.between(10.0, 16.0), 0.0), (7.0, 16.0), (0.0, 16.0)]);
    let turned = |profile: &[DVec2]| demo::shapes::turned(profile);
    let (mesh, wanted): (solid::Mesh, Wanted) = match dice.one(&[0, 1, 2]) {
        0 => (turned(&ring), |s| matches!(s, solid::Surface::Torus { .. })),
        1 => (turned(&cone), |s| matches!(s, solid::Surface::Cone { .. })),
        _ => (demo::parts::shut_off_lever(), |s| matches!(s, solid::Surface::Freeform)),
    };
    let part = solid::Part::from_mesh(&mesh).unwrap();
    let face = part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32;
    let mut m = mark(text(dice), face, dice.between(1.8, 2.5), sense(dice));
    m.relief.height = dice.between(0.2, 0.5);
    let truth = m.relief.height;
    known(Check::ReliefHeight, Subject::ReliefHeight, truth, 0.012, job(vec![m], vec![]), part)
}

/// Walls square to a shaft have their draft less the angle from the crown.
pub fn draft(dice: &mut Dice) -> Known {
    let radius = dice.between(12.0, 30.0);
    let part = part(&rod([0.0; 3], [40.0, 0.0, 0.0], radius));
    // what is sunken about the crown has its walls turned towards it
    let mut m = mark(text(dice), round(&part), dice.between(1.5, 2.5), Sense::Raised);
    m.relief.height = 0.3;
    m.relief.draft = dice.between(12.0, 18.0);
    let job = job(vec![m], vec![]);
    // walls stand square to the seat where their outline runs, which is measured at the top
    let tops = corners(&outcome(&job, part.clone()), &[Role::Top]);
    let most = tops.iter().map(|p| p.y.abs().atan2(p.z).to_degrees()).fold(0.0, f64::max);
    // the text reads round the shaft or along it: then its ends, or its feet and heads, lie farthest from the crown
    let truth = job.marks[0].relief.draft - most;
    known(Check::Draft, Subject::Draft, truth, 0.12, job, part)
}

pub fn gap(dice: &mut Dice) -> Known {
    let (mut job, part) = on_plate(dice, "II");
    job.marks[0].text = dice.one(&["II", "III", "IIII"]).into();
    job.marks[0].lettering.spacing = dice.between(0.3, 1.0);
    let set = lettering::set("II", &job.marks[0].lettering, &[]).unwrap();
    let bounds: Vec<(DVec2, DVec2)> = set.characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    let truth = (bounds[1].0.x - bounds[0].1.x) / (bounds[0].1.x - bounds[0].0.x);
    known(Check::Gap, Subject::Gap, truth, 0.025, job, part)
}

pub fn stroke_to_relief(dice: &mut Dice) -> Known {
    let (job, part) = on_plate(dice, "I");
    let (low, high) = bar(&job);
    let truth = (high - low) / job.marks[0].relief.height;
    known(Check::StrokeToHeight, Subject::StrokeToHeight, truth, 0.03, job, part)
}

/// A counter is as much narrower at the root as its walls lean. How wide it was set is held to an outside library in
/// `outside/necks.rs`.
pub fn counter(dice: &mut Dice) -> Known {
    let text = dice.one(&["O", "IO", "OI"]);
    let (mut job, part) = on_plate(dice, text);
    let m = &mut job.marks[0];
    m.relief.draft = dice.between(0.0, 8.0);
    let set = lettering::set("O", &m.lettering, &[]).unwrap();
    let hole = set.characters[0].region.islands[0].counters[0].clone();
    let truth =
        flat::disc::largest(&hole).unwrap().diameter - 2.0 * m.relief.height * m.relief.draft.to_radians().tan();
    known(Check::Counter, Subject::Counter, truth, 0.008, job, part)
}

pub fn stroke_to_cap(dice: &mut Dice) -> Known {
    let text = dice.one(&["I", "iI", "Ii", "I-I"]);
    let (job, part) = on_plate(dice, text);
    let (low, high) = bar(&job);
    let truth = (high - low) / job.marks[0].lettering.cap_height;
    known(Check::StrokeToCap, Subject::StrokeToCap, truth, 0.004, job, part)
}

pub fn relief_to_cap(dice: &mut Dice) -> Known {
    let text = text(dice);
    let (job, part) = on_plate(dice, text);
    let truth = job.marks[0].relief.height / job.marks[0].lettering.cap_height;
    known(Check::ReliefHeight, Subject::ReliefToCap, truth, 0.001, job, part)
}

pub fn word_gap(dice: &mut Dice) -> Known {
    let text = dice.one(&["I I", "II I", "I II", "II II"]);
    let (mut job, part) = on_plate(dice, text);
    job.marks[0].lettering.spacing = dice.between(0.1, 0.8);
    let set = lettering::set("I I", &job.marks[0].lettering, &[]).unwrap();
    let bounds: Vec<(DVec2, DVec2)> = set.characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    // all of them are as broad
    let truth = (bounds[1].0.x - bounds[0].1.x) / (bounds[0].1.x - bounds[0].0.x);
    known(Check::WordGap, Subject::WordGap, truth, 0.025, job, part)
}

pub fn line_gap(dice: &mut Dice) -> Known {
    let text = dice.one(&["I\nI", "II\nII", "I\nI\nI"]);
    let (mut job, part) = on_plate(dice, text);
    let m = &mut job.marks[0];
    m.lettering.cap_height = dice.between(2.5, 4.0);
    m.lettering.line_gap = dice.between(0.5, 2.0);
    m.relief.draft = dice.between(0.0, 6.0);
    // measured at the top or floor: both lines reach further at the root by the draft
    let set = lettering::set("I\nI", &m.lettering, &[]).unwrap();
    let bounds: Vec<(DVec2, DVec2)> = set.characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    let root = bounds[0].0.y - bounds[1].1.y - 2.0 * m.relief.height * m.relief.draft.to_radians().tan();
    known(Check::LineGap, Subject::LineGap, root / m.lettering.cap_height, 0.004, job, part)
}

/// The dot of an i, the dots of a colon, a whole letter: as large as their outlines.
pub fn island(dice: &mut Dice) -> Known {
    let text = dice.one(&["I", "Ii", "i", "H:", ".I", "L.I"]);
    let (job, part) = on_plate(dice, text);
    let set = lettering::set(text, &job.marks[0].lettering, &[]).unwrap();
    let pieces = set.characters.iter().flat_map(|c| &c.region.islands);
    let area =
        |i: &flat::Island| flat::signed_area(&i.outer) + i.counters.iter().map(|c| flat::signed_area(c)).sum::<f64>();
    let least = pieces.map(area).fold(f64::MAX, f64::min);
    known(Check::Island, Subject::Island, 2.0 * (least / std::f64::consts::PI).sqrt(), 0.008, job, part)
}

pub fn steel_between(dice: &mut Dice) -> Known {
    let text = dice.one(&["II", "III", "HII"]);
    let (mut job, part) = on_plate(dice, text);
    let m = &mut job.marks[0];
    m.relief.sense = Sense::Raised;
    m.relief.draft = dice.between(0.0, 4.0);
    m.lettering.spacing = dice.between(0.1, 0.5);
    let set = lettering::set("II", &m.lettering, &[]).unwrap();
    let bounds: Vec<(DVec2, DVec2)> = set.characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    let leans = 2.0 * m.relief.height * m.relief.draft.to_radians().tan();
    known(Check::Steel, Subject::SteelBetween, bounds[1].0.x - bounds[0].1.x - leans, 0.006, job, part)
}

pub fn steel_of_letters(dice: &mut Dice) -> Known {
    let text = dice.one(&["I", "II", "III"]);
    let (mut job, part) = on_plate(dice, text);
    job.marks[0].relief.sense = Sense::Sunken;
    let (low, high) = bar(&job);
    known(Check::Steel, Subject::SteelOfLetters, high - low, 0.006, job, part)
}

/// Walls of a bar in a plane lean by its draft α from the plane's normal z; the pull leans by β from it to the side b. A wall
/// that looks along h releases by asin(sin α · cos β + cos α · sin β · (h · b)); the worst of the bar's four looks most away.
pub fn draft_under_a_leaning_pull(dice: &mut Dice) -> Known {
    let (mut job, part) = on_plate(dice, "I");
    let m = &mut job.marks[0];
    let (alpha, beta): (f64, f64) = (dice.between(8.0, 14.0), dice.between(0.5, 6.0));
    m.relief.draft = alpha;
    m.relief.height = 0.3;
    let side = dice.between(0.0, 360.0).to_radians();
    let (lean, tilt) = (alpha.to_radians(), beta.to_radians());
    job.tool.pull = Some([tilt.sin() * side.cos(), tilt.sin() * side.sin(), tilt.cos()]);
    let away = side.cos().abs().max(side.sin().abs());
    let truth = (lean.sin() * tilt.cos() - lean.cos() * tilt.sin() * away).asin().to_degrees();
    known(Check::Draft, Subject::Draft, truth, 0.06, job, part)
}

/// Bars beside one another along a shaft or bore, or round it: at the root they are apart by the chord of what was set.
pub fn gap_on_round(dice: &mut Dice) -> Known {
    let (job, part, share) = on_round(dice, "I");
    let spacing = dice.between(0.3, 1.0);
    let (job, stroke, gap) = two_bars(job, &part, share, spacing);
    known(Check::Gap, Subject::Gap, gap / stroke, 0.03, job, part)
}

pub fn steel_on_round(dice: &mut Dice) -> Known {
    let (job, part, share) = on_round(dice, "I");
    let sense = job.marks[0].relief.sense;
    let spacing = dice.between(0.2, 0.6);
    let (job, stroke, gap) = two_bars(job, &part, share, spacing);
    // what stands between raised letters is measured at the root
    match sense {
        Sense::Raised => known(Check::Steel, Subject::SteelBetween, gap, 0.008, job, part),
        _ => known(Check::Steel, Subject::SteelOfLetters, stroke, 0.006, job, part),
    }
}

/// Two bars in the place of the one of a job on a shaft or bore; how wide each is on its level, and how far they are apart
/// at the root.
fn two_bars(mut job: Job, part: &solid::Part, share: f64, spacing: f64) -> (Job, f64, f64) {
    let round = along_axis(&job, part);
    let lettering = &mut job.marks[0].lettering;
    lettering.spacing = spacing;
    let set = lettering::set("II", lettering, &[]).unwrap();
    job.marks[0].text = "II".into();
    let bounds: Vec<(DVec2, DVec2)> = set.characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    let (wide, apart) = (bounds[0].1.x - bounds[0].0.x, bounds[1].0.x - bounds[0].1.x);
    if !round {
        return (job, wide, apart);
    }
    // the level of tops and floors is h off: share = (R ± h) / R; and the gap is a chord
    let radius = job.marks[0].relief.height / (share - 1.0).abs();
    (job, wide * share, 2.0 * radius * (apart / (2.0 * radius)).sin())
}

/// The radius that was set where walls meet the ground or the floor.
pub fn inner_corner(dice: &mut Dice) -> Known {
    let text = dice.one(&["I", "II", "O", "IO"]);
    let (mut job, part) = match dice.one(&[0, 1, 2]) {
        0 => on_plate(dice, text),
        1 => {
            let (job, part, _) = on_round(dice, text);
            (job, part)
        }
        _ => {
            let (job, part, _) = on_sphere(dice, text);
            (job, part)
        }
    };
    let m = &mut job.marks[0];
    m.relief.height = 0.4;
    m.lettering.cap_height = m.lettering.cap_height.max(2.4);
    m.lettering.spacing = 0.4;
    m.relief.draft = dice.between(0.0, 3.0);
    m.relief.root = dice.between(0.06, 0.12);
    let truth = m.relief.root;
    known(Check::InnerCorner, Subject::InnerCorner, truth, 0.006, job, part)
}

/// A bar about the crown of a dome: its walls stand square to the dome, and those at its ends, half its height off the
/// crown, have turned by the angle that this is round the dome.
pub fn draft_on_a_dome(dice: &mut Dice) -> Known {
    let radius = dice.between(8.0, 20.0);
    let profile = std::iter::once(DVec2::ZERO).chain(demo::shapes::arc(DVec2::ZERO, radius, 0.0, 90.0));
    let part = solid::Part::from_mesh(&demo::shapes::turned(&profile.collect::<Vec<_>>())).unwrap();
    let face = part.faces.iter().position(|f| matches!(f.surface, solid::Surface::Sphere { .. })).unwrap() as u32;
    let mut m = mark("I", face, dice.between(1.5, 2.5), Sense::Raised);
    m.relief.height = 0.3;
    m.relief.draft = dice.between(12.0, 18.0);
    m.place.turn = dice.between(0.0, 360.0);
    let truth = m.relief.draft - (m.lettering.cap_height / 2.0 / radius).to_degrees();
    known(Check::Draft, Subject::Draft, truth, 0.12, job(vec![m], vec![]), part)
}
