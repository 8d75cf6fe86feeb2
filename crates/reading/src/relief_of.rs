//! How high a marked solid and its bare ground lie over the plane of a drawing.

use crate::{grid::Grid, light::normal};
use glam::{DVec2, DVec3};
use relief::{BuiltMark, place::PlacedCharacter};
use solid::Mesh;

/// Where a drawing looks at: x in the reading direction, y up, z outward.
pub(crate) struct Frame {
    origin: DVec3,
    x: DVec3,
    y: DVec3,
    z: DVec3,
}

/// A step along the seat by which its reading direction in space is found, mm.
const STEP: f64 = 0.02;
/// Ground is worked out at every so-manieth pixel, and between them drawn straight.
const EVERY: usize = 16;

impl Frame {
    pub(crate) fn of(built: &BuiltMark, c: &PlacedCharacter) -> Self {
        let Self { origin, x, y, z } = Self::at(built, c.middle, c.along);
        // one that is turned by itself is looked at turned
        let (sin, cos) = c.turn.sin_cos();
        Self { origin, x: x * cos + y * sin, y: y * cos - x * sin, z }
    }

    /// At a place of the strip; `along` is the reading direction there.
    pub(crate) fn at(built: &BuiltMark, at: DVec2, along: DVec2) -> Self {
        let chart = &built.seat.chart;
        let (origin, z) = (chart.point(at, 0.0), chart.normal(at));
        let way = chart.point(chart.roll(at, along * STEP), 0.0) - chart.point(chart.roll(at, -along * STEP), 0.0);
        let x = way.reject_from(z).normalize_or(z.any_orthonormal_vector());
        Self { origin, x, y: z.cross(x), z }
    }

    pub(crate) fn flat(&self, p: DVec3) -> DVec2 {
        let p = p - self.origin;
        DVec2::new(p.dot(self.x), p.dot(self.y))
    }

    /// Halfway up the capitals of a character, whose own middle is the origin.
    pub(crate) fn middle_up(&self, c: &PlacedCharacter) -> DVec2 {
        DVec2::new(0.0, (c.capitals[0] + c.capitals[1]) / 2.0)
    }

    fn space(&self, p: DVec2, z: f64) -> DVec3 {
        self.origin + self.x * p.x + self.y * p.y + self.z * z
    }
}

/// What is seen from above: how high it lies, mm, and its unit normal. Where there is nothing it lies below everything.
pub(crate) struct Field {
    pub heights: Vec<f32>,
    pub normals: Vec<[f32; 3]>,
}

impl Field {
    /// Without what stands higher over the ground than the mark does: a lamp is held where the part's own bosses and walls
    /// throw no shadow on it.
    pub(crate) fn of_mark(mut self, ground: &Ground, built: &BuiltMark) -> Self {
        let relief = &built.mark.relief;
        let most = (1.5 * relief.height + relief.pad.map_or(0.0, |pad| pad.height)) as f32;
        for (height, ground) in self.heights.iter_mut().zip(&ground.heights) {
            if *height > ground + most {
                *height = f32::NEG_INFINITY;
            }
        }
        self
    }
}

/// The bare seat over each pixel: how high it lies, mm, and its unit normal.
pub(crate) struct Ground {
    pub heights: Vec<f32>,
    pub normals: Vec<[f32; 3]>,
}

impl Ground {
    /// Flat, and square to the eye.
    pub(crate) fn level(grid: &Grid) -> Self {
        Self { heights: vec![0.0; grid.len()], normals: vec![[0.0, 0.0, 1.0]; grid.len()] }
    }
}

/// The highest of the mesh over each pixel.
pub(crate) fn field(mesh: &Mesh, frame: &Frame, grid: &Grid) -> Field {
    let mut heights = vec![f32::NEG_INFINITY; grid.len()];
    let mut normals = vec![[0.0, 0.0, 1.0]; grid.len()];
    let placed = |p: DVec3| {
        let q = grid.pixels(frame.flat(p));
        DVec3::new(q.x, q.y, (p - frame.origin).dot(frame.z))
    };
    let (wide, tall) = (grid.wide as f64, grid.tall as f64);
    for t in 0..mesh.triangles.len() {
        let corners = mesh.corners(t);
        let [a, b, c] = corners.map(placed);
        let (low, high) = (a.min(b).min(c), a.max(b).max(c));
        if high.x < 0.0 || high.y < 0.0 || low.x > wide || low.y > tall {
            continue;
        }
        let area = (b - a).truncate().perp_dot((c - a).truncate());
        // what looks away is under something
        if area <= 1e-12 || !area.is_finite() {
            continue;
        }
        let out = (corners[1] - corners[0]).cross(corners[2] - corners[0]).normalize_or(frame.z);
        let normal = [out.dot(frame.x) as f32, out.dot(frame.y) as f32, out.dot(frame.z) as f32];
        let range = |low: f64, high: f64, most: usize| {
            let first = low.ceil().max(0.0) as usize;
            first..((high.floor().max(-1.0) + 1.0) as usize).min(most)
        };
        for y in range(low.y, high.y, grid.tall) {
            for x in range(low.x, high.x, grid.wide) {
                let p = DVec2::new(x as f64, y as f64);
                let share = |from: DVec3, to: DVec3| (to - from).truncate().perp_dot(p - from.truncate()) / area;
                let (u, v, w) = (share(b, c), share(c, a), share(a, b));
                if u >= -1e-9 && v >= -1e-9 && w >= -1e-9 {
                    let z = (u * a.z + v * b.z + w * c.z) as f32;
                    let at = y * grid.wide + x;
                    if z > heights[at] {
                        (heights[at], normals[at]) = (z, normal);
                    }
                }
            }
        }
    }
    Field { heights, normals }
}

pub(crate) fn ground(built: &BuiltMark, frame: &Frame, grid: &Grid) -> Ground {
    let (across, up) = (grid.wide.div_ceil(EVERY) + 1, grid.tall.div_ceil(EVERY) + 1);
    let mut coarse = Vec::with_capacity(across * up);
    for y in 0..up {
        for x in 0..across {
            let p = grid.at(x * EVERY, y * EVERY);
            let mut z = 0.0;
            // straight down onto the seat
            for _ in 0..4 {
                let (normal, over) = built.seat.chart.above(frame.space(p, z));
                z -= over / normal.dot(frame.z).max(0.2);
            }
            coarse.push(if z.is_finite() { z as f32 } else { 0.0 });
        }
    }
    let mut heights = Vec::with_capacity(grid.len());
    for y in 0..grid.tall {
        let (row, v) = (y / EVERY, (y % EVERY) as f32 / EVERY as f32);
        for x in 0..grid.wide {
            let (column, u) = (x / EVERY, (x % EVERY) as f32 / EVERY as f32);
            let corner = |dx: usize, dy: usize| coarse[(row + dy) * across + column + dx];
            let below = corner(0, 0) * (1.0 - u) + corner(1, 0) * u;
            let above = corner(0, 1) * (1.0 - u) + corner(1, 1) * u;
            heights.push(below * (1.0 - v) + above * v);
        }
    }
    let normals = (0..grid.len()).map(|at| normal(&heights, grid, at % grid.wide, at / grid.wide)).collect();
    Ground { heights, normals }
}
