//! A mark's place once it is carried, shifted or put down: distances stay distances.

use super::{
    PlacedMark, place,
    sphere::{askew, upright, within_half},
};
use crate::{edge, lie::standing, seat::Seat};
use glam::{DVec2, DVec3};
use solid::segment;
use trade::{Baseline, Mark, Place, Tie};

/// The mark's place once the middle of its box is carried to a place of the strip: distances stay distances.
#[must_use]
pub fn carried(place: &Place, placed: &PlacedMark, seat: &Seat, to: DVec2) -> Place {
    let chart = &seat.chart;
    let to = chart.turned_to(to, placed.middle);
    if let Baseline::Edge { .. } = place.baseline {
        return beside(place, placed, seat, to);
    }
    let there = chart.turned_to(placed.anchor + (to - placed.middle), placed.anchor);
    let (was, is) = (chart.grid(placed.anchor), chart.grid(there));
    shifted(place, placed, seat, crate::chart::shifted_to(is, was, chart.period()) - was)
}

/// The mark's place `by` mm on from where it is, on the grid; beside an edge, along it and away from it.
/// Distances stay distances.
#[must_use]
pub fn shifted(place: &Place, placed: &PlacedMark, seat: &Seat, by: DVec2) -> Place {
    if let Baseline::Edge { near, gap, turned, .. } = place.baseline {
        let mut place = place.clone();
        let tall = placed.height;
        if let (Baseline::Edge { gap, share, .. }, Ok(line)) =
            (&mut place.baseline, edge::beside(seat, near.into(), gap, tall, turned))
        {
            *share = rounded(*share + 100.0 * by.x / line.length(), 4).rem_euclid(100.0);
            *gap = rounded(*gap + by.y, 2);
        }
        return place;
    }
    let tie = |tie: &Tie, k: usize| match tie.clone() {
        tie if by[k].abs() < 1e-6 => tie,
        Tie::FromStart { distance } => Tie::FromStart { distance: rounded(distance + by[k], 2) },
        Tie::FromEnd { distance } => Tie::FromEnd { distance: rounded(distance - by[k], 2) },
        Tie::Point { point, distance } => Tie::Point { point, distance: rounded(distance + by[k], 2) },
        Tie::Mark { id, side, distance } => Tie::Mark { id, side, distance: rounded(distance + by[k], 2) },
        Tie::Middle | Tie::Between { .. } | Tie::At { .. } => Tie::At { position: rounded(placed.held[k] + by[k], 2) },
    };
    Place { along: tie(&place.along, 0), up: tie(&place.up, 1), ..place.clone() }
}

fn rounded(v: f64, places: i32) -> f64 {
    let tenth = 10_f64.powi(places);
    (v * tenth).round() / tenth
}

/// The place beside the same edge that carries the middle of the box nearest to a place of the strip.
pub(super) fn beside(place: &Place, placed: &PlacedMark, seat: &Seat, to: DVec2) -> Place {
    let mut place = place.clone();
    let Baseline::Edge { near, gap, share, stands, turned, .. } = &mut place.baseline else { return place };
    let tall = placed.height;
    let line = |gap: f64| edge::beside(seat, (*near).into(), gap, tall, *turned);
    // away from the edge: from its foot on the edge itself to the box's middle, less half the box
    let Ok(rim) = edge::beside(seat, (*near).into(), 0.0, 0.0, *turned) else { return place };
    let (foot, ahead) = rim.foot(rim.nearest(seat, to));
    let way = seat.chart.unroll(foot, ahead).normalize_or(DVec2::X);
    let off = seat.chart.unroll(foot, seat.chart.turned_to(to, foot)).dot(way.perp());
    // read from the other side the seat lies to the right
    let was = seat.chart.unroll(foot, seat.chart.turned_to(placed.middle, foot)).dot(way.perp());
    let clear = rounded(off * was.signum() - tall / 2.0, 2);
    let Ok(found) = line(clear).or_else(|_| line(*gap)) else { return place };
    if line(clear).is_ok() {
        *gap = clear;
    }
    let middle = found.nearest(seat, to);
    let begin = middle - placed.length / 2.0 + standing(*stands, placed.length);
    *share = rounded(100.0 * begin / found.length(), 4).clamp(0.0, 100.0);
    place
}

/// The mark's place with the middle of its box at a point of space, to 0.01 mm. On a sphere it stays turned from upright as
/// it was.
#[must_use]
pub fn put_down(mark: &Mark, seat: &Seat, point: DVec3) -> Place {
    let at = seat.strip(point);
    let round = |v: f64| Tie::At { position: rounded(v, 2) };
    let grid = seat.chart.grid(at);
    let mut place = mark.place.clone();
    if let Some(upright) = upright(seat, at, None) {
        place.turn = within_half(upright + askew(mark, seat));
    }
    match &mut place.baseline {
        Baseline::Edge { near, .. } => {
            // an edge of another seat is no edge of this one
            let own = DVec3::from(*near);
            let far = seat.edges.iter().map(|edge| segment::distance(own, *edge)).fold(f64::INFINITY, f64::min);
            if far > 1.0 {
                *near = point.to_array();
            }
        }
        _ => {
            place.along = round(grid.x);
            place.up = round(grid.y);
        }
    }
    // what stands on a circle or beside an edge has its place elsewhere than in its middle, and so has what is
    // tied at a side
    match self::place(&Mark { place: place.clone(), ..mark.clone() }, seat) {
        Ok(placed) if placed.held.distance(grid) > 1e-6 || placed.middle.distance(at) > 1e-6 => {
            carried(&place, &placed, seat, at)
        }
        _ => place,
    }
}
