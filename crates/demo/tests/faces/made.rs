//! Kinds of parts with known faces, their sizes thrown.

use crate::labelled::{Labelled, Piece, Truth, drawn, lathe, sheet};
use demo::Dice;
use glam::{DMat3, DVec2, DVec3};
use solid::{Mesh, Surface};
use std::collections::HashMap;
use std::f64::consts::{FRAC_PI_2, PI};

/// A kind of part, and a part of it with so many facets a turn.
pub type Kind = (&'static str, fn(&mut Dice, u32) -> Labelled);

fn at(x: f64, y: f64) -> DVec2 {
    DVec2::new(x, y)
}

/// Cylinder, cone, cylinder, cone …, meeting at 5 to 40°.
fn stepped(dice: &mut Dice, sides: u32) -> Labelled {
    let (mut p, mut lean) = (at(dice.between(8.0, 30.0), 0.0), 0.0_f64);
    let start = at(0.0, 0.0);
    let mut pieces = vec![Piece::Line(p)];
    for k in 0..3 {
        let long = dice.between(3.0, 18.0);
        let next = p + at(lean.to_radians().tan() * long, long);
        let next = if next.x < 4.0 { at(4.0 + 0.5 * f64::from(k), next.y) } else { next };
        pieces.push(Piece::Line(next));
        p = next;
        let turn = dice.between(5.0, 40.0) * dice.one(&[-1.0, 1.0]);
        lean = if lean == 0.0 {
            turn
        } else if dice.share() < 0.5 {
            0.0
        } else {
            -lean
        };
    }
    pieces.push(Piece::Line(at(0.0, p.y)));
    lathe(start, &pieces, sides, dice.one(&[1, 1, 3]))
}

/// A bar with chamfered rims and a bore.
fn chamfered(dice: &mut Dice, sides: u32) -> Labelled {
    let (r, h, c) = (dice.between(8.0, 25.0), dice.between(6.0, 40.0), dice.between(0.4, 2.0));
    let (lean, bore) = (dice.between(0.4, 1.2), dice.between(1.5, 4.0));
    let pieces = [
        Piece::Line(at(r - c * lean, 0.0)),
        Piece::Line(at(r, c)),
        Piece::Line(at(r, h - c)),
        Piece::Line(at(r - c * lean, h)),
        Piece::Line(at(bore + c, h)),
        Piece::Line(at(bore, h - c)),
        Piece::Line(at(bore, h / 2.0)),
        Piece::Line(at(0.0, h / 2.0)),
    ];
    lathe(at(0.0, 0.0), &pieces, sides, dice.one(&[1, 2, 4]))
}

/// A flange, a fillet, a hub, a rounded rim.
fn filleted(dice: &mut Dice, sides: u32) -> Labelled {
    let (r, hub, f) = (dice.between(25.0, 40.0), dice.between(8.0, 14.0), dice.between(1.0, 6.0));
    let (low, high, rim) = (dice.between(3.0, 8.0), dice.between(24.0, 40.0), dice.between(1.0, 4.0));
    let pieces = [
        Piece::Line(at(r, 0.0)),
        Piece::Line(at(r, low)),
        Piece::Line(at(hub + f, low)),
        Piece::Arc(at(hub + f, low + f), -FRAC_PI_2),
        Piece::Line(at(hub, high - rim)),
        Piece::Arc(at(hub - rim, high - rim), FRAC_PI_2),
        Piece::Line(at(0.0, high)),
    ];
    lathe(at(0.0, 0.0), &pieces, sides, dice.one(&[1, 1, 3]))
}

/// A dome on a drum, or a ball.
fn domed(dice: &mut Dice, sides: u32) -> Labelled {
    let r = dice.between(6.0, 40.0);
    if dice.share() < 0.3 {
        return lathe(at(0.0, -r), &[Piece::Arc(DVec2::ZERO, PI)], sides, 1);
    }
    let deep = dice.between(0.0, 0.8) * r;
    let rim = (r * r - deep * deep).sqrt();
    let h = dice.between(2.0, 20.0);
    let by = (rim / r).atan2(deep / r);
    let by = (rim.atan2(deep)).max(by);
    let pieces = [Piece::Line(at(rim, 0.0)), Piece::Line(at(rim, h)), Piece::Arc(at(0.0, h - deep), by)];
    lathe(at(0.0, 0.0), &pieces, sides, 1)
}

/// A cone to its tip on a drum or without one, solid or hollow.
fn pointed(dice: &mut Dice, sides: u32) -> Labelled {
    let (r, h) = (dice.between(6.0, 30.0), dice.between(4.0, 60.0));
    let drum = if dice.share() < 0.5 { 0.0 } else { dice.between(3.0, 20.0) };
    let lines = if dice.share() < 0.5 { 1 } else { 3 };
    let line = |x: f64, y: f64| Piece::Line(at(x, y));
    if dice.share() < 0.3 {
        // from below, a drill's tip in a block
        let (wide, tall) = (r + dice.between(2.0, 10.0), h + dice.between(2.0, 10.0));
        return lathe(at(0.0, h), &[line(r, 0.0), line(wide, 0.0), line(wide, tall), line(0.0, tall)], sides, lines);
    }
    let mut pieces = vec![line(r, 0.0)];
    if drum > 0.0 {
        pieces.push(line(r, drum));
    }
    pieces.push(line(0.0, drum + h));
    lathe(at(0.0, 0.0), &pieces, sides, lines)
}

/// A barrel, a vase, an ogive: profiles that are no circle's.
fn bellied(dice: &mut Dice, sides: u32) -> Labelled {
    let (r, h) = (dice.between(10.0, 25.0), dice.between(25.0, 60.0));
    let [a, b] = [0; 2].map(|_| r * dice.between(0.8, 1.6));
    let top = r * dice.between(0.4, 1.0);
    let curve = Piece::Curve([at(a, h * dice.between(0.2, 0.4)), at(b, h * dice.between(0.6, 0.8))], at(top, h));
    lathe(at(0.0, 0.0), &[Piece::Line(at(r, 0.0)), curve, Piece::Line(at(0.0, h))], sides, 1)
}

/// A barrel whose belly is an arc about a place far beyond its axis: a spindle torus with no tube of its own.
fn barrel(dice: &mut Dice, sides: u32) -> Labelled {
    let (r, bend) = (dice.between(10.0, 30.0), dice.between(60.0, 200.0));
    let h = dice.between(20.0, 50.0);
    let middle = at(r - bend, h / 2.0);
    let from = at(middle.x + (bend * bend - h * h / 4.0).sqrt(), 0.0);
    let by = 2.0 * (h / 2.0 / bend).asin();
    // eight chords along at least, as a chord error asks for
    let sides = sides.max((8.0 * std::f64::consts::TAU / by).ceil() as u32);
    let pieces = [Piece::Line(from), Piece::Arc(middle, by), Piece::Line(at(0.0, h))];
    lathe(at(0.0, 0.0), &pieces, sides, 1)
}

/// A ring.
fn ring(dice: &mut Dice, sides: u32) -> Labelled {
    let (major, minor) = (dice.between(12.0, 40.0), dice.between(2.0, 9.0));
    // a hub holds it: the half-section is one line from axis to axis
    let low = minor * 0.5;
    let half = (low / minor).asin();
    let reach = minor * half.cos();
    let pieces = [
        Piece::Line(at(major - reach, -low)),
        Piece::Arc(at(major, 0.0), 2.0 * (PI - half)),
        Piece::Line(at(0.0, low)),
    ];
    lathe(at(0.0, -low), &pieces, sides, 1)
}

/// Flats that meet at 4 to 30°, and square ends.
fn roof(dice: &mut Dice, _: u32) -> Labelled {
    let (mut p, mut slope) = (at(dice.between(40.0, 60.0), 0.0), 90.0_f64);
    let mut pieces = vec![Piece::Line(p)];
    let mut next = p + at(0.0, dice.between(8.0, 15.0));
    pieces.push(Piece::Line(next));
    p = next;
    slope += dice.between(40.0, 60.0);
    for _ in 0..3 {
        next = p + DVec2::from_angle(slope.to_radians()) * dice.between(6.0, 14.0);
        if next.x < 2.0 {
            break;
        }
        pieces.push(Piece::Line(next));
        p = next;
        slope += dice.between(4.0, 30.0);
    }
    pieces.push(Piece::Line(at(0.0, p.y)));
    pieces.push(Piece::Line(DVec2::ZERO));
    drawn(DVec2::ZERO, &pieces, dice.between(10.0, 40.0), dice.one(&[1, 1, 4]), 36)
}

/// A block with rounded edges.
fn rounded(dice: &mut Dice, sides: u32) -> Labelled {
    let (w, h, r) = (dice.between(20.0, 50.0), dice.between(15.0, 30.0), dice.between(1.0, 6.0));
    let pieces = [
        Piece::Line(at(w - r, 0.0)),
        Piece::Arc(at(w - r, r), FRAC_PI_2),
        Piece::Line(at(w, h - r)),
        Piece::Arc(at(w - r, h - r), FRAC_PI_2),
        Piece::Line(at(r, h)),
        Piece::Arc(at(r, h - r), FRAC_PI_2),
        Piece::Line(at(0.0, 0.0)),
    ];
    drawn(DVec2::ZERO, &pieces, dice.between(5.0, 40.0), dice.one(&[1, 2, 5]), sides)
}

/// A cam: bends that are no circle's, drawn.
fn cam(dice: &mut Dice, sides: u32) -> Labelled {
    let (w, h) = (dice.between(30.0, 60.0), dice.between(14.0, 30.0));
    let top =
        Piece::Curve([at(w * 0.7, h * dice.between(0.9, 1.6)), at(w * 0.3, h * dice.between(0.5, 1.4))], at(0.0, h));
    let pieces = [Piece::Line(at(w, 0.0)), Piece::Line(at(w, h)), top, Piece::Line(DVec2::ZERO)];
    drawn(DVec2::ZERO, &pieces, dice.between(8.0, 30.0), dice.one(&[1, 1, 3]), sides)
}

fn saddle(dice: &mut Dice, sides: u32) -> Labelled {
    let size = at(dice.between(40.0, 60.0), dice.between(30.0, 50.0));
    let [a, b, c, d] = [0; 4].map(|_| dice.between(-1.0, 1.0));
    let deep = dice.between(2.0, 6.0);
    let top = move |x: f64, y: f64| {
        let (u, v) = (2.0 * x / size.x - 1.0, 2.0 * y / size.y - 1.0);
        deep * (u * u - v * v + 0.4 * (a * u * u * v + b * u * v * v + c * u.powi(3) + d * v.powi(3)))
    };
    let fields = [(sides / 2).clamp(10, 100), (sides / 3).clamp(8, 70)];
    sheet(size, fields, dice.one(&[0.0, 0.0, 0.35]), dice, top, Truth::Freeform)
}

fn waves(dice: &mut Dice, sides: u32) -> Labelled {
    let size = at(60.0, 40.0);
    let (deep, p, q) = (dice.between(1.0, 4.0), dice.between(7.0, 14.0), dice.between(7.0, 14.0));
    let top = move |x: f64, y: f64| deep * (x / p).sin() * (y / q + 0.4).cos();
    let fields = [sides.clamp(36, 180), (sides / 2).clamp(24, 120)];
    sheet(size, fields, dice.one(&[0.0, 0.3]), dice, top, Truth::Freeform)
}

/// A stretch of a ball on a mesh of its own.
fn ball_on_sheet(dice: &mut Dice, sides: u32) -> Labelled {
    let size = at(40.0, 40.0);
    let r = dice.between(40.0, 90.0);
    let middle = size / 2.0;
    let centre = middle.extend(-(r * r - 2.0 * middle.length_squared() / 2.0).sqrt());
    let top = move |x: f64, y: f64| (r * r - at(x, y).distance_squared(middle)).sqrt() + centre.z;
    let n = sides.clamp(12, 120);
    let truth = Truth::On(Surface::Sphere { centre, radius: r, inside: false });
    sheet(size, [n, n], dice.one(&[0.0, 0.35]), dice, top, truth)
}

/// A body put in place: `turn` applied, then moved.
fn put(mut body: Labelled, turn: DMat3, to: DVec3) -> Labelled {
    for p in &mut body.mesh.vertices {
        *p = turn * *p + to;
    }
    for face in &mut body.faces {
        *face = face.clone().put(turn, to);
    }
    body
}

/// A plate with a boss, a bore, a slot with round ends.
fn plate_with_holes(dice: &mut Dice, sides: u32) -> Labelled {
    let slab = drawn(
        at(-40.0, -25.0),
        &[
            Piece::Line(at(40.0, -25.0)),
            Piece::Line(at(40.0, 25.0)),
            Piece::Line(at(-40.0, 25.0)),
            Piece::Line(at(-40.0, -25.0)),
        ],
        8.0,
        1,
        sides,
    );
    let pin = |r: f64, lean: f64, h: f64| {
        lathe(DVec2::ZERO, &[Piece::Line(at(r, 0.0)), Piece::Line(at(r - lean, h)), Piece::Line(at(0.0, h))], sides, 1)
    };
    let boss =
        put(pin(dice.between(6.0, 10.0), dice.one(&[0.0, 1.5]), 15.0), DMat3::IDENTITY, DVec3::new(-22.0, 3.0, 2.0));
    let bore =
        put(pin(dice.between(2.0, 5.0), 0.0, 30.0), DMat3::IDENTITY, DVec3::new(10.0, dice.between(-8.0, 8.0), -9.0));
    let across =
        put(pin(dice.between(1.0, 2.5), 0.0, 70.0), DMat3::from_rotation_x(FRAC_PI_2), DVec3::new(28.0, 35.0, 4.0));
    slab.with(&boss, true).with(&bore, false).with(&across, false)
}

/// A drum with a hole drilled across it and a flat cut on.
fn drilled_drum(dice: &mut Dice, sides: u32) -> Labelled {
    let (r, h) = (dice.between(15.0, 25.0), 40.0);
    let top = dice.one(&[0.0, 4.0]);
    let drum =
        lathe(DVec2::ZERO, &[Piece::Line(at(r, 0.0)), Piece::Line(at(r - top, h)), Piece::Line(at(0.0, h))], sides, 1);
    let (hole, reach) = (dice.between(1.5, 5.0), r + 5.0);
    let drill = lathe(
        DVec2::ZERO,
        &[Piece::Line(at(hole, 0.0)), Piece::Line(at(hole, 2.0 * reach)), Piece::Line(at(0.0, 2.0 * reach))],
        sides,
        1,
    );
    let drill = put(
        drill,
        DMat3::from_rotation_x(FRAC_PI_2),
        DVec3::new(dice.between(-4.0, 4.0), reach, dice.between(12.0, 25.0)),
    );
    drum.with(&drill, false)
}

/// A drum with ribs or a knurl along it: its surface goes round between and past them.
fn ribbed(dice: &mut Dice, sides: u32) -> Labelled {
    let (r, h) = (dice.between(12.0, 25.0), 40.0);
    let drum = lathe(DVec2::ZERO, &[Piece::Line(at(r, 0.0)), Piece::Line(at(r, h)), Piece::Line(at(0.0, h))], sides, 1);
    let count = dice.one(&[6, 9, 16]);
    let (wide, from) = (dice.between(0.08, 0.3) * PI * r / f64::from(count), dice.between(0.0, 1.0));
    // no two of them alike: planes of two ribs would be one face in two pieces
    let rib = |k: u32| {
        let wide = wide * (1.0 + 0.02 * f64::from(k));
        let corners = [at(r + 1.0, -wide), at(r + 1.0, wide), at(r - 4.0, wide), at(r - 4.0, -wide)];
        let lines = [corners[1], corners[2], corners[3], corners[0]].map(Piece::Line);
        drawn(corners[0], &lines, 28.0 - 0.2 * f64::from(k), 1, sides)
    };
    (0..count).fold(drum, |drum, k| {
        let turn = DMat3::from_rotation_z(from + 2.0 * PI * f64::from(k) / f64::from(count));
        drum.with(&put(rib(k), turn, DVec3::Z * (5.0 + 0.1 * f64::from(k))), true)
    })
}

/// A dome with a hole through its top and one through its side.
fn drilled_dome(dice: &mut Dice, sides: u32) -> Labelled {
    let r = dice.between(18.0, 35.0);
    let dome = lathe(at(0.0, 0.0), &[Piece::Line(at(r, 0.0)), Piece::Arc(DVec2::ZERO, FRAC_PI_2)], sides.max(24), 1);
    let hole = dice.between(1.5, 4.0);
    let drill = lathe(
        DVec2::ZERO,
        &[Piece::Line(at(hole, 0.0)), Piece::Line(at(hole, 90.0)), Piece::Line(at(0.0, 90.0))],
        sides,
        1,
    );
    let lean = dice.between(0.0, 0.7);
    dome.with(&put(drill, DMat3::from_rotation_y(lean), DVec3::new(dice.between(-3.0, 3.0), 2.0, -20.0)), false)
}

/// A wavy plate with a bore.
fn drilled_waves(dice: &mut Dice, sides: u32) -> Labelled {
    let plate = waves(dice, sides);
    let r = dice.between(1.5, 5.0);
    let bore =
        lathe(DVec2::ZERO, &[Piece::Line(at(r, 0.0)), Piece::Line(at(r, 40.0)), Piece::Line(at(0.0, 40.0))], sides, 1);
    plate
        .with(&put(bore, DMat3::IDENTITY, DVec3::new(dice.between(15.0, 45.0), dice.between(12.0, 28.0), -20.0)), false)
}

/// A geodesic ball: an icosahedron divided `n` times.
fn geodesic(dice: &mut Dice, sides: u32) -> Labelled {
    let golden = (1.0 + 5.0_f64.sqrt()) / 2.0;
    let mut points: Vec<DVec3> = Vec::new();
    for (a, b) in [(1.0, golden), (-1.0, golden), (1.0, -golden), (-1.0, -golden)] {
        points.extend([DVec3::new(0.0, a, b), DVec3::new(a, b, 0.0), DVec3::new(b, 0.0, a)]);
    }
    let mut corners: Vec<[DVec3; 3]> = Vec::new();
    for i in 0..12 {
        for j in i + 1..12 {
            for k in j + 1..12 {
                let [a, b, c] = [points[i], points[j], points[k]];
                if [a.distance(b), b.distance(c), c.distance(a)].iter().all(|d| (d - 2.0).abs() < 1e-9) {
                    let out = (b - a).cross(c - a).dot(a) > 0.0;
                    corners.push(if out { [a, b, c] } else { [a, c, b] });
                }
            }
        }
    }
    let rounds = if sides > 60 {
        4
    } else if sides > 24 {
        3
    } else {
        2
    };
    for _ in 0..rounds {
        let halves = |[a, b, c]: [DVec3; 3]| {
            let [ab, bc, ca] = [a + b, b + c, c + a].map(DVec3::normalize);
            [[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]]
        };
        corners = corners.into_iter().map(|t| t.map(DVec3::normalize)).flat_map(halves).collect();
    }
    let r = dice.between(5.0, 40.0);
    let mut out = Labelled { mesh: Mesh::default(), ..Labelled::default() };
    let face = out.face(Truth::On(Surface::Sphere { centre: DVec3::ZERO, radius: r, inside: false }));
    let mut known: HashMap<[u64; 3], u32> = HashMap::new();
    for t in corners {
        let facet = t.map(|p| {
            let p = p.normalize() * r;
            *known.entry(p.to_array().map(f64::to_bits)).or_insert_with(|| {
                out.mesh.vertices.push(p);
                out.mesh.vertices.len() as u32 - 1
            })
        });
        out.facet(facet, face);
    }
    out
}

pub const KINDS: [Kind; 20] = [
    ("stepped", stepped),
    ("chamfered", chamfered),
    ("filleted", filleted),
    ("domed", domed),
    ("bellied", bellied),
    ("barrel", barrel),
    ("ring", ring),
    ("roof", roof),
    ("rounded", rounded),
    ("cam", cam),
    ("saddle", saddle),
    ("waves", waves),
    ("ball on a sheet", ball_on_sheet),
    ("plate with holes", plate_with_holes),
    ("drilled drum", drilled_drum),
    ("drilled dome", drilled_dome),
    ("drilled waves", drilled_waves),
    ("geodesic", geodesic),
    ("ribbed drum", ribbed),
    ("pointed", pointed),
];
