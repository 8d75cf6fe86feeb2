//! Outlines that tests measure, mm.

use glam::DVec2;

pub(crate) fn shape(points: &[(f64, f64)]) -> Vec<DVec2> {
    points.iter().map(|&(x, y)| DVec2::new(x, y)).collect()
}

pub(crate) fn rectangle(w: f64, h: f64) -> Vec<DVec2> {
    shape(&[(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)])
}

pub(crate) fn circle(radius: f64, pieces: u32, turn: f64) -> Vec<DVec2> {
    let step = turn * std::f64::consts::TAU / f64::from(pieces);
    (0..pieces).map(|k| DVec2::from_angle(step * f64::from(k)) * radius).collect()
}
