//! The boundary of a hatch: loops of polylines, or of lines, arcs and splines.

use super::pairs::{Item, Pair};
use crate::{
    ArtworkError,
    curve::{Curve, Spline, bulged},
};
use glam::DVec2;

/// Reads the pairs of a hatch one after the other: the same codes mean other things in other places.
struct Reader<'a> {
    pairs: &'a [Pair<'a>],
    at: usize,
    hatch: &'a Item<'a>,
}

impl Reader<'_> {
    /// The value of the next pair, which must have a code.
    fn next(&mut self, code: i32) -> Result<f64, ArtworkError> {
        let here = self.pairs.get(self.at).filter(|p| p.code == code);
        let Some(pair) = here else {
            let line = self.pairs.get(self.at).or(self.hatch.pairs.last()).map_or(0, |p| p.line);
            return Err(ArtworkError::Unreadable(format!(
                "line {line}: a hatch is incomplete: group code {code} is missing"
            )));
        };
        self.at += 1;
        pair.number()
    }

    fn maybe(&mut self, code: i32) -> Result<Option<f64>, ArtworkError> {
        if self.pairs.get(self.at).is_some_and(|p| p.code == code) { self.next(code).map(Some) } else { Ok(None) }
    }

    /// How many of something follow; there can't be more than pairs.
    fn count(&mut self, code: i32) -> Result<usize, ArtworkError> {
        let n = self.next(code)?;
        Ok((n.max(0.0) as usize).min(self.pairs.len()))
    }

    fn point(&mut self, code: i32) -> Result<DVec2, ArtworkError> {
        Ok(DVec2::new(self.next(code)?, self.next(code + 10)?))
    }

    fn looped(&mut self) -> Result<Vec<Curve>, ArtworkError> {
        const POLYLINE: i64 = 2;
        let flags = self.next(92)? as i64;
        let curves = if flags & POLYLINE != 0 {
            self.polyline()?
        } else {
            let edges = self.count(93)?;
            (0..edges).map(|_| self.edge()).collect::<Result<_, _>>()?
        };
        // handles of what it was made from
        for _ in 0..self.maybe(97)?.map_or(0, |n| n.max(0.0) as usize) {
            if self.pairs.get(self.at).is_some_and(|p| p.code == 330) {
                self.at += 1;
            }
        }
        Ok(curves)
    }

    fn polyline(&mut self) -> Result<Vec<Curve>, ArtworkError> {
        let bulges = self.next(72)? != 0.0;
        self.maybe(73)?;
        let corners = self.count(93)?;
        let mut points = Vec::new();
        for _ in 0..corners {
            let point = self.point(10)?;
            let bulge = if bulges { self.maybe(42)?.unwrap_or_default() } else { 0.0 };
            points.push((point, bulge));
        }
        Ok((0..points.len()).map(|k| bulged(points[k].0, points[(k + 1) % points.len()].0, points[k].1)).collect())
    }

    fn edge(&mut self) -> Result<Curve, ArtworkError> {
        match self.next(72)? as i64 {
            1 => Ok(Curve::Line(self.point(10)?, self.point(11)?)),
            2 => {
                let centre = self.point(10)?;
                let radius = self.next(40)?;
                self.arc(centre, DVec2::X * radius, 1.0)
            }
            3 => {
                let (centre, u) = (self.point(10)?, self.point(11)?);
                let ratio = self.next(40)?;
                self.arc(centre, u, ratio)
            }
            4 => self.spline(),
            kind => Err(ArtworkError::Unreadable(format!("a hatch has an edge of the unknown kind {kind}"))),
        }
    }

    /// Angles of an arc that runs clockwise are written as if seen from behind.
    fn arc(&mut self, centre: DVec2, u: DVec2, ratio: f64) -> Result<Curve, ArtworkError> {
        let (from, until) = (self.next(50)?.to_radians(), self.next(51)?.to_radians());
        let way = if self.maybe(73)?.unwrap_or(1.0) == 0.0 { -1.0 } else { 1.0 };
        let sweep = super::sweep(from, until);
        Ok(Curve::Arc { centre, u, v: u.perp() * ratio, from: from * way, sweep: sweep * way })
    }

    fn spline(&mut self) -> Result<Curve, ArtworkError> {
        let degree = self.next(94)?.max(0.0) as usize;
        let rational = self.next(73)? != 0.0;
        self.next(74)?;
        let (knots, points) = (self.count(95)?, self.count(96)?);
        let knots = (0..knots).map(|_| self.next(40)).collect::<Result<_, _>>()?;
        let (mut places, mut weights) = (Vec::new(), Vec::new());
        for _ in 0..points {
            places.push(self.point(10)?);
            if rational {
                weights.push(self.maybe(42)?.unwrap_or(1.0));
            }
        }
        // points that it was fitted to, and its tangents
        if let Some(fitted) = self.maybe(97)? {
            while fitted > 0.0 && self.pairs.get(self.at).is_some_and(|p| [11, 21, 12, 22, 13, 23].contains(&p.code)) {
                self.at += 1;
            }
        }
        let spline = Spline::new(degree, knots, places, weights);
        spline.map(Curve::Spline).ok_or_else(|| ArtworkError::Unreadable("a hatch has an invalid spline".into()))
    }
}

/// The loops of a hatch, each in its order; together they enclose it by even-odd.
pub fn loops(hatch: &Item<'_>) -> Result<Vec<Vec<Curve>>, ArtworkError> {
    let begin = hatch.pairs.iter().position(|p| p.code == 91).unwrap_or(hatch.pairs.len());
    let mut reader = Reader { pairs: hatch.pairs, at: begin, hatch };
    let loops = reader.count(91)?;
    (0..loops).map(|_| reader.looped()).collect()
}
