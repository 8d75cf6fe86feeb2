//! A part for each kind of seat, with the formula that an outside program needs.

use demo::shapes::{arc, cylinder, prism, turned};
use glam::{DVec2, DVec3};
use serde_json::{Value, json};
use solid::{Mesh, Surface};
use trade::SeatRef;

pub(super) struct Ground {
    pub kind: &'static str,
    pub mesh: Mesh,
    pub pull: DVec3,
    /// What `above.py` knows the seat by.
    pub formula: Value,
    wanted: fn(&Surface) -> bool,
}

impl Ground {
    /// The seat: the largest face of its kind; over the crease the two flats.
    pub fn seat(&self, part: &solid::Part) -> SeatRef {
        let faces = (0..part.faces.len()).filter(|&f| (self.wanted)(&part.faces[f].surface));
        let mut faces: Vec<usize> = faces.collect();
        faces.sort_by(|&a, &b| part.faces[b].area.total_cmp(&part.faces[a].area));
        let face = faces[0] as u32;
        SeatRef { face, with: if self.kind == "crease" { vec![faces[1] as u32] } else { Vec::new() } }
    }
}

/// A roof of two flats that fall by `lean` degrees from a ridge along y at z = 0, over a flat foot.
fn roof(lean: f64) -> Mesh {
    let (half, long) = (14.0, 20.0);
    let eaves = -half * lean.to_radians().tan();
    let profile = [(-half, -24.0), (half, -24.0), (half, eaves), (0.0, 0.0), (-half, eaves)];
    let n = profile.len() as u32;
    let vertices: Vec<DVec3> = [-long, long].iter().flat_map(|&y| profile.map(|(x, z)| DVec3::new(x, y, z))).collect();
    let ends = (1..n - 1).flat_map(|k| [[0, k, k + 1], [n, n + k + 1, n + k]]);
    let sides = (0..n).flat_map(|k| {
        let (a, b) = (k, (k + 1) % n);
        [[a, n + a, n + b], [a, n + b, b]]
    });
    let mesh = Mesh { vertices, triangles: ends.chain(sides).collect() };
    assert!(mesh.volume() != 0.0);
    if mesh.volume() > 0.0 {
        mesh
    } else {
        Mesh { triangles: mesh.triangles.iter().map(|t| [t[0], t[2], t[1]]).collect(), ..mesh }
    }
}

pub(super) fn grounds() -> Vec<Ground> {
    let of = |points: &[(f64, f64)]| points.iter().map(|&(r, z)| DVec2::new(r, z)).collect::<Vec<_>>();
    let dome: Vec<DVec2> = of(&[(0.0, 0.0)]).into_iter().chain(arc(DVec2::ZERO, 25.0, 0.0, 90.0)).collect();
    let mut ring = arc(DVec2::new(24.0, 0.0), 8.0, -180.0, 180.0);
    ring.pop();
    let lever = demo::parts::shut_off_lever();
    let cone = of(&[(0.0, 0.0), (12.0, 0.0), (6.0, 20.0), (0.0, 20.0)]);
    let tube = of(&[(9.0, 0.0), (14.0, 0.0), (14.0, 30.0), (9.0, 30.0)]);
    // Ø 50 at its waist, bellied by an arc of R 100
    let lean = (20.0_f64 / 100.0).asin().to_degrees();
    let mut barrel = of(&[(0.0, 0.0)]);
    barrel.extend(arc(DVec2::new(-75.0, 20.0), 100.0, -lean, lean));
    barrel.push(DVec2::new(0.0, 40.0));
    // the upper half of an ellipse
    let ellipse = |k: u32| DVec2::from_angle(std::f64::consts::PI * f64::from(k) / 72.0) * DVec2::new(30.0, 16.0);
    let ellipse: Vec<DVec3> = (0..=72).map(ellipse).map(|p| DVec3::new(-p.x, -20.0, p.y)).collect();
    let freeform = json!({"vertices": lever.vertices.iter().map(|v| v.to_array()).collect::<Vec<_>>(), "triangles": lever.triangles});
    let ground = |kind, mesh, pull, mut formula: Value, wanted| {
        formula["kind"] = Value::from(kind);
        Ground { kind, mesh, pull, formula, wanted }
    };
    vec![
        ground(
            "plane",
            demo::parts::plain_block(),
            DVec3::Z,
            json!({"level": 12.0}),
            |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.999),
        ),
        ground("cylinder", cylinder(DVec3::ZERO, DVec3::X * 50.0, 20.0), DVec3::Z, json!({"radius": 20.0}), |s| {
            matches!(s, Surface::Cylinder { .. })
        }),
        ground("bore", turned(&tube), DVec3::Z, json!({"radius": 9.0}), |s| {
            matches!(s, Surface::Cylinder { inside: true, .. })
        }),
        ground("cone", turned(&cone), DVec3::NEG_Y, json!({"foot": 12.0, "top": 6.0, "tall": 20.0}), |s| {
            matches!(s, Surface::Cone { .. })
        }),
        ground("sphere", turned(&dome), DVec3::Z, json!({"radius": 25.0}), |s| matches!(s, Surface::Sphere { .. })),
        ground("torus", turned(&ring), DVec3::Z, json!({"major": 24.0, "minor": 8.0}), |s| {
            matches!(s, Surface::Torus { .. })
        }),
        ground("barrel", turned(&barrel), DVec3::NEG_Y, json!({"waist": 25.0, "bend": 100.0, "tall": 40.0}), |s| {
            matches!(s, Surface::Revolution { .. })
        }),
        ground("ellipse", prism(&ellipse, DVec3::Y * 40.0), DVec3::Z, json!({"wide": 30.0, "tall": 16.0}), |s| {
            matches!(s, Surface::Extrusion { .. })
        }),
        ground(
            "crease",
            roof(30.0),
            DVec3::Z,
            json!({"ridge": 0.0, "lean": 30.0}),
            |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.5 && normal.z < 0.99),
        ),
        ground("freeform", lever, DVec3::Z, freeform, |s| matches!(s, Surface::Freeform)),
    ]
}
