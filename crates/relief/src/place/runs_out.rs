//! Lettering that runs over the edge of its face on purpose.

use super::PlacedCharacter;
use crate::{body::built_as, off_crease, seat::Seat};
use flat::{
    Region,
    offset::grown,
    overlay::{Rule, common, filled},
};
use glam::DVec2;
use trade::{Mark, Sense};

/// Edges of the grid are laid on the strip in pieces no longer than this, mm.
const PIECE: f64 = 0.25;
/// ... nor in more.
const MOST: f64 = 400.0;

/// What of the characters is built: what is cut in goes on past the edge, into the air; all else ends at the edge, so far
/// inside that its walls stand on the face. What a figure draws beyond the edge is left away; a letter that lies wholly
/// there stays, without an outline, and is missed.
pub(super) fn ended(mark: &Mark, seat: &Seat, characters: &mut Vec<PlacedCharacter>) {
    let bounds = characters.iter().filter_map(|c| c.region.bounds());
    let Some((low, high)) = bounds.reduce(|(a, b), (c, d)| (a.min(c), b.max(d))) else { return };
    let Some(area) = area(seat, (low + high) / 2.0) else { return };
    for c in characters.iter_mut() {
        let relief = built_as(&mark.relief_of(c.at, &c.text));
        if relief.sense == Sense::Sunken {
            c.region.islands.retain(|island| common(&Region { islands: vec![island.clone()] }, &area).area() > 0.0);
        } else {
            c.region = common(&c.region, &grown(&area, -off_crease::past(&relief)));
        }
    }
    if mark.figure.is_some() {
        characters.retain(|c| !c.region.islands.is_empty());
    }
}

/// The face on its strip, about a place of it; where it runs once round, with a turn to either side. `None`: it has no
/// edges.
fn area(seat: &Seat, near: DVec2) -> Option<Region> {
    if seat.outline.is_empty() {
        return None;
    }
    let (closed, period) = (seat.closed(), seat.chart.period());
    let (go, across) = if closed[0] { (1, 0) } else { (0, 1) };
    // an edge that runs once round bounds what lies on that side of it, as far as anything reaches
    let far = seat.end[go] + 10.0 * (seat.end[go] - seat.start[go] + 1.0);
    let at = seat.chart.grid(seat.own_turn(near))[across];
    let mut contours: Vec<Vec<DVec2>> = Vec::new();
    for ring in &seat.outline {
        let Some((&first, &last)) = ring.first().zip(ring.last()) else { continue };
        if !closed[across] {
            contours.push(ring.clone());
            continue;
        }
        let mut once = DVec2::ZERO;
        once[across] = period[across];
        let turn = once * ((at - (first + last)[across] / 2.0) / period[across]).round();
        let runs_round = (last - first)[across].abs() > 0.5 * period[across];
        let way = if runs_round { once * (last - first)[across].signum() } else { once };
        let copies = [-1.0, 0.0, 1.0].map(|k| ring.iter().map(|p| *p + turn + k * way).collect::<Vec<DVec2>>());
        if !runs_round {
            contours.extend(copies);
            continue;
        }
        let mut line = copies.concat();
        let beyond = |p: &DVec2| {
            let mut p = *p;
            p[go] = far;
            p
        };
        let ends = [line.last().map(beyond), line.first().map(beyond)];
        line.extend(ends.into_iter().flatten());
        contours.push(line);
    }
    let on_strip = |ring: &Vec<DVec2>| -> Vec<DVec2> {
        let edges = (0..ring.len()).map(|k| [ring[k], ring[(k + 1) % ring.len()]]);
        let pieces = edges.flat_map(|[a, b]| {
            let pieces = (a.distance(b) / PIECE).ceil().clamp(1.0, MOST);
            (0..pieces as u32).map(move |k| a.lerp(b, f64::from(k) / pieces))
        });
        pieces.map(|p| seat.chart.off_grid(p)).collect()
    };
    Some(filled(&contours.iter().map(on_strip).collect::<Vec<_>>(), Rule::EvenOdd))
}
