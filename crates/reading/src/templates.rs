//! The characters of a mark's own face, each alone on flat ground under the same lights, without noise.

use crate::{
    eye::{Eye, Held, Seen},
    grid::Grid,
    light::{self, Lit},
    relief_of::{Field, Ground},
};
use flat::{Region, encloses};
use glam::DVec2;
use rayon::prelude::*;
use relief::{BuiltMark, place::PlacedCharacter};
use trade::{Finish, Lettering, MeasuredAt, Relief, Sense};

pub(crate) struct Template {
    pub text: String,
    /// By light and view.
    pub seen: Vec<[Held; 2]>,
}

pub(crate) struct Templates {
    pub all: Vec<Template>,
    /// Half of the window that they are looked at in, mm.
    pub half: DVec2,
    /// Of the drawings, mm.
    pub pixel: f64,
}

/// Of these a character is told, beside those of the text.
const ALPHABET: &str = "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789";
/// Pixels of a capital's height: large ones ask for no finer a drawing, down to so many samples of the eye.
const FINEST: f64 = 120.0;
const COARSEST: f64 = 0.4;
/// Above and below the capitals, in cap heights.
const ROOM: f64 = 0.12;

/// Of capitals of this height, mm, in this sense, for these characters that are so.
///
/// # Errors
/// The face has no such characters.
pub(crate) fn templates(
    built: &BuiltMark,
    characters: &[&PlacedCharacter],
    cap_height: f64,
    sense: Sense,
    (eye, finish): (&Eye, Finish),
) -> Result<Templates, String> {
    let placed = &built.placed;
    // as the text was set in the end
    let lettering = Lettering {
        fit: None,
        cap_height,
        stroke: built.mark.lettering.stroke.map(|stroke| stroke * cap_height / placed.cap_height),
        width: placed.width,
        spacing: 0.0,
        ..built.mark.lettering.clone()
    };
    let mut texts: Vec<String> = ALPHABET.chars().map(String::from).collect();
    for c in characters {
        if !texts.contains(&c.text) {
            texts.push(c.text.clone());
        }
    }
    let shapes: Vec<(String, Region, [f64; 2])> = texts
        .into_par_iter()
        .filter_map(|text| {
            let set = lettering::set(&text, &lettering, &[]).ok()?;
            let [one] = &set.characters[..] else { return None };
            let (low, high) = one.region.bounds()?;
            let middle = (low + high) / 2.0;
            Some((text, one.region.mapped(|p| p - middle), one.capitals))
        })
        .collect();
    if shapes.len() < 2 {
        return Err("its lettering face has no characters to tell it from".into());
    }
    let widest = shapes.iter().filter_map(|(_, region, _)| region.bounds()).map(|(l, h)| h.x - l.x).fold(0.0, f64::max);
    let half = DVec2::new(widest / 2.0 + 2.0 * eye.sample, (0.5 + ROOM) * cap_height);
    let relief = Relief { sense, ..built.mark.relief };
    let reach = half + DVec2::splat(light::reach(relief.height) + eye.blur_reach());
    let pixel = eye.pixel.max((cap_height / FINEST).min(COARSEST * eye.sample));
    let all = shapes.into_par_iter().map(|(text, region, capitals)| {
        let grid = Grid::about(DVec2::new(0.0, (capitals[0] + capitals[1]) / 2.0), reach, pixel);
        let field = field(&region, &relief, &grid);
        let ground = Ground::level(&grid);
        let lit = Lit::new(&grid, &field, &ground, finish);
        let seen = (0..8).map(|k| lit.both(k).map(|drawn| Held::from(Seen::of(&drawn, &grid, half, eye)))).collect();
        Template { text, seen }
    });
    Ok(Templates { all: all.collect(), half, pixel })
}

/// A region as relief with its draft over flat ground.
fn field(region: &Region, relief: &Relief, grid: &Grid) -> Field {
    let inside = filled(region, grid);
    let slope = relief.draft.to_radians().tan();
    let run = (relief.height * slope / grid.pixel) as f32;
    let high = relief.height as f32;
    // how far a pixel is from where the outline was measured, in pixels
    let at_top = relief.measured_at == MeasuredAt::Top;
    let distance = distances(&inside, grid, at_top);
    let sign = if relief.sense.sinks() { -1.0 } else { 1.0 };
    // of its height
    let share = |(inside, distance): (&bool, &f32)| -> f32 {
        match (at_top, *inside) {
            // falls off outward from the outline of the top
            (true, true) => 1.0,
            (true, false) if run > 0.0 => (1.0 - distance / run).max(0.0),
            // rises inward from the outline of the root
            (false, true) if run > 0.0 => (distance / run).min(1.0),
            (false, true) => 1.0,
            _ => 0.0,
        }
    };
    let shares: Vec<f32> = inside.iter().zip(&distance).map(share).collect();
    let (wide, tall) = (grid.wide, grid.tall);
    let normal = |at: usize| {
        // on the wall: away from the outline, leaning by the draft
        if shares[at] <= 0.0 || shares[at] >= 1.0 {
            return [0.0, 0.0, 1.0];
        }
        let (x, y) = (at % wide, at / wide);
        let far = |x: usize, y: usize| distance[y * wide + x];
        let dx = far((x + 1).min(wide - 1), y) - far(x.saturating_sub(1), y);
        let dy = far(x, (y + 1).min(tall - 1)) - far(x, y.saturating_sub(1));
        let flat = dx.hypot(dy).max(1e-6);
        // heights fall with the distance outward, and rise with it inward
        let falls = if at_top { sign } else { -sign };
        let (cos, sin) = (relief.draft.to_radians().cos() as f32, relief.draft.to_radians().sin() as f32);
        [falls * cos * dx / flat, falls * cos * dy / flat, sin]
    };
    let normals = (0..shares.len()).map(normal).collect();
    Field { heights: shares.into_iter().map(|share| sign * high * share).collect(), normals }
}

fn filled(region: &Region, grid: &Grid) -> Vec<bool> {
    let mut inside = vec![false; grid.len()];
    let contours: Vec<&Vec<DVec2>> = region.contours().collect();
    // where a row crosses the contours
    for y in 0..grid.tall {
        let level = grid.at(0, y).y;
        let mut crossings: Vec<f64> = Vec::new();
        for contour in &contours {
            for (k, a) in contour.iter().enumerate() {
                let b = contour[(k + 1) % contour.len()];
                if (a.y <= level) != (b.y <= level) {
                    crossings.push(a.x + (level - a.y) / (b.y - a.y) * (b.x - a.x));
                }
            }
        }
        crossings.sort_by(f64::total_cmp);
        for pair in crossings.chunks_exact(2) {
            let [first, last] = [pair[0], pair[1]].map(|x| (x - grid.low.x) / grid.pixel);
            let range = first.ceil().max(0.0) as usize..((last.floor() + 1.0).max(0.0) as usize).min(grid.wide);
            range.for_each(|x| inside[y * grid.wide + x] = true);
        }
    }
    debug_assert!(contours.is_empty() || inside.iter().any(|i| *i) || !encloses(contours.clone(), grid.at(0, 0)));
    inside
}

/// How far each pixel outside (or inside) is from the nearest one on the other side, in pixels: the parabolas of Felzenszwalb
/// and Huttenlocher (2012), first up, then across.
fn distances(inside: &[bool], grid: &Grid, outside: bool) -> Vec<f32> {
    const FAR: f32 = 1e9;
    let mut squares: Vec<f32> = inside.iter().map(|i| if *i == outside { 0.0 } else { FAR }).collect();
    let mut line = vec![0.0; grid.wide.max(grid.tall)];
    for x in 0..grid.wide {
        (0..grid.tall).for_each(|y| line[y] = squares[y * grid.wide + x]);
        let new = parabolas(&line[..grid.tall]);
        (0..grid.tall).for_each(|y| squares[y * grid.wide + x] = new[y]);
    }
    for row in squares.chunks_exact_mut(grid.wide) {
        let new = parabolas(row);
        row.copy_from_slice(&new);
    }
    squares.into_iter().map(f32::sqrt).collect()
}

fn parabolas(values: &[f32]) -> Vec<f32> {
    let mut stands: Vec<usize> = vec![0];
    let mut from: Vec<f32> = vec![f32::NEG_INFINITY];
    for q in 1..values.len() {
        loop {
            let p = stands[stands.len() - 1];
            let (qf, pf) = (q as f32, p as f32);
            let meets = ((values[q] + qf * qf) - (values[p] + pf * pf)) / (2.0 * (qf - pf));
            if meets <= from[from.len() - 1] && stands.len() > 1 {
                stands.pop();
                from.pop();
                continue;
            }
            stands.push(q);
            from.push(meets);
            break;
        }
    }
    let mut out = Vec::with_capacity(values.len());
    let mut k = 0;
    for q in 0..values.len() {
        while k + 1 < stands.len() && from[k + 1] < q as f32 {
            k += 1;
        }
        let d = q as f32 - stands[k] as f32;
        out.push(d * d + values[stands[k]]);
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use flat::Island;

    fn square(half: f64) -> Region {
        let outer = [(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)].map(|(x, y)| DVec2::new(x, y) * half).to_vec();
        Region { islands: vec![Island { outer, counters: Vec::new() }] }
    }

    #[test]
    fn a_square_stands_as_high_as_set_and_falls_off_by_its_draft() {
        let grid = Grid::about(DVec2::ZERO, DVec2::splat(2.0), 0.02);
        let at = |heights: &[f32], x: f64| {
            let p = grid.pixels(DVec2::new(x, 0.0)).round();
            heights[p.y as usize * grid.wide + p.x as usize]
        };
        // 45°: as far out as it is high
        let relief = Relief { height: 0.4, draft: 45.0, measured_at: MeasuredAt::Top, ..Relief::default() };
        let raised = field(&square(1.0), &relief, &grid).heights;
        assert!((at(&raised, 0.0) - 0.4).abs() < 1e-6 && at(&raised, 1.5).abs() < 1e-6);
        // top and ground look up, the wall to the right leans by its draft
        let leaning = |relief: &Relief, x: f64| {
            let p = grid.pixels(DVec2::new(x, 0.0)).round();
            field(&square(1.0), relief, &grid).normals[p.y as usize * grid.wide + p.x as usize]
        };
        assert_eq!([0.0, 0.9, 1.6].map(|x| leaning(&relief, x)), [[0.0, 0.0, 1.0]; 3]);
        let half = 0.5_f32.sqrt();
        let wall = leaning(&relief, 1.2);
        assert!((wall[0] - half).abs() < 0.02 && (wall[2] - half).abs() < 0.02, "{wall:?}");
        assert!((at(&raised, 1.2) - 0.2).abs() < 0.03, "{}", at(&raised, 1.2));
        let root = Relief { measured_at: MeasuredAt::Root, ..relief };
        let raised = field(&square(1.0), &root, &grid).heights;
        assert!((at(&raised, 0.8) - 0.2).abs() < 0.03 && at(&raised, 1.1).abs() < 1e-6);
        assert_eq!(leaning(&root, 0.0), [0.0, 0.0, 1.0]);
        assert!((leaning(&root, 0.8)[0] - half).abs() < 0.02);
        let sunken = Relief { sense: Sense::Sunken, ..relief };
        assert!((at(&field(&square(1.0), &sunken, &grid).heights, 0.0) + 0.4).abs() < 1e-6);
    }

    #[test]
    fn distances_are_those_of_pythagoras() {
        let grid = Grid::about(DVec2::ZERO, DVec2::splat(0.5), 0.05);
        let mut inside = vec![false; grid.len()];
        let (x, y) = (4, 7);
        inside[y * grid.wide + x] = true;
        let found = distances(&inside, &grid, true);
        for v in 0..grid.tall {
            for u in 0..grid.wide {
                let wanted = ((u as f32 - x as f32).powi(2) + (v as f32 - y as f32).powi(2)).sqrt();
                assert!((found[v * grid.wide + u] - wanted).abs() < 1e-4, "{u} {v}");
            }
        }
    }
}
