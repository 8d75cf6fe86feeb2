//! A part for each kind of seat, with the formula that an outside program needs.

use demo::shapes::{arc, cylinder, prism, turned, waved_block};
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

fn ground(kind: &'static str, mesh: Mesh, pull: DVec3, mut formula: Value, wanted: fn(&Surface) -> bool) -> Ground {
    formula["kind"] = Value::from(kind);
    Ground { kind, mesh, pull, formula, wanted }
}

/// Of the radius `waist` at half its height, bellied by an arc of the radius `bend`.
pub(super) fn barrel(waist: f64, bend: f64, tall: f64) -> Ground {
    let lean = (tall / 2.0 / bend).asin().to_degrees();
    let mut profile = vec![DVec2::ZERO];
    profile.extend(arc(DVec2::new(waist - bend, tall / 2.0), bend, -lean, lean));
    profile.push(DVec2::new(0.0, tall));
    let formula = json!({"waist": waist, "bend": bend, "tall": tall});
    ground("barrel", turned(&profile), DVec3::NEG_Y, formula, |s| matches!(s, Surface::Revolution { .. }))
}

/// Drawn 40 mm along y from the upper half of an ellipse.
pub(super) fn ellipse(wide: f64, tall: f64) -> Ground {
    let at = |k: u32| DVec2::from_angle(std::f64::consts::PI * f64::from(k) / 72.0) * DVec2::new(wide, tall);
    let base: Vec<DVec3> = (0..=72).map(at).map(|p| DVec3::new(-p.x, -20.0, p.y)).collect();
    let formula = json!({"wide": wide, "tall": tall});
    ground("ellipse", prism(&base, DVec3::Y * 40.0), DVec3::Z, formula, |s| matches!(s, Surface::Extrusion { .. }))
}

/// A freeform seat, which the program knows by its facets.
fn freeform(kind: &'static str, mesh: Mesh) -> Ground {
    let vertices: Vec<[f64; 3]> = mesh.vertices.iter().map(|v| v.to_array()).collect();
    let formula = json!({"vertices": vertices, "triangles": mesh.triangles});
    ground(kind, mesh, DVec3::Z, formula, |s| matches!(s, Surface::Freeform))
}

pub(super) fn waved(high: f64, long: f64, broad: f64) -> Ground {
    freeform("waved", waved_block((high, long, broad)))
}

pub(super) fn grounds() -> Vec<Ground> {
    let of = |points: &[(f64, f64)]| points.iter().map(|&(r, z)| DVec2::new(r, z)).collect::<Vec<_>>();
    let dome: Vec<DVec2> = of(&[(0.0, 0.0)]).into_iter().chain(arc(DVec2::ZERO, 25.0, 0.0, 90.0)).collect();
    let mut ring = arc(DVec2::new(24.0, 0.0), 8.0, -180.0, 180.0);
    ring.pop();
    let cone = of(&[(0.0, 0.0), (12.0, 0.0), (6.0, 20.0), (0.0, 20.0)]);
    let tube = of(&[(9.0, 0.0), (14.0, 0.0), (14.0, 30.0), (9.0, 30.0)]);
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
        barrel(25.0, 100.0, 40.0),
        ellipse(30.0, 16.0),
        ground(
            "crease",
            roof(30.0),
            DVec3::Z,
            json!({"ridge": 0.0, "lean": 30.0}),
            |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.5 && normal.z < 0.99),
        ),
        freeform("freeform", demo::parts::shut_off_lever()),
    ]
}
