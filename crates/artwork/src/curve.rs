//! Plane curves as drawing programs write them, flattened to lines.

use glam::{DAffine2, DVec2};
use std::f64::consts::TAU;

/// Halvings of one smooth piece at most.
const DEEPEST: u32 = 12;
/// Of a turn, the longest piece of an arc that is looked at as one.
const ARC: f64 = TAU / 8.0;

#[derive(Clone, Debug, PartialEq)]
pub enum Curve {
    Line(DVec2, DVec2),
    /// `centre + u cos t + v sin t` for t from `from` to `from + sweep`, radians.
    Arc {
        centre: DVec2,
        u: DVec2,
        v: DVec2,
        from: f64,
        sweep: f64,
    },
    Spline(Spline),
}

/// A B-spline, rational where its weights differ.
#[derive(Clone, Debug, PartialEq)]
pub struct Spline {
    degree: usize,
    knots: Vec<f64>,
    points: Vec<DVec2>,
    weights: Vec<f64>,
}

impl Spline {
    /// `None` where knots, points and degree don't belong together, or a weight isn't positive.
    pub fn new(degree: usize, knots: Vec<f64>, points: Vec<DVec2>, weights: Vec<f64>) -> Option<Self> {
        let weights = if weights.is_empty() { vec![1.0; points.len()] } else { weights };
        let fits = (1..=20).contains(&degree)
            && points.len() > degree
            && knots.len() == points.len() + degree + 1
            && weights.len() == points.len()
            && weights.iter().all(|w| *w > 0.0)
            && knots.is_sorted()
            && knots[degree] < knots[points.len()];
        fits.then_some(Self { degree, knots, points, weights })
    }

    /// The point at a parameter, by de Boor's algorithm on the weighted points (Piegl and Tiller, The NURBS Book,
    /// from memory).
    fn at(&self, t: f64) -> DVec2 {
        let Self { degree: p, knots, points, weights } = self;
        let last = points.len() - 1;
        let span = (*p..=last).rev().find(|&k| knots[k] <= t && knots[k] < knots[k + 1]).unwrap_or(*p);
        let mut d: Vec<(DVec2, f64)> = (span - p..=span).map(|k| (points[k] * weights[k], weights[k])).collect();
        for r in 1..=*p {
            for j in (r..=*p).rev() {
                let low = span - p + j;
                let a = (t - knots[low]) / (knots[low + p + 1 - r] - knots[low]);
                d[j] = (d[j - 1].0 * (1.0 - a) + d[j].0 * a, d[j - 1].1 * (1.0 - a) + d[j].1 * a);
            }
        }
        d[*p].0 / d[*p].1
    }
}

impl Curve {
    pub fn mapped(&self, to: &DAffine2) -> Self {
        let point = |p: DVec2| to.transform_point2(p);
        let along = |v: DVec2| to.transform_vector2(v);
        match self {
            Self::Line(a, b) => Self::Line(point(*a), point(*b)),
            Self::Arc { centre, u, v, from, sweep } => {
                Self::Arc { centre: point(*centre), u: along(*u), v: along(*v), from: *from, sweep: *sweep }
            }
            Self::Spline(spline) => {
                Self::Spline(Spline { points: spline.points.iter().map(|p| point(*p)).collect(), ..spline.clone() })
            }
        }
    }

    fn at(&self, t: f64) -> DVec2 {
        match self {
            Self::Line(a, b) => a.lerp(*b, t),
            Self::Arc { centre, u, v, .. } => *centre + *u * t.cos() + *v * t.sin(),
            Self::Spline(spline) => spline.at(t),
        }
    }

    /// Parameters between which it is smooth and bends by no more than an eighth of a turn or so.
    fn stops(&self) -> Vec<f64> {
        match self {
            Self::Line(..) => vec![0.0, 1.0],
            Self::Arc { from, sweep, .. } => {
                let pieces = (sweep.abs() / ARC).ceil().clamp(1.0, 64.0) as u32;
                (0..=pieces).map(|k| from + sweep * f64::from(k) / f64::from(pieces)).collect()
            }
            Self::Spline(s) => {
                let mut stops = s.knots[s.degree..=s.points.len()].to_vec();
                stops.dedup();
                // each span may turn as often as its degree allows
                let parts = s.degree as u32;
                let inner = stops
                    .windows(2)
                    .flat_map(|w| (0..parts).map(move |k| w[0] + (w[1] - w[0]) * f64::from(k) / f64::from(parts)));
                inner.chain(stops.last().copied()).collect()
            }
        }
    }

    /// Its points from one end to the other, no line between two of them farther than `to` from it.
    pub fn flat(&self, to: f64) -> Vec<DVec2> {
        let stops = self.stops();
        let mut out = vec![self.at(stops[0])];
        if let Self::Line(_, b) = self {
            out.push(*b);
            return out;
        }
        for w in stops.windows(2) {
            self.piece(w[0], w[1], to, DEEPEST, &mut out);
        }
        out
    }

    fn piece(&self, from: f64, until: f64, to: f64, deep: u32, out: &mut Vec<DVec2>) {
        let (a, b) = (self.at(from), self.at(until));
        let off = |share: f64| {
            let p = self.at(from + (until - from) * share);
            let along = (b - a).normalize_or_zero();
            let t = (p - a).dot(along).clamp(0.0, a.distance(b));
            p.distance(a + along * t)
        };
        if deep == 0 || [0.25, 0.5, 0.75].iter().all(|s| off(*s) <= to) {
            out.push(b);
        } else {
            let middle = (from + until) / 2.0;
            self.piece(from, middle, to, deep - 1, out);
            self.piece(middle, until, to, deep - 1, out);
        }
    }
}

/// The curve of a bulge, the tangent of a quarter of its sweep, from one point to the next; positive ones turn left.
pub fn bulged(a: DVec2, b: DVec2, bulge: f64) -> Curve {
    let sweep = 4.0 * bulge.atan();
    let chord = b - a;
    if sweep.abs() < 1e-9 || chord.length() < 1e-12 {
        return Curve::Line(a, b);
    }
    // from the chord's middle to the centre: half the chord over the tangent of half the sweep, to the left
    let centre = (a + b) / 2.0 + chord.perp() / (2.0 * (sweep / 2.0).tan());
    let u = a - centre;
    Curve::Arc { centre, u, v: u.perp(), from: 0.0, sweep }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::{FRAC_PI_2, PI};

    #[test]
    fn a_bulge_of_one_is_a_half_circle_to_the_right_of_its_chord() {
        // going right, turning left: it passes below
        let Curve::Arc { centre, u, sweep, .. } = bulged(DVec2::ZERO, DVec2::X * 2.0, 1.0) else { panic!() };
        assert!(centre.distance(DVec2::X) < 1e-12 && (u.length() - 1.0).abs() < 1e-12 && (sweep - PI).abs() < 1e-12);
        let low = bulged(DVec2::ZERO, DVec2::X * 2.0, 1.0).flat(1e-4).iter().map(|p| p.y).fold(0.0, f64::min);
        assert!((low + 1.0).abs() < 1e-4);
    }

    #[test]
    fn flattened_curves_keep_to_the_tolerance() {
        let quarter = Curve::Arc { centre: DVec2::ZERO, u: DVec2::X, v: DVec2::Y, from: 0.0, sweep: FRAC_PI_2 };
        // the exact rational quarter circle: weights 1, 1/√2, 1
        let rational = Spline::new(
            2,
            vec![0.0, 0.0, 0.0, 1.0, 1.0, 1.0],
            vec![DVec2::X, DVec2::ONE, DVec2::Y],
            vec![1.0, 0.5_f64.sqrt(), 1.0],
        );
        for curve in [quarter, Curve::Spline(rational.unwrap())] {
            for to in [1e-2, 1e-3, 1e-5] {
                let flat = curve.flat(to);
                assert!(flat.iter().all(|p| (p.length() - 1.0).abs() < 1e-12), "points lie on the circle");
                let sag = flat.windows(2).map(|w| 1.0 - ((w[0] + w[1]) / 2.0).length()).fold(0.0, f64::max);
                assert!(sag <= to && flat.len() < 40 * (1.0 / to).sqrt() as usize, "{sag} for {to}");
            }
        }
    }

    #[test]
    fn splines_that_dont_fit_together_are_none() {
        let points = vec![DVec2::ZERO, DVec2::X, DVec2::Y];
        assert!(Spline::new(2, vec![0.0; 6], points.clone(), Vec::new()).is_none(), "no length");
        assert!(Spline::new(2, vec![0.0, 0.0, 0.0, 1.0, 1.0], points.clone(), Vec::new()).is_none());
        assert!(Spline::new(0, vec![0.0, 0.0, 0.0, 1.0], points.clone(), Vec::new()).is_none());
        assert!(Spline::new(2, vec![0.0, 0.0, 0.0, 1.0, 1.0, 1.0], points, vec![1.0, -1.0, 1.0]).is_none());
    }
}
