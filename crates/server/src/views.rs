//! What is answered, in the shapes that the front end shows. Lengths are mm, angles degrees.

use crate::{app::App, entity, problem::Problem, store::Standing};
use glam::{DVec2, DVec3};
use inspection::Finding;
use lettering::Region;
use relief::{PlacedMark, Seat};
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
    /// Marks can be put on it.
    pub seat: bool,
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
    /// Least and greatest strip coordinates.
    pub start: [f64; 2],
    pub end: [f64; 2],
    /// Edges of the face and its holes. On a seat that closes on itself they run on past the strip.
    pub outline: Vec<Vec<[f64; 2]>>,
    /// Closed rings that bound the face by the even-odd rule.
    pub area: Vec<Vec<[f64; 2]>>,
    /// Does the strip close on itself along, up? Then it has no edges there.
    pub closed: [bool; 2],
    pub parting: Vec<[[f64; 2]; 2]>,
    pub keep_outs: Vec<KeepOutOnSeat>,
    /// The line y = 0 is the crown: there the barrel's normal is the pull.
    pub crown: bool,
    /// How far the facets lie inside the true surface.
    pub facet_error: f64,
    /// The point of the part under the strip's middle, and the outward normal there.
    pub middle: [f64; 3],
    pub out: [f64; 3],
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
    /// Lower left, lower right, upper right, upper left.
    pub corners: [[f64; 2]; 4],
    pub middle: [f64; 2],
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
    pub text: String,
    /// SVG path data in strip coordinates, y up; even-odd.
    pub path: String,
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
            seat: matches!(f.surface, Surface::Plane { .. } | Surface::Cylinder { .. }),
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
    let period = seat.chart.period();
    let slack = DVec2::splat(1e-6);
    let (outline, area) = outlines(seat);
    let shown = |rings: &[Vec<DVec2>]| rings.iter().map(|ring| ring.iter().map(|p| p.to_array()).collect()).collect();
    let mut parting = Vec::new();
    for segment in bench.parting(&job.tool).iter().flat_map(|l| &l.segments) {
        let [(a, ha), (b, hb)] = segment.map(|p| {
            let (at, height) = seat.chart.strip(p);
            (seat.own_turn(at), height)
        });
        let over_seam = (0..2).any(|k| (a[k] - b[k]).abs() > period[k] / 2.0);
        let inside = [a, b].iter().all(|p| p.cmpge(seat.start - slack).all() && p.cmple(seat.end + slack).all());
        if ha.abs() <= near && hb.abs() <= near && !over_seam && inside {
            parting.push([a, b].map(|p: DVec2| p.to_array()));
        }
    }
    SeatView {
        face: seat.face,
        says: says(bench.part(), seat.face),
        start: seat.start.to_array(),
        end: seat.end.to_array(),
        outline: shown(&outline),
        area: shown(&area),
        closed: seat.closed(),
        parting,
        keep_outs: keep_outs(bench, job, seat),
        crown: matches!(seat.surface, Surface::Cylinder { .. }) && job.tool.pull.is_some(),
        facet_error: seat.facet_error,
        middle: seat.chart.point((seat.start + seat.end) / 2.0, 0.0).to_array(),
        out: seat.chart.normal((seat.start + seat.end) / 2.0).to_array(),
    }
}

fn keep_outs(bench: &Bench, job: &Job, seat: &Seat) -> Vec<KeepOutOnSeat> {
    let sheet = job.sheet();
    let part = bench.part();
    let period = seat.chart.period();
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
            let whole = region.has_face(seat.face);
            let mut border = Vec::new();
            if !whole && matches!(keep_out.area, trade::Area::Faces { .. }) {
                let borders = borders.get_or_insert_with(|| borders_of(part, seat.face));
                for (edge, other) in borders.iter() {
                    let ends = edge.map(|p| seat.strip(p));
                    let over_seam = (0..2).any(|k| (ends[0][k] - ends[1][k]).abs() > period[k] / 2.0);
                    if region.has_face(*other) && !over_seam {
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

/// Edges of a face, each with the face beyond it.
fn borders_of(part: &Part, face: u32) -> Vec<([DVec3; 2], u32)> {
    let mut borders = Vec::new();
    for pair in solid::topology::neighbours(&part.mesh) {
        let [a, b] = pair.triangles.map(|t| part.face_of[t as usize]);
        if (a == face) != (b == face) {
            let other = if a == face { b } else { a };
            borders.push((pair.edge.map(|v| part.mesh.vertices[v as usize]), other));
        }
    }
    borders
}

/// Edges of a seat as they are drawn, and closed rings of the area they bound. Where the strip closes
/// on itself the edges are repeated to both sides of it, and an edge that runs once round is closed
/// far beyond the seat's start.
fn outlines(seat: &Seat) -> (Vec<Vec<DVec2>>, Vec<Vec<DVec2>>) {
    let period = seat.chart.period();
    let Some(k) = (0..2).find(|&k| period[k].is_finite()) else { return (seat.outline.clone(), seat.outline.clone()) };
    let once = if k == 0 { DVec2::X } else { DVec2::Y } * period[k];
    let beyond = seat.start[1 - k] - (seat.end[1 - k] - seat.start[1 - k]) - 1.0;
    let (mut lines, mut area) = (Vec::new(), Vec::new());
    for ring in &seat.outline {
        let copy = |turn: f64| ring.iter().map(move |&p| p + once * turn);
        let (Some(&first), Some(&last)) = (ring.first(), ring.last()) else { continue };
        if (last - first).abs()[k] < 0.5 * period[k] {
            for turn in [-1.0, 0.0, 1.0] {
                lines.push(copy(turn).collect());
                area.push(copy(turn).collect());
            }
            continue;
        }
        let turns = if last[k] > first[k] { [-1.0, 0.0, 1.0] } else { [1.0, 0.0, -1.0] };
        let line: Vec<DVec2> = turns.into_iter().flat_map(copy).collect();
        let mut closed = line.clone();
        for end in [line.last(), line.first()].into_iter().flatten() {
            let mut far = *end;
            far[1 - k] = beyond;
            closed.push(far);
        }
        lines.push(line);
        area.push(closed);
    }
    (lines, area)
}

/// A placed mark, before it is built.
#[must_use]
pub fn lay(place: trade::Place, placed: &PlacedMark, seat: &Seat, lifted: f64) -> LayView {
    // a tenth of a micrometre is enough for drawing, and keeps the answer short
    let shown = |p: DVec2| seat.chart.point(p, lifted).to_array().map(|c| (c * 1e4).round() / 1e4);
    let on_part = placed
        .characters
        .iter()
        .flat_map(|c| c.region.contours())
        .map(|ring| ring.iter().chain(ring.first()).map(|&p| shown(p)).collect())
        .collect();
    LayView {
        place,
        characters: placed
            .characters
            .iter()
            .map(|c| CharacterView { text: c.text.clone(), path: path(&c.region) })
            .collect(),
        corners: placed.corners.map(|p: DVec2| p.to_array()),
        middle: placed.middle.to_array(),
        margins: placed.margins(seat),
        at: seat.chart.point(placed.middle, 0.0).to_array(),
        out: seat.chart.normal(placed.middle).to_array(),
        up: (seat.chart.point(placed.middle + DVec2::Y * 1e-3, 0.0) - seat.chart.point(placed.middle, 0.0))
            .normalize_or_zero()
            .to_array(),
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
        .map(|mark| match lettering::set(&mark.text, &mark.lettering) {
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
