//! The pixels of a drawing.

use glam::DVec2;

/// Pixels row by row from below; the middle of the first lies at `low`.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Grid {
    pub low: DVec2,
    pub wide: usize,
    pub tall: usize,
    /// mm.
    pub pixel: f64,
}

/// Pixels of a side beyond which a drawing would say no more.
const MOST: f64 = 2000.0;

impl Grid {
    /// So far to all sides of `middle`, mm.
    pub(crate) fn about(middle: DVec2, half: DVec2, pixel: f64) -> Self {
        let count = (2.0 * half / pixel).clamp(DVec2::splat(8.0), DVec2::splat(MOST)).ceil();
        let low = middle - (count - 1.0) * pixel / 2.0;
        Self { low, wide: count.x as usize, tall: count.y as usize, pixel }
    }

    pub(crate) fn len(&self) -> usize {
        self.wide * self.tall
    }

    pub(crate) fn at(&self, x: usize, y: usize) -> DVec2 {
        self.low + DVec2::new(x as f64, y as f64) * self.pixel
    }

    /// A place in pixels.
    pub(crate) fn pixels(&self, p: DVec2) -> DVec2 {
        (p - self.low) / self.pixel
    }
}
