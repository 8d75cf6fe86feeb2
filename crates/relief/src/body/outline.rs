//! The outline that a body is built on: without short edges, and fine enough to follow its seat.

use super::SAG;
use super::builder::Builder;
use crate::cap;
use flat::Island;
use glam::DVec2;

/// Walls square to a round seat turn by no more than this between two points of their outline.
const TWIST_RAD: f64 = 0.0015;

/// `island` with its edges shorter than `shortest` taken out: their neighbours run on until they
/// meet, or, where they would meet far away, the edge shrinks to its middle.
pub(super) fn without_short_edges(island: &Island, shortest: f64) -> Island {
    let clean = |contour: &Vec<DVec2>| {
        let mut points = contour.clone();
        let mut k = 0;
        while shortest > 0.0 && k < points.len() && points.len() > 4 {
            let n = points.len();
            let [before, a, b, after] = [k + n - 1, k, k + 1, k + 2].map(|i| points[i % n]);
            if a.distance(b) >= shortest {
                k += 1;
                continue;
            }
            let (u, v) = (a - before, after - b);
            let middle = (a + b) / 2.0;
            let det = u.perp_dot(v);
            let meet = before + u * ((b - before).perp_dot(v) / det);
            let near = det.abs() > 1e-9 && meet.distance(middle) <= shortest;
            points[k] = if near { meet } else { middle };
            points.remove((k + 1) % n);
            // what was joined may be short again
            k = k.saturating_sub(2);
        }
        points
    };
    Island { outer: clean(&island.outer), counters: island.counters.iter().map(clean).collect() }
}

impl<'a> Builder<'a> {
    /// `contour` with its edges split to follow the seat.
    pub(super) fn refine(&self, contour: &[DVec2]) -> Vec<DVec2> {
        let chart = self.chart();
        let step = chart.step_over(self.low, self.high, self.sign * self.relief.height, SAG);
        let creases = chart.creases(self.low, self.high);
        let lean = self.lean(&creases);
        let drift = 2.0 * cap::BESIDE_CREASE + self.relief.height * lean + self.relief.edge + self.relief.root;
        let mut fine = Vec::with_capacity(contour.len());
        for k in 0..contour.len() {
            let (a, b) = (contour[k], contour[(k + 1) % contour.len()]);
            let (d, near) = (b - a, (a + b) / 2.0);
            let twist = if self.along_pull.is_some() { f64::INFINITY } else { chart.twist_step(near, TWIST_RAD) };
            // a line at the angle ψ to the level turns sin 2ψ times as much as one at 45°
            let level = chart.level(near);
            let own = DVec2::new(level.x, -level.y).rotate(d);
            let oblique = 2.0 * (own.x * own.y).abs() / d.length().max(f64::MIN_POSITIVE);
            let pieces = (d.x.abs() / step.x).max(d.y.abs() / step.y).max(oblique / twist).ceil().max(1.0) as usize;
            let mut shares: Vec<f64> = (0..pieces).map(|i| i as f64 / pieces as f64).collect();
            let aside = cap::BESIDE_CREASE / d.length().max(f64::MIN_POSITIVE);
            // close together where it crosses a crease, as far as walls move it until they end
            for [from, to] in &creases {
                let across = (*to - *from).perp().normalize_or_zero();
                let [start, end] = [a, b].map(|p| (p - *from).dot(across));
                let [mut one, mut other] = [-drift, drift].map(|far| (far - start) / (end - start));
                if !(one.is_finite() && other.is_finite()) {
                    [one, other] = if start.abs() < drift { [0.0, 1.0] } else { continue };
                }
                let (from, to) = (one.min(other).max(0.0), one.max(other).min(1.0));
                if from >= to {
                    continue;
                }
                let many = ((to - from) / aside).ceil().max(0.0) as usize;
                shares.extend((0..=many).map(|k| from + (to - from) * k as f64 / many.max(1) as f64));
            }
            shares.retain(|s| *s >= 0.0 && *s < 1.0);
            shares.sort_by(f64::total_cmp);
            let near = 0.1 * aside;
            shares.dedup_by(|later, earlier| *later - *earlier < near);
            fine.extend(shares.into_iter().map(|s| a.lerp(b, s)));
        }
        fine
    }

    /// The farthest that walls move along the strip for each mm of height, beside the creases.
    fn lean(&self, creases: &[[DVec2; 2]]) -> f64 {
        /// Beside a crease, mm.
        const ASIDE: f64 = 2.0;
        let draft = self.relief.draft.to_radians();
        let Some(pull) = self.along_pull else { return draft.tan() };
        let mut most: f64 = 0.0;
        for [from, to] in creases {
            let across = (*to - *from).perp().normalize_or_zero() * ASIDE;
            for at in [*from, *to, (*from + *to) / 2.0] {
                for beside in [at - across, at + across] {
                    most = most.max((self.chart().normal(beside) * self.sign).angle_between(pull));
                }
            }
        }
        // no wall is built that leans by much more than 60°
        (most + draft).min(2_f64.atan()).tan()
    }
}
