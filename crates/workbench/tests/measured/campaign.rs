//! Jobs with exactly one thing wrong by a known small amount, each with its sound twin. The truth is known from how the
//! part and the mark were made, or read off the marked solid's corners; the limit is then set just past it, and just
//! short of it by the set's margin.

use crate::made::*;
use glam::{DVec2, DVec3};
use inspection::{Check, State};
use relief::Role;
use trade::limits::{Side, Subject};
use trade::{Area, Job, KeepOut, KeepOutKind, OwnLimit, Parting, Sense, Tie};
use workbench::{Bench, Scope};

/// Numbers that look thrown (splitmix64).
struct Dice(u64);

impl Dice {
    fn share(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) >> 11) as f64 / (1_u64 << 53) as f64
    }
    fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.share()
    }
    fn one<T: Copy>(&mut self, of: &[T]) -> T {
        of[(self.share() * of.len() as f64) as usize]
    }
    fn sense(&mut self) -> Sense {
        self.one(&[Sense::Raised, Sense::Sunken])
    }
}

/// What is known of a job: the figure that a check ought to find.
struct Known {
    check: Check,
    subject: Subject,
    truth: f64,
    /// By so much a limit is missed, or kept.
    by: f64,
    job: Job,
    part: solid::Part,
}

/// A known job of one of the kinds.
type Make = fn(&mut Dice) -> Known;

const KINDS: &[(&str, Make)] = &[
    ("cap height on a cylinder", cap_height),
    ("stroke on a cylinder", stroke),
    ("relief height", relief_height),
    ("draft on a cylinder", draft),
    ("cap height on a sphere", cap_height_on_a_sphere),
    ("stroke on a sphere", stroke_on_a_sphere),
    ("small piece on round seats", island_on_round),
    ("stroke to relief on round seats", stroke_to_relief_on_round),
    ("relief height on every seat", relief_height_on_every_seat),
    ("wall of a tube", wall_of_a_tube),
    ("clearance to the end of a tube", clearance_on_a_tube),
    ("clearance to an edge", clearance),
    ("clearance to a mark", clearance_to_mark),
    ("parting line", parting),
    ("keep-out", keep_out),
    ("wall under a letter", wall),
    ("wall added", wall_added),
    ("gap", gap),
    ("stroke to relief", stroke_to_relief),
    ("counter closed by draft", counter),
    ("stroke to cap height", stroke_to_cap),
    ("relief to cap height", relief_to_cap),
    ("word gap", word_gap),
    ("line gap", line_gap),
    ("small piece", island),
    ("steel between letters", steel_between),
    ("steel of letters", steel_of_letters),
];

fn known(check: Check, subject: Subject, truth: f64, by: f64, job: Job, part: solid::Part) -> Known {
    Known { check, subject, truth, by, job, part }
}

/// One to three upright letters with flat ends; where in the text the place lies that matters is thrown.
fn text(dice: &mut Dice) -> &'static str {
    dice.one(&["I", "HI", "IH", "HIE", "LIT"])
}

fn on_plate(dice: &mut Dice, text: &str) -> (Job, solid::Part) {
    let part = plate(dice.between(5.0, 9.0), &[]);
    let top = looking(&part, DVec3::Z);
    let mut m = mark(text, top, dice.between(2.5, 6.0), dice.sense());
    m.relief.height = dice.between(0.25, 0.6);
    (job(vec![m], vec![]), part)
}

/// Letters round or along a shaft or a bore, and how long what runs round it is on their level, as a share.
fn on_round(dice: &mut Dice, text: &str) -> (Job, solid::Part, f64) {
    let radius = dice.between(3.5, 15.0);
    let bore = dice.share() < 0.5;
    let solid = if bore {
        rod([0.0; 3], [40.0, 0.0, 0.0], radius + 6.0)
            .with(&[], &[rod([-1.0, 0.0, 0.0], [42.0, 0.0, 0.0], radius)])
            .unwrap()
    } else {
        rod([0.0; 3], [40.0, 0.0, 0.0], radius)
    };
    let part = part(&solid);
    let wanted = |f: &solid::part::Face| matches!(f.surface, solid::Surface::Cylinder { inside, .. } if inside == bore);
    let face = part.faces.iter().position(wanted).unwrap() as u32;
    let mut m = mark(text, face, dice.between(1.5, 2.5), dice.sense());
    m.relief.height = dice.between(0.2, 0.5);
    m.place.turn = dice.one(&[0.0, 90.0]);
    m.lettering.spacing = 0.3;
    let outward = (m.relief.sense == Sense::Raised) != bore;
    let share = (radius + if outward { m.relief.height } else { -m.relief.height }) / radius;
    (job(vec![m], vec![]), part, share)
}

/// Do the letters stand along the axis? Read off the solid: their extent along it is the height that was set.
fn along_axis(job: &Job, part: &solid::Part) -> bool {
    let tops = corners(&outcome(job, part.clone()), &[Role::Top, Role::Floor]);
    let (low, high) = extent(&tops, DVec3::X);
    (high - low - job.marks[0].lettering.cap_height).abs() < 0.003
}

/// Width of the I of a text as it was set.
fn bar(job: &Job) -> (f64, f64) {
    let set = lettering::set("I", &job.marks[0].lettering, &[]).unwrap();
    let (low, high) = set.characters[0].region.bounds().unwrap();
    (low.x, high.x)
}

fn cap_height(dice: &mut Dice) -> Known {
    // one letter, so that its height alone is the extent along the axis
    let text = dice.one(&["I", "H", "E", "L"]);
    let (job, part, share) = on_round(dice, text);
    let cap = job.marks[0].lettering.cap_height;
    let truth = if along_axis(&job, &part) { cap } else { cap * share };
    known(Check::CapHeight, Subject::CapHeight, truth, 0.006, job, part)
}

fn stroke(dice: &mut Dice) -> Known {
    let (job, part, share) = on_round(dice, "I");
    let (low, high) = bar(&job);
    let truth = if along_axis(&job, &part) { (high - low) * share } else { high - low };
    known(Check::Stroke, Subject::Stroke, truth, 0.006, job, part)
}

fn relief_height(dice: &mut Dice) -> Known {
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

/// Letters about the top of a dome, or of the hollow of a bowl, and how long what lies on their level is, as a share.
fn on_sphere(dice: &mut Dice, text: &str) -> (Job, solid::Part, f64) {
    let radius = dice.between(6.0, 20.0);
    let hollow = dice.share() < 0.5;
    let arc = |from: f64, to: f64| demo::shapes::arc(DVec2::ZERO, radius, from, to);
    let profile: Vec<DVec2> = if hollow {
        let low = -radius - 4.0;
        let outside = [(0.0, low), (radius + 4.0, low), (radius + 4.0, 0.0), (radius, 0.0)];
        let inside = arc(0.0, -90.0).into_iter().skip(1);
        outside.iter().map(|&(x, y)| DVec2::new(x, y)).chain(inside).collect()
    } else {
        std::iter::once(DVec2::ZERO).chain(arc(0.0, 90.0)).collect()
    };
    let part = solid::Part::from_mesh(&demo::shapes::turned(&profile)).unwrap();
    let face = part.faces.iter().position(|f| matches!(f.surface, solid::Surface::Sphere { .. })).unwrap() as u32;
    let mut m = mark(text, face, dice.between(1.5, 2.5), dice.sense());
    m.relief.height = dice.between(0.2, 0.5);
    m.place.turn = dice.between(0.0, 360.0);
    let outward = (m.relief.sense == Sense::Raised) != hollow;
    let share = (radius + if outward { m.relief.height } else { -m.relief.height }) / radius;
    (job(vec![m], vec![]), part, share)
}

/// One letter in the middle of its place: what is as long as it on the sphere is as long as it on the strip to 1 in 1,000.
fn cap_height_on_a_sphere(dice: &mut Dice) -> Known {
    let (job, part, share) = on_sphere(dice, "I");
    let truth = job.marks[0].lettering.cap_height * share;
    known(Check::CapHeight, Subject::CapHeight, truth, 0.012, job, part)
}

fn stroke_on_a_sphere(dice: &mut Dice) -> Known {
    let (job, part, share) = on_sphere(dice, "I");
    let (low, high) = bar(&job);
    known(Check::Stroke, Subject::Stroke, (high - low) * share, 0.01, job, part)
}

/// What runs one way on a shaft, and both ways on a sphere, is longer or shorter on its level: so is the area.
fn island_on_round(dice: &mut Dice) -> Known {
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

fn stroke_to_relief_on_round(dice: &mut Dice) -> Known {
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

fn relief_height_on_every_seat(dice: &mut Dice) -> Known {
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
    let mut m = mark(text(dice), face, dice.between(1.8, 2.5), dice.sense());
    m.relief.height = dice.between(0.2, 0.5);
    let truth = m.relief.height;
    known(Check::ReliefHeight, Subject::ReliefHeight, truth, 0.012, job(vec![m], vec![]), part)
}

/// What is left between a floor and a bore is the difference of their radii.
fn wall_of_a_tube(dice: &mut Dice) -> Known {
    let (outer, left, deep) = (dice.between(8.0, 20.0), dice.between(0.9, 2.0), dice.between(0.25, 0.6));
    let bore = rod([-1.0, 0.0, 0.0], [42.0, 0.0, 0.0], outer - deep - left);
    let part = part(&rod([0.0; 3], [40.0, 0.0, 0.0], outer).with(&[], &[bore]).unwrap());
    let inside = |f: &solid::part::Face| matches!(f.surface, solid::Surface::Cylinder { inside: false, .. });
    let face = part.faces.iter().position(inside).unwrap() as u32;
    let mut m = mark(text(dice), face, dice.between(1.8, 3.0), Sense::Sunken);
    m.relief.height = deep;
    m.place.turn = dice.between(0.0, 360.0);
    let mut job = job(vec![m], vec![]);
    job.own_limits.push(OwnLimit { subject: Subject::WallLeft, value: 0.0, source: String::new() });
    known(Check::Wall, Subject::WallLeast, left, 0.012, job, part)
}

/// How near the walls come to either end, read off the solid.
fn clearance_on_a_tube(dice: &mut Dice) -> Known {
    let text = text(dice);
    let (mut job, part, _) = on_round(dice, text);
    job.marks[0].relief.draft = dice.between(0.0, 8.0);
    let distance = dice.between(0.8, 4.0);
    let tie = if dice.share() < 0.5 { Tie::FromStart { distance } } else { Tie::FromEnd { distance } };
    job.marks[0].place.along = tie;
    let all = corners(&outcome(&job, part.clone()), &[Role::Wall]);
    let (low, high) = extent(&all, DVec3::X);
    let truth = low.min(40.0 - high) / job.marks[0].lettering.cap_height;
    known(Check::Clearance, Subject::Clearance, truth, 0.006, job, part)
}

/// Walls square to a shaft have their draft less the angle from the crown.
fn draft(dice: &mut Dice) -> Known {
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

fn clearance(dice: &mut Dice) -> Known {
    let text = text(dice);
    let (mut job, part) = on_plate(dice, text);
    let m = &mut job.marks[0];
    m.relief.draft = dice.between(0.0, 8.0);
    let distance = dice.between(0.8, 4.0);
    m.place.along = if dice.share() < 0.5 { Tie::FromStart { distance } } else { Tie::FromEnd { distance } };
    // measured at the top or floor: the root reaches further by the draft
    let root = distance - m.relief.height * m.relief.draft.to_radians().tan();
    let truth = root / m.lettering.cap_height;
    known(Check::Clearance, Subject::Clearance, truth, 0.004, job, part)
}

fn clearance_to_mark(dice: &mut Dice) -> Known {
    let (mut job, part) = on_plate(dice, "I");
    let mut other = job.marks[0].clone();
    let wide = bar(&job).1 - bar(&job).0;
    let apart = dice.between(0.8, 3.0);
    job.marks[0].place.along = Tie::FromStart { distance: 25.0 };
    other.place.along = Tie::FromStart { distance: 25.0 + wide + apart };
    other.id = "other".into();
    job.marks.push(other);
    let truth = apart / job.marks[0].lettering.cap_height;
    known(Check::Clearance, Subject::Clearance, truth, 0.004, job, part)
}

fn parting(dice: &mut Dice) -> Known {
    let block = part(&block([0.0; 3], [60.0, 30.0, 20.0]));
    let mut m = mark(text(dice), looking(&block, -DVec3::Y), dice.between(2.5, 5.0), dice.sense());
    m.relief.draft = dice.between(0.0, 6.0);
    let feet = dice.between(5.0, 9.0);
    m.place.up = Tie::FromStart { distance: feet };
    let height = dice.between(1.0, 4.0);
    let truth = feet - m.relief.height * m.relief.draft.to_radians().tan() - height;
    known(Check::Parting, Subject::Parting, truth, 0.005, job(vec![m], vec![Parting::Plane { height }]), block)
}

fn keep_out(dice: &mut Dice) -> Known {
    let (mut job, part) = on_plate(dice, "I");
    let tops = corners(&outcome(&job, part.clone()), &[Role::Top, Role::Floor]);
    let (_, side) = extent(&tops, DVec3::X);
    let (low, high) = extent(&tops, DVec3::Y);
    let (radius, truth) = (dice.between(0.2, 1.5), dice.between(0.7, 3.0));
    let middle = [side + truth + radius, dice.between(low, high), 0.0];
    let kind = dice.one(&[KeepOutKind::Gate, KeepOutKind::EjectorPin, KeepOutKind::Sealing]);
    job.tool.keep_outs =
        vec![KeepOut { name: "kept".into(), kind, area: Area::Circle { middle, radius }, margin: None }];
    known(Check::KeepOuts, kind.subject(), truth, 0.005, job, part)
}

/// A hole from behind, or a closed hollow, under any place of a floor.
fn wall(dice: &mut Dice) -> Known {
    let text = text(dice);
    let (mut job, bare) = on_plate(dice, text);
    let m = &mut job.marks[0];
    m.relief.sense = Sense::Sunken;
    // the share that is left is not what is asked here
    job.own_limits.push(OwnLimit { subject: Subject::WallLeft, value: 0.0, source: String::new() });
    let floor = corners(&outcome(&job, bare), &[Role::Floor]);
    let facet = dice.one(&floor.chunks(3).map(|f| (f[0] + f[1] + f[2]) / 3.0).collect::<Vec<_>>());
    let (truth, radius) = (dice.between(0.95, 1.8), dice.between(0.25, 1.5));
    let top = -job.marks[0].relief.height - truth;
    let hole = if dice.share() < 0.5 {
        rod([facet.x, facet.y, -12.0], [0.0, 0.0, 12.0 + top], radius)
    } else {
        block([facet.x - radius, facet.y - radius, top - 1.0], [facet.x + radius, facet.y + radius, top])
    };
    let part = plate(9.0, &[hole]);
    job.marks[0].seat = trade::SeatRef::on(looking(&part, DVec3::Z));
    known(Check::Wall, Subject::WallLeast, truth, 0.012, job, part)
}

fn wall_added(dice: &mut Dice) -> Known {
    let text = text(dice);
    let (mut job, bare) = on_plate(dice, text);
    job.marks[0].relief.sense = Sense::Raised;
    let high = job.marks[0].relief.height;
    let top = corners(&outcome(&job, bare), &[Role::Top]);
    let facet = dice.one(&top.chunks(3).map(|f| (f[0] + f[1] + f[2]) / 3.0).collect::<Vec<_>>());
    let left = dice.between(1.2, 3.0);
    let hole = rod([facet.x, facet.y, -12.0], [0.0, 0.0, 12.0 - left], dice.between(0.3, 1.5));
    let truth = 100.0 * high / left;
    let part = plate(9.0, &[hole]);
    job.marks[0].seat = trade::SeatRef::on(looking(&part, DVec3::Z));
    known(Check::Wall, Subject::WallAdded, truth, 1.5, job, part)
}

fn gap(dice: &mut Dice) -> Known {
    let (mut job, part) = on_plate(dice, "II");
    job.marks[0].text = dice.one(&["II", "III", "IIII"]).into();
    job.marks[0].lettering.spacing = dice.between(0.3, 1.0);
    let set = lettering::set("II", &job.marks[0].lettering, &[]).unwrap();
    let bounds: Vec<(DVec2, DVec2)> = set.characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    let truth = (bounds[1].0.x - bounds[0].1.x) / (bounds[0].1.x - bounds[0].0.x);
    known(Check::Gap, Subject::Gap, truth, 0.025, job, part)
}

fn stroke_to_relief(dice: &mut Dice) -> Known {
    let (job, part) = on_plate(dice, "I");
    let (low, high) = bar(&job);
    let truth = (high - low) / job.marks[0].relief.height;
    known(Check::StrokeToHeight, Subject::StrokeToHeight, truth, 0.03, job, part)
}

/// A counter is as much narrower at the root as its walls lean. How wide it was set is held to an outside library in
/// `outside/necks.rs`.
fn counter(dice: &mut Dice) -> Known {
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

fn stroke_to_cap(dice: &mut Dice) -> Known {
    let text = dice.one(&["I", "iI", "Ii", "I-I"]);
    let (job, part) = on_plate(dice, text);
    let (low, high) = bar(&job);
    let truth = (high - low) / job.marks[0].lettering.cap_height;
    known(Check::StrokeToCap, Subject::StrokeToCap, truth, 0.004, job, part)
}

fn relief_to_cap(dice: &mut Dice) -> Known {
    let text = text(dice);
    let (job, part) = on_plate(dice, text);
    let truth = job.marks[0].relief.height / job.marks[0].lettering.cap_height;
    known(Check::ReliefHeight, Subject::ReliefToCap, truth, 0.001, job, part)
}

fn word_gap(dice: &mut Dice) -> Known {
    let text = dice.one(&["I I", "II I", "I II", "II II"]);
    let (mut job, part) = on_plate(dice, text);
    job.marks[0].lettering.spacing = dice.between(0.1, 0.8);
    let set = lettering::set("I I", &job.marks[0].lettering, &[]).unwrap();
    let bounds: Vec<(DVec2, DVec2)> = set.characters.iter().map(|c| c.region.bounds().unwrap()).collect();
    // all of them are as broad
    let truth = (bounds[1].0.x - bounds[0].1.x) / (bounds[0].1.x - bounds[0].0.x);
    known(Check::WordGap, Subject::WordGap, truth, 0.025, job, part)
}

fn line_gap(dice: &mut Dice) -> Known {
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
fn island(dice: &mut Dice) -> Known {
    let text = dice.one(&["I", "Ii", "i", "H:", ".I", "L.I"]);
    let (job, part) = on_plate(dice, text);
    let set = lettering::set(text, &job.marks[0].lettering, &[]).unwrap();
    let pieces = set.characters.iter().flat_map(|c| &c.region.islands);
    let area =
        |i: &flat::Island| flat::signed_area(&i.outer) + i.counters.iter().map(|c| flat::signed_area(c)).sum::<f64>();
    let least = pieces.map(area).fold(f64::MAX, f64::min);
    known(Check::Island, Subject::Island, 2.0 * (least / std::f64::consts::PI).sqrt(), 0.008, job, part)
}

fn steel_between(dice: &mut Dice) -> Known {
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

fn steel_of_letters(dice: &mut Dice) -> Known {
    let text = dice.one(&["I", "II", "III"]);
    let (mut job, part) = on_plate(dice, text);
    job.marks[0].relief.sense = Sense::Sunken;
    let (low, high) = bar(&job);
    known(Check::Steel, Subject::SteelOfLetters, high - low, 0.006, job, part)
}

/// Makes so many jobs of each kind and judges each twice; what was told wrongly.
fn campaign(each: u64, seed: u64) -> Vec<String> {
    let mut wrong = Vec::new();
    for (k, (kind, make)) in KINDS.iter().enumerate() {
        for n in 0..each {
            let own = seed.wrapping_mul(1_000_003).wrapping_add(1_000 * k as u64 + n);
            let Known { check, subject, truth, by, mut job, part } = make(&mut Dice(own));
            let limit = job.limit_set().limit(subject);
            let past = if limit.side == Side::AtLeast { 1.0 } else { -1.0 };
            let bench = Bench::new(part);
            for (value, state) in
                [(truth + past * by, State::Fails), (truth - past * (by + limit.margin), State::Passes)]
            {
                job.own_limits.retain(|own| own.subject != subject);
                // heights are judged by their angle as well, which isn't what is asked here
                job.own_limits.retain(|own| own.subject != Subject::ReadingAngle);
                job.own_limits.push(OwnLimit { subject: Subject::ReadingAngle, value: 0.0, source: String::new() });
                job.own_limits.push(OwnLimit { subject, value: value.max(0.0), source: "made".into() });
                let outcome = bench.outcome(&job, Scope::NearMarks);
                assert_eq!(outcome.marks[0].problem, None, "{kind} {own}");
                let finding = of(&outcome, check);
                if finding.state != state {
                    wrong.push(format!(
                        "{kind} {own}: {truth:.4} against {value:.4}: {:?}, {}",
                        finding.state, finding.sentence
                    ));
                }
            }
        }
    }
    wrong
}

#[test]
fn what_is_wrong_by_a_little_is_told_and_its_sound_twin_passes() {
    let wrong = campaign(4, 1);
    assert!(wrong.is_empty(), "{} told wrongly:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
#[ignore = "long: some minutes"]
fn of_a_thousand_defects_and_their_twins_none_is_told_wrongly() {
    let each = 1_000_u64.div_ceil(KINDS.len() as u64);
    let wrong = campaign(each, 2);
    println!(
        "{} jobs, each judged twice: {} told wrongly\n{}",
        each * KINDS.len() as u64,
        wrong.len(),
        wrong.join("\n")
    );
    assert!(wrong.is_empty());
}
