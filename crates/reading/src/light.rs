//! Raking light on a field of heights: shadows, shading, and how it looks from 30° off.

use crate::{
    grid::Grid,
    relief_of::{Field, Ground},
};

/// The sides that light comes from, degrees counter-clockwise from the reading direction.
pub const LIGHTS: [f64; 8] = [0.0, 45.0, 90.0, 135.0, 180.0, 225.0, 270.0, 315.0];
/// Over the ground.
pub(crate) const ELEVATION_DEG: f64 = 20.0;
/// Light from all round, to that of the lamp on the ground.
const FILL: f32 = 0.6;
const SPECULAR: f32 = 0.1;
const EXPONENT: i32 = 20;
/// Brighter than this, to the ground, an eye tells nothing apart.
const BRIGHTEST: f32 = 3.0;
/// From which a reader looks who stands before a mark that lies flat.
const OBLIQUE_DEG: f32 = 30.0;
/// Facets that lean less from the seat than this are the seat's own, or tops and floors that run with it: they are shaded as the
/// smooth surface that they stand for.
const OF_SEAT_DEG: f32 = 25.0;
/// Heights that differ by less throw no shadow, mm.
const HAIR: f32 = 1e-4;

/// How far the shadow of a relief reaches, mm.
pub(crate) fn reach(height: f64) -> f64 {
    height / ELEVATION_DEG.to_radians().tan()
}

/// A drawing to be lit.
pub(crate) struct Lit<'a> {
    grid: &'a Grid,
    field: &'a Field,
    ground: &'a Ground,
    /// What stands there, or the bare ground where the solid ends.
    heights: Vec<f32>,
    /// Where it doesn't run with the seat.
    leans: Vec<bool>,
}

impl<'a> Lit<'a> {
    pub(crate) fn new(grid: &'a Grid, field: &'a Field, ground: &'a Ground) -> Self {
        let stands = field.heights.iter().zip(&ground.heights);
        let with_seat = OF_SEAT_DEG.to_radians().cos();
        let leans = |at: usize| field.heights[at].is_finite() && dot(field.normals[at], ground.normals[at]) < with_seat;
        Self {
            grid,
            field,
            ground,
            heights: stands.map(|(h, g)| if h.is_finite() { *h } else { *g }).collect(),
            leans: (0..grid.len()).map(leans).collect(),
        }
    }

    /// Brightness of each pixel to that of the bare ground there, square-on and from 30° off.
    pub(crate) fn both(&self, light: usize) -> [Vec<f32>; 2] {
        let lit = lit(&self.heights, self.grid, LIGHTS[light].to_radians());
        [self.square_on(&lit, light), self.oblique(&lit, light)]
    }

    pub(crate) fn square(&self, light: usize) -> Vec<f32> {
        self.square_on(&lit(&self.heights, self.grid, LIGHTS[light].to_radians()), light)
    }

    fn square_on(&self, lit: &[bool], light: usize) -> Vec<f32> {
        let seen = Seen { lamp: lamp(light), eye: [0.0, 0.0, 1.0] };
        (0..self.grid.len()).map(|at| self.told(&seen, lit, at)).collect()
    }

    fn told(&self, seen: &Seen, lit: &[bool], at: usize) -> f32 {
        let level = self.ground.normals[at];
        match (self.leans[at], lit[at]) {
            (false, true) => 1.0,
            (false, false) => seen.against(level, level, false),
            (true, lit) => seen.against(self.field.normals[at], level, lit),
        }
    }

    /// What stands high hides what lies behind it, and walls that look to the reader are seen.
    fn oblique(&self, lit: &[bool], light: usize) -> Vec<f32> {
        let Self { grid, heights, ground, .. } = self;
        let (sin, cos) = (OBLIQUE_DEG.to_radians().sin(), OBLIQUE_DEG.to_radians().cos());
        let seen = Seen { lamp: lamp(light), eye: [0.0, -sin, cos] };
        let mut out = vec![1.0; grid.len()];
        let mut nearest = vec![f32::NEG_INFINITY; grid.len()];
        let middle = (grid.tall as f32 - 1.0) / 2.0;
        let level = ground.heights[(grid.tall / 2) * grid.wide + grid.wide / 2];
        let step = grid.pixel as f32;
        let place = |at: usize, y: usize| {
            let h = (heights[at] - level) / step;
            let from_middle = y as f32 - middle;
            // up on the picture, and towards the eye
            (from_middle * cos + h * sin + middle, h * cos - from_middle * sin)
        };
        for y in 0..grid.tall - 1 {
            for x in 0..grid.wide {
                let here = y * grid.wide + x;
                let next = here + grid.wide;
                let ((a, near), (b, far)) = (place(here, y), place(next, y + 1));
                let (first, last) = (a.min(b).ceil().max(0.0) as usize, a.max(b).floor());
                if last < 0.0 {
                    continue;
                }
                for row in first..=(last as usize).min(grid.tall - 1) {
                    let share = if (b - a).abs() > 1e-6 { (row as f32 - a) / (b - a) } else { 0.0 };
                    let depth = near + share * (far - near);
                    let at = row * grid.wide + x;
                    if depth > nearest[at] {
                        nearest[at] = depth;
                        // a wall that is steeper than any pixel shows, as it would be seen
                        out[at] = if (heights[here] - heights[next]).abs() > step {
                            let [nx, ny, _] = normal(heights, grid, x, y + 1);
                            let flat = nx.hypot(ny).max(1e-6);
                            seen.against([nx / flat, ny / flat, 0.0], ground.normals[next], lit[next])
                        } else {
                            let (own, behind) = (self.told(&seen, lit, here), self.told(&seen, lit, next));
                            own + share * (behind - own)
                        };
                    }
                }
            }
        }
        out
    }
}

pub(crate) fn normal(heights: &[f32], grid: &Grid, x: usize, y: usize) -> [f32; 3] {
    let at = |x: usize, y: usize| heights[y * grid.wide + x];
    let (left, right) = (x.saturating_sub(1), (x + 1).min(grid.wide - 1));
    let (below, above) = (y.saturating_sub(1), (y + 1).min(grid.tall - 1));
    let step = grid.pixel as f32;
    let dx = (at(right, y) - at(left, y)) / ((right - left) as f32 * step);
    let dy = (at(x, above) - at(x, below)) / ((above - below) as f32 * step);
    let length = (dx * dx + dy * dy + 1.0).sqrt();
    [-dx / length, -dy / length, 1.0 / length]
}

fn dot(a: [f32; 3], b: [f32; 3]) -> f32 {
    a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
}

/// Towards a lamp.
fn lamp(light: usize) -> [f32; 3] {
    let azimuth = LIGHTS[light].to_radians();
    let (sin, cos) = ELEVATION_DEG.to_radians().sin_cos();
    [(azimuth.cos() * cos) as f32, (azimuth.sin() * cos) as f32, sin as f32]
}

struct Seen {
    /// Towards the lamp, and towards the eye.
    lamp: [f32; 3],
    eye: [f32; 3],
}

impl Seen {
    /// Brightness of what looks so, to that of bare ground that looks so in full light.
    fn against(&self, normal: [f32; 3], level: [f32; 3], lit: bool) -> f32 {
        (self.brightness(normal, lit) / self.brightness(level, true).max(0.05)).min(BRIGHTEST)
    }

    fn brightness(&self, normal: [f32; 3], lit: bool) -> f32 {
        let fill = FILL * normal[2];
        if !lit {
            return fill;
        }
        let towards = dot(normal, self.lamp).max(0.0);
        let mirrored = [0, 1, 2].map(|k| 2.0 * towards * normal[k] - self.lamp[k]);
        fill + towards / self.lamp[2] + SPECULAR * dot(mirrored, self.eye).max(0.0).powi(EXPONENT)
    }
}

/// Which pixels the lamp reaches: none between is higher than the ray. By doubling the way each time, the highest of all over a
/// falling line is found in as many steps as its length has digits.
fn lit(heights: &[f32], grid: &Grid, azimuth: f64) -> Vec<bool> {
    let (low, high) = heights.iter().fold((f32::INFINITY, f32::NEG_INFINITY), |(l, h), z| (l.min(*z), h.max(*z)));
    let fall = ELEVATION_DEG.to_radians().tan() as f32 * grid.pixel as f32;
    let longest = (((high - low) / fall).ceil().max(1.0) as usize).min(grid.wide + grid.tall);
    let mut over = vec![f32::NEG_INFINITY; grid.len()];
    // the first pixel on the way, then twice as many each time
    raise(&mut over, heights, grid, azimuth, 1, fall);
    let mut reach = 1;
    while reach < longest {
        let before = over.clone();
        raise(&mut over, &before, grid, azimuth, reach, fall);
        reach *= 2;
    }
    heights.iter().zip(&over).map(|(h, over)| *h >= over - HAIR).collect()
}

/// Raises `over` to what `from` has so many pixels towards the lamp, lower by the fall of the ray.
fn raise(over: &mut [f32], from: &[f32], grid: &Grid, azimuth: f64, by: usize, fall: f32) {
    let way = |part: f64| (part * by as f64).round() as isize;
    let (dx, dy) = (way(azimuth.cos()), way(azimuth.sin()));
    let down = by as f32 * fall;
    let (left, right) = ((-dx).max(0) as usize, grid.wide.saturating_sub(dx.max(0) as usize));
    if left >= right {
        return;
    }
    for y in 0..grid.tall {
        let Some(there) = y.checked_add_signed(dy).filter(|y| *y < grid.tall) else { continue };
        let start = there * grid.wide + left.wrapping_add_signed(dx);
        let there = &from[start..start + right - left];
        let here = &mut over[y * grid.wide + left..y * grid.wide + right];
        here.iter_mut().zip(there).for_each(|(over, height)| *over = over.max(height - down));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec2;

    /// A bar across the reading direction, on flat ground.
    fn bar(high: f32) -> (Grid, Field, Ground) {
        let grid = Grid::about(DVec2::ZERO, DVec2::new(3.0, 0.5), 0.02);
        let height = |at: usize| {
            let x = grid.at(at % grid.wide, 0).x;
            if x.abs() < 0.2 { high } else { 0.0 }
        };
        let heights = (0..grid.len()).map(height).collect();
        // its walls stand straight up: from above they are not seen
        let field = Field { heights, normals: vec![[0.0, 0.0, 1.0]; grid.len()] };
        (grid, field, Ground::level(&grid))
    }

    #[test]
    fn a_shadow_is_as_long_as_its_bar_is_high_by_the_light() {
        for high in [0.1_f32, 0.3, 0.5] {
            let (grid, field, _) = bar(high);
            // from the right: the shadow lies to the left, from −0.2 on
            let lit = lit(&field.heights, &grid, 0.0);
            let row = grid.tall / 2;
            let dark: Vec<f64> =
                (0..grid.wide).filter(|x| !lit[row * grid.wide + x]).map(|x| grid.at(x, row).x).collect();
            let wanted = f64::from(high) / 20.0_f64.to_radians().tan();
            let (first, last) = (dark[0], dark[dark.len() - 1]);
            assert!((-0.2 - first - wanted).abs() < 0.05, "{high}: {first}, {wanted} long");
            assert!((last + 0.2).abs() < 0.05, "{last}");
        }
    }

    #[test]
    fn ground_is_as_bright_as_itself_and_a_wall_is_seen_by_its_draft() {
        let (grid, field, ground) = bar(0.3);
        let seen = Lit::new(&grid, &field, &ground).square(0);
        let row = grid.tall / 2;
        let at = |x: f64| seen[row * grid.wide + grid.pixels(DVec2::new(x, 0.0)).x.round() as usize];
        assert!((at(2.0) - 1.0).abs() < 1e-5 && (at(0.0) - 1.0).abs() < 1e-5);
        assert!(at(-0.5) < 0.5, "{}", at(-0.5));
        assert!(seen.iter().all(|b| *b < 1.0 + 1e-5), "a wall without draft has no breadth from above");
        // a slope of 45° to the lamp: sin(45° + 20°) to sin 20°, and the light from all round by its cosine
        let slope = 0.5_f32.sqrt();
        let seen = Seen { lamp: [0.939_693, 0.0, 0.342_02], eye: [0.0, 0.0, 1.0] };
        let sloped = seen.brightness([slope, 0.0, slope], true);
        let wanted = 65.0_f32.to_radians().sin() / 20.0_f32.to_radians().sin() + 0.6 * slope;
        // the gloss adds a tenth at most
        assert!(sloped >= wanted - 1e-4 && sloped <= wanted + 0.1, "{sloped} {wanted}");
        // flat ground looks the same from everywhere
        let flat = Field { heights: ground.heights.clone(), normals: vec![[0.0, 0.0, 1.0]; grid.len()] };
        let flat = Lit::new(&grid, &flat, &ground).both(3);
        assert!(flat.iter().flatten().all(|b| (b - 1.0).abs() < 1e-5));
    }
}
