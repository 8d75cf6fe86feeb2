//! The reading test: how marks look under its eight lights, small enough for a page, and by how much each letter stands out.

use crate::{
    contents::{line, of_state},
    flow::{Flow, LEFT, WIDTH},
};
use paper::{
    face::Face,
    ink::{INK, MARGINAL, Op, Pixels, SOFT},
};
use rayon::prelude::*;
use reading::{LIGHTS, Picture, View, seen};
use record::Record;
use std::sync::Arc;
use trade::Finish;
use workbench::Outcome;

/// Pixels of the longer side.
const LARGEST: usize = 300;

/// The lights of a mark, the worst first: from where, degrees, its margin, and the picture.
struct Strip {
    mark: String,
    lights: Vec<(f64, f64, Arc<Pixels>)>,
}

/// Of the marks that have a reading test.
fn strips(record: &Record, outcome: &Outcome) -> Vec<Strip> {
    let read = record.marks.iter().filter_map(|m| Some((m, m.reading.as_ref()?))).collect::<Vec<_>>();
    let strip = |(mark, reading): &(&record::MarkRecord, &record::ReadingRecord)| {
        let at = outcome.marks.iter().position(|m| m.id == mark.mark)?;
        let (solid, built) = outcome.on_solid(at)?;
        let mut order: Vec<usize> = (0..LIGHTS.len()).collect();
        order.sort_by(|&a, &b| reading.lights[a].total_cmp(&reading.lights[b]));
        let light = |&light: &usize| {
            let picture = seen(solid, built, View::of(&record.job), light);
            (LIGHTS[light], reading.lights[light], Arc::new(small(&picture)))
        };
        Some(Strip { mark: mark.mark.clone(), lights: order.par_iter().map(light).collect() })
    };
    read.par_iter().filter_map(strip).collect()
}

/// The surface that is read, in a few words.
fn surface(view: View) -> String {
    let finish = match view.finish {
        Finish::Satin => "satin",
        Finish::Matt => "matt",
    };
    if view.texture > 0.0 {
        format!("{finish} surface textured {:.3} mm deep", view.texture)
    } else {
        format!("{finish} surface")
    }
}

/// How each mark looks under the eight lights, the worst first, and by how much each letter stands out.
pub fn reading(flow: &mut Flow, record: &Record, outcome: &Outcome) {
    const SIDES: [&str; 8] =
        ["the right", "above right", "above", "above left", "the left", "below left", "below", "below right"];
    let strips = strips(record, outcome);
    if strips.is_empty() {
        return;
    }
    flow.heading("Reading test", 13.0);
    let says = format!(
        "Each letter, as its shadows on a {} show it under eight raking lights from {:.0} mm, held against the others of its face: by how much it matches itself better than the next. It is a comparison under a stated light and eye, not a promise.",
        surface(View::of(&record.job)),
        record.job.reading_distance
    );
    flow.paragraph(&says, SOFT);
    let wide = (WIDTH - 3.0 * 8.0) / 4.0;
    for strip in strips {
        let Some((mark, read)) =
            record.marks.iter().find(|m| m.mark == strip.mark).and_then(|m| Some((m, m.reading.as_ref()?)))
        else {
            continue;
        };
        let tall = strip
            .lights
            .iter()
            .map(|(.., p)| wide * p.height as f32 / p.width as f32)
            .fold(0.0_f32, f32::max)
            .min(90.0);
        flow.need(2.0 * (tall + 16.0) + 50.0);
        let y = flow.y();
        let title = format!("“{}”: {} ({:.3})", line(&mark.text), read.verdict.word(), read.margin);
        let end = flow.beside(&title, [LEFT, y], WIDTH, Face::Strong, of_state(read.verdict));
        flow.down(end - y + 2.0);
        for four in strip.lights.chunks(4) {
            let y = flow.y();
            for (k, (from, margin, pixels)) in four.iter().enumerate() {
                let x = LEFT + k as f32 * (wide + 8.0);
                let scale = (wide / pixels.width as f32).min(tall / pixels.height as f32);
                let size = [pixels.width as f32 * scale, pixels.height as f32 * scale];
                flow.put(Op::Image { pixels: pixels.clone(), at: [x, y], size });
                let side = SIDES[(from / 45.0).round() as usize % 8];
                flow.caption(&format!("from {side}: {margin:.2}"), [x, y + tall + 1.0], wide);
            }
            flow.down(tall + 14.0);
        }
        let letters: Vec<String> =
            read.letters.iter().map(|l| format!("{} {:.2} (next {})", l.text, l.margin, l.rival)).collect();
        flow.paragraph(&letters.join("   "), INK);
        if read.shadow > reading::LONG_SHADOW {
            let says =
                format!("Its shadows are {:.1} capitals long: too tall for this size under flat light.", read.shadow);
            flow.paragraph(&says, MARGINAL);
        }
        flow.down(4.0);
    }
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
