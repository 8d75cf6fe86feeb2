//! How a flat text lies on its strip: along its baseline, wrapped or projected.
//!
//! Text coordinates, mm: x along the baseline, y up, the origin at the lower left corner of the text's box.

use crate::{
    ReliefError,
    chart::Rings,
    edge::{self, Line},
    seat::Seat,
};
use glam::{DVec2, DVec3};
use lettering::Lettered;
use std::f64::consts::{PI, TAU};
use trade::{Baseline, Justify, Place, Placement, Tops};

/// Edges of outlines are bent to within this of where they belong, mm.
const BENT_TO: f64 = 0.0005;
/// Steps for directions and lengths by differences, mm.
const STEP: f64 = 1e-3;

/// How much a placement stretches flat lettering.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Stretch {
    /// Greatest error of a length, as a share of it: −0.07 is 7 % too short.
    pub scale: f64,
    /// Greatest error of a right angle, degrees.
    pub shear_deg: f64,
    /// Where on the strip the length's error is greatest.
    pub at: DVec2,
}

/// A circle that text stands on.
#[derive(Clone, Copy, Debug)]
struct Circle {
    middle: DVec2,
    radius: f64,
    /// Angle at which the text's `stands` lies, counter-clockwise from the strip's x.
    angle: f64,
    /// +1: tops out, reading clockwise; −1: tops in.
    tops: f64,
    /// Text coordinates of the place that stands there.
    stands: DVec2,
    bent: bool,
}

/// A line beside an edge that text stands on.
#[derive(Clone, Debug)]
struct OnLine {
    line: Line,
    /// Where on it the text begins, mm.
    begin: f64,
    bent: bool,
}

#[derive(Clone)]
pub struct Lie<'a> {
    seat: &'a Seat,
    placement: Placement,
    baseline: Baseline,
    size: DVec2,
    /// One piece: the baseline carries it and bends nothing.
    whole: bool,
    /// The mark's place on the strip: the middle of its box, or of its circle.
    anchor: DVec2,
    /// Reading direction there.
    along: DVec2,
    circle: Option<Circle>,
    edge: Option<OnLine>,
    /// Flat frame that is projected: origin, along, up, direction of the projection.
    drop: Option<[DVec3; 4]>,
}

impl<'a> Lie<'a> {
    /// A text or figure with its place at `anchor`.
    ///
    /// # Errors
    /// Rings where the seat has none, a circle that doesn't fit the seat, a drop without a direction.
    pub fn new(place: &Place, seat: &'a Seat, lettered: &Lettered, anchor: DVec2) -> Result<Self, ReliefError> {
        let Lettered { size, whole, .. } = *lettered;
        let along = DVec2::from_angle(place.turn.to_radians()).rotate(seat.chart.level(anchor));
        let (placement, baseline) = (place.placement, place.baseline);
        let mut lie =
            Self { seat, placement, baseline, size, whole, anchor, along, circle: None, edge: None, drop: None };
        lie.circle = lie.circle()?;
        lie.edge = lie.edge()?;
        if let Some(circle) = &lie.circle {
            let most = seat.chart.widest();
            if let (Baseline::Arc { radius, .. }, false) = (baseline, lie.flat())
                && radius > most
            {
                return Err(ReliefError::FarSide { radius, most });
            }
            if circle.tops < 0.0 && size.y >= circle.radius {
                return Err(ReliefError::PastTheMiddle { height: size.y, radius: circle.radius });
            }
            let round = if lie.flat() { circle.radius } else { seat.chart.girth(circle.radius) };
            if round.max(0.0) < 0.01 || size.x > 0.98 * TAU * round {
                return Err(ReliefError::RoundTheCircle { length: size.x, round: TAU * round.max(0.0) });
            }
        }
        let chart = &seat.chart;
        let direction = match placement {
            Placement::Wrapped => None,
            Placement::Projected => Some(chart.normal(anchor)),
            Placement::ProjectedAlongPull => {
                let pull = seat.pull.ok_or(ReliefError::NoPullToDrop)?;
                Some(pull * pull.dot(chart.normal(anchor)).signum())
            }
        };
        if let Some(direction) = direction {
            let origin = chart.point(anchor, 0.0);
            let ahead = chart.point(chart.roll(anchor, lie.level() * STEP), 0.0) - origin;
            let x = ahead.reject_from_normalized(direction).try_normalize().ok_or(ReliefError::NoPullToDrop)?;
            lie.drop = Some([origin, x, direction.cross(x), -direction]);
        }
        Ok(lie)
    }

    fn level(&self) -> DVec2 {
        self.seat.chart.level(self.anchor)
    }

    /// It is laid out on a plane and projected from there.
    fn flat(&self) -> bool {
        self.placement != Placement::Wrapped
    }

    fn circle(&self) -> Result<Option<Circle>, ReliefError> {
        let half = self.size / 2.0;
        match self.baseline {
            Baseline::Straight | Baseline::Edge { .. } => Ok(None),
            Baseline::Arc { radius, tops, share, stands, bent } => {
                let round = share / 100.0 * TAU;
                let x = standing(stands, self.size.x);
                let (angle, tops) = match tops {
                    Tops::Out => (-PI / 2.0 - round, 1.0),
                    Tops::In => (PI / 2.0 + round, -1.0),
                };
                let angle = angle + self.along.to_angle();
                let bent = bent && !self.whole;
                Ok(Some(Circle { middle: self.anchor, radius, angle, tops, stands: DVec2::new(x, 0.0), bent }))
            }
            Baseline::Ring { bent } => {
                let middle = match self.seat.chart.rings() {
                    Rings::None => return Err(ReliefError::NoRing),
                    Rings::Straight => return Ok(None),
                    Rings::Round(middle) => middle,
                };
                let out = self.anchor - middle;
                // tops as those of a straight text there; where that reads across the ring, outward
                let up = self.along.perp().dot(out.normalize_or_zero());
                let tops = if up < -0.5 { -1.0 } else { 1.0 };
                // the ring through the mark's place carries the middle of its box
                let radius = out.length() - tops * half.y;
                let bent = bent && !self.whole;
                Ok(Some(Circle { middle, radius, angle: out.to_angle(), tops, stands: DVec2::new(half.x, 0.0), bent }))
            }
        }
    }

    fn edge(&self) -> Result<Option<OnLine>, ReliefError> {
        let Baseline::Edge { near, gap, share, stands, turned, bent } = self.baseline else { return Ok(None) };
        if self.flat() {
            return Err(ReliefError::DroppedBeside);
        }
        let line = edge::beside(self.seat, near.into(), gap, self.size.y, turned)?;
        if self.size.x > line.length() {
            return Err(ReliefError::EdgeTooShort { length: self.size.x, edge: line.length() });
        }
        let begin = share / 100.0 * line.length() - standing(stands, self.size.x);
        Ok(Some(OnLine { line, begin, bent: bent && !self.whole }))
    }

    /// The place of the strip under a place of the text that belongs to a letter whose middle lies at
    /// `own` along the text; `None` where the drop misses the seat.
    #[must_use]
    pub fn strip(&self, p: DVec2, own: f64) -> Option<DVec2> {
        if let Some(OnLine { line, begin, bent }) = &self.edge {
            let letter = if *bent { p.x } else { own };
            let (foot, ahead) = line.foot(begin + letter);
            let chart = &self.seat.chart;
            let way = chart.unroll(foot, ahead).normalize_or(DVec2::X);
            return Some(chart.roll(foot, way * (p.x - letter) + way.perp() * p.y));
        }
        let Some(circle) = &self.circle else { return self.go(self.anchor, self.along.rotate(p - self.size / 2.0)) };
        let girth = if self.flat() { circle.radius } else { self.seat.chart.girth(circle.radius) };
        let letter = if circle.bent { p.x } else { own };
        let angle = circle.angle - circle.tops * (letter - circle.stands.x) / girth;
        let out = DVec2::from_angle(angle);
        if circle.bent {
            return self.go(circle.middle, out * (circle.radius + circle.tops * p.y));
        }
        // reading clockwise when tops point out
        let (ahead, up) = (-out.perp() * circle.tops, out * circle.tops);
        let aside = p.x - letter;
        if self.flat() {
            return self.go(circle.middle, out * circle.radius + up * p.y + ahead * aside);
        }
        let chart = &self.seat.chart;
        let foot = chart.roll(circle.middle, out * circle.radius);
        let further = chart.unroll(foot, chart.roll(circle.middle, out * (circle.radius + STEP))).normalize_or(out);
        Some(chart.roll(foot, further * (circle.tops * p.y) - further.perp() * (circle.tops * aside)))
    }

    /// The place reached from `from` by going `by`, wrapped or projected.
    fn go(&self, from: DVec2, by: DVec2) -> Option<DVec2> {
        let Some([origin, x, y, down]) = self.drop else { return Some(self.seat.chart.roll(from, by)) };
        // `by` is in directions of the strip; the flat frame's x is the level one's
        let level = self.level();
        let by = DVec2::new(level.x, -level.y).rotate(by + (from - self.anchor));
        self.fall(origin + x * by.x + y * by.y, down)
    }

    /// Where a line along the unit `down` meets the seat, by Newton's iteration.
    fn fall(&self, from: DVec3, down: DVec3) -> Option<DVec2> {
        let mut p = from;
        for _ in 0..40 {
            let (at, height) = self.seat.chart.strip(p);
            if height.abs() < 1e-11 {
                return Some(self.seat.chart.turned_to(at, self.anchor));
            }
            let rate = down.dot(self.seat.chart.normal(at));
            // a seat that stands along the drop is not met
            if rate > -0.05 {
                return None;
            }
            p += down * (height / -rate);
        }
        None
    }

    /// A contour of the text on the strip, its edges bent where the placement bends them.
    #[must_use]
    pub fn contour(&self, contour: &[DVec2], own: f64) -> Option<Vec<DVec2>> {
        let mut out = Vec::with_capacity(contour.len());
        for k in 0..contour.len() {
            let (a, b) = (contour[k], contour[(k + 1) % contour.len()]);
            let (from, to) = (self.strip(a, own)?, self.strip(b, own)?);
            out.push(from);
            self.bend([a, b], [from, to], own, 8, &mut out)?;
        }
        Some(out)
    }

    fn bend(&self, text: [DVec2; 2], strip: [DVec2; 2], own: f64, deep: u32, out: &mut Vec<DVec2>) -> Option<()> {
        let middle = (text[0] + text[1]) / 2.0;
        let there = self.strip(middle, own)?;
        if deep == 0 || there.distance((strip[0] + strip[1]) / 2.0) < BENT_TO {
            return Some(());
        }
        self.bend([text[0], middle], [strip[0], there], own, deep - 1, out)?;
        out.push(there);
        self.bend([middle, text[1]], [there, strip[1]], own, deep - 1, out)
    }

    /// The text's box on the strip, bent with its baseline.
    #[must_use]
    pub fn outline(&self) -> Option<Vec<DVec2>> {
        self.frame(DVec2::ZERO, self.size)
    }

    /// The strip under a box of the text.
    #[must_use]
    pub fn frame(&self, low: DVec2, high: DVec2) -> Option<Vec<DVec2>> {
        self.field(&[low, DVec2::new(high.x, low.y), high, DVec2::new(low.x, high.y)])
    }

    /// The strip under a contour of the text that bends with its baseline.
    #[must_use]
    pub fn field(&self, contour: &[DVec2]) -> Option<Vec<DVec2>> {
        if self.whole {
            return self.contour(contour, self.size.x / 2.0);
        }
        let mut bent = self.clone();
        match (&mut bent.circle, &mut bent.edge) {
            (Some(circle), _) => circle.bent = true,
            (_, Some(edge)) => edge.bent = true,
            (None, None) => return self.contour(contour, 0.0),
        }
        // halving alone would take a text of half a turn for straight
        let longest = self.size.length() / 16.0;
        let mut fine = Vec::new();
        for k in 0..contour.len() {
            let (a, b) = (contour[k], contour[(k + 1) % contour.len()]);
            let pieces = (a.distance(b) / longest).ceil().max(1.0) as u32;
            fine.extend((0..pieces).map(|i| a.lerp(b, f64::from(i) / f64::from(pieces))));
        }
        bent.contour(&fine, 0.0)
    }

    /// The middle of the text's box on the strip, and the reading direction there.
    #[must_use]
    pub fn middle(&self) -> Option<(DVec2, DVec2)> {
        let half = self.size / 2.0;
        let at = self.strip(half, half.x)?;
        Some((at, self.reading(half, half.x)?))
    }

    /// Reading direction at a place of the text, as a unit vector of the strip laid flat there.
    #[must_use]
    pub fn reading(&self, p: DVec2, own: f64) -> Option<DVec2> {
        let (at, ahead) = (self.strip(p, own)?, self.strip(p + DVec2::X * STEP, own)?);
        self.seat.chart.unroll(at, ahead).try_normalize()
    }

    /// What the placement does to lengths and angles at a place of the text: principal stretches less 1, the
    /// one farther from 0 (from the first fundamental form of the map, by central differences), and by how
    /// many degrees along and up are off square.
    #[must_use]
    pub fn stretch(&self, p: DVec2, own: f64) -> Option<Stretch> {
        let space = |p: DVec2| Some(self.seat.chart.point(self.strip(p, own)?, 0.0));
        let here = space(p)?;
        let slope = |d: DVec2| {
            let [back, ahead] = [here - space(p - d * STEP)?, space(p + d * STEP)? - here];
            // a crease between them shortens the way; on one side of it lengths are what they are
            let bent = (back + ahead).length() < 1.999 * f64::max(back.length(), ahead.length());
            let straight = if back.length() > ahead.length() { 2.0 * back } else { 2.0 * ahead };
            Some(if bent { straight } else { back + ahead } / (2.0 * STEP))
        };
        let (along, up) = (slope(DVec2::X)?, slope(DVec2::Y)?);
        let (e, f, g) = (along.length_squared(), along.dot(up), up.length_squared());
        let spread = ((e - g) * (e - g) / 4.0 + f * f).sqrt();
        let principal = [1.0, -1.0].map(|s| f64::max((e + g) / 2.0 + s * spread, 0.0).sqrt() - 1.0);
        let scale = if principal[0].abs() >= principal[1].abs() { principal[0] } else { principal[1] };
        let shear = along.angle_between(up).to_degrees() - 90.0;
        Some(Stretch { scale, shear_deg: shear.abs(), at: self.strip(p, own)? })
    }
}

/// How far from the text's beginning the place of it lies that is to stand somewhere.
pub(crate) fn standing(stands: Justify, length: f64) -> f64 {
    match stands {
        Justify::Start => 0.0,
        Justify::Middle => length / 2.0,
        Justify::End => length,
    }
}
