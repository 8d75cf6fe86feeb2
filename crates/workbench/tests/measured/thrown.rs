//! Parts and marks by numbers that look thrown.

use crate::made::*;
pub use demo::Dice;
use glam::{DVec2, DVec3};
use relief::Role;
use trade::{Job, Sense};

pub fn sense(dice: &mut Dice) -> Sense {
    dice.one(&[Sense::Raised, Sense::Sunken])
}

/// One to three upright letters with flat ends; where in the text the place lies that matters is thrown.
pub fn text(dice: &mut Dice) -> &'static str {
    dice.one(&["I", "HI", "IH", "HIE", "LIT"])
}

pub fn on_plate(dice: &mut Dice, text: &str) -> (Job, solid::Part) {
    let part = plate(dice.between(5.0, 9.0), &[]);
    let top = looking(&part, DVec3::Z);
    let mut m = mark(text, top, dice.between(2.5, 6.0), sense(dice));
    m.relief.height = dice.between(0.25, 0.6);
    (job(vec![m], vec![]), part)
}

/// Letters round or along a shaft or a bore, and how long what runs round it is on their level, as a share.
pub fn on_round(dice: &mut Dice, text: &str) -> (Job, solid::Part, f64) {
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
    let mut m = mark(text, face, dice.between(1.5, 2.5), sense(dice));
    m.relief.height = dice.between(0.2, 0.5);
    m.place.turn = dice.one(&[0.0, 90.0]);
    m.lettering.spacing = 0.3;
    let outward = (m.relief.sense == Sense::Raised) != bore;
    let share = (radius + if outward { m.relief.height } else { -m.relief.height }) / radius;
    (job(vec![m], vec![]), part, share)
}

/// Do the letters stand along the axis? Read off the solid: their extent along it is the height that was set.
pub fn along_axis(job: &Job, part: &solid::Part) -> bool {
    let tops = corners(&outcome(job, part.clone()), &[Role::Top, Role::Floor]);
    let (low, high) = extent(&tops, DVec3::X);
    (high - low - job.marks[0].lettering.cap_height).abs() < 0.003
}

/// Width of the I of a text as it was set.
pub fn bar(job: &Job) -> (f64, f64) {
    let set = lettering::set("I", &job.marks[0].lettering, &[]).unwrap();
    let (low, high) = set.characters[0].region.bounds().unwrap();
    (low.x, high.x)
}

/// Letters about the top of a dome, or of the hollow of a bowl, and how long what lies on their level is, as a share.
pub fn on_sphere(dice: &mut Dice, text: &str) -> (Job, solid::Part, f64) {
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
    let mut m = mark(text, face, dice.between(1.5, 2.5), sense(dice));
    m.relief.height = dice.between(0.2, 0.5);
    m.place.turn = dice.between(0.0, 360.0);
    let outward = (m.relief.sense == Sense::Raised) != hollow;
    let share = (radius + if outward { m.relief.height } else { -m.relief.height }) / radius;
    (job(vec![m], vec![]), part, share)
}
