//! A seat: its strip with all that is drawn on it.

use super::says;
use glam::{DVec2, DVec3};
use relief::{Seat, chart::Rings};
use serde::Serialize;
use solid::{Part, Surface};
use trade::Job;
use utoipa::ToSchema;
use workbench::{Bench, Steps};

#[derive(Serialize, ToSchema)]
pub struct SeatView {
    pub face: u32,
    pub says: String,
    /// Least and greatest grid coordinates: between these marks are tied.
    pub start: [f64; 2],
    pub end: [f64; 2],
    /// Least and greatest strip coordinates, and the outline of all that the strip shows.
    pub low: [f64; 2],
    pub high: [f64; 2],
    pub bounds: Vec<[f64; 2]>,
    /// The grid is not the strip's own: its edges bend.
    pub bends: bool,
    /// Text can run in rings round the seat's axis.
    pub rings: bool,
    /// Not a plane: wrapped and projected differ.
    pub curved: bool,
    /// Wrapped straight text keeps its shape on the strip wherever it is moved.
    pub stiff: bool,
    /// Edges of the face and its holes. On a seat that closes on itself they run on past the strip.
    pub outline: Vec<Vec<[f64; 2]>>,
    /// Closed rings that bound the face by the even-odd rule.
    pub area: Vec<Vec<[f64; 2]>>,
    /// Does the strip close on itself along, up? Then it has no edges there.
    pub closed: [bool; 2],
    pub parting: Vec<[[f64; 2]; 2]>,
    /// Where faces of the seat meet.
    pub creases: Vec<[[f64; 2]; 2]>,
    pub keep_outs: Vec<KeepOutOnSeat>,
    /// Its edges from corner to corner, which text can stand beside.
    pub edges: Vec<EdgeOnSeat>,
    /// Points of its edges that marks can be tied to.
    pub points: Vec<PointOnSeat>,
    /// The line y = 0 is the crown: there the cylinder's normal is the pull.
    pub crown: bool,
    /// Radius of the sphere that it is.
    pub sphere: Option<f64>,
    /// How far the facets lie inside the true surface.
    pub facet_error: f64,
    /// The point of the part under the strip's middle, and the outward normal there.
    pub middle: [f64; 3],
    pub out: [f64; 3],
}

/// An edge of a seat between two corners, or a whole ring.
#[derive(Serialize, ToSchema)]
pub struct EdgeOnSeat {
    /// On the strip.
    pub path: Vec<[f64; 2]>,
    /// The point of the part halfway along it, mm.
    pub near: [f64; 3],
}

/// A point of a seat's edges.
#[derive(Serialize, ToSchema)]
pub struct PointOnSeat {
    pub point: trade::PartPoint,
    /// On the strip.
    pub at: [f64; 2],
    /// On its grid.
    pub grid: [f64; 2],
}

/// A keep-out as far as it touches a seat, strip coordinates.
#[derive(Serialize, ToSchema)]
pub struct KeepOutOnSeat {
    pub name: String,
    pub kind: trade::KeepOutKind,
    /// mm that marks stay away.
    pub margin: f64,
    /// The seat itself is kept out of.
    pub whole: bool,
    pub circles: Vec<CircleOnSeat>,
    /// Where a face that is kept out of borders on the seat.
    pub border: Vec<[[f64; 2]; 2]>,
}

#[derive(Serialize, ToSchema)]
pub struct CircleOnSeat {
    pub at: [f64; 2],
    pub radius: f64,
}

/// A seat with the parting line that crosses it.
#[must_use]
pub fn seat(bench: &Bench, job: &Job, seat: &Seat) -> SeatView {
    // a section runs along chords, so it lies inside the true surface by up to the facet error
    let near = seat.facet_error + 0.02;
    let chart = &seat.chart;
    let slack = DVec2::splat(1e-6);
    let (outline, area) = outlines(seat);
    let shown = |rings: &[Vec<DVec2>]| {
        rings.iter().map(|ring| ring.iter().map(|p| chart.off_grid(*p).to_array()).collect()).collect()
    };
    let mut parting = Vec::new();
    for segment in bench.parting(&job.tool).iter().flat_map(|l| &l.segments) {
        let [(a, ha), (b, hb)] = segment.map(|p| {
            let (at, height) = chart.strip(p);
            (seat.own_turn(at), height)
        });
        let inside = [a, b].iter().all(|p| {
            let p = chart.grid(*p);
            p.cmpge(seat.start - slack).all() && p.cmple(seat.end + slack).all()
        });
        if ha.abs() <= near && hb.abs() <= near && !over_seam(seat, a, b) && inside {
            parting.push([a, b].map(|p: DVec2| p.to_array()));
        }
    }
    let bounds = bounds(seat);
    let (low, high) =
        bounds.iter().fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), &p| (low.min(p), high.max(p)));
    let middle = chart.off_grid((seat.start + seat.end) / 2.0);
    SeatView {
        face: seat.face,
        says: match seat.faces.len() {
            1 => says(bench.part(), seat.face),
            2 => format!("{} and a neighbour", bench.part().faces[seat.face as usize].surface.word()),
            n => format!("{} and {} neighbours", bench.part().faces[seat.face as usize].surface.word(), n - 1),
        },
        start: seat.start.to_array(),
        end: seat.end.to_array(),
        low: low.to_array(),
        high: high.to_array(),
        bounds: bounds.into_iter().map(|p| p.to_array()).collect(),
        bends: bends(seat),
        rings: chart.rings() != Rings::None,
        curved: !matches!(seat.surface, Surface::Plane { .. }),
        stiff: matches!(seat.surface, Surface::Plane { .. } | Surface::Cylinder { .. }),
        outline: shown(&outline),
        area: shown(&area),
        closed: seat.closed(),
        parting,
        creases: creases(bench.part(), seat),
        keep_outs: keep_outs(bench, job, seat),
        edges: edges(seat),
        points: points(seat),
        crown: matches!(seat.surface, Surface::Cylinder { .. })
            && chart.period().y.is_finite()
            && job.tool.pull.is_some(),
        sphere: match seat.surface {
            Surface::Sphere { radius, .. } => Some(radius),
            _ => None,
        },
        facet_error: seat.facet_error,
        middle: chart.point(middle, 0.0).to_array(),
        out: chart.normal(middle).to_array(),
    }
}

fn edges(seat: &Seat) -> Vec<EdgeOnSeat> {
    let runs = relief::edge::runs(seat).into_iter();
    runs.map(|run| EdgeOnSeat {
        path: run.points.iter().map(|p| p.to_array()).collect(),
        near: run.middle(seat).to_array().map(|c| (c * 1e4).round() / 1e4),
    })
    .collect()
}

fn points(seat: &Seat) -> Vec<PointOnSeat> {
    /// A face cut by many small edges has more points than anyone looks through.
    const MOST: usize = 200;
    let found = relief::edge::points(seat);
    // then those that are sought most
    let few = found.len() <= MOST;
    let kept = found.into_iter().filter(|p| few || p.kind == trade::PointKind::Centre).take(MOST);
    kept.map(|p| {
        let at = seat.own_turn(p.at);
        PointOnSeat {
            point: trade::PartPoint { kind: p.kind, near: p.point.to_array().map(|c| (c * 1e4).round() / 1e4) },
            at: at.to_array(),
            grid: seat.chart.grid(at).to_array(),
        }
    })
    .collect()
}

/// Edges between the faces of a seat, on its strip.
fn creases(part: &Part, seat: &Seat) -> Vec<[[f64; 2]; 2]> {
    if seat.faces.len() == 1 {
        return Vec::new();
    }
    let inner = borders_of(part, &seat.faces).into_iter().filter(|(_, other)| seat.has(*other));
    inner.map(|(edge, _)| edge.map(|p| seat.strip(p).to_array())).collect()
}

/// Does the strip bend: are its edges not square to its rulers?
fn bends(seat: &Seat) -> bool {
    let corners = [seat.start, seat.end, DVec2::new(seat.start.x, seat.end.y)];
    corners.iter().any(|&p| seat.chart.off_grid(p).distance(p) > 1e-9)
}

/// The rectangle of the grid that holds the face, on the strip.
fn bounds(seat: &Seat) -> Vec<DVec2> {
    let (low, high) = (seat.start, seat.end);
    let corners = [low, DVec2::new(high.x, low.y), high, DVec2::new(low.x, high.y)];
    let pieces = if bends(seat) { 48 } else { 1 };
    let side = |k: usize| {
        let (a, b) = (corners[k], corners[(k + 1) % 4]);
        (0..pieces).map(move |i| a.lerp(b, f64::from(i) / f64::from(pieces)))
    };
    (0..4).flat_map(side).map(|p| seat.chart.off_grid(p)).collect()
}

/// Do two places lie on different turns of the strip?
fn over_seam(seat: &Seat, a: DVec2, b: DVec2) -> bool {
    let (a, b, period) = (seat.chart.grid(a), seat.chart.grid(b), seat.chart.period());
    (0..2).any(|k| (a[k] - b[k]).abs() > period[k] / 2.0)
}

fn keep_outs(bench: &Bench, job: &Job, seat: &Seat) -> Vec<KeepOutOnSeat> {
    let limits = job.limit_set();
    let part = bench.part();
    // edges of the seat with the face on the other side
    let mut borders = None;
    job.tool
        .keep_outs
        .iter()
        .filter_map(|keep_out| {
            let region = bench.region(&keep_out.area);
            let circles: Vec<CircleOnSeat> = keep_out
                .area
                .spots()
                .iter()
                .filter_map(|spot| {
                    let at = seat.strip(DVec3::from(spot.at));
                    let (off, out) = (seat.chart.strip(DVec3::from(spot.at)).1, seat.chart.normal(at));
                    // a circle reaches the seat from its own side only
                    let near = off.abs() < spot.radius && region.circles(out).any(|(c, _)| c == DVec3::from(spot.at));
                    near.then(|| CircleOnSeat {
                        at: at.to_array(),
                        radius: (spot.radius * spot.radius - off * off).sqrt(),
                    })
                })
                .collect();
            let whole = seat.faces.iter().all(|f| region.has_face(*f));
            let mut border = Vec::new();
            if !whole && matches!(keep_out.area, trade::Area::Faces { .. }) {
                let borders = borders.get_or_insert_with(|| borders_of(part, &seat.faces));
                for (edge, other) in borders.iter() {
                    let ends = edge.map(|p| seat.strip(p));
                    if region.has_face(*other) && !over_seam(seat, ends[0], ends[1]) {
                        border.push(ends.map(|p: DVec2| p.to_array()));
                    }
                }
            }
            let margin = keep_out.margin.unwrap_or_else(|| limits.limit(keep_out.kind.subject()).value);
            let touches = whole || !circles.is_empty() || !border.is_empty();
            touches.then(|| KeepOutOnSeat {
                name: keep_out.name.clone(),
                kind: keep_out.kind,
                margin,
                whole,
                circles,
                border,
            })
        })
        .collect()
}

/// Edges between faces and others, each with the face beyond it; edges between them as those of either.
fn borders_of(part: &Part, faces: &[u32]) -> Vec<([DVec3; 2], u32)> {
    let mut borders = Vec::new();
    for pair in solid::topology::neighbours(&part.mesh) {
        let [a, b] = pair.triangles.map(|t| part.face_of[t as usize]);
        if a == b {
            continue;
        }
        for (own, other) in [(a, b), (b, a)] {
            if faces.contains(&own) {
                borders.push((pair.edge.map(|v| part.mesh.vertices[v as usize]), other));
            }
        }
    }
    borders
}

/// Edges of a seat as they are drawn, and closed rings of the area they bound, on the grid. Where the
/// strip closes on itself the edges are repeated to both sides of it, and an edge that runs once
/// round is closed beyond the seat's start. On a strip that bends they end at the seam, since turns
/// beyond it would lie over one another.
fn outlines(seat: &Seat) -> (Vec<Vec<DVec2>>, Vec<Vec<DVec2>>) {
    let (period, closed) = (seat.chart.period(), seat.closed());
    let Some(k) = (0..2).find(|&k| closed[k]) else { return (seat.outline.clone(), seat.outline.clone()) };
    if seat.outline.is_empty() {
        let (low, high) = (seat.start, seat.end);
        let all = vec![low, DVec2::new(high.x, low.y), high, DVec2::new(low.x, high.y)];
        return (Vec::new(), vec![all]);
    }
    let once = if k == 0 { DVec2::X } else { DVec2::Y } * period[k];
    let bent = bends(seat);
    let size = seat.end[1 - k] - seat.start[1 - k];
    let beyond = if bent { seat.start[1 - k] } else { seat.start[1 - k] - size - 1.0 };
    let (mut lines, mut area) = (Vec::new(), Vec::new());
    for ring in &seat.outline {
        let copy = |turn: f64| ring.iter().map(move |&p| p + once * turn);
        let (Some(&first), Some(&last)) = (ring.first(), ring.last()) else { continue };
        if (last - first).abs()[k] < 0.5 * period[k] {
            for turn in if bent { &[0.0][..] } else { &[-1.0, 0.0, 1.0] } {
                lines.push(copy(*turn).collect());
                area.push(copy(*turn).collect());
            }
            continue;
        }
        let turns = if last[k] > first[k] { [-1.0, 0.0, 1.0] } else { [1.0, 0.0, -1.0] };
        let mut line: Vec<DVec2> = turns.into_iter().flat_map(copy).collect();
        if bent {
            line = between(&line, k, seat.start[k], seat.end[k]);
        }
        let mut closed = line.clone();
        let ends = [line.last(), line.first()].into_iter().flatten().map(|end| {
            let mut far = *end;
            far[1 - k] = beyond;
            far
        });
        let ends: Vec<DVec2> = ends.collect();
        if let [from, to] = ends[..] {
            let pieces = if bent { 48 } else { 1 };
            closed.extend((0..=pieces).map(|i| from.lerp(to, f64::from(i) / f64::from(pieces))));
        }
        lines.push(line);
        area.push(closed);
    }
    (lines, area)
}

/// The run of a line between two values of one coordinate, ends included.
fn between(line: &[DVec2], k: usize, low: f64, high: f64) -> Vec<DVec2> {
    let mut out = Vec::new();
    for pair in line.windows(2) {
        let (a, b) = (pair[0], pair[1]);
        let at = |value: f64| (value - a[k]) / (b[k] - a[k]);
        let [mut from, mut to] = [at(low), at(high)];
        if from > to {
            (from, to) = (to, from);
        }
        let (from, to) = (from.max(0.0), to.min(1.0));
        if from < to {
            out.extend([a.lerp(b, from), a.lerp(b, to)]);
        }
    }
    out.dedup();
    out
}
