//! A small picture of a solid for the list of jobs.

use glam::DVec3;
use paper::picture::{Shot, of_outcome as drawn};
use workbench::{Bench, Outcome};

/// Pixels of the picture.
const WIDTH: usize = 360;
const HEIGHT: usize = 240;
/// Towards the eye.
const EYE: DVec3 = DVec3::new(-0.45, -0.75, 0.62);

/// PNG of a marked solid, transparent round about.
#[must_use]
pub fn of_outcome(bench: &Bench, outcome: &Outcome) -> Vec<u8> {
    let shot = Shot { out: EYE, up: DVec3::Z, at: None, width: WIDTH, height: HEIGHT };
    rgba(WIDTH, HEIGHT, &drawn(bench, outcome, &shot).rgba)
}

/// PNG of colours with how far each covers, row by row from above.
#[must_use]
pub fn rgba(width: usize, height: usize, pixels: &[u8]) -> Vec<u8> {
    png(width, height, png::ColorType::Rgba, pixels)
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
