//! Jobs on cones, tori and a wave whose drafts, walls and distances are known from the formula of the seat and from where
//! the letter's outline lies on the marked solid.

use crate::{
    known::{Known, known},
    made::*,
    thrown::*,
};
use glam::{DVec2, DVec3};
use inspection::Check;
use relief::{Role, Tag};
use solid::{Mesh, Part, Surface};
use trade::{Area, Job, KeepOut, KeepOutKind, OwnLimit, Parting, Relief, Sense, limits::Subject};
use workbench::Outcome;

/// A part with a seat of which the formula is known.
struct Ground {
    part: Part,
    face: u32,
    seat: Seat,
}

/// The seats; lengths in mm, part coordinates.
#[derive(Clone, Copy)]
enum Seat {
    /// About the x axis: its radius at x = 0, and by how much it gets less along x.
    Cone { radius: f64, taper: f64 },
    /// About the z axis.
    Torus { ring: f64, tube: f64 },
    /// z = high · cos(x / long) · cos(y / broad).
    Wave { high: f64, long: f64, broad: f64 },
}

impl Seat {
    /// How far a place lies off the seat, to the first order, and the direction in which that grows.
    fn off(self, p: DVec3) -> (f64, DVec3) {
        let (value, slope) = match self {
            Self::Cone { radius, taper } => {
                let round = p.y.hypot(p.z);
                (round - radius + taper * p.x, DVec3::new(taper, p.y / round, p.z / round))
            }
            Self::Torus { ring, tube } => {
                let round = p.x.hypot(p.y);
                let from = p - DVec3::new(p.x, p.y, 0.0) * (ring / round);
                (from.length() - tube, from.normalize())
            }
            Self::Wave { high, long, broad } => {
                let (x, y) = (p.x / long, p.y / broad);
                let slope = DVec3::new(high / long * x.sin() * y.cos(), high / broad * x.cos() * y.sin(), 1.0);
                (p.z - high * x.cos() * y.cos(), slope)
            }
        };
        (value / slope.length(), slope.normalize())
    }

    /// The place of the seat under `p`.
    fn foot(self, p: DVec3) -> DVec3 {
        (0..8).fold(p, |at, _| {
            let (off, up) = self.off(at);
            at - off * up
        })
    }

    fn normal(self, p: DVec3) -> DVec3 {
        self.off(self.foot(p)).1
    }

    /// Places of the seat at a height, less than 6 mm from `near` along x or along y, by steps of 0.02 mm either way.
    fn at_height(self, height: f64, near: DVec3) -> Vec<DVec3> {
        let steps = || (-300..=300).map(|k| 0.02 * f64::from(k));
        let (x, y) = (near.x, near.y);
        let mut places = Vec::new();
        let mut put = |x: f64, y: f64| places.push(DVec3::new(x, y, height));
        match self {
            Self::Cone { radius, taper } => {
                for s in steps() {
                    let across = (radius - taper * (x + s)).powi(2) - height * height;
                    if across > 0.0 {
                        put(x + s, across.sqrt());
                        put(x + s, -across.sqrt());
                    }
                    put((radius - height.hypot(y + s)) / taper, y + s);
                }
            }
            Self::Torus { ring, tube } => {
                let across = (tube * tube - height * height).sqrt();
                for round in [ring - across, ring + across] {
                    for s in steps() {
                        let at = DVec2::from_angle(y.atan2(x) + s / round) * round;
                        put(at.x, at.y);
                    }
                }
            }
            Self::Wave { high, long, broad } => {
                for s in steps() {
                    let other = |at: f64, is: f64, of: f64| {
                        Some(height / high / (at / is).cos()).filter(|c| c.abs() <= 1.0).map(|c| c.acos() * of)
                    };
                    if let Some(y) = other(x + s, long, broad) {
                        put(x + s, y);
                        put(x + s, -y);
                    }
                    if let Some(x) = other(y + s, broad, long) {
                        put(x, y + s);
                        put(-x, y + s);
                    }
                }
            }
        }
        places
    }
}

fn ground(dice: &mut Dice) -> Ground {
    let (mesh, seat): (Mesh, Seat) = match dice.one(&[0, 1, 2]) {
        0 => {
            let (wide, slim, long) = (dice.between(12.0, 18.0), dice.between(6.0, 10.0), dice.between(18.0, 30.0));
            let profile = [(0.0, 0.0), (wide, 0.0), (slim, long), (0.0, long)].map(|(x, y)| DVec2::new(x, y));
            let mut mesh = demo::shapes::turned(&profile);
            // z becomes x
            mesh.vertices.iter_mut().for_each(|p| *p = DVec3::new(p.z, p.x, p.y));
            (mesh, Seat::Cone { radius: wide, taper: (wide - slim) / long })
        }
        1 => {
            let (ring, tube) = (dice.between(18.0, 26.0), dice.between(6.0, 10.0));
            let mut section = demo::shapes::arc(DVec2::new(ring, 0.0), tube, -180.0, 180.0);
            section.pop();
            (demo::shapes::turned(&section), Seat::Torus { ring, tube })
        }
        _ => {
            let seat = (dice.between(2.0, 3.0), dice.between(9.0, 12.0), dice.between(7.0, 9.0));
            (demo::shapes::waved_block(seat), Seat::Wave { high: seat.0, long: seat.1, broad: seat.2 })
        }
    };
    let part = Part::from_mesh(&mesh).unwrap();
    let wanted = |s: &Surface| match seat {
        Seat::Cone { .. } => matches!(s, Surface::Cone { .. }),
        Seat::Torus { .. } => matches!(s, Surface::Torus { .. }),
        Seat::Wave { .. } => matches!(s, Surface::Freeform),
    };
    let face = part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32;
    Ground { part, face, seat }
}

fn bar_on(dice: &mut Dice, ground: &Ground) -> Job {
    let mut m = mark("I", ground.face, dice.between(1.8, 2.5), sense(dice));
    m.relief.height = 0.3;
    m.place.turn = dice.between(0.0, 360.0);
    job(vec![m], vec![])
}

/// Edges of the facets of the first mark that have one of these roles, each once, in the order of its facet; inner
/// ones are left out.
fn outline(outcome: &Outcome, roles: &[Role]) -> Vec<[DVec3; 2]> {
    let solid = &outcome.groups[0].solid;
    let wanted = |t: &usize| matches!(solid.tags[*t], Tag::Relief { role, .. } if roles.contains(&role));
    let edges: Vec<[u32; 2]> = (0..solid.tags.len())
        .filter(wanted)
        .flat_map(|t| {
            let [a, b, c] = solid.mesh.triangles[t];
            [[a, b], [b, c], [c, a]]
        })
        .collect();
    let all: std::collections::HashSet<[u32; 2]> = edges.iter().copied().collect();
    let free = edges.into_iter().filter(|[a, b]| !all.contains(&[*b, *a]));
    free.map(|e| e.map(|v| solid.mesh.vertices[v as usize])).collect()
}

/// Where the walls of the first mark meet the seat.
fn feet(outcome: &Outcome, seat: Seat) -> Vec<[DVec3; 2]> {
    let edges = outline(outcome, &[Role::Wall]);
    let on = |p: &DVec3| seat.off(*p).0.abs() < 0.05;
    edges.into_iter().filter(|e| e.iter().all(on)).collect()
}

fn middle(edges: &[[DVec3; 2]]) -> DVec3 {
    edges.iter().map(|e| e[0]).sum::<DVec3>() / edges.len() as f64
}

/// A wall of draft α runs from the outline down to the seat of a raised letter, or up to it, along h · (∓n + tan α · ν), n the
/// seat's normal at the outline, ν away from the letter along the seat: it is ruled, and turns from outline to root where
/// the seat bends both ways.
pub fn draft_on_every_seat(dice: &mut Dice) -> Known {
    let ground = ground(dice);
    let mut job = bar_on(dice, &ground);
    job.marks[0].relief.draft = dice.between(12.0, 18.0);
    let Relief { draft, height, sense, .. } = job.marks[0].relief;
    let ends = |job: &Job| outline(&outcome(job, ground.part.clone()), &[Role::Top, Role::Floor]);
    let pull = ground.seat.normal(middle(&ends(&job)));
    // where the strip begins depends on it
    job.tool.pull = Some(pull.to_array());
    let edges = ends(&job);
    let down = if sense == Sense::Raised { -1.0 } else { 1.0 };
    let drafts = edges.iter().flat_map(|&[a, b]| {
        let to_root = |p: DVec3| {
            let up = ground.seat.normal(p);
            let out = (b - a).cross(up).normalize();
            p + height * (down * up + draft.to_radians().tan() * out)
        };
        let (c, d) = (to_root(a), to_root(b));
        [[a, b, c], [b, d, a], [d, c, b], [c, a, d]].map(|[p, q, r]| {
            let across = (q - p).cross(r - p).normalize();
            across.dot(pull).abs().asin().to_degrees()
        })
    });
    let truth = drafts.fold(f64::MAX, f64::min);
    let subject = if sense == Sense::Raised { Subject::Draft } else { Subject::SunkenDraft };
    known(Check::Draft, subject, truth, 0.2, job, ground.part)
}

/// Below the feet, where a plane square to the pull cuts the seat.
pub fn parting_on_every_seat(dice: &mut Dice) -> Known {
    let ground = ground(dice);
    let mut job = bar_on(dice, &ground);
    let feet = feet(&outcome(&job, ground.part.clone()), ground.seat);
    let about = middle(&feet);
    // from the middle towards where the seat falls away
    let down = (ground.seat.normal(about).cross(DVec3::Z).cross(ground.seat.normal(about))).normalize_or(DVec3::Y);
    let down = if down.z > 0.0 { -down } else { down };
    let near = ground.seat.foot(about + dice.between(2.5, 4.0) * down);
    let height = near.z;
    let line = ground.seat.at_height(height, near);
    let truth = line.iter().map(|p| least(&feet, *p)).fold(f64::MAX, f64::min);
    job.tool.parting = vec![Parting::Plane { height }];
    // the part's facets lie up to 0.005 mm inside its seat, which moves the line by as much over the slope
    known(Check::Parting, Subject::Parting, truth, 0.03, job, ground.part)
}

/// The surface within a radius of a place beside the letter.
pub fn keep_out_on_every_seat(dice: &mut Dice) -> Known {
    let ground = ground(dice);
    let mut job = bar_on(dice, &ground);
    let feet = feet(&outcome(&job, ground.part.clone()), ground.seat);
    let about = middle(&feet);
    let up = ground.seat.normal(about);
    let out = up.any_orthonormal_vector() * dice.one(&[-1.0, 1.0]);
    let (radius, away) = (dice.between(0.2, 1.0), dice.between(2.5, 4.0));
    let at = ground.seat.foot(about + (away + radius) * out);
    let (u, v) = ground.seat.normal(at).any_orthonormal_pair();
    let rim = (0..1_000).map(|k| {
        let (sine, cosine) = (std::f64::consts::TAU * f64::from(k) / 1_000.0).sin_cos();
        (0..8).fold(at + radius * (cosine * u + sine * v), |p, _| at + radius * (ground.seat.foot(p) - at).normalize())
    });
    let truth = rim.map(|p| least(&feet, p)).fold(f64::MAX, f64::min);
    let kind = dice.one(&[KeepOutKind::Gate, KeepOutKind::EjectorPin, KeepOutKind::Sealing]);
    let area = Area::Circle { middle: at.to_array(), radius };
    job.tool.keep_outs = vec![KeepOut { name: "kept".into(), kind, area, margin: None }];
    known(Check::KeepOuts, kind.subject(), truth, 0.012, job, ground.part)
}

/// A ball that is hollow under any place of the floor.
pub fn hollow_under_every_seat(dice: &mut Dice) -> Known {
    let ground = ground(dice);
    let mut job = bar_on(dice, &ground);
    job.marks[0].relief.sense = Sense::Sunken;
    // the share that is left is not what is asked here
    job.own_limits.push(OwnLimit { subject: Subject::WallLeft, value: 0.0, source: String::new() });
    let floor = corners(&outcome(&job, ground.part.clone()), &[Role::Floor]);
    let facets: Vec<[DVec3; 3]> = floor.chunks(3).map(|f| [f[0], f[1], f[2]]).collect();
    let [a, b, c] = dice.one(&facets);
    let over = (a + b + c) / 3.0;
    let (left, radius) = (dice.between(0.95, 1.6), dice.between(0.8, 1.5));
    let middle = over - (left + radius) * ground.seat.normal(over);
    // places of each facet, a twentieth of it apart
    let steps = (0..=20).flat_map(|i| (0..=20 - i).map(move |k| (f64::from(i) / 20.0, f64::from(k) / 20.0)));
    let places = facets.iter().flat_map(|&[a, b, c]| steps.clone().map(move |(s, t)| a + s * (b - a) + t * (c - a)));
    let truth = places.map(|p| p.distance(middle)).fold(f64::MAX, f64::min) - radius;
    let section: Vec<DVec2> = demo::shapes::arc(DVec2::ZERO, radius, -90.0, 90.0);
    let mut ball = demo::shapes::turned(&section);
    ball.vertices.iter_mut().for_each(|p| *p += middle);
    let part = part(&body(&ground.part.mesh).with(&[], &[body(&ball)]).unwrap());
    let like = ground.part.faces[ground.face as usize].surface.clone();
    let same = |f: &solid::part::Face| std::mem::discriminant(&f.surface) == std::mem::discriminant(&like);
    let face = part.faces.iter().position(same).unwrap() as u32;
    job.marks[0].seat = trade::SeatRef::on(face);
    known(Check::Wall, Subject::WallLeast, truth, 0.02, job, part)
}

/// Least distance of `p` from edges.
fn least(edges: &[[DVec3; 2]], p: DVec3) -> f64 {
    edges.iter().map(|&ends| solid::segment::distance(p, ends)).fold(f64::MAX, f64::min)
}
