//! A textured surface: hills and hollows of the texture's depth, as wide as such textures are.

use crate::grid::Grid;
use glam::DVec2;

/// From hill to hill, in depths: from memory.
const WIDE: f64 = 6.0;

/// Heights of a texture so deep over each pixel, mm: smooth noise between random values on a grid of half its width. The same
/// seed gives the same texture.
pub(crate) fn grain(grid: &Grid, depth: f64, seed: u32) -> Vec<f32> {
    // finer than two pixels nothing can be drawn
    let cell = (WIDE / 2.0 * depth).max(2.0 * grid.pixel);
    let value = |x: i64, y: i64| {
        let own = (x as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ (y as u64).wrapping_mul(0xc2b2_ae3d_27d4_eb4f);
        mixed(own ^ u64::from(seed).wrapping_mul(0x1656_67b1_9e37_79f9))
    };
    let smooth = |t: f64| t * t * (3.0 - 2.0 * t);
    let at = |p: DVec2| {
        let q = p / cell;
        let low = q.floor();
        let (u, v) = (smooth(q.x - low.x), smooth(q.y - low.y));
        let (x, y) = (low.x as i64, low.y as i64);
        let below = value(x, y) * (1.0 - u) + value(x + 1, y) * u;
        let above = value(x, y + 1) * (1.0 - u) + value(x + 1, y + 1) * u;
        (depth * (below * (1.0 - v) + above * v - 0.5)) as f32
    };
    (0..grid.len()).map(|k| at(grid.at(k % grid.wide, k / grid.wide))).collect()
}

/// Evenly between 0 and 1 (SplitMix64; Steele, Lea, Flood 2014).
fn mixed(mut z: u64) -> f64 {
    z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
    ((z ^ (z >> 31)) >> 11) as f64 / (1_u64 << 53) as f64
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_texture_is_as_deep_as_it_is_said_and_as_wide_as_it_is_deep_six_times() {
        let grid = Grid::about(DVec2::ZERO, DVec2::splat(4.0), 0.02);
        let depth = 0.05;
        let heights = grain(&grid, depth, 3);
        let (low, high) = heights.iter().fold((f32::MAX, f32::MIN), |(l, h), z| (l.min(*z), h.max(*z)));
        // of many random values the least and the greatest come near to the ends
        assert!(f64::from(high - low) > 0.95 * depth && f64::from(high - low) <= depth, "{low} to {high}");
        // half of the way from hill to hill two places have nothing to do with one another; a tenth of it nearly all
        let alike = |by: usize| {
            let pairs = || (0..grid.tall).flat_map(|y| (0..grid.wide - by).map(move |x| y * grid.wide + x));
            let product: f32 = pairs().map(|k| heights[k] * heights[k + by]).sum();
            product / pairs().map(|k| heights[k] * heights[k]).sum::<f32>()
        };
        let wide = (6.0 * depth / grid.pixel) as usize;
        assert!(alike(wide).abs() < 0.1 && alike(wide / 10) > 0.9, "{} {}", alike(wide), alike(wide / 10));
        assert_eq!(heights, grain(&grid, depth, 3));
        assert_ne!(heights, grain(&grid, depth, 4));
    }
}
