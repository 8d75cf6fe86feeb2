//! The chart of a seat raised or lowered as a whole: the top of a raised pad, the floor of a recessed pad. Places of the strip
//! are those of the seat below.

use crate::chart::{Chart, Rings};
use glam::{DVec2, DVec3};
use std::sync::Arc;

pub struct OffsetChart {
    pub under: Arc<dyn Chart>,
    /// mm outward.
    pub by: f64,
}

impl Chart for OffsetChart {
    fn point(&self, at: DVec2, height: f64) -> DVec3 {
        self.under.point(at, height + self.by)
    }

    fn strip(&self, p: DVec3) -> (DVec2, f64) {
        let (at, height) = self.under.strip(p);
        (at, height - self.by)
    }

    fn normal(&self, at: DVec2) -> DVec3 {
        self.under.normal(at)
    }

    fn rises(&self, at: DVec2) -> DVec3 {
        self.under.rises(at)
    }

    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2 {
        self.under.step(near, height + self.by, sag)
    }

    fn step_over(&self, low: DVec2, high: DVec2, height: f64, sag: f64) -> DVec2 {
        self.under.step_over(low, high, height + self.by, sag)
    }

    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64 {
        self.under.twist_step(near, twist_rad)
    }

    fn period(&self) -> DVec2 {
        self.under.period()
    }

    fn off_grid(&self, grid: DVec2) -> DVec2 {
        self.under.off_grid(grid)
    }

    fn grid(&self, at: DVec2) -> DVec2 {
        self.under.grid(at)
    }

    fn level(&self, at: DVec2) -> DVec2 {
        self.under.level(at)
    }

    fn roll(&self, at: DVec2, by: DVec2) -> DVec2 {
        self.under.roll(at, by)
    }

    fn unroll(&self, at: DVec2, to: DVec2) -> DVec2 {
        self.under.unroll(at, to)
    }

    fn girth(&self, radius: f64) -> f64 {
        self.under.girth(radius)
    }

    fn widest(&self) -> f64 {
        self.under.widest()
    }

    fn rings(&self) -> Rings {
        self.under.rings()
    }

    fn patch(&self) -> Option<&[u32]> {
        self.under.patch()
    }

    fn creases(&self, low: DVec2, high: DVec2) -> Vec<[DVec2; 2]> {
        self.under.creases(low, high)
    }

    fn beside_creases(self: Arc<Self>) -> Option<(Arc<dyn Chart>, f64)> {
        let (under, lean) = self.under.clone().beside_creases()?;
        Some((Arc::new(Self { under, by: self.by }), lean))
    }

    fn bridges(&self) -> f64 {
        self.under.bridges()
    }
}
