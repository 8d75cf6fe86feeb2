//! Simple closed shapes as meshes, mm.

use glam::{DVec2, DVec3};
use solid::Mesh;
use std::f64::consts::TAU;

/// Chord error of the demo's round faces, mm: fine enough to be credible.
pub const CHORD_ERROR: f64 = 0.005;

/// An axis-aligned block.
#[must_use]
pub fn block(low: DVec3, high: DVec3) -> Mesh {
    let corner = |k: usize| {
        DVec3::new(
            if k & 1 == 0 { low.x } else { high.x },
            if k & 2 == 0 { low.y } else { high.y },
            if k & 4 == 0 { low.z } else { high.z },
        )
    };
    let quads = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]];
    Mesh {
        vertices: (0..8).map(corner).collect(),
        triangles: quads.iter().flat_map(|&[a, b, c, d]| [[a, b, c], [a, c, d]]).collect(),
    }
}

/// A straight prism over the convex polygon `base` (counter-clockwise seen against `along`).
#[must_use]
pub fn prism(base: &[DVec3], along: DVec3) -> Mesh {
    let n = base.len() as u32;
    let vertices = base.iter().copied().chain(base.iter().map(|p| *p + along)).collect();
    let mut triangles = Vec::new();
    for k in 0..n {
        let next = (k + 1) % n;
        triangles.extend([[k, next, next + n], [k, next + n, k + n]]);
        if k >= 1 && k + 1 < n {
            triangles.extend([[0, k + 1, k], [n, n + k, n + k + 1]]);
        }
    }
    Mesh { vertices, triangles }
}

/// A cylinder from `start` along `along`, its facets within [`CHORD_ERROR`] of true.
#[must_use]
pub fn cylinder(start: DVec3, along: DVec3, radius: f64) -> Mesh {
    let half = (1.0 - CHORD_ERROR / radius).acos();
    let sides = ((TAU / (2.0 * half)).ceil() as usize).next_multiple_of(4);
    cylinder_of(start, along, radius, sides)
}

/// A cylinder with `sides` facets.
#[must_use]
pub fn cylinder_of(start: DVec3, along: DVec3, radius: f64, sides: usize) -> Mesh {
    let (x, y) = along.normalize().any_orthonormal_pair();
    let base: Vec<DVec3> = (0..sides)
        .map(|k| {
            let angle = TAU * k as f64 / sides as f64;
            start + (x * angle.cos() + y * angle.sin()) * radius
        })
        .collect();
    prism(&base, along)
}

/// A body turned round z: `profile` is its half-section (distance from the axis, height), run
/// counter-clockwise with the axis to its left; where it neither begins nor ends on the axis it is
/// closed to a ring.
#[must_use]
pub fn turned(profile: &[DVec2]) -> Mesh {
    let widest = profile.iter().map(|p| p.x).fold(0.0, f64::max);
    let half = (1.0 - CHORD_ERROR / widest).acos();
    let sides = ((TAU / (2.0 * half)).ceil() as u32).next_multiple_of(4);
    let mut mesh = Mesh::default();
    let rings: Vec<Vec<u32>> = profile
        .iter()
        .map(|p| {
            let around = if p.x < 1e-9 { 1 } else { sides };
            let first = mesh.vertices.len() as u32;
            mesh.vertices.extend((0..around).map(|k| {
                let (sin, cos) = (TAU * f64::from(k) / f64::from(sides)).sin_cos();
                DVec3::new(p.x * cos, p.x * sin, p.y)
            }));
            (0..sides).map(|k| first + k % around).collect()
        })
        .collect();
    let open = profile.first().is_some_and(|p| p.x < 1e-9);
    let last = if open { rings.len() - 1 } else { rings.len() };
    for at in 0..last {
        let (low, high) = (&rings[at], &rings[(at + 1) % rings.len()]);
        for k in 0..sides as usize {
            let next = (k + 1) % sides as usize;
            let quad = [[low[k], low[next], high[next]], [low[k], high[next], high[k]]];
            mesh.triangles.extend(quad.into_iter().filter(|[a, b, c]| a != b && b != c && c != a));
        }
    }
    mesh
}

/// Points of an arc of a half-section, its chords within [`CHORD_ERROR`]; angles in degrees.
#[must_use]
pub fn arc(middle: DVec2, radius: f64, from: f64, to: f64) -> Vec<DVec2> {
    let step = 2.0 * (1.0 - CHORD_ERROR / radius).acos().to_degrees();
    let pieces = ((to - from).abs() / step).ceil();
    (0..=pieces as u32)
        .map(|k| middle + DVec2::from_angle((from + (to - from) * f64::from(k) / pieces).to_radians()) * radius)
        .collect()
}

/// A body along x from `start` to `end` whose sections are superellipses of the half-widths (along y,
/// along z) that `size` gives for the share of the way, 0 at both ends.
#[must_use]
pub fn loft(start: f64, end: f64, size: impl Fn(f64) -> (f64, f64)) -> Mesh {
    const STATIONS: usize = 90;
    const ROUND: u32 = 96;
    let mut vertices = vec![DVec3::X * start];
    for s in 1..STATIONS {
        // closer together towards the ends, where the sections grow fastest
        let t = (1.0 - (std::f64::consts::PI * s as f64 / STATIONS as f64).cos()) / 2.0;
        let (wide, tall) = size(t);
        for k in 0..ROUND {
            let (sin, cos) = (TAU * f64::from(k) / f64::from(ROUND)).sin_cos();
            let out = |v: f64| v.signum() * v.abs().powf(0.8);
            vertices.push(DVec3::new(start + (end - start) * t, wide * out(cos), tall * out(sin)));
        }
    }
    vertices.push(DVec3::X * end);
    let last = vertices.len() as u32 - 1;
    let ring = |s: u32, k: u32| 1 + s * ROUND + k % ROUND;
    let rings = STATIONS as u32 - 1;
    let mut triangles = Vec::new();
    for k in 0..ROUND {
        triangles.push([0, ring(0, k + 1), ring(0, k)]);
        for s in 0..rings - 1 {
            let [a, b, c, d] = [ring(s, k), ring(s, k + 1), ring(s + 1, k + 1), ring(s + 1, k)];
            triangles.extend([[a, b, c], [a, c, d]]);
        }
        triangles.push([last, ring(rings - 1, k), ring(rings - 1, k + 1)]);
    }
    Mesh { vertices, triangles }
}

/// A sheet of `rows` × `columns` fields over the unit square, open at its border.
#[must_use]
pub fn sheet_of(rows: u32, columns: u32, point: impl Fn(f64, f64) -> DVec3) -> Mesh {
    let share = |k: u32, of: u32| f64::from(k) / f64::from(of);
    let vertices = (0..=rows)
        .flat_map(|r| (0..=columns).map(move |c| (r, c)))
        .map(|(r, c)| point(share(r, rows), share(c, columns)));
    let at = |r: u32, c: u32| r * (columns + 1) + c;
    let fields = (0..rows).flat_map(|r| (0..columns).map(move |c| (r, c)));
    Mesh {
        vertices: vertices.collect(),
        triangles: fields
            .flat_map(|(r, c)| {
                let [a, b, d, e] = [at(r, c), at(r, c + 1), at(r + 1, c + 1), at(r + 1, c)];
                [[a, b, d], [a, d, e]]
            })
            .collect(),
    }
}

/// A block of 24 by 20 mm under z = high · cos(x / long) · cos(y / broad), in fields of 0.25 mm.
pub fn waved_block((high, long, broad): (f64, f64, f64)) -> Mesh {
    const COLUMNS: u32 = 96;
    const ROWS: u32 = 80;
    let place = |s: f64, t: f64| (24.0 * (s - 0.5), 20.0 * (t - 0.5));
    let top = sheet_of(ROWS, COLUMNS, |t, s| {
        let (x, y) = place(s, t);
        DVec3::new(x, y, high * (x / long).cos() * (y / broad).cos())
    });
    let below = top.vertices.iter().map(|p| DVec3::new(p.x, p.y, -9.0));
    let shift = top.vertices.len() as u32;
    let at = |r: u32, c: u32| r * (COLUMNS + 1) + c;
    let rim: Vec<u32> = (0..COLUMNS)
        .map(|c| at(0, c))
        .chain((0..ROWS).map(|r| at(r, COLUMNS)))
        .chain((0..COLUMNS).map(|c| at(ROWS, COLUMNS - c)))
        .chain((0..ROWS).map(|r| at(ROWS - r, 0)))
        .collect();
    let sides = (0..rim.len()).flat_map(|k| {
        let (a, b) = (rim[k], rim[(k + 1) % rim.len()]);
        [[a, a + shift, b + shift], [a, b + shift, b]]
    });
    let up = top.triangles.iter().copied();
    let down = top.triangles.iter().map(|&[a, b, c]| [a + shift, c + shift, b + shift]);
    Mesh {
        triangles: up.chain(down).chain(sides).collect(),
        vertices: top.vertices.iter().copied().chain(below).collect(),
    }
}
