//! Jobs whose distances to what stands round a mark, and whose walls, are known.

use crate::{
    known::{Known, known},
    made::*,
    thrown::*,
};
use glam::DVec3;
use inspection::Check;
use relief::Role;
use trade::{Area, KeepOut, KeepOutKind, OwnLimit, Parting, Sense, Tie, limits::Subject};
/// What is left between a floor and a bore is the difference of their radii.
pub fn wall_of_a_tube(dice: &mut Dice) -> Known {
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
pub fn clearance_on_a_tube(dice: &mut Dice) -> Known {
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

pub fn clearance(dice: &mut Dice) -> Known {
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

pub fn clearance_to_mark(dice: &mut Dice) -> Known {
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

pub fn parting(dice: &mut Dice) -> Known {
    let block = part(&block([0.0; 3], [60.0, 30.0, 20.0]));
    let mut m = mark(text(dice), looking(&block, -DVec3::Y), dice.between(2.5, 5.0), sense(dice));
    m.relief.draft = dice.between(0.0, 6.0);
    let feet = dice.between(5.0, 9.0);
    m.place.up = Tie::FromStart { distance: feet };
    let height = dice.between(1.0, 4.0);
    let truth = feet - m.relief.height * m.relief.draft.to_radians().tan() - height;
    known(Check::Parting, Subject::Parting, truth, 0.005, job(vec![m], vec![Parting::Plane { height }]), block)
}

pub fn keep_out(dice: &mut Dice) -> Known {
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
pub fn wall(dice: &mut Dice) -> Known {
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

pub fn wall_added(dice: &mut Dice) -> Known {
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

/// A plane parts a shaft along two straight lines: the nearest of the letters' feet, read off the solid, to the nearer line.
pub fn parting_on_a_shaft(dice: &mut Dice) -> Known {
    let radius = dice.between(8.0, 20.0);
    let part = part(&rod([0.0; 3], [40.0, 0.0, 0.0], radius));
    let mut m = mark(text(dice), round(&part), dice.between(1.5, 2.5), sense(dice));
    m.relief.height = 0.3;
    m.place.turn = dice.one(&[0.0, 90.0]);
    let mut job = job(vec![m], vec![]);
    let feet = corners(&outcome(&job, part.clone()), &[Role::Wall]);
    let feet: Vec<DVec3> = feet.into_iter().filter(|p| (p.y.hypot(p.z) - radius).abs() < 0.05).collect();
    let lowest = extent(&feet, DVec3::Z).0;
    // where the shaft is so flat that its facets move the line is not what is asked
    let height = (lowest - dice.between(0.8, 3.0)).min(0.5 * radius);
    let line = (radius * radius - height * height).sqrt();
    let truth = feet.iter().map(|p| (p.y.abs() - line).hypot(p.z - height)).fold(f64::MAX, f64::min);
    job.tool.parting = vec![Parting::Plane { height }];
    known(Check::Parting, Subject::Parting, truth, 0.012, job, part)
}

/// A keep-out further along the same line of a shaft.
pub fn keep_out_on_a_shaft(dice: &mut Dice) -> Known {
    let round_radius = dice.between(6.0, 20.0);
    let part = part(&rod([0.0; 3], [40.0, 0.0, 0.0], round_radius));
    let mut m = mark("I", round(&part), dice.between(1.5, 2.5), sense(dice));
    m.relief.height = 0.3;
    m.place.turn = dice.one(&[0.0, 90.0, 180.0]);
    let mut job = job(vec![m], vec![]);
    let all = corners(&outcome(&job, part.clone()), &[Role::Wall]);
    let (_, side) = extent(&all, DVec3::X);
    let (low, high) = extent(&all, DVec3::Y);
    let across = dice.between(low, high);
    let (radius, truth) = (dice.between(0.2, 1.0), dice.between(0.7, 3.0));
    let middle = [side + truth + radius, across, (round_radius * round_radius - across * across).sqrt()];
    let kind = dice.one(&[KeepOutKind::Gate, KeepOutKind::EjectorPin, KeepOutKind::Sealing]);
    job.tool.keep_outs =
        vec![KeepOut { name: "kept".into(), kind, area: Area::Circle { middle, radius }, margin: None }];
    known(Check::KeepOuts, kind.subject(), truth, 0.012, job, part)
}
