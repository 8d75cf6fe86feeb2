//! Where things lie: the faces of a part, where marks come to lie on them before they are built, and the strips of their seats.

use crate::{Opened, RunError, opened};
use glam::{DVec2, DVec3};
use relief::{Seat, place::PlacedMark};
use server::views;
use solid::{Part, PartError};
use std::{fs, path::Path};
use time::Date;
use trade::{Mark, PartRef, Unit};
use workbench::{Steps, ties::Ties, unit_pull};

/// A face of a part.
pub struct FaceThere {
    pub face: u32,
    /// Its kind and what it measures, in words.
    pub says: String,
    /// mm².
    pub area: f64,
    /// Least and greatest corner of the box round it, mm.
    pub bounds: (DVec3, DVec3),
    /// Its kind with all its parameters: mm, radians, frame of the part.
    pub surface: solid::Surface,
}

/// The faces of the part file at `path`, `unit` the one that it is drawn in where it doesn't say.
///
/// # Errors
/// It can't be read, or is no part.
pub fn faces(path: &Path, unit: Option<Unit>) -> Result<Vec<FaceThere>, RunError> {
    let bytes = fs::read(path).map_err(|source| RunError::File { path: path.into(), source })?;
    let name = path.to_string_lossy();
    let wanted = PartRef { unit, ..PartRef::of_file(name.as_ref(), None) };
    let part = step::read_part(&name, &bytes, &wanted).map_err(|source| match source {
        PartError::NoUnit { .. } => RunError::Nothing(format!("{name}: {source}: give it with --unit")),
        source => RunError::Part { path: path.into(), source },
    })?;
    Ok(views::faces(&part).into_iter().map(|view| there(&part, view)).collect())
}

fn there(part: &Part, view: views::FaceView) -> FaceThere {
    let corners = part.triangles_of(view.face).flat_map(|t| part.mesh.corners(t as usize));
    let none = (DVec3::INFINITY, DVec3::NEG_INFINITY);
    let bounds = corners.fold(none, |(low, high), p| (low.min(p), high.max(p)));
    let surface = part.faces[view.face as usize].surface.clone();
    FaceThere { face: view.face, says: view.says, area: view.area, bounds, surface }
}

/// Where a mark would lie.
pub struct Lies {
    pub mark: Mark,
    /// Or why it can't be laid there.
    pub found: Result<LiesAt, String>,
}

/// Where a mark lies: mm, in the frame of the part where three coordinates are given.
pub struct LiesAt {
    pub face: String,
    /// Under the middle of its box.
    pub at: DVec3,
    /// Outward there, and where it reads to: unit vectors.
    pub out: DVec3,
    pub reads: DVec3,
    /// Of its longest line's ink.
    pub length: f64,
    pub cap_height: f64,
    /// Clear distances to the ends of its seat on the strip: left, right, below, above. Negative where it hangs over.
    pub margins: [f64; 4],
    /// What laying it there does to lengths, percent.
    pub stretch: f64,
    pub strip: StripOf,
}

/// The strip of a seat: the seat laid flat, mm.
pub struct StripOf {
    /// Where its zero is on the part.
    pub zero: DVec3,
    /// Its two directions there on the part: unit vectors.
    pub along: DVec3,
    pub up: DVec3,
    /// From where to where the seat reaches.
    pub start: DVec2,
    pub end: DVec2,
    /// Once round, where it closes on itself.
    pub round: [Option<f64>; 2],
}

/// Where the marks of the job file at `path` would lie, in their order, without building one. As [`crate::run_file`].
///
/// # Errors
/// As [`crate::run_file`].
pub fn lies(path: &Path, part: Option<&Path>, made: Date, row: Option<usize>) -> Result<Vec<Lies>, RunError> {
    let Opened { job, bench, .. } = opened(path, part, made, row)?;
    let pull = unit_pull(&job.tool);
    let ties = Ties::new(&bench, &job.marks, pull);
    let found = |mark: &Mark| {
        let seat = bench.seat(&mark.seat, pull)?;
        let placed = relief::place::place(&ties.settled(mark)?, &seat).map_err(|e| e.to_string())?;
        Ok(at(bench.part(), &seat, &placed))
    };
    Ok(job.marks.iter().map(|mark| Lies { mark: mark.clone(), found: found(mark) }).collect())
}

fn at(part: &Part, seat: &Seat, placed: &PlacedMark) -> LiesAt {
    let chart = &seat.chart;
    LiesAt {
        face: views::says(part, seat.face),
        at: chart.point(placed.middle, 0.0),
        out: chart.normal(placed.middle),
        reads: towards(seat, placed.middle, placed.along),
        length: placed.length,
        cap_height: placed.cap_height,
        margins: placed.margins(seat),
        stretch: placed.stretch.scale * 100.0,
        strip: StripOf {
            zero: chart.point(DVec2::ZERO, 0.0),
            along: towards(seat, DVec2::ZERO, DVec2::X),
            up: towards(seat, DVec2::ZERO, DVec2::Y),
            start: seat.start,
            end: seat.end,
            round: chart.period().to_array().map(|once| once.is_finite().then_some(once)),
        },
    }
}

/// Where a direction of the strip at a place of it points on the part.
fn towards(seat: &Seat, at: DVec2, way: DVec2) -> DVec3 {
    /// mm.
    const STEP: f64 = 1e-3;
    let chart = &seat.chart;
    (chart.point(chart.roll(at, way * STEP), 0.0) - chart.point(at, 0.0)).normalize_or_zero()
}
