//! A small picture of a solid for the list of jobs: drawn with a depth buffer and a soft key light.

use glam::{DVec2, DVec3};
use relief::{MarkedSolid, Tag};
use solid::Mesh;
use workbench::{Bench, Outcome, Steps};

/// Pixels of the picture, and how many samples a pixel has in either direction.
const WIDTH: usize = 360;
const HEIGHT: usize = 240;
const SAMPLES: usize = 2;
/// Towards the eye, and towards the light.
const EYE: DVec3 = DVec3::new(-0.45, -0.75, 0.62);
const LIGHT: DVec3 = DVec3::new(-0.75, -0.35, 0.9);

/// PNG of a marked solid.
#[must_use]
pub fn of_outcome(bench: &Bench, outcome: &Outcome) -> Vec<u8> {
    let rest = bench.work().rest(outcome);
    let solids: Vec<&MarkedSolid> = rest.iter().chain(outcome.groups.iter().map(|g| g.shown())).collect();
    if solids.is_empty() {
        return picture(&[(&bench.part().mesh, &|_| false)]);
    }
    let tones: Vec<Box<dyn Fn(usize) -> bool>> = solids
        .iter()
        .map(|&s| Box::new(move |t: usize| matches!(s.tags[t], Tag::Relief { .. })) as Box<dyn Fn(usize) -> bool>)
        .collect();
    let pieces: Vec<(&Mesh, &dyn Fn(usize) -> bool)> =
        solids.iter().zip(&tones).map(|(s, tone)| (&s.mesh, &**tone)).collect();
    picture(&pieces)
}

/// PNG of pieces of a solid, each facet with a tone from 0 (part) to 1 (lettering); transparent
/// round about.
#[must_use]
pub fn picture(pieces: &[(&Mesh, &dyn Fn(usize) -> bool)]) -> Vec<u8> {
    let (out, light) = (EYE.normalize(), LIGHT.normalize());
    let right = DVec3::Z.cross(out).normalize();
    let up = out.cross(right);
    let flat = |p: DVec3| DVec3::new(p.dot(right), p.dot(up), p.dot(out));
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for p in pieces.iter().flat_map(|(mesh, _)| &mesh.vertices) {
        let p = flat(*p).truncate();
        (low, high) = (low.min(p), high.max(p));
    }
    let (wide, tall) = (WIDTH * SAMPLES, HEIGHT * SAMPLES);
    let size = high - low;
    let scale = if size.min_element() > 0.0 { 0.9 * (wide as f64 / size.x).min(tall as f64 / size.y) } else { 1.0 };
    let middle = (low + high) / 2.0;
    let place = |p: DVec3| {
        let p = flat(p);
        DVec3::new((p.x - middle.x) * scale + wide as f64 / 2.0, tall as f64 / 2.0 - (p.y - middle.y) * scale, p.z)
    };
    let mut depth = vec![f64::NEG_INFINITY; wide * tall];
    let mut colour = vec![[0.0_f64; 4]; wide * tall];
    for (mesh, lettering) in pieces {
        for t in 0..mesh.triangles.len() {
            let normal = mesh.normal(t);
            if normal.dot(out) <= 0.0 {
                continue;
            }
            let shade = 0.42 + 0.58 * normal.dot(light).max(0.0);
            let tone = if lettering(t) { [0.16, 0.22, 0.21] } else { [0.80, 0.83, 0.80] };
            let rgba = [tone[0] * shade, tone[1] * shade, tone[2] * shade, 1.0];
            fill(mesh.corners(t).map(place), wide, tall, |at, z| {
                if z > depth[at] {
                    depth[at] = z;
                    colour[at] = rgba;
                }
            });
        }
    }
    let mut pixels = Vec::with_capacity(WIDTH * HEIGHT * 4);
    for y in 0..HEIGHT {
        for x in 0..WIDTH {
            let mut sum = [0.0; 4];
            for (dy, dx) in (0..SAMPLES).flat_map(|dy| (0..SAMPLES).map(move |dx| (dy, dx))) {
                let sample = colour[(y * SAMPLES + dy) * wide + x * SAMPLES + dx];
                for k in 0..4 {
                    sum[k] += sample[k];
                }
            }
            let cover = sum[3].max(1e-9);
            let tones = [sum[0] / cover, sum[1] / cover, sum[2] / cover, sum[3] / (SAMPLES * SAMPLES) as f64];
            pixels.extend(tones.map(|c| (c * 255.0).round() as u8));
        }
    }
    png(WIDTH, HEIGHT, png::ColorType::Rgba, &pixels)
}

/// PNG of shades of grey, row by row from above.
#[must_use]
pub fn grey(width: usize, height: usize, pixels: &[u8]) -> Vec<u8> {
    png(width, height, png::ColorType::Grayscale, pixels)
}

fn png(width: usize, height: usize, colour: png::ColorType, pixels: &[u8]) -> Vec<u8> {
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, width as u32, height as u32);
    encoder.set_color(colour);
    encoder.set_depth(png::BitDepth::Eight);
    encoder
        .write_header()
        .and_then(|mut writer| writer.write_image_data(pixels))
        .expect("writing to memory does not fail, and the size is right");
    bytes
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
        let bytes = picture(&[(&block, &|_| false)]);
        let mut reader = png::Decoder::new(std::io::Cursor::new(bytes)).read_info().unwrap();
        let mut pixels = vec![0; reader.output_buffer_size().unwrap()];
        reader.next_frame(&mut pixels).unwrap();
        let alpha = |x: usize, y: usize| pixels[(y * WIDTH + x) * 4 + 3];
        assert_eq!(alpha(WIDTH / 2, HEIGHT / 2), 255);
        assert_eq!(alpha(2, 2), 0);
    }
}
