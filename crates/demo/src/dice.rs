//! Numbers that look thrown and are always the same, to make parts and jobs from.

use glam::DVec3;

/// SplitMix64 (Steele, Lea and Flood 2014).
pub struct Dice(pub u64);

impl Dice {
    /// From 0 to less than 1.
    pub fn share(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) >> 11) as f64 / (1_u64 << 53) as f64
    }

    pub fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.share()
    }

    pub fn one<T: Copy>(&mut self, of: &[T]) -> T {
        of[(self.share() * of.len() as f64) as usize]
    }

    /// A unit vector.
    pub fn direction(&mut self) -> DVec3 {
        loop {
            let d = DVec3::from_array([0; 3].map(|_| self.between(-1.0, 1.0)));
            if (0.1..1.0).contains(&d.length()) {
                return d.normalize();
            }
        }
    }
}
