//! What an eye makes of a drawing: blurred to its acuity, sampled, with noise; and how well two such pictures match.

use crate::grid::Grid;
use glam::DVec2;

/// Pixels of a minute of arc.
const FINE: f64 = 8.0;
/// Standard deviation of the blur, minutes of arc, and samples of a minute.
const BLUR: f64 = 0.5;
const SAMPLES: f64 = 2.0;
/// Standard deviation of the noise, to the ground's brightness: without, a match could fail no faint relief.
const NOISE: f64 = 0.05;
/// Contrast to the ground that is too faint to read by: chosen so that a hundredth of a millimetre is not read.
const FAINT: f32 = 0.15;
/// The blur is reckoned to so many standard deviations.
const TAILS: f64 = 3.0;

pub(crate) struct Eye {
    /// mm of a pixel, and of a sample.
    pub pixel: f64,
    pub sample: f64,
    blur: f64,
}

impl Eye {
    /// One that reads from so far, mm.
    pub(crate) fn at(distance: f64) -> Self {
        let minute = distance * (1.0_f64 / 60.0).to_radians().tan();
        Self { pixel: minute / FINE, sample: minute / SAMPLES, blur: BLUR * minute }
    }

    /// How far the blur brings something in from outside, mm.
    pub(crate) fn blur_reach(&self) -> f64 {
        TAILS * self.blur
    }

    /// The weights of the blur, pixel by pixel from its middle to both sides.
    fn weights(&self, pixel: f64) -> Vec<f32> {
        let sigma = self.blur / pixel;
        let reach = (TAILS * sigma).ceil() as i32;
        let raw: Vec<f64> = (-reach..=reach).map(|k| (-0.5 * (f64::from(k) / sigma).powi(2)).exp()).collect();
        let sum: f64 = raw.iter().sum();
        raw.into_iter().map(|w| (w / sum) as f32).collect()
    }
}

/// A picture as an eye has it, row by row from below.
#[derive(Clone, Debug)]
pub(crate) struct Seen {
    pub wide: usize,
    pub tall: usize,
    pub samples: Vec<f32>,
}

impl Seen {
    /// The window of so much to all sides of a drawing's middle.
    pub(crate) fn of(drawn: &[f32], grid: &Grid, half: DVec2, eye: &Eye) -> Self {
        let weights = eye.weights(grid.pixel);
        let reach = weights.len() / 2;
        let step = eye.sample / grid.pixel;
        let count = |half: f64| 2 * (half / eye.sample).round() as usize + 1;
        let (wide, tall) = (count(half.x), count(half.y));
        let places = |count: usize, pixels: usize| -> Vec<usize> {
            let middle = (pixels as f64 - 1.0) / 2.0;
            let place = |k: usize| middle + (k as f64 - (count as f64 - 1.0) / 2.0) * step;
            (0..count).map(|k| place(k).round().clamp(0.0, pixels as f64 - 1.0) as usize).collect()
        };
        let (columns, rows) = (places(wide, grid.wide), places(tall, grid.tall));
        // up first, for the rows that are sampled alone
        let mut samples = Vec::with_capacity(wide * tall);
        let mut line = vec![0.0_f32; grid.wide];
        for &y in &rows {
            line.fill(0.0);
            for (k, weight) in weights.iter().enumerate() {
                let from = (y + k).saturating_sub(reach).min(grid.tall - 1);
                let row = &drawn[from * grid.wide..(from + 1) * grid.wide];
                line.iter_mut().zip(row).for_each(|(sum, b)| *sum += weight * b);
            }
            samples.extend(columns.iter().map(|&x| {
                let taken = weights.iter().enumerate();
                let blurred =
                    taken.map(|(k, w)| w * line[(x + k).saturating_sub(reach).min(grid.wide - 1)]).sum::<f32>();
                let contrast = blurred - 1.0;
                1.0 + (contrast.abs() - FAINT).max(0.0).copysign(contrast)
            }));
        }
        Self { wide, tall, samples }
    }

    /// With the noise of an eye, the same for the same seed.
    pub(crate) fn with_noise(mut self, seed: u64) -> Self {
        let mut state = seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ 0x5851_f42d_4c95_7f2d;
        // SplitMix64 (Steele, Lea, Flood 2014), and the method of Box and Muller
        let mut even = || {
            state = state.wrapping_add(0x9e37_79b9_7f4a_7c15);
            let mut z = state;
            z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
            z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
            ((z ^ (z >> 31)) >> 11) as f64 / (1_u64 << 53) as f64
        };
        for sample in &mut self.samples {
            let (u, v) = (even().max(1e-300), even());
            let normal = (-2.0 * u.ln()).sqrt() * (std::f64::consts::TAU * v).cos();
            *sample += (NOISE * normal) as f32;
        }
        self
    }
}

/// Shifts by a sample to all sides, and none.
const SHIFTS: [[isize; 2]; 9] = [[-1, -1], [0, -1], [1, -1], [-1, 0], [0, 0], [1, 0], [-1, 1], [0, 1], [1, 1]];

/// A picture to be held against others, with the sums that every comparison asks for.
#[derive(Clone, Debug)]
pub(crate) struct Held {
    wide: usize,
    tall: usize,
    /// To the ground.
    contrasts: Vec<f32>,
    /// Of the part that is left by each of [`SHIFTS`] to the other way: the sum and that of squares.
    sums: [[f64; 2]; 9],
}

impl From<Seen> for Held {
    fn from(Seen { wide, tall, samples }: Seen) -> Self {
        let contrasts: Vec<f32> = samples.into_iter().map(|s| s - 1.0).collect();
        let sums = SHIFTS.map(|shift| {
            let mut sums = [0.0, 0.0];
            for row in left_by(shift, wide, tall, &contrasts) {
                let (sum, squares) = row.iter().fold((0.0_f32, 0.0_f32), |(s, q), p| (s + p, q + p * p));
                sums[0] += f64::from(sum);
                sums[1] += f64::from(squares);
            }
            sums
        });
        Self { wide, tall, contrasts, sums }
    }
}

/// Of a picture what lies over another one of the same size that is shifted against it, row by row.
fn left_by([dx, dy]: [isize; 2], wide: usize, tall: usize, of: &[f32]) -> impl Iterator<Item = &[f32]> {
    let (first, last) = ((-dx).max(0) as usize, wide.saturating_sub(dx.max(0) as usize));
    let rows = (-dy).max(0) as usize..tall.saturating_sub(dy.max(0) as usize);
    rows.map(move |y| &of[y * wide + first.min(last)..y * wide + last])
}

/// How well a picture matches a clean one of the same size: their correlation, free of their means, the best of shifts by a sample
/// to all sides; −1 to 1.
pub(crate) fn matched(seen: &Held, clean: &Held) -> f64 {
    debug_assert_eq!((seen.wide, seen.tall), (clean.wide, clean.tall));
    SHIFTS.iter().enumerate().map(|(at, _)| correlation(seen, clean, at)).fold(-1.0, f64::max)
}

/// Of the first picture against the second one, shifted by one of [`SHIFTS`].
fn correlation(a: &Held, b: &Held, shift: usize) -> f64 {
    let way = SHIFTS[shift];
    // the other one is cut by the opposite shift
    let ([sa, saa], [sb, sbb]) = (a.sums[shift], b.sums[SHIFTS.len() - 1 - shift]);
    let (mut n, mut sab) = (0, 0.0);
    let theirs = left_by(way.map(|d| -d), b.wide, b.tall, &b.contrasts);
    for (own, other) in left_by(way, a.wide, a.tall, &a.contrasts).zip(theirs) {
        n += own.len();
        sab += f64::from(product(own, other));
    }
    let n = n.max(1) as f64;
    let (va, vb) = (saa - sa * sa / n, sbb - sb * sb / n);
    if va <= 1e-9 || vb <= 1e-9 { 0.0 } else { (sab - sa * sb / n) / (va * vb).sqrt() }
}

/// The sum of products, in eight sums side by side: a processor adds them at once.
fn product(a: &[f32], b: &[f32]) -> f32 {
    let mut sums = [0.0_f32; 8];
    let (a8, b8) = (a.chunks_exact(8), b.chunks_exact(8));
    let rest: f32 = a8.remainder().iter().zip(b8.remainder()).map(|(p, q)| p * q).sum();
    for (p, q) in a8.zip(b8) {
        (0..8).for_each(|k| sums[k] += p[k] * q[k]);
    }
    sums.iter().sum::<f32>() + rest
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_picture_matches_itself_and_its_shift_and_not_its_negative() {
        let samples: Vec<f32> =
            (0..400).map(|k| 1.0 + ((k % 20) as f32 * 0.7).sin() * ((k / 20) as f32 * 0.3).cos()).collect();
        let one = Seen { wide: 20, tall: 20, samples };
        let matched = |a: &Seen, b: &Seen| super::matched(&a.clone().into(), &b.clone().into());
        assert!((matched(&one, &one) - 1.0).abs() < 1e-6);
        let negative = Seen { samples: one.samples.iter().map(|s| 2.0 - s).collect(), ..one.clone() };
        assert!((correlation(&one.clone().into(), &negative.into(), 4) + 1.0).abs() < 1e-6);
        // contrast and brightness are no part of it
        let faint = Seen { samples: one.samples.iter().map(|s| 0.9 + 0.1 * s).collect(), ..one.clone() };
        assert!((matched(&one, &faint) - 1.0).abs() < 1e-5);
        // moved by a sample any way it still matches: each sample by itself, so that nothing else would
        let uneven = |x: usize, y: usize| ((x * 31 + y * 17) % 23) as f32 / 23.0 + ((x * y) % 7) as f32 / 7.0;
        let moved = |dx: usize, dy: usize| {
            let samples = (0..400).map(|k| 1.0 + uneven(k % 20 + dx, k / 20 + dy)).collect();
            Seen { wide: 20, tall: 20, samples }
        };
        for (dx, dy) in [(0, 1), (2, 1), (1, 0), (1, 2), (0, 0), (2, 2), (0, 2), (2, 0)] {
            assert!((matched(&moved(1, 1), &moved(dx, dy)) - 1.0).abs() < 1e-5, "{dx} {dy}");
        }
        assert!(matched(&moved(1, 1), &moved(4, 1)) < 0.9);
        let noisy = faint.with_noise(7);
        assert!(matched(&one, &noisy) < 0.9 && matched(&noisy.clone(), &noisy) > 0.999);
    }

    #[test]
    fn a_pixel_is_an_eighth_of_a_minute_and_the_blur_keeps_brightness_but_for_what_is_faint() {
        // 0.018 mm at arm's length
        let eye = Eye::at(500.0);
        assert!((eye.pixel - 0.018_18).abs() < 1e-4, "{}", eye.pixel);
        assert!((eye.weights(eye.pixel).iter().sum::<f32>() - 1.0).abs() < 1e-5);
        let grid = Grid::about(DVec2::ZERO, DVec2::splat(1.0), eye.pixel);
        for (drawn, told) in [(1.5, 1.35), (0.5, 0.65), (1.1, 1.0), (0.9, 1.0)] {
            let seen = Seen::of(&vec![drawn; grid.len()], &grid, DVec2::splat(0.5), &eye);
            assert!(seen.samples.iter().all(|s| (s - told).abs() < 1e-5), "{drawn}");
            assert!(seen.wide == seen.tall && seen.wide % 2 == 1);
        }
    }
}
