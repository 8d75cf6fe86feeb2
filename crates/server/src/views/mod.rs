//! What is answered, in the shapes that the front end shows. Lengths are mm, angles degrees.

mod looked_at;
pub mod mends;
mod outcome;
mod part;
mod placement;
mod rows;
mod said;
mod seat;
mod section;
mod strip;

pub use looked_at::{LetterFlatView, MarkedMapView};
pub use mends::{FindingMend, FindingMove, MendsOfAll, MendsOfFinding};
pub use outcome::{MarkView, OutcomeView, SolidView, outcome};
pub use part::{BodyView, FaceView, MendView, PartView, SoundnessView, faces, says};
pub use placement::{CharacterView, LetterView, PlacementView, PlateView, laid_out, path, plates};
pub use rows::{AtView, RangeView, RowMark, RowView, RowsView, RunView, rows};
pub use said::{MarkSays, SaidView, Widest, said};
pub use seat::{CircleOnSeat, EdgeOnSeat, KeepOutOnSeat, PointOnSeat, SeatView, seat};
pub use section::{CircleFound, CircleView, MiddlesView, SectionView, section};
pub use strip::strip;

use crate::{
    app::App,
    entity,
    problem::Problem,
    store::{OwnSteps, Standing, UnreadableJob},
};
use serde::{Deserialize, Serialize};
use solid::Part;
use std::{collections::HashSet, hash::Hash};
use time::{OffsetDateTime, format_description::well_known::Rfc3339};
use trade::Job;
use utoipa::ToSchema;
use uuid::Uuid;
use workbench::Steps;

#[derive(Serialize, ToSchema)]
pub struct JobRow {
    pub id: Uuid,
    pub name: String,
    pub part_file: String,
    pub marks: usize,
    /// Taken off the list.
    pub gone: bool,
    /// Where it is kept on the list; empty, in none.
    pub folder: String,
    pub state: i64,
    /// Number of the newest entry of its history.
    pub latest: i64,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    /// `None`: not inspected yet.
    pub verdict: Option<VerdictView>,
    pub handed_off: Option<HandoverView>,
    /// Why the job can't be read, where it can't.
    pub unreadable: Option<String>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct VerdictView {
    pub fails: i32,
    /// How many of those somebody answers for.
    #[serde(default)]
    #[schema(required = true)]
    pub waived: i32,
    pub marginal: i32,
    pub not_checked: i32,
    pub worst: Option<String>,
}

impl From<entity::inspection::Model> for VerdictView {
    fn from(m: entity::inspection::Model) -> Self {
        Self { fails: m.fails, waived: m.waived, marginal: m.marginal, not_checked: m.not_checked, worst: m.worst }
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
    /// The row of the roster that its marks say their texts of.
    pub shown: Option<u32>,
    pub id: Uuid,
    pub job: Job,
    /// Number of the present state.
    pub state: i64,
    /// Number of the newest entry of the history; grows with every change and step.
    pub latest: i64,
    /// The change of the person who asks that undo would undo.
    pub undo: Option<String>,
    /// The one that redo would make again.
    pub redo: Option<String>,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    pub part: PartView,
    pub verdict: Option<VerdictView>,
    pub handed_off: Option<HandoverView>,
    /// What the job is measured against.
    pub limits: Vec<LimitRow>,
    pub steel_size: Option<SteelSize>,
    pub cavities: CavitiesView,
    /// The state whose rows of the roster are the same, where the window has them and they are left out here.
    pub rows_of: Option<i64>,
    /// What the change made that this answers.
    pub made: Made,
}

/// Ids of what a change made.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Made {
    pub marks: Vec<String>,
    pub rows: Vec<u32>,
    pub cavities: Vec<u32>,
    pub slides: Vec<String>,
    pub keep_outs: Vec<String>,
}

impl Made {
    pub(crate) fn between(before: &Job, after: &Job) -> Self {
        fn new<T, I: Clone + Eq + Hash>(before: &[T], after: &[T], id: impl Fn(&T) -> I) -> Vec<I> {
            let there: HashSet<I> = before.iter().map(&id).collect();
            after.iter().map(id).filter(|id| !there.contains(id)).collect()
        }
        let ([one, other], [was, is]) = ([before, after], [&before.tool, &after.tool]);
        Self {
            marks: new(&one.marks, &other.marks, |m| m.id.clone()),
            rows: if one.roster == other.roster {
                Vec::new()
            } else {
                new(&one.roster.rows, &other.roster.rows, |r| r.id)
            },
            cavities: new(&one.tool_plate.cavities, &other.tool_plate.cavities, |c| c.id),
            slides: new(&was.slides, &is.slides, |s| s.name.clone()),
            keep_outs: new(&was.keep_outs, &is.keep_outs, |k| k.name.clone()),
        }
    }
}

/// What the part's size makes of its cavities.
#[derive(Serialize, ToSchema)]
pub struct CavitiesView {
    /// Extents of the part across the pull, to the right and up on the plate, mm.
    pub part: [f64; 2],
    /// Places, two by two, at which parts' extents lie overlapping; a hundred at most.
    pub overlapping: Vec<[u32; 2]>,
}

/// One line of the limits that count for a job.
#[derive(Serialize, ToSchema)]
pub struct LimitRow {
    pub subject: trade::limits::Subject,
    pub limit: inspection::LimitShown,
    /// What the job's sheet asks, with the texture's share.
    pub of_sheet: f64,
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
    let sheet = job.limits_of_sheet();
    job.limit_set()
        .limits
        .iter()
        .map(|l| LimitRow {
            subject: l.subject,
            limit: l.clone().into(),
            of_sheet: sheet.limit(l.subject).value,
            own: job.own_limits.iter().any(|o| o.subject == l.subject),
        })
        .collect()
}

fn steel_size(job: &Job, part: &Part) -> Option<SteelSize> {
    let (shrinkage, source) = job.process.shrinkage()?;
    let (low, high) = part.mesh.bounds();
    Some(SteelSize { shrinkage, source: source.into(), size: ((high - low) * (1.0 + shrinkage / 100.0)).to_array() })
}

fn cavities(job: &Job, part: &Part) -> CavitiesView {
    let (low, high) = part.mesh.bounds();
    let part = trade::tool_plate::footprint((high - low).to_array(), job.tool.pull);
    CavitiesView { part, overlapping: job.tool_plate.overlapping(part) }
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
        folder: standing.folder,
        name: standing.job.name,
        part_file: standing.job.part.file,
        state: standing.state,
        latest: standing.latest,
        by: standing.by,
        at: when(standing.at),
        verdict,
        handed_off,
        unreadable: None,
    })
}

impl From<UnreadableJob> for JobRow {
    fn from(job: UnreadableJob) -> Self {
        Self {
            id: job.id,
            name: if job.name.is_empty() { "a job without a name".into() } else { job.name },
            part_file: String::new(),
            marks: 0,
            gone: job.gone,
            folder: job.folder,
            state: job.state,
            latest: job.latest,
            by: job.by,
            at: when(job.at),
            verdict: None,
            handed_off: None,
            unreadable: Some(job.why),
        }
    }
}

/// A job, filled for the row `shown`, with its part.
///
/// # Errors
/// The part can't be read, or the database does not answer.
pub async fn job(app: &App, mut standing: Standing, shown: Option<u32>, own: OwnSteps) -> Result<JobView, Problem> {
    let bench = app.bench(&mut standing.job).await?;
    let verdict = app.store.inspected(standing.state).await?.map(Into::into);
    let handed_off = handed(&standing, app.store.last_handover(standing.id).await?);
    Ok(JobView {
        id: standing.id,
        state: standing.state,
        latest: standing.latest,
        undo: own.undo.map(|step| step.label),
        redo: own.redo.map(|step| step.label),
        by: standing.by,
        at: when(standing.at),
        part: part::part(bench.part()),
        verdict,
        handed_off,
        limits: limits(&standing.job),
        steel_size: steel_size(&standing.job, bench.part()),
        cavities: cavities(&standing.job, bench.part()),
        shown,
        job: standing.job,
        rows_of: None,
        made: Made::default(),
    })
}
