//! A flat region with holes, mm.

use crate::contour::{contains, signed_area};
use glam::DVec2;
use kurbo::{BezPath, PathEl};
use serde::{Deserialize, Serialize};
use std::fmt::Write;

/// One connected piece: outer contour counter-clockwise, counters clockwise.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Island {
    pub outer: Vec<DVec2>,
    pub counters: Vec<Vec<DVec2>>,
}

#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Region {
    pub islands: Vec<Island>,
}

/// Contours of SVG path data of M, L and Z, as [`Region::path_data`] writes them, scaled; `None` where it is none.
#[must_use]
pub fn contours_of(path_data: &str, scale: f64) -> Option<Vec<Vec<DVec2>>> {
    let path = BezPath::from_svg(path_data).ok()?;
    let mut contours: Vec<Vec<DVec2>> = Vec::new();
    for element in path.elements() {
        match element {
            PathEl::MoveTo(p) => contours.push(vec![DVec2::new(p.x, p.y) * scale]),
            PathEl::LineTo(p) => contours.last_mut()?.push(DVec2::new(p.x, p.y) * scale),
            PathEl::ClosePath => {}
            PathEl::QuadTo(..) | PathEl::CurveTo(..) => return None,
        }
    }
    contours.iter().flatten().all(|p| p.is_finite() && p.abs().max_element() < 1e5).then_some(contours)
}

impl Region {
    /// All contours, outer and counters.
    pub fn contours(&self) -> impl Iterator<Item = &Vec<DVec2>> {
        self.islands.iter().flat_map(|i| std::iter::once(&i.outer).chain(&i.counters))
    }

    #[must_use]
    pub fn area(&self) -> f64 {
        self.contours().map(|c| signed_area(c)).sum()
    }

    #[must_use]
    pub fn counters(&self) -> usize {
        self.islands.iter().map(|i| i.counters.len()).sum()
    }

    /// Least and greatest corner; `None` for an empty region.
    #[must_use]
    pub fn bounds(&self) -> Option<(DVec2, DVec2)> {
        self.islands
            .iter()
            .flat_map(|i| &i.outer)
            .fold(None, |b, &p| Some(b.map_or((p, p), |(low, high): (DVec2, DVec2)| (low.min(p), high.max(p)))))
    }

    /// SVG path data of M, L and Z, numbers to so many places.
    #[must_use]
    pub fn path_data(&self, places: i32) -> String {
        let step = 10_f64.powi(places);
        // adding zero takes the sign from a zero
        let short = |v: f64| (v * step).round() / step + 0.0;
        let mut out = String::new();
        for contour in self.contours() {
            for (at, p) in contour.iter().enumerate() {
                // writing to a string does not fail
                let _ = write!(out, "{}{} {}", if at == 0 { 'M' } else { 'L' }, short(p.x), short(p.y));
            }
            out.push('Z');
        }
        out
    }

    /// Every point moved by `map`, which must keep orientation.
    #[must_use]
    pub fn mapped(&self, map: impl Fn(DVec2) -> DVec2) -> Self {
        let contour = |c: &Vec<DVec2>| c.iter().map(|&p| map(p)).collect();
        let islands = self
            .islands
            .iter()
            .map(|i| Island { outer: contour(&i.outer), counters: i.counters.iter().map(contour).collect() })
            .collect();
        Self { islands }
    }

    /// Contours sorted into islands: counter-clockwise ones are outer, clockwise ones are counters
    /// of the smallest outer around them.
    #[must_use]
    pub fn from_contours(contours: Vec<Vec<DVec2>>) -> Self {
        let (outer, inner): (Vec<_>, Vec<_>) = contours.into_iter().partition(|c| signed_area(c) > 0.0);
        let mut islands: Vec<Island> = outer.into_iter().map(|outer| Island { outer, counters: Vec::new() }).collect();
        for counter in inner {
            let around = islands
                .iter_mut()
                .filter(|i| contains(&i.outer, counter[0]))
                .min_by(|a, b| signed_area(&a.outer).total_cmp(&signed_area(&b.outer)));
            if let Some(island) = around {
                island.counters.push(counter);
            }
        }
        Self { islands }
    }
}
