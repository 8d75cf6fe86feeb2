//! What is answered, in the shapes that the front end shows. Lengths are mm, angles degrees.

use crate::{app::App, entity, problem::Problem, store::Standing};
use glam::{DVec2, DVec3};
use inspection::Finding;
use lettering::Region;
use relief::{PlacedMark, Seat, chart::Rings};
use serde::Serialize;
use solid::{Part, Surface, mend::Mended};
use std::fmt::Write;
use time::{OffsetDateTime, format_description::well_known::Rfc3339};
use trade::{Job, PartMend, Unit, limits::State};
use utoipa::ToSchema;
use uuid::Uuid;
use workbench::{Bench, Outcome};

#[derive(Serialize, ToSchema)]
pub struct JobRow {
    pub id: Uuid,
    pub name: String,
    pub part_file: String,
    pub marks: usize,
    /// Taken off the list.
    pub gone: bool,
    pub state: i64,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    /// `None`: not inspected yet.
    pub verdict: Option<VerdictView>,
    pub handed_off: Option<HandoverView>,
}

#[derive(Serialize, ToSchema)]
pub struct VerdictView {
    pub fails: i32,
    pub close: i32,
    pub unchecked: i32,
    pub worst: Option<String>,
}

impl From<entity::inspection::Model> for VerdictView {
    fn from(m: entity::inspection::Model) -> Self {
        Self { fails: m.fails, close: m.close, unchecked: m.unchecked, worst: m.worst }
    }
}

#[derive(Serialize, ToSchema)]
pub struct HandoverView {
    pub by: String,
    /// RFC 3339.
    pub at: String,
    /// The job has changed since.
    pub changed: bool,
}

#[derive(Serialize, ToSchema)]
pub struct JobView {
    pub id: Uuid,
    pub job: Job,
    /// Number of the present state.
    pub state: i64,
    /// Number of the newest entry of the history; grows with every change and step.
    pub latest: i64,
    /// What a step back would take back.
    pub back: Option<String>,
    /// What a step again would do.
    pub again: Option<String>,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    pub part: PartView,
    pub verdict: Option<VerdictView>,
    pub handed_off: Option<HandoverView>,
    /// What the job is measured against.
    pub limits: Vec<LimitRow>,
    pub steel_size: Option<SteelSize>,
}

/// One line of the limits that count for a job.
#[derive(Serialize, ToSchema)]
pub struct LimitRow {
    pub subject: trade::limits::Subject,
    pub limit: inspection::LimitShown,
    /// What the sheet says, with the texture's share.
    pub shipped: f64,
    /// The job sets it otherwise.
    pub own: bool,
}

/// How large the cavity is, with the shrinkage added.
#[derive(Serialize, ToSchema)]
pub struct SteelSize {
    /// Percent.
    pub shrinkage: f64,
    pub source: String,
    /// Extent along x, y, z, mm.
    pub size: [f64; 3],
}

fn limits(job: &Job) -> Vec<LimitRow> {
    let shipped = trade::limits::sheet(&job.limits).map(|s| s.adapted(&job.process, &[]));
    job.sheet()
        .limits
        .iter()
        .map(|l| LimitRow {
            subject: l.subject,
            limit: l.clone().into(),
            shipped: shipped.as_ref().map_or(l.value, |s| s.limit(l.subject).value),
            own: job.own_limits.iter().any(|o| o.subject == l.subject),
        })
        .collect()
}

fn steel_size(job: &Job, part: &Part) -> Option<SteelSize> {
    let (shrinkage, source) = job.process.shrinkage()?;
    let (low, high) = part.mesh.bounds();
    Some(SteelSize { shrinkage, source: source.into(), size: ((high - low) * (1.0 + shrinkage / 100.0)).to_array() })
}

#[derive(Serialize, ToSchema)]
pub struct PartView {
    /// Extent along x, y, z.
    pub size: [f64; 3],
    pub middle: [f64; 3],
    pub triangles: usize,
    /// mm³; `None` for a part that is not closed.
    pub volume: Option<f64>,
    pub unit: Unit,
    pub faces: Vec<FaceView>,
    /// Bodies of a file that can hold several.
    pub bodies: Vec<BodyView>,
    pub soundness: SoundnessView,
    /// Under this name the mesh is fetched.
    pub mesh: String,
}

#[derive(Serialize, ToSchema)]
pub struct BodyView {
    pub name: String,
    /// A solid; otherwise a sheet without thickness.
    pub solid: bool,
    /// mm³, by the file's own geometry.
    pub volume: f64,
    /// It belongs to the part.
    pub taken: bool,
}

#[derive(Serialize, ToSchema)]
pub struct FaceView {
    pub face: u32,
    pub kind: &'static str,
    /// It has a normal or an axis that a pull can be taken from.
    pub direction: bool,
    /// The file's own numbers for it, where it has faces.
    pub numbers: Vec<u32>,
    /// The face in a few words, with the residual of its fit.
    pub says: String,
    /// mm².
    pub area: f64,
    pub facets: usize,
}

#[derive(Serialize, ToSchema)]
pub struct SoundnessView {
    pub solid: bool,
    /// It is taken as a sheet without thickness, with this side of it outside.
    pub sheet: Option<trade::SheetSide>,
    /// It is open but sound otherwise: it could be meant as a sheet.
    pub could_be_sheet: bool,
    /// What is wrong and what to do.
    pub complaint: Option<String>,
    pub shells: usize,
    pub turned: bool,
    /// What could be mended, and what was.
    pub mends: Vec<MendView>,
    pub mended: Vec<MendView>,
    /// Vertices that stood apart by less than the welding tolerance and were joined.
    pub joined: usize,
    pub dropped: usize,
    /// Facets so low that their normals mean nothing, and their longest edges.
    pub slivers: usize,
    pub sliver_edges: Vec<[[f64; 3]; 2]>,
    /// Segments to show.
    pub bad_edges: Vec<[[f64; 3]; 2]>,
    pub crossing_triangles: Vec<[[f64; 3]; 3]>,
}

#[derive(Serialize, ToSchema)]
pub struct MendView {
    pub mend: PartMend,
    /// Facets dropped or turned, bits dropped, holes closed.
    pub count: usize,
    /// mm³, as far as what is not closed encloses any.
    pub before: f64,
    pub after: f64,
}

impl From<&Mended> for MendView {
    fn from(m: &Mended) -> Self {
        Self { mend: m.mend, count: m.count, before: m.before, after: m.after }
    }
}

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
    /// Not a plane: rolled and dropped differ.
    pub curved: bool,
    /// Rolled straight text keeps its shape on the strip wherever it is moved.
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
    /// The line y = 0 is the crown: there the barrel's normal is the pull.
    pub crown: bool,
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

#[derive(Serialize, ToSchema)]
pub struct LayView {
    pub place: trade::Place,
    pub characters: Vec<CharacterView>,
    /// Outline of the plate that it stands on, as SVG path data.
    pub field: Option<String>,
    /// Grid coordinates of what is tied, and of the box whose sides are.
    pub held: [f64; 2],
    pub low: [f64; 2],
    pub high: [f64; 2],
    /// The box round it, counter-clockwise from its lower left corner.
    pub outline: Vec<[f64; 2]>,
    pub middle: [f64; 2],
    /// What its place is that of: the middle, or that of the circle it stands on.
    pub anchor: [f64; 2],
    /// What laying it on the seat does to lengths, percent, and to right angles, degrees: the greatest
    /// error, and where on the strip the length's is greatest.
    pub scale_error: f64,
    pub shear: f64,
    /// What was set in the end, mm: differs from the mark's settings where a length is fitted. The width is
    /// a share; the stroke is the cutter's width or an upright stem's.
    pub cap_height: f64,
    pub width: f64,
    pub spacing: f64,
    pub stroke: f64,
    /// Of the longest line's ink.
    pub length: f64,
    pub worst_at: [f64; 2],
    /// Clear distances to the seat's edges: left, right, below, above.
    pub margins: [f64; 4],
    /// The point of the part under the mark's middle, and the outward normal there.
    pub at: [f64; 3],
    pub out: [f64; 3],
    /// Where the letters' tops point there on an unturned strip.
    pub up: [f64; 3],
    /// Outlines on the part, for showing the mark there before it is built.
    pub on_part: Vec<Vec<[f64; 3]>>,
}

#[derive(Serialize, ToSchema)]
pub struct CharacterView {
    /// Which one of the text it is, from 0, blanks not counted.
    pub at: u32,
    pub text: String,
    /// SVG path data in strip coordinates, y up; even-odd.
    pub path: String,
    pub colour: Option<trade::Colour>,
}

#[derive(Serialize, ToSchema)]
pub struct PlateView {
    pub id: String,
    /// SVG path data, mm, y up.
    pub path: String,
    pub size: [f64; 2],
    pub characters: Vec<LetterView>,
    /// Why it can't be lettered.
    pub problem: Option<String>,
}

/// A character of a plate on its own.
#[derive(Serialize, ToSchema)]
pub struct LetterView {
    pub text: String,
    pub path: String,
    /// From where to where its ink runs.
    pub left: f64,
    pub right: f64,
    /// Lowest capitals' line of its line of text.
    pub baseline: f64,
}

#[derive(Serialize, ToSchema)]
pub struct OutcomeView {
    pub state: i64,
    /// Name of the limits sheet that was measured against.
    pub limits: String,
    pub marks: Vec<MarkView>,
    /// Names of the pieces that make up the marked solid.
    pub pieces: Vec<String>,
}

#[derive(Serialize, ToSchema)]
pub struct MarkView {
    pub id: String,
    pub text: String,
    pub on: bool,
    pub state: State,
    /// The steel that forms it.
    pub steel: Option<trade::Steel>,
    /// The finding that matters most, by its place in `findings`.
    pub worst: Option<usize>,
    pub findings: Vec<Finding>,
}

fn when(at: OffsetDateTime) -> String {
    at.format(&Rfc3339).unwrap_or_default()
}

fn handed(standing: &Standing, last: Option<entity::handover::Model>) -> Option<HandoverView> {
    last.map(|h| HandoverView { by: h.author, at: when(h.at), changed: h.state != standing.state })
}

/// A row of the list of jobs.
///
/// # Errors
/// The database does not answer.
pub async fn row(app: &App, standing: Standing) -> Result<JobRow, Problem> {
    let verdict = app.store.inspected(standing.state).await?.map(Into::into);
    let handed_off = handed(&standing, app.store.last_handover(standing.id).await?);
    Ok(JobRow {
        id: standing.id,
        marks: standing.job.marks.len(),
        gone: standing.gone,
        name: standing.job.name,
        part_file: standing.job.part.file,
        state: standing.state,
        by: standing.by,
        at: when(standing.at),
        verdict,
        handed_off,
    })
}

/// A job with its part.
///
/// # Errors
/// The part can't be read, or the database does not answer.
pub async fn job(app: &App, standing: Standing) -> Result<JobView, Problem> {
    let bench = app.bench(&standing.job).await?;
    let verdict = app.store.inspected(standing.state).await?.map(Into::into);
    let handed_off = handed(&standing, app.store.last_handover(standing.id).await?);
    Ok(JobView {
        id: standing.id,
        state: standing.state,
        latest: standing.latest,
        back: standing.back,
        again: standing.again,
        by: standing.by,
        at: when(standing.at),
        part: part(bench.part()),
        verdict,
        handed_off,
        limits: limits(&standing.job),
        steel_size: steel_size(&standing.job, bench.part()),
        job: standing.job,
    })
}

fn part(part: &Part) -> PartView {
    let (low, high) = part.mesh.bounds();
    let sound = &part.soundness;
    PartView {
        size: (high - low).to_array(),
        middle: ((high + low) / 2.0).to_array(),
        triangles: part.mesh.triangles.len(),
        volume: sound.is_closed().then(|| part.mesh.volume()),
        unit: part.unit,
        faces: faces(part),
        bodies: part
            .bodies
            .iter()
            .map(|b| BodyView { name: b.name.clone(), solid: b.solid, volume: b.volume, taken: b.taken })
            .collect(),
        soundness: SoundnessView {
            solid: sound.is_solid(),
            sheet: part.sheet,
            could_be_sheet: sound.is_sheet(),
            complaint: match sound.faults() {
                _ if part.sheet.is_some() => None,
                Some(faults) if !part.mends.is_empty() => {
                    Some(format!("{faults} Mend it below, or close it where it was drawn and bring it in again."))
                }
                _ => sound.complaint(),
            },
            shells: sound.shells,
            mends: part.mends.iter().map(Into::into).collect(),
            mended: part.mended.iter().map(Into::into).collect(),
            turned: sound.turned,
            joined: part.welded.joined_apart,
            dropped: part.welded.dropped,
            slivers: sound.slivers,
            sliver_edges: sound.sliver_edges.iter().map(|e| e.map(|p: DVec3| p.to_array())).collect(),
            bad_edges: if part.sheet.is_some() { &[][..] } else { &sound.bad_edges }
                .iter()
                .map(|e| e.map(|p: DVec3| p.to_array()))
                .collect(),
            crossing_triangles: sound.crossing_triangles.iter().map(|t| t.map(|p: DVec3| p.to_array())).collect(),
        },
        mesh: crate::app::piece_name(part, "part"),
    }
}

/// The faces of a part.
#[must_use]
pub fn faces(part: &Part) -> Vec<FaceView> {
    part.faces
        .iter()
        .enumerate()
        .map(|(at, f)| FaceView {
            face: at as u32,
            kind: f.surface.word(),
            direction: !matches!(f.surface, Surface::Sphere { .. } | Surface::Freeform),
            numbers: f.numbers.clone(),
            says: says(part, at as u32),
            area: f.area,
            facets: f.facets,
        })
        .collect()
}

/// A face in a few words: "barrel R 15.000, found, largest miss 0.0002 mm".
#[must_use]
pub fn says(part: &Part, face: u32) -> String {
    let Some(found) = part.faces.get(face as usize) else { return String::new() };
    let name = found.surface.word();
    let whence = if found.numbers.is_empty() { "found" } else { "by the file" };
    let miss = if found.residual < 1e-4 {
        format!("{whence}, largest miss below 0.0001 mm")
    } else {
        format!("{whence}, largest miss {:.4} mm", found.residual)
    };
    match found.surface {
        Surface::Plane { normal, .. } => {
            let facing = [
                ("+x", DVec3::X),
                ("+y", DVec3::Y),
                ("+z", DVec3::Z),
                ("−x", -DVec3::X),
                ("−y", -DVec3::Y),
                ("−z", -DVec3::Z),
            ]
            .into_iter()
            .find(|(_, d)| normal.dot(*d) > 1.0 - 1e-9)
            .map_or_else(
                || format!("facing {:.3} {:.3} {:.3}", normal.x, normal.y, normal.z),
                |(word, _)| format!("facing {word}"),
            );
            format!("{name} {facing}, {miss}")
        }
        Surface::Cylinder { radius, .. } | Surface::Sphere { radius, .. } => format!("{name} R {radius:.3}, {miss}"),
        Surface::Cone { angle, .. } => format!("{name} of {:.3}° to its axis, {miss}", angle.to_degrees()),
        Surface::Torus { major, minor, .. } => format!("{name} R {major:.3}, tube R {minor:.3}, {miss}"),
        Surface::Freeform => format!("{name}, {} facets", found.facets),
    }
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
    let sheet = job.sheet();
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
            let margin = keep_out.margin.unwrap_or_else(|| sheet.limit(keep_out.kind.subject()).value);
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

/// Where the tops of an unturned text's letters point at a place of the strip, not to length.
fn up_on_part(seat: &Seat, at: DVec2) -> DVec3 {
    let chart = &seat.chart;
    chart.point(chart.roll(at, chart.level(at).perp() * 1e-3), 0.0) - chart.point(at, 0.0)
}

/// A placed mark, before it is built.
#[must_use]
pub fn lay(mark: &trade::Mark, placed: &PlacedMark, seat: &Seat, lifted: f64) -> LayView {
    // a tenth of a micrometre is enough for drawing, and keeps the answer short
    let shown = |p: DVec2| seat.chart.point(p, lifted).to_array().map(|c| (c * 1e4).round() / 1e4);
    let on_part = placed
        .characters
        .iter()
        .flat_map(|c| c.region.contours())
        .map(|ring| ring.iter().chain(ring.first()).map(|&p| shown(p)).collect())
        .collect();
    let lettering = &mark.lettering;
    let stem = lettering::stem(&lettering.face, placed.cap_height).map(|stem| stem * placed.width);
    LayView {
        place: mark.place.clone(),
        field: placed.plate.as_ref().map(path),
        held: placed.held.to_array(),
        low: placed.low.to_array(),
        high: placed.high.to_array(),
        cap_height: placed.cap_height,
        length: placed.length,
        width: placed.width,
        spacing: placed.spacing,
        stroke: lettering.stroke.or(stem).unwrap_or(placed.cap_height / 10.0),
        characters: placed
            .characters
            .iter()
            .map(|c| CharacterView {
                at: c.at,
                text: c.text.clone(),
                path: path(&c.region),
                colour: mark.colour_of(c.at, &c.text).cloned(),
            })
            .collect(),
        outline: placed.outline.iter().map(|p| p.to_array()).collect(),
        middle: placed.middle.to_array(),
        anchor: placed.anchor.to_array(),
        scale_error: placed.stretch.scale * 100.0,
        shear: placed.stretch.shear_deg,
        worst_at: placed.stretch.at.to_array(),
        margins: placed.margins(seat),
        at: seat.chart.point(placed.middle, 0.0).to_array(),
        out: seat.chart.normal(placed.middle).to_array(),
        up: up_on_part(seat, placed.middle).normalize_or_zero().to_array(),
        on_part,
    }
}

/// A region as SVG path data.
#[must_use]
pub fn path(region: &Region) -> String {
    let mut out = String::new();
    for contour in region.contours() {
        for (at, p) in contour.iter().enumerate() {
            // writing to a string does not fail
            let _ = write!(out, "{}{:.3} {:.3}", if at == 0 { "M" } else { "L" }, p.x, p.y);
        }
        out.push('Z');
    }
    out
}

/// The plates of the rack.
#[must_use]
pub fn plates(job: &Job) -> Vec<PlateView> {
    job.marks
        .iter()
        .map(|mark| match lettering::set(&mark.text, &mark.lettering, &mark.letters) {
            Ok(set) => {
                let letter = |c: &lettering::Character| {
                    let (low, high) = c.region.bounds().unwrap_or_default();
                    let below = (set.characters.last().map_or(0, |l| l.line) - c.line) as f64;
                    let baseline = below * (mark.lettering.cap_height + mark.lettering.line_gap);
                    LetterView { text: c.text.clone(), path: path(&c.region), left: low.x, right: high.x, baseline }
                };
                let characters: Vec<LetterView> = set.characters.iter().map(letter).collect();
                PlateView {
                    id: mark.id.clone(),
                    path: characters.iter().map(|c| c.path.as_str()).collect(),
                    size: set.size.to_array(),
                    characters,
                    problem: None,
                }
            }
            Err(e) => PlateView {
                id: mark.id.clone(),
                path: String::new(),
                size: [0.0; 2],
                characters: Vec::new(),
                problem: Some(crate::problem::sentence(&e.to_string())),
            },
        })
        .collect()
}

/// Findings of an outcome and the names of its pieces.
#[must_use]
pub fn outcome(standing: &Standing, outcome: &Outcome, pieces: Vec<String>) -> OutcomeView {
    let marks = standing
        .job
        .marks
        .iter()
        .zip(&outcome.marks)
        .map(|(mark, found)| MarkView {
            id: mark.id.clone(),
            text: mark.text.clone(),
            on: mark.on,
            state: found.state(),
            steel: found.steel.clone(),
            worst: found.worst().and_then(|w| found.findings.iter().position(|f| std::ptr::eq(f, w))),
            findings: found.findings.clone(),
        })
        .collect();
    let limits = trade::limits::sheet(&standing.job.limits).map_or_else(String::new, |s| s.name.into());
    OutcomeView { state: standing.state, limits, marks, pieces }
}
