//! How marks look under the eight lights of the reading test, small enough for a page.

use crate::ink::Pixels;
use rayon::prelude::*;
use reading::{LIGHTS, Picture, seen};
use record::Record;
use std::sync::Arc;
use workbench::Outcome;

/// Pixels of the longer side.
const LARGEST: usize = 300;

/// The lights of a mark, the worst first: from where, degrees, its margin, and the picture.
pub struct Strip {
    pub mark: String,
    pub lights: Vec<(f64, f64, Arc<Pixels>)>,
}

/// Of the marks that have a reading test.
#[must_use]
pub fn strips(record: &Record, outcome: &Outcome) -> Vec<Strip> {
    let read = record.marks.iter().filter_map(|m| Some((m, m.reading.as_ref()?))).collect::<Vec<_>>();
    let strip = |(mark, reading): &(&record::MarkRecord, &record::ReadingRecord)| {
        let at = outcome.marks.iter().position(|m| m.id == mark.mark)?;
        let (solid, built) = outcome.on_solid(at)?;
        let mut order: Vec<usize> = (0..LIGHTS.len()).collect();
        order.sort_by(|&a, &b| reading.lights[a].total_cmp(&reading.lights[b]));
        let light = |&light: &usize| {
            let picture = seen(solid, built, record.job.reading_distance, light);
            (LIGHTS[light], reading.lights[light], Arc::new(small(&picture)))
        };
        Some(Strip { mark: mark.mark.clone(), lights: order.par_iter().map(light).collect() })
    };
    read.par_iter().filter_map(strip).collect()
}

/// The mean of the pixels that fall on each; the ground is a light grey.
fn small(picture: &Picture) -> Pixels {
    let by = picture.width.max(picture.height).div_ceil(LARGEST).max(1);
    let (width, height) = (picture.width.div_ceil(by), picture.height.div_ceil(by));
    let mut rgba = Vec::with_capacity(4 * width * height);
    for y in 0..height {
        for x in 0..width {
            let (mut sum, mut count) = (0.0_f64, 0.0_f64);
            for row in y * by..((y + 1) * by).min(picture.height) {
                for column in x * by..((x + 1) * by).min(picture.width) {
                    sum += f64::from(picture.brightness[row * picture.width + column]);
                    count += 1.0;
                }
            }
            let grey = (sum / count * 0.62 * 255.0).clamp(0.0, 255.0) as u8;
            rgba.extend([grey, grey, grey, 255]);
        }
    }
    Pixels { width, height, rgba }
}
