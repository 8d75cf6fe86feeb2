//! A picture of a solid: drawn with a depth buffer and a soft key light, without perspective.

use crate::ink::Pixels;
use glam::{DVec2, DVec3};
use relief::{MarkedSolid, Tag};
use solid::Mesh;
use workbench::{Bench, Outcome, Steps};

/// Samples of a pixel in either direction.
const SAMPLES: usize = 2;

/// How a solid is looked at.
#[derive(Clone, Copy, Debug)]
pub struct Shot {
    /// Towards the eye, and what is up in the picture; neither need be of unit length, nor square to one another.
    pub out: DVec3,
    pub up: DVec3,
    /// What is in the middle, and how many mm a pixel is wide; what all of it takes, if not given.
    pub at: Option<(DVec3, f64)>,
    pub width: usize,
    pub height: usize,
}

/// What a facet is, to be told apart in a picture.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Tone {
    Part,
    Lettering,
    /// Steel that comes off, and that is put on.
    Off,
    On,
}

impl Tone {
    fn colour(self) -> [f64; 3] {
        match self {
            Self::Part => [0.80, 0.83, 0.80],
            Self::Lettering => [0.16, 0.22, 0.21],
            Self::Off => [0.16, 0.45, 0.78],
            Self::On => [0.86, 0.28, 0.16],
        }
    }
}

/// What is drawn: meshes, and what their facets are.
pub type Piece<'a> = (&'a Mesh, &'a dyn Fn(usize) -> Tone);

/// What the facets of solids are, by their tags.
#[must_use]
pub fn tones<'a>(solids: &[&'a MarkedSolid]) -> Vec<Box<dyn Fn(usize) -> Tone + 'a>> {
    let tone = |s: &'a MarkedSolid| -> Box<dyn Fn(usize) -> Tone + 'a> {
        Box::new(move |t| if matches!(s.tags[t], Tag::Relief { .. }) { Tone::Lettering } else { Tone::Part })
    };
    solids.iter().map(|s| tone(s)).collect()
}

/// Draws what an outcome came to.
#[must_use]
pub fn of_outcome(bench: &Bench, outcome: &Outcome, shot: &Shot) -> Pixels {
    let rest = bench.rest(outcome);
    let solids: Vec<&MarkedSolid> =
        rest.as_deref().into_iter().chain(outcome.groups.iter().map(|g| g.shown())).collect();
    if solids.is_empty() {
        return drawn(&[(&bench.part().mesh, &|_| Tone::Part)], shot);
    }
    let tones = tones(&solids);
    let pieces: Vec<Piece<'_>> = solids.iter().zip(&tones).map(|(s, tone)| (&s.mesh, &**tone)).collect();
    drawn(&pieces, shot)
}

impl Shot {
    /// To the right, up and to the eye: unit vectors.
    #[must_use]
    pub fn frame(&self) -> [DVec3; 3] {
        let out = self.out.try_normalize().unwrap_or(DVec3::Z);
        let right = self.up.cross(out).try_normalize().unwrap_or_else(|| out.any_orthonormal_vector());
        [right, out.cross(right), out]
    }
}

/// Pixels of pieces of a solid; transparent round about.
#[must_use]
pub fn drawn(pieces: &[Piece<'_>], shot: &Shot) -> Pixels {
    let [right, up, out] = shot.frame();
    let light = (out * 0.62 - right * 0.45 + up * 0.64).normalize();
    let flat = |p: DVec3| DVec3::new(p.dot(right), p.dot(up), p.dot(out));
    let (wide, tall) = (shot.width * SAMPLES, shot.height * SAMPLES);
    let (middle, scale) = match shot.at {
        Some((at, mm)) => (flat(at).truncate(), SAMPLES as f64 / mm),
        None => {
            let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
            for p in pieces.iter().flat_map(|(mesh, _)| &mesh.vertices) {
                let p = flat(*p).truncate();
                (low, high) = (low.min(p), high.max(p));
            }
            let size = high - low;
            let fits = 0.9 * (wide as f64 / size.x).min(tall as f64 / size.y);
            ((low + high) / 2.0, if size.min_element() > 0.0 { fits } else { 1.0 })
        }
    };
    let place = |p: DVec3| {
        let p = flat(p);
        DVec3::new((p.x - middle.x) * scale + wide as f64 / 2.0, tall as f64 / 2.0 - (p.y - middle.y) * scale, p.z)
    };
    let mut depth = vec![f64::NEG_INFINITY; wide * tall];
    let mut colour = vec![[0.0_f64; 4]; wide * tall];
    for (mesh, tone) in pieces {
        for t in 0..mesh.triangles.len() {
            let normal = mesh.normal(t);
            if normal.dot(out) <= 0.0 {
                continue;
            }
            let shade = 0.42 + 0.58 * normal.dot(light).max(0.0);
            let tone = tone(t).colour();
            let rgba = [tone[0] * shade, tone[1] * shade, tone[2] * shade, 1.0];
            fill(mesh.corners(t).map(place), wide, tall, |at, z| {
                if z > depth[at] {
                    depth[at] = z;
                    colour[at] = rgba;
                }
            });
        }
    }
    let mut rgba = Vec::with_capacity(shot.width * shot.height * 4);
    for y in 0..shot.height {
        for x in 0..shot.width {
            let mut sum = [0.0; 4];
            for (dy, dx) in (0..SAMPLES).flat_map(|dy| (0..SAMPLES).map(move |dx| (dy, dx))) {
                let sample = colour[(y * SAMPLES + dy) * wide + x * SAMPLES + dx];
                for k in 0..4 {
                    sum[k] += sample[k];
                }
            }
            let cover = sum[3].max(1e-9);
            let tones = [sum[0] / cover, sum[1] / cover, sum[2] / cover, sum[3] / (SAMPLES * SAMPLES) as f64];
            rgba.extend(tones.map(|c| (c * 255.0).round() as u8));
        }
    }
    Pixels { width: shot.width, height: shot.height, rgba }
}

/// Visits the samples whose middles lie in the triangle, with their depth there.
fn fill([a, b, c]: [DVec3; 3], wide: usize, tall: usize, mut visit: impl FnMut(usize, f64)) {
    let area = (b - a).truncate().perp_dot((c - a).truncate());
    if area == 0.0 || !area.is_finite() {
        return;
    }
    let (low, high) = (a.min(b).min(c), a.max(b).max(c));
    let rows = low.y.max(0.0) as usize..(high.y.max(0.0) as usize + 1).min(tall);
    for y in rows {
        for x in low.x.max(0.0) as usize..(high.x.max(0.0) as usize + 1).min(wide) {
            let p = DVec2::new(x as f64 + 0.5, y as f64 + 0.5);
            let share = |from: DVec3, to: DVec3| (to - from).truncate().perp_dot(p - from.truncate()) / area;
            let (u, v, w) = (share(b, c), share(c, a), share(a, b));
            if u >= 0.0 && v >= 0.0 && w >= 0.0 {
                visit(y * wide + x, u * a.z + v * b.z + w * c.z);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_block_fills_the_middle_of_its_picture_and_not_the_corners() {
        let block = demo::parts::plain_block();
        let whole = Shot { out: DVec3::new(-0.45, -0.75, 0.62), up: DVec3::Z, at: None, width: 360, height: 240 };
        let pixels = drawn(&[(&block, &|_| Tone::Part)], &whole);
        let alpha = |x: usize, y: usize| pixels.rgba[(y * 360 + x) * 4 + 3];
        assert_eq!(alpha(180, 120), 255);
        assert_eq!(alpha(2, 2), 0);
        // from above, a tenth of a mm to the pixel: 60 × 30 mm are 600 × 300 pixels
        let above = Shot {
            out: DVec3::Z,
            up: DVec3::Y,
            at: Some((DVec3::new(30.0, 15.0, 12.0), 0.1)),
            width: 700,
            height: 400,
        };
        let covered = drawn(&[(&block, &|_| Tone::Part)], &above).rgba.chunks(4).filter(|p| p[3] == 255).count();
        assert_eq!(covered, 600 * 300);
    }
}
