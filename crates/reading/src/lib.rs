//! Can a mark be read by its shadows? Lettering of the colour of its ground is seen by the light that falls across it. Each
//! character of the finished solid is drawn as an eye sees it, under a raking light from eight sides, square-on and from 30°
//! off, and held against every character of its lettering face under the same light: by how much does it match its own better than
//! the next? It is a comparison under a stated light and eye, not a promise.
//!
//! Frame of a drawing: x in the reading direction, y up, z outward from the seat at the character's middle; pixels of an
//! eighth of a minute of arc at the reading distance. Source of method and constants: a probe of 104 texts in six faces, held
//! against a character reader; what it does not prove is told in `docs/checks.md`. The margin that is asked for is a limit of
//! the sheet.

mod eye;
mod grid;
mod light;
mod relief_of;
mod templates;
mod texture;

pub use light::LIGHTS;

use eye::{Eye, Held, Seen, matched};
use glam::DVec2;
use grid::Grid;
use light::Lit;
use rayon::prelude::*;
use relief::{BuiltMark, MarkedSolid, place::PlacedCharacter};
use relief_of::Frame;
use templates::{Templates, templates};
use trade::{Finish, Job, Mark, Sense};

/// How a mark is looked at.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct View {
    /// From so far, mm.
    pub distance: f64,
    pub finish: Finish,
    /// Depth of the surface's texture, mm; 0 for a plain one.
    pub texture: f64,
}

impl View {
    /// Of a satin surface without a texture, from so far, mm.
    #[must_use]
    pub fn from(distance: f64) -> Self {
        Self { distance, finish: Finish::Satin, texture: 0.0 }
    }

    /// As a job's marks are looked at.
    #[must_use]
    pub fn of(job: &Job) -> Self {
        Self { distance: job.reading_distance, finish: job.process.finish, texture: job.process.texture }
    }
}

/// How a character stands out from the others of its face.
#[derive(Clone, Debug, PartialEq)]
pub struct Letter {
    /// Its place in the mark.
    pub character: u32,
    pub text: String,
    /// By how much it matches itself better than the next, the mean over the lights: square-on, and from 30° off.
    pub margins: [f64; 2],
    /// What stands nearest to it, over all lights.
    pub rival: String,
    /// The light under which it stands out least, by its place in [`LIGHTS`], and by how much there.
    pub worst: (usize, f64),
    /// What it would be taken for there.
    pub taken_for: String,
}

impl Letter {
    /// The less of both views.
    #[must_use]
    pub fn margin(&self) -> f64 {
        self.margins[0].min(self.margins[1])
    }
}

#[derive(Clone, Debug, PartialEq)]
pub struct Reading {
    /// In the order of the text.
    pub letters: Vec<Letter>,
    /// The mean margin of all letters under each light, square-on.
    pub lights: [f64; 8],
    /// Length of the shadows that the lettering throws, in cap heights.
    pub shadow: f64,
}

impl Reading {
    /// That of the letter that reads worst.
    #[must_use]
    pub fn margin(&self) -> f64 {
        self.letters.iter().map(Letter::margin).fold(f64::INFINITY, f64::min)
    }
}

/// Cap heights that differ by a smaller share are the same.
const SAME_SIZE: f64 = 0.01;
/// Shadows longer than this, in cap heights, fill counters and reach the letters beside.
pub const LONG_SHADOW: f64 = 0.5;

/// Nearer than so many cap heights nobody reads, and the drawings would be without bounds.
const NEAREST: f64 = 40.0;

/// The eye that reads a mark from so far, mm.
fn eye_for(built: &BuiltMark, distance: f64) -> Eye {
    let capitals = built.placed.characters.iter().map(|c| c.capitals[1] - c.capitals[0]).filter(|cap| cap.is_finite());
    Eye::at(capitals.fold(built.placed.cap_height, f64::max).max(distance / NEAREST) * NEAREST)
}

/// The reading test of a mark on its marked solid.
///
/// # Errors
/// Why it can't be made: the mark has no relief, or draws no characters of a face.
pub fn reading(solid: &MarkedSolid, built: &BuiltMark, view: View) -> Result<Reading, String> {
    let mark = &built.mark;
    if !throws_shadows(mark.relief.sense) {
        return Err("it has no relief that could throw a shadow".into());
    }
    if mark.relief.through {
        return Err("it is cut through the wall and read by what lies behind".into());
    }
    if mark.figure.is_some() {
        return Err("it draws a figure, not characters of a lettering face".into());
    }
    let eye = eye_for(built, view.distance);
    let cap = built.placed.cap_height;
    let characters: Vec<&PlacedCharacter> =
        built.placed.characters.iter().filter(|c| c.capitals.iter().all(|y| y.is_finite())).collect();
    let mut letters: Vec<(Letter, [f64; 8])> = Vec::new();
    // letters that were changed by themselves are held against characters that were changed alike
    for Alike { cap_height, sense, characters } in alike(mark, &characters) {
        let templates = templates(built, &characters, cap_height, sense, (&eye, view.finish))?;
        letters.par_extend(characters.par_iter().filter_map(|c| {
            let own = templates.all.iter().position(|t| t.text == c.text)?;
            Some(letter((solid, built), c, own, &templates, (&eye, view)))
        }));
    }
    if letters.is_empty() {
        return Err("none of its characters is one of its lettering face".into());
    }
    letters.sort_by_key(|(letter, _)| letter.character);
    let mut lights = [0.0; 8];
    for (_, by_light) in &letters {
        (0..8).for_each(|k| lights[k] += by_light[k] / letters.len() as f64);
    }
    let shadow = mark.relief.height / light::ELEVATION_DEG.to_radians().tan() / cap;
    Ok(Reading { letters: letters.into_iter().map(|(letter, _)| letter).collect(), lights, shadow })
}

/// Characters of the same cap height, mm, and sense.
struct Alike<'a> {
    cap_height: f64,
    sense: Sense,
    characters: Vec<&'a PlacedCharacter>,
}

/// Those that throw shadows, by what they are alike in.
fn alike<'a>(mark: &Mark, characters: &[&'a PlacedCharacter]) -> Vec<Alike<'a>> {
    let mut groups: Vec<Alike> = Vec::new();
    for &c in characters {
        let cap_height = c.capitals[1] - c.capitals[0];
        let change = mark.letters.iter().find(|change| change.at == c.at && change.text == c.text);
        let sense = change.and_then(|change| change.sense).unwrap_or(mark.relief.sense);
        if !throws_shadows(sense) {
            continue;
        }
        let same = |of: &&mut Alike| of.sense == sense && (cap_height / of.cap_height - 1.0).abs() < SAME_SIZE;
        match groups.iter_mut().find(same) {
            Some(of) => of.characters.push(c),
            None => groups.push(Alike { cap_height, sense, characters: vec![c] }),
        }
    }
    groups
}

fn throws_shadows(sense: Sense) -> bool {
    matches!(sense, Sense::Raised | Sense::Sunken)
}

/// One character, and its margin under each light, square-on.
fn letter(
    (solid, built): (&MarkedSolid, &BuiltMark),
    c: &PlacedCharacter,
    own: usize,
    Templates { all, half, pixel }: &Templates,
    (eye, view): (&Eye, View),
) -> (Letter, [f64; 8]) {
    let frame = Frame::of(built, c);
    // shadows come in from outside of the window
    let reach = *half + DVec2::splat(light::reach(built.mark.relief.height) + eye.blur_reach());
    let grid = Grid::about(frame.middle_up(c), reach, *pixel);
    let ground = relief_of::ground(built, &frame, &grid);
    let field = relief_of::field(&solid.mesh, &frame, &grid).of_mark(&ground, built);
    let lit = Lit::new(&grid, &field, &ground, view.finish).textured(view.texture, c.at);
    let mut by_light = [[0.0; 2]; 8];
    let mut worst = (0, f64::INFINITY, String::new());
    let mut sums = vec![0.0; all.len()];
    for (k, by_view) in by_light.iter_mut().enumerate() {
        for (at, drawn) in lit.both(k).into_iter().enumerate() {
            let seed = (u64::from(c.at) << 8) | (at << 4 | k) as u64;
            let seen = Held::from(Seen::of(&drawn, &grid, *half, eye).with_noise(seed));
            let scores: Vec<f64> = all.iter().map(|t| matched(&seen, &t.seen[k][at])).collect();
            sums.iter_mut().zip(&scores).for_each(|(sum, score)| *sum += score);
            let Some(rival) = best_but(own, &scores) else { continue };
            let margin = scores[own] - scores[rival];
            by_view[at] = margin;
            if margin < worst.1 {
                worst = (k, margin, all[rival].text.clone());
            }
        }
    }
    let margins = [0, 1].map(|view| by_light.iter().map(|by_view| by_view[view]).sum::<f64>() / 8.0);
    let (light, least, taken_for) = worst;
    let rival = best_but(own, &sums).map_or_else(String::new, |t| all[t].text.clone());
    let letter = Letter { character: c.at, text: c.text.clone(), margins, rival, worst: (light, least), taken_for };
    (letter, by_light.map(|by_view| by_view[0]))
}

/// The place of the greatest score but one's own.
fn best_but(own: usize, scores: &[f64]) -> Option<usize> {
    (0..scores.len()).filter(|t| *t != own).max_by(|a, b| scores[*a].total_cmp(&scores[*b]))
}

/// A mark as an eye has it under one light, square-on: brightness to that of its ground, row by row from above.
#[derive(Clone, Debug, PartialEq)]
pub struct Picture {
    pub width: usize,
    pub height: usize,
    /// Of the mark, mm.
    pub pixel: f64,
    /// 1 is the ground's.
    pub brightness: Vec<f32>,
}

/// Pixels of the longer side of a drawing at most.
const WIDEST: f64 = 1800.0;

/// The whole mark under a light, by its place in [`LIGHTS`]; without the eye's noise.
#[must_use]
pub fn seen(solid: &MarkedSolid, built: &BuiltMark, view: View, light: usize) -> Picture {
    let placed = &built.placed;
    let frame = Frame::at(built, placed.middle, placed.along);
    let corners = placed.characters.iter().flat_map(|c| c.region.contours().flatten());
    let flat = corners.map(|&p| frame.flat(built.seat.chart.point(p, 0.0)));
    let (low, high) = flat.fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), p| (low.min(p), high.max(p)));
    let shadow = light::reach(built.mark.relief.height);
    let window = (high - low) / 2.0 + DVec2::splat(0.2 * placed.cap_height + shadow);
    let eye = eye_for(built, view.distance);
    let half = window + DVec2::splat(shadow + eye.blur_reach());
    let grid = Grid::about((low + high) / 2.0, half, eye.pixel.max(2.0 * half.max_element() / WIDEST));
    let ground = relief_of::ground(built, &frame, &grid);
    let field = relief_of::field(&solid.mesh, &frame, &grid).of_mark(&ground, built);
    let lit = Lit::new(&grid, &field, &ground, view.finish).textured(view.texture, 0);
    let seen = Seen::of(&lit.square(light % 8), &grid, window, &eye);
    let rows = (0..seen.tall).rev().flat_map(|y| seen.samples[y * seen.wide..(y + 1) * seen.wide].iter().copied());
    Picture { width: seen.wide, height: seen.tall, pixel: eye.sample, brightness: rows.collect() }
}
