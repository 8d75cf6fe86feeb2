//! Raking light on a field of heights: shadows, shading, and how it looks from 30° off.

use crate::{
    grid::Grid,
    relief_of::{Field, Ground},
    texture::grain,
};
use std::cell::OnceCell;
use trade::Finish;

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
    /// Of what shines as a mirror does, to the lamp on the ground.
    specular: f32,
    /// How the surface leans by its texture, where it has one.
    grain: Option<Vec<[f32; 3]>>,
    from_aside: OnceCell<Vec<Aside>>,
}

impl<'a> Lit<'a> {
    pub(crate) fn new(grid: &'a Grid, field: &'a Field, ground: &'a Ground, finish: Finish) -> Self {
        let stands = field.heights.iter().zip(&ground.heights);
        let with_seat = OF_SEAT_DEG.to_radians().cos();
        let leans = |at: usize| field.heights[at].is_finite() && dot(field.normals[at], ground.normals[at]) < with_seat;
        Self {
            grid,
            field,
            ground,
            heights: stands.map(|(h, g)| if h.is_finite() { *h } else { *g }).collect(),
            leans: (0..grid.len()).map(leans).collect(),
            specular: if finish == Finish::Matt { 0.0 } else { SPECULAR },
            grain: None,
            from_aside: OnceCell::new(),
        }
    }

    /// The same with a texture so deep, mm, on ground and lettering alike; another for each seed. It breaks what would shine.
    pub(crate) fn textured(mut self, depth: f64, seed: u32) -> Self {
        if depth > 0.0 {
            let heights = grain(self.grid, depth, seed);
            self.heights.iter_mut().zip(&heights).for_each(|(height, more)| *height += more);
            let (grid, wide) = (self.grid, self.grid.wide);
            self.grain = Some((0..grid.len()).map(|at| normal(&heights, grid, at % wide, at / wide)).collect());
            self.specular = 0.0;
        }
        self
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
        self.shaded(&self.by(light, [0.0, 0.0, 1.0]), lit)
    }

    fn by(&self, light: usize, eye: [f32; 3]) -> Seen {
        Seen { lamp: lamp(light), eye, specular: self.specular }
    }

    /// Each pixel's brightness to that of the bare ground there.
    fn shaded(&self, seen: &Seen, lit: &[bool]) -> Vec<f32> {
        let ground = &self.ground.normals;
        // on level ground it is the same everywhere
        let level = ground.first().filter(|first| ground.iter().all(|n| n == *first)).map(|first| seen.full(*first));
        let full = |at: usize| level.unwrap_or_else(|| seen.full(ground[at]));
        let told = |at: usize| match (self.leans[at], &self.grain) {
            (true, _) => seen.against(self.field.normals[at], full(at), lit[at]),
            (false, Some(grain)) => seen.against(sum(ground[at], grain[at]), full(at), lit[at]),
            (false, None) if lit[at] => 1.0,
            (false, None) => seen.against(ground[at], full(at), false),
        };
        (0..self.grid.len()).map(told).collect()
    }

    /// What stands high hides what lies behind it, and walls that look to the reader are seen.
    fn oblique(&self, lit: &[bool], light: usize) -> Vec<f32> {
        let seen = self.by(light, towards_reader());
        let told = self.shaded(&seen, lit);
        let wide = self.grid.wide;
        let from_aside = self.from_aside.get_or_init(|| self.looked_at_aside());
        let brightness = |place: &Aside| match *place {
            Aside::Nothing => 1.0,
            Aside::Between { here, share } => {
                let here = here as usize;
                told[here] + share * (told[here + wide] - told[here])
            }
            Aside::Wall { foot, normal: [x, y] } => {
                let foot = foot as usize;
                seen.against([x, y, 0.0], seen.full(self.ground.normals[foot]), lit[foot])
            }
        };
        from_aside.iter().map(brightness).collect()
    }

    /// What is seen at each pixel from 30° off, under whatever light.
    fn looked_at_aside(&self) -> Vec<Aside> {
        let Self { grid, heights, ground, .. } = self;
        let [_, sin, cos] = towards_reader();
        let sin = -sin;
        let mut out = vec![Aside::Nothing; grid.len()];
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
                for row in whole_from(a.min(b))..=whole_to(a.max(b)).min(grid.tall as i32 - 1) {
                    let share = if (b - a).abs() > 1e-6 { (row as f32 - a) / (b - a) } else { 0.0 };
                    let depth = near + share * (far - near);
                    let at = row as usize * grid.wide + x;
                    if depth > nearest[at] {
                        nearest[at] = depth;
                        // a wall that is steeper than any pixel shows, as it would be seen
                        out[at] = if (heights[here] - heights[next]).abs() > step {
                            let [nx, ny, _] = normal(heights, grid, x, y + 1);
                            let flat = nx.hypot(ny).max(1e-6);
                            Aside::Wall { foot: next as u32, normal: [nx / flat, ny / flat] }
                        } else {
                            Aside::Between { here: here as u32, share }
                        };
                    }
                }
            }
        }
        out
    }
}

/// What is seen at a pixel from aside.
#[derive(Clone, Copy)]
enum Aside {
    /// The drawing ends before it: bare ground.
    Nothing,
    /// Between a pixel and the one above it.
    Between { here: u32, share: f32 },
    /// A steep wall over a pixel.
    Wall { foot: u32, normal: [f32; 2] },
}

/// From aside, to the eye.
fn towards_reader() -> [f32; 3] {
    [0.0, -OBLIQUE_DEG.to_radians().sin(), OBLIQUE_DEG.to_radians().cos()]
}

/// The first whole number from `from` on that is not negative; the last one up to `to`.
fn whole_from(from: f32) -> i32 {
    let cut = from as i32;
    (cut + i32::from((cut as f32) < from)).max(0)
}

fn whole_to(to: f32) -> i32 {
    let cut = to as i32;
    cut - i32::from((cut as f32) > to)
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

/// A normal that leans from level ground as `grain` does from straight up; small angles.
fn sum(level: [f32; 3], grain: [f32; 3]) -> [f32; 3] {
    let leaning = [level[0] + grain[0], level[1] + grain[1], level[2] + grain[2] - 1.0];
    let long = dot(leaning, leaning).sqrt().max(1e-6);
    leaning.map(|part| part / long)
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
    specular: f32,
}

impl Seen {
    /// Brightness of what looks so, to that of bare ground in full light.
    fn against(&self, normal: [f32; 3], full: f32, lit: bool) -> f32 {
        (self.brightness(normal, lit) / full).min(BRIGHTEST)
    }

    /// Brightness of bare ground that looks so in full light.
    fn full(&self, normal: [f32; 3]) -> f32 {
        self.brightness(normal, true).max(0.05)
    }

    fn brightness(&self, normal: [f32; 3], lit: bool) -> f32 {
        let fill = FILL * normal[2];
        if !lit {
            return fill;
        }
        let towards = dot(normal, self.lamp).max(0.0);
        let mirrored = [0, 1, 2].map(|k| 2.0 * towards * normal[k] - self.lamp[k]);
        fill + towards / self.lamp[2] + self.specular * dot(mirrored, self.eye).max(0.0).powi(EXPONENT)
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
        let seen = Lit::new(&grid, &field, &ground, Finish::Satin).square(0);
        let row = grid.tall / 2;
        let at = |x: f64| seen[row * grid.wide + grid.pixels(DVec2::new(x, 0.0)).x.round() as usize];
        assert!((at(2.0) - 1.0).abs() < 1e-5 && (at(0.0) - 1.0).abs() < 1e-5);
        assert!(at(-0.5) < 0.5, "{}", at(-0.5));
        assert!(seen.iter().all(|b| *b < 1.0 + 1e-5), "a wall without draft has no breadth from above");
        // a slope of 45° to the lamp: sin(45° + 20°) to sin 20°, and the light from all round by its cosine
        let slope = 0.5_f32.sqrt();
        let seen = Seen { lamp: [0.939_693, 0.0, 0.342_02], eye: [0.0, 0.0, 1.0], specular: SPECULAR };
        let sloped = seen.brightness([slope, 0.0, slope], true);
        let wanted = 65.0_f32.to_radians().sin() / 20.0_f32.to_radians().sin() + 0.6 * slope;
        // the gloss adds a tenth at most
        assert!(sloped >= wanted - 1e-4 && sloped <= wanted + 0.1, "{sloped} {wanted}");
        let dull = Seen { specular: 0.0, ..seen };
        assert!((dull.brightness([slope, 0.0, slope], true) - wanted).abs() < 1e-4, "a matt slope");
        // flat ground looks the same from everywhere
        let flat = Field { heights: ground.heights.clone(), normals: vec![[0.0, 0.0, 1.0]; grid.len()] };
        let flat = Lit::new(&grid, &flat, &ground, Finish::Satin).both(3);
        assert!(flat.iter().flatten().all(|b| (b - 1.0).abs() < 1e-5));
    }
}
