//! A chart: the map between the strip (flat, at true size) and space, with its exact inverse.

use glam::{DVec2, DVec3};
use std::sync::Arc;

/// Strip coordinates are mm: x along (reading direction of an unturned text), y up. On the part,
/// seen from outside, along × up = out, so that a mirrored mark can't be built.
///
/// *Grid* coordinates, mm, are those in which the seat's edges run square and its turns repeat by a
/// shift. They are the strip's own but on a cone, whose strip bends round its apex.
pub trait Chart: Send + Sync {
    /// The point `height` mm outward from the seat at a place of the strip.
    fn point(&self, at: DVec2, height: f64) -> DVec3;

    /// The place of the strip under a point of space, and how far outward the point lies, mm.
    fn strip(&self, p: DVec3) -> (DVec2, f64);

    /// Outward unit normal at a place of the strip.
    fn normal(&self, at: DVec2) -> DVec3;

    /// The place of the strip under a point of space, the outward unit normal there, and how far outward the point lies, mm.
    fn lies(&self, p: DVec3) -> (DVec2, DVec3, f64) {
        let (normal, height) = self.above(p);
        (self.strip(p).0, normal, height)
    }

    /// Outward unit normal under a point of space, and how far outward the point lies, mm.
    fn above(&self, p: DVec3) -> (DVec3, f64) {
        let (at, height) = self.strip(p);
        (self.normal(at), height)
    }

    /// Unit vector in which heights grow fastest at a place of the strip; over creases the normal is drawn over them, and
    /// this is not.
    fn rises(&self, at: DVec2) -> DVec3 {
        self.normal(at)
    }

    /// Longest steps along and up between points of a curve at `height` round about the place `near`
    /// so that chords stay within `sag` mm of the offset surface; infinite where the seat is straight.
    fn step(&self, near: DVec2, height: f64, sag: f64) -> DVec2;

    /// The same for all of the strip between two corners.
    fn step_over(&self, low: DVec2, high: DVec2, height: f64, sag: f64) -> DVec2 {
        self.step((low + high) / 2.0, height, sag)
    }

    /// Longest step along a line at 45° to [`Chart::level`] round about `near` so that the local frame
    /// turns about the line by no more than `twist_rad` between its ends; infinite where frames don't turn.
    fn twist_step(&self, near: DVec2, twist_rad: f64) -> f64;

    /// Length of once round on the grid, in the direction in which the seat closes on itself; infinite
    /// in others.
    fn period(&self) -> DVec2;

    /// The place of the strip with these grid coordinates, and back.
    fn off_grid(&self, grid: DVec2) -> DVec2 {
        grid
    }
    fn grid(&self, at: DVec2) -> DVec2 {
        at
    }

    /// Unit vector of the strip in which an unturned text reads at a place.
    fn level(&self, _: DVec2) -> DVec2 {
        DVec2::X
    }

    /// Where one comes from `at` by going straight on along the seat, `by` mm in the directions of the
    /// strip; and the way from `at` to `to`. Exact inverses of one another.
    fn roll(&self, at: DVec2, by: DVec2) -> DVec2 {
        at + by
    }
    fn unroll(&self, at: DVec2, to: DVec2) -> DVec2 {
        self.turned_to(to, at) - at
    }

    /// Radius of a flat circle as long as the circle of the seat all of whose points lie `radius` mm from
    /// its middle, mm.
    fn girth(&self, radius: f64) -> f64 {
        radius
    }

    /// The largest radius along the seat of a circle that lies on this side of it, mm.
    fn widest(&self) -> f64 {
        f64::INFINITY
    }

    /// How the rings round the seat's own axis run.
    fn rings(&self) -> Rings {
        Rings::None
    }

    /// The facets of the part that are laid out, where that is not all of the face.
    fn patch(&self) -> Option<&[u32]> {
        None
    }

    /// Pieces of the creases of the strip between two corners of it: outlines and caps have points on them.
    fn creases(&self, _low: DVec2, _high: DVec2) -> Vec<[DVec2; 2]> {
        Vec::new()
    }

    /// The same chart for what keeps off its creases: there nothing turns over them. And how far along the strip a crease
    /// leans at most for each mm of height. `None` where there are no creases.
    fn beside_creases(self: Arc<Self>) -> Option<(Arc<dyn Chart>, f64)> {
        None
    }

    /// How far facets of a body may lie off the seat where they bridge its creases, mm.
    fn bridges(&self) -> f64 {
        0.0
    }

    /// The chart of the same seat on which lengths are nearest to true between two corners of this strip, `middle` in the
    /// middle of what lies there; its grid is this strip. `None` where this one is as true as any.
    fn cut_about(self: Arc<Self>, _low: DVec2, _high: DVec2, _middle: DVec2) -> Option<Arc<dyn Chart>> {
        None
    }

    /// Of all turns of a strip that repeats itself, the place under `at` that lies nearest to `near`.
    fn turned_to(&self, at: DVec2, near: DVec2) -> DVec2 {
        let period = self.period();
        if period == DVec2::INFINITY {
            return at;
        }
        let grid = self.grid(at);
        let turned = shifted_to(grid, self.grid(near), period);
        if turned == grid { at } else { self.off_grid(turned) }
    }
}

/// How rings run on a strip.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Rings {
    /// The seat has no axis, or straight lines along and across it do.
    None,
    /// Along the strip.
    Straight,
    /// Round this place of it.
    Round(DVec2),
}

/// `grid` moved by whole periods to lie nearest to `near`.
#[must_use]
pub fn shifted_to(mut grid: DVec2, near: DVec2, period: DVec2) -> DVec2 {
    for k in 0..2 {
        if period[k].is_finite() {
            grid[k] += ((near[k] - grid[k]) / period[k]).round() * period[k];
        }
    }
    grid
}

/// Which way up things are: the pull if it is set, and the part's own up (z, or y for faces that
/// look along z).
#[derive(Clone, Copy, Debug)]
pub struct Upright {
    pub pull: Option<DVec3>,
}

impl Upright {
    /// Direction that letters' tops point in on a surface with the outward normal `out`: z where
    /// the surface is not level, else y.
    #[must_use]
    pub fn up(&self, out: DVec3) -> DVec3 {
        let wanted = if out.z.abs() > 0.9 { DVec3::Y } else { DVec3::Z };
        wanted.reject_from_normalized(out).normalize()
    }

    /// The direction square to `axis` that is the crown's on a seat that goes once round it: nearest to
    /// the pull; without a pull that helps, to the part's top, or its front.
    #[must_use]
    pub fn crown(&self, axis: DVec3) -> DVec3 {
        let square = |v: DVec3| {
            let across = v.reject_from_normalized(axis);
            (across.length() > 1e-3 * v.length()).then(|| across.normalize())
        };
        self.pull
            .and_then(square)
            .or_else(|| square(DVec3::Z))
            .or_else(|| square(DVec3::NEG_Y))
            .unwrap_or_else(|| axis.any_orthonormal_vector())
    }
}

/// The mean of unit vectors over a face, each by its weight. A direction within a degree of one of
/// `wanted` is that one: facets give means with a little error. `None` where the vectors cancel
/// out: the face goes once round.
#[must_use]
pub fn mean_direction(vectors: impl Iterator<Item = (DVec3, f64)>, wanted: &[DVec3]) -> Option<DVec3> {
    let (sum, weight) = vectors.fold((DVec3::ZERO, 0.0), |(sum, weight), (v, w)| (sum + v * w, weight + w));
    if sum.length() < 0.3 * weight || weight == 0.0 {
        return None;
    }
    let mean = sum.normalize();
    let near = |d: &&DVec3| mean.dot(**d) > 1.0_f64.to_radians().cos();
    Some(wanted.iter().find(near).copied().unwrap_or(mean))
}

/// A facet of a face: its corners.
pub type Facet = [DVec3; 3];

/// Middle and area of a facet.
#[must_use]
pub fn weighed([a, b, c]: &Facet) -> (DVec3, f64) {
    ((*a + *b + *c) / 3.0, (*b - *a).cross(*c - *a).length() / 2.0)
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    /// What every chart promises: exact inverses, a strip that is not mirrored, normals square to the
    /// seat, going straight on and back, grid and turns.
    pub(crate) fn keeps_its_promises(chart: &dyn Chart, at: DVec2, height: f64, by: DVec2) {
        let near = |a: DVec2, b: DVec2| assert!((a - b).length() < 1e-8, "{a} {b} at {at}");
        let (back, up) = chart.strip(chart.point(at, height));
        near(chart.turned_to(back, at), at);
        assert!((up - height).abs() < 1e-9, "{up} {height}");
        let step = 1e-5;
        let slope = |d: DVec2| (chart.point(at + d * step, 0.0) - chart.point(at - d * step, 0.0)) / (2.0 * step);
        let (along, up) = (slope(DVec2::X), slope(DVec2::Y));
        let normal = chart.normal(at);
        assert!((normal.length() - 1.0).abs() < 1e-12);
        assert!(along.cross(up).normalize().distance(normal) < 1e-6, "mirrored or askew at {at}");
        assert!((chart.point(at, 1.0) - chart.point(at, 0.0)).distance(normal) < 1e-9);
        near(chart.off_grid(chart.grid(at)), at);
        near(chart.roll(at, DVec2::ZERO), at);
        let there = chart.roll(at, by);
        near(chart.unroll(at, there), by);
        // a short way is as long as it says
        let short = by.normalize_or(DVec2::X) * step;
        let gone = chart.point(chart.roll(at, short), 0.0).distance(chart.point(at, 0.0));
        assert!((gone / step - 1.0).abs() < 1e-4, "{gone} at {at}");
        assert!((chart.level(at).length() - 1.0).abs() < 1e-12);
    }
}
