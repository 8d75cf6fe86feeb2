//! The edges of a seat from corner to corner: lines to write beside, and the points that marks are tied to.

use crate::{ReliefError, seat::Seat};
use flat::signed_area;
use glam::{DVec2, DVec3};
use solid::segment;

use trade::PointKind;

/// A turn sharper than this is a corner; one that is less so only where it is far sharper than the turns beside
/// it, as those of a tessellated curve are not. Degrees.
const SHARP: f64 = 35.0;
const FAINT: f64 = 12.0;
/// So many times sharper.
const SHARPER: f64 = 3.0;

/// An edge of a seat between two corners, or a whole ring without any. Points of the strip without jumps, the
/// seat's own side to the left; the last point of a ring is its first again, or a period on.
#[derive(Clone, Debug)]
pub struct Run {
    pub points: Vec<DVec2>,
    pub ring: bool,
}

impl Run {
    /// The point of space halfway along it, mm.
    #[must_use]
    pub fn middle(&self, seat: &Seat) -> DVec3 {
        let line = Line::of(seat, self.points.clone(), self.ring);
        seat.chart.point(line.foot(line.length() / 2.0).0, 0.0)
    }
}

/// A point of a seat's edges.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct EdgePoint {
    pub kind: PointKind,
    /// On the strip.
    pub at: DVec2,
    /// In space, mm.
    pub point: DVec3,
}

/// The edges of a seat.
#[must_use]
pub fn runs(seat: &Seat) -> Vec<Run> {
    let chart = &seat.chart;
    let mut out = Vec::new();
    for ring in &seat.outline {
        let mut points: Vec<DVec2> = Vec::with_capacity(ring.len());
        for &p in ring {
            let p = chart.off_grid(p);
            // a point twice has no direction
            if points.last().is_none_or(|last| last.distance(p) > 1e-9) {
                points.push(p);
            }
        }
        let n = points.len().saturating_sub(1);
        if n < 2 {
            continue;
        }
        // the way out of each point and the turn at it, degrees; index 0 is the seam of the ring
        let ways: Vec<DVec2> = (0..n).map(|k| chart.unroll(points[k], points[k + 1])).collect();
        let turns: Vec<f64> = (0..n)
            .map(|k| {
                let before = -chart.unroll(points[k], before_of(chart.as_ref(), &points, k));
                before.angle_to(ways[k]).to_degrees().abs()
            })
            .collect();
        let corners: Vec<usize> = (0..n)
            .filter(|&k| {
                let beside = turns[(k + n - 1) % n].max(turns[(k + 1) % n]);
                turns[k] > SHARP && n < 12 || turns[k] > FAINT && turns[k] > SHARPER * beside || turns[k] > 2.0 * SHARP
            })
            .collect();
        let Some(&first) = corners.first() else {
            out.push(turned_in(seat, Run { points, ring: true }));
            continue;
        };
        let shift = points[n] - points[0];
        for (k, &from) in corners.iter().enumerate() {
            let to = corners.get(k + 1).copied().unwrap_or(first + n);
            let point = |i: usize| if i <= n { points[i] } else { points[i - n] + shift };
            out.push(turned_in(seat, Run { points: (from..=to).map(point).collect(), ring: false }));
        }
    }
    out
}

/// The point before the `k`-th of a ring, on the same turn.
fn before_of(chart: &dyn crate::Chart, points: &[DVec2], k: usize) -> DVec2 {
    if k > 0 { points[k - 1] } else { chart.turned_to(points[points.len() - 2], points[0]) }
}

/// `run` with the seat to its left.
fn turned_in(seat: &Seat, mut run: Run) -> Run {
    let n = run.points.len() - 1;
    let chart = &seat.chart;
    let vote: i32 = (0..n)
        .step_by(n.div_ceil(9))
        .map(|k| {
            let (a, b) = (run.points[k], run.points[k + 1]);
            let way = chart.unroll(a, b);
            let aside = way.perp().normalize_or_zero() * 0.02;
            let middle = chart.roll(a, way / 2.0);
            i32::from(seat.covers(chart.roll(middle, aside))) - i32::from(seat.covers(chart.roll(middle, -aside)))
        })
        .sum();
    if vote < 0 {
        run.points.reverse();
    }
    run
}

/// Corners, middles of round edges and holes, and the points halfway along edges.
#[must_use]
pub fn points(seat: &Seat) -> Vec<EdgePoint> {
    let chart = &seat.chart;
    let point = |kind, at: DVec2| EdgePoint { kind, at, point: chart.point(at, 0.0) };
    let mut out: Vec<EdgePoint> = Vec::new();
    for run in runs(seat) {
        let (first, last) = (run.points[0], run.points[run.points.len() - 1]);
        if !run.ring {
            out.push(point(PointKind::Corner, first));
            let line = Line::of(seat, run.points.clone(), false);
            out.push(point(PointKind::Halfway, line.foot(line.length() / 2.0).0));
        }
        // what runs once round the seat has no middle on it
        let open = run.ring && chart.turned_to(last, first).distance(first) < 1e-6 && first.distance(last) > 1e-6;
        if !open && let Some(centre) = centre(seat, &run) {
            out.push(point(PointKind::Centre, centre));
        }
    }
    // arcs of one circle have one middle
    let mut kept: Vec<EdgePoint> = Vec::new();
    for p in out {
        if !kept.iter().any(|k| k.kind == p.kind && k.point.distance(p.point) < 0.01) {
            kept.push(p);
        }
    }
    kept
}

/// The middle of the circle that a run lies on (least squares after Kåsa 1976), or the middle of the area of a
/// ring that is none; `None` for what is straight or bends freely.
fn centre(seat: &Seat, run: &Run) -> Option<DVec2> {
    let chart = &seat.chart;
    let from = run.points[0];
    let flat: Vec<DVec2> = run.points.iter().map(|&p| chart.unroll(from, p)).collect();
    let mean = flat.iter().sum::<DVec2>() / flat.len() as f64;
    // x² + y² = 2 a x + 2 b y + c about the mean
    let mut m = glam::DMat3::ZERO;
    let mut v = DVec3::ZERO;
    for p in flat.iter().map(|p| *p - mean) {
        let row = DVec3::new(p.x, p.y, 1.0);
        m += glam::DMat3::from_cols(row * row.x, row * row.y, row * row.z);
        v += row * p.length_squared();
    }
    let round = (flat.len() >= 5 && m.determinant().abs() > 1e-12).then(|| {
        let s = m.inverse() * v;
        let middle = DVec2::new(s.x, s.y) / 2.0;
        let radius = (s.z + middle.length_squared()).max(0.0).sqrt();
        let miss = flat.iter().map(|p| ((*p - mean).distance(middle) - radius).abs()).fold(0.0, f64::max);
        let reach = flat.iter().map(|p| (*p - mean).length()).fold(0.0, f64::max);
        // a shallow curve is no round edge
        (miss < f64::max(0.01, 0.003 * radius) && radius < 20.0 * reach).then_some(middle + mean)
    });
    if let Some(Some(middle)) = round {
        return Some(chart.roll(from, middle));
    }
    if !run.ring {
        return None;
    }
    let area = signed_area(&flat);
    let sum: DVec2 =
        (0..flat.len()).map(|k| (flat[k], flat[(k + 1) % flat.len()])).map(|(a, b)| (a + b) * a.perp_dot(b)).sum();
    (area.abs() > 1e-9).then(|| chart.roll(from, sum / (6.0 * area)))
}

/// A line on a seat with its length along the seat, mm.
#[derive(Clone, Debug)]
pub struct Line {
    points: Vec<DVec2>,
    /// Length up to each point.
    at: Vec<f64>,
    ring: bool,
    /// The way from a ring's first point to its last.
    turn: DVec2,
    /// Directions are taken over this length, so that they don't jump at the points of a tessellated curve.
    smooth: f64,
}

impl Line {
    fn of(seat: &Seat, points: Vec<DVec2>, ring: bool) -> Self {
        let mut at = vec![0.0];
        for pair in points.windows(2) {
            at.push(at[at.len() - 1] + seat.chart.unroll(pair[0], pair[1]).length());
        }
        let turn = points[points.len() - 1] - points[0];
        let smooth = 0.5 * at[at.len() - 1] / (points.len() - 1) as f64;
        Self { points, at, ring, turn, smooth }
    }

    /// mm.
    #[must_use]
    pub fn length(&self) -> f64 {
        self.at[self.at.len() - 1]
    }

    fn place(&self, s: f64) -> DVec2 {
        let (mut s, mut shift, length) = (s, DVec2::ZERO, self.length());
        if self.ring {
            let turns = (s / length).floor();
            (s, shift) = (s - turns * length, self.turn * turns);
        }
        let k = self.at.partition_point(|&a| a <= s).clamp(1, self.at.len() - 1);
        let share = (s - self.at[k - 1]) / (self.at[k] - self.at[k - 1]).max(f64::MIN_POSITIVE);
        // past its ends it goes straight on
        self.points[k - 1].lerp(self.points[k], share) + shift
    }

    /// The place at a length along the line, and the place a little ahead in its direction.
    #[must_use]
    pub fn foot(&self, s: f64) -> (DVec2, DVec2) {
        let half = self.smooth.min(self.length() / 4.0);
        let (a, b) = (self.place(s - half), self.place(s + half));
        let at = self.place(s);
        (at, at + (b - a))
    }

    /// The length along the line at the place nearest to `to`.
    #[must_use]
    pub fn nearest(&self, seat: &Seat, to: DVec2) -> f64 {
        let chart = &seat.chart;
        let mut best = (f64::INFINITY, 0.0);
        for k in 1..self.points.len() {
            let (a, b) = (self.points[k - 1], self.points[k]);
            let (way, there) = (chart.unroll(a, b), chart.unroll(a, chart.turned_to(to, a)));
            let share = flat::segment::share(there, [DVec2::ZERO, way]);
            let miss = there.distance(way * share);
            if miss < best.0 {
                best = (miss, self.at[k - 1] + share * (self.at[k] - self.at[k - 1]));
            }
        }
        best.1
    }
}

/// The line that a text `tall` mm high stands on, `gap` mm clear of the edge nearest to a point of space, in its
/// reading direction. It reads upright, or upward where the edge is upright itself; `turned` the other way.
///
/// # Errors
/// The seat has no edges, or none is left so far inside it.
pub fn beside(seat: &Seat, near: DVec3, gap: f64, tall: f64, turned: bool) -> Result<Line, ReliefError> {
    let chart = &seat.chart;
    let far = |run: &Run| {
        let points = run.points.iter().map(|&p| chart.point(p, 0.0)).collect::<Vec<_>>();
        points.windows(2).map(|w| segment::distance(near, [w[0], w[1]])).fold(f64::INFINITY, f64::min)
    };
    let all = runs(seat);
    let run = all.iter().min_by(|a, b| far(a).total_cmp(&far(b))).ok_or(ReliefError::NoEdge)?;
    // tops point inward when it reads with the seat to its left
    let middle = Line::of(seat, run.points.clone(), run.ring);
    let (at, ahead) = middle.foot(middle.length() / 2.0);
    let way = chart.unroll(at, ahead).normalize_or(DVec2::X);
    let upright = chart.level(at).perp();
    let rises = way.perp().dot(upright);
    let inward = if run.ring {
        true
    } else if rises.abs() > 0.1 {
        rises > 0.0
    } else {
        way.dot(upright) > 0.0
    };
    let inward = inward != turned;
    let aside = if inward { gap } else { gap + tall };
    let mut points = parallel(seat, run, aside);
    if points.len() < 2 {
        return Err(ReliefError::NoRoomBeside { gap });
    }
    if !inward {
        points.reverse();
    }
    if run.ring {
        points = from_the_lowest(seat, points);
    }
    Ok(Line::of(seat, points, run.ring))
}

/// A run `aside` mm to its left. Where its inner bends are narrower than that, what folds over is left out.
fn parallel(seat: &Seat, run: &Run, aside: f64) -> Vec<DVec2> {
    let chart = &seat.chart;
    let mut points = run.points.clone();
    loop {
        let n = points.len() - 1;
        let ways: Vec<DVec2> = (0..n).map(|k| chart.unroll(points[k], points[k + 1])).collect();
        let normal = |k: usize| {
            let (before, after) = match (k, run.ring) {
                (0, true) => (ways[n - 1], ways[0]),
                (k, true) if k == n => (ways[n - 1], ways[0]),
                (0, false) => (ways[0], ways[0]),
                (k, false) if k == n => (ways[n - 1], ways[n - 1]),
                _ => (ways[k - 1], ways[k]),
            };
            let (a, b) = (before.perp().normalize_or_zero(), after.perp().normalize_or_zero());
            (a + b) / (1.0 + a.dot(b)).max(0.2)
        };
        let moved: Vec<DVec2> = (0..=n).map(|k| chart.roll(points[k], normal(k) * aside)).collect();
        let folded: Vec<usize> = (0..n).filter(|&k| chart.unroll(moved[k], moved[k + 1]).dot(ways[k]) <= 0.0).collect();
        if folded.is_empty() {
            return moved;
        }
        if folded.len() >= n || n < 3 {
            return Vec::new();
        }
        // the points of what folds go; the ends of an edge stay
        let gone = |k: usize| k > 0 && k < n && (folded.contains(&k) || folded.contains(&(k - 1)));
        let kept: Vec<DVec2> = (0..=n).filter(|&k| !gone(k)).map(|k| points[k]).collect();
        if kept.len() == points.len() || kept.len() < 2 {
            return Vec::new();
        }
        points = kept;
    }
}

/// A ring that begins at its lowest place, so that half of it on is the highest.
fn from_the_lowest(seat: &Seat, points: Vec<DVec2>) -> Vec<DVec2> {
    let n = points.len() - 1;
    let shift = points[n] - points[0];
    // what runs once round begins where the strip does
    if shift.length() > 1e-6 {
        return points;
    }
    let up = seat.chart.level(points[0]).perp();
    let lowest = (0..n).min_by(|&a, &b| points[a].dot(up).total_cmp(&points[b].dot(up))).unwrap_or_default();
    (lowest..=lowest + n).map(|k| points[k % n]).collect()
}
