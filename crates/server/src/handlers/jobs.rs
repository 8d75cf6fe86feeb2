//! Jobs: listed, begun from a part file, changed, stepped back and again.

use super::{Has, Variant, author};
use crate::{
    app::Shared,
    changing::Condition,
    edits::Edit,
    problem::{Problem, Refusal},
    store::{By, OwnSteps, Way},
    views::{self, JobRow, JobView, Made},
};
use axum::{
    Json,
    body::Bytes,
    extract::{Path, Query, State},
    http::{HeaderMap, StatusCode, header},
    response::{IntoResponse, Response},
};
use serde::{Deserialize, Serialize};
use solid::Part;
use std::sync::Arc;
use trade::{Job, PartRef, Unit};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Edits of one step.
const MOST_EDITS: usize = 200;

#[derive(Deserialize, IntoParams)]
pub struct Listed {
    /// Only jobs in whose name or part file this stands, in capitals or small letters.
    search: Option<String>,
    /// At most so many.
    most: Option<usize>,
    /// Only jobs that were changed last before this row: the `latest` of the last one of the page before.
    before: Option<i64>,
}

/// Jobs, the last changed first; all, if nothing else is asked for.
#[utoipa::path(get, path = "/api/jobs", params(Listed), responses((status = 200, body = Vec<JobRow>)))]
pub async fn list(State(app): State<Shared>, Query(wanted): Query<Listed>) -> Result<Json<Vec<JobRow>>, Problem> {
    let search = wanted.search.unwrap_or_default().trim().to_lowercase();
    let most = wanted.most.unwrap_or(usize::MAX);
    let mut rows = Vec::new();
    for row in app.store.listed(wanted.before).await? {
        if rows.len() >= most {
            break;
        }
        let row = match app.store.described(&row).await? {
            Ok(standing) => views::row(&app, standing).await?,
            Err(unreadable) => unreadable.into(),
        };
        if [&row.name, &row.part_file].iter().any(|said| said.to_lowercase().contains(&search)) {
            rows.push(row);
        }
    }
    Ok(Json(rows))
}

#[derive(Deserialize, IntoParams)]
pub struct New {
    /// Name of the part file; its ending says the format.
    file: String,
    /// Where the format leaves it open.
    unit: Option<Unit>,
    author: String,
    /// Under this number it can be asked how far the reading is.
    ticket: Option<Uuid>,
}

#[derive(Serialize, ToSchema)]
pub struct Begun {
    pub id: Uuid,
}

/// Begins a job from the bytes of a part file.
#[utoipa::path(post, path = "/api/jobs", params(New), request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 201, body = Begun), (status = 422, body = Refusal)))]
pub async fn begin(
    State(app): State<Shared>,
    Query(new): Query<New>,
    bytes: Bytes,
) -> Result<(StatusCode, Json<Begun>), Problem> {
    let by = author(&new.author)?;
    let wanted = PartRef::of_file(&new.file, new.unit);
    let part = app.read(bytes.clone(), wanted.clone(), new.ticket).await?;
    let id = keep(&app, wanted, part, &bytes, &by).await?;
    Ok((StatusCode::CREATED, Json(Begun { id })))
}

#[derive(Serialize, ToSchema)]
pub struct KeptPart {
    /// Of its bytes, hexadecimal: by this job files name their parts.
    pub sha256: String,
}

/// Keeps a part file for a job file that is sent after it; it is read with that. One that no job is made of is removed
/// after a day.
#[utoipa::path(post, path = "/api/parts", request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 201, body = KeptPart)))]
pub async fn keep_part(State(app): State<Shared>, bytes: Bytes) -> Result<(StatusCode, Json<KeptPart>), Problem> {
    let sha256 = solid::part::digest(&bytes);
    app.store.keep(&sha256, &bytes).await?;
    Ok((StatusCode::CREATED, Json(KeptPart { sha256 })))
}

#[derive(Deserialize, IntoParams)]
pub struct OfFile {
    author: String,
}

/// Makes a job of a job file, as the handoff has it, whose part file is kept here already.
#[utoipa::path(post, path = "/api/jobs/of-file", params(OfFile), request_body(content = Vec<u8>, content_type = "application/json"),
    responses((status = 201, body = Begun), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn of_file(
    State(app): State<Shared>,
    Query(OfFile { author: given }): Query<OfFile>,
    bytes: Bytes,
) -> Result<(StatusCode, Json<Begun>), Problem> {
    let by = author(&given)?;
    let id = made_of(&app, Job::from_json(&bytes)?, &by).await?;
    Ok((StatusCode::CREATED, Json(Begun { id })))
}

/// A new job of one that was written down, whose part file is kept here.
pub(super) async fn made_of(app: &Shared, mut job: Job, by: &str) -> Result<Uuid, Problem> {
    let file = job.part.file.clone();
    let Some(sha256) = job.part.sha256.clone() else {
        return Err(Problem::Wrong(format!(
            "The job file does not say which “{file}” its part is; begin a job with that file."
        )));
    };
    if !app.store.is_kept_file(&sha256).await? {
        return Err(Problem::Missing(format!("The job's part, “{file}”, is not kept here: drop both files together.")));
    }
    // a part that it was a revision of can't be gone back to here
    job.part.replaces = None;
    app.bench(&mut job).await?;
    let job = app.placed(job).await?;
    let id = app.store.create(&job, by).await?;
    app.inspect_later(id);
    Ok(id)
}

#[derive(Serialize, ToSchema)]
pub struct ReadingView {
    /// What is being done, in words.
    pub stage: String,
    /// Share of the stage that is done.
    pub percent: u8,
}

/// How far the reading of a part is.
#[utoipa::path(get, path = "/api/readings/{ticket}", params(("ticket" = Uuid, Path)),
    responses((status = 200, body = ReadingView), (status = 404, body = Refusal)))]
pub async fn reading(State(app): State<Shared>, Path(ticket): Path<Uuid>) -> Result<Json<ReadingView>, Problem> {
    let reading = app.readings.get(ticket).ok_or_else(|| Problem::Missing("Nothing is being read there.".into()))?;
    let (stage, percent) = reading.told();
    Ok(Json(ReadingView { stage: stage.into(), percent }))
}

async fn keep(app: &Shared, wanted: PartRef, part: Part, bytes: &[u8], by: &str) -> Result<Uuid, Problem> {
    app.store.keep(&part.sha256, bytes).await?;
    let file = wanted.file;
    let stem =
        std::path::Path::new(&file).file_stem().map_or_else(|| file.clone(), |s| s.to_string_lossy().into_owned());
    // of several bodies the largest solid, or the first surface body, until others are chosen
    let bodies = wanted.bodies.or_else(|| if part.bodies.len() > 1 { largest(&part) } else { None });
    let job = Job {
        name: stem.chars().take(200).collect(),
        part: PartRef { sha256: Some(part.sha256.clone()), bodies, ..PartRef::of_file(&file, Some(part.unit)) },
        ..Job::default()
    };
    job.check()?;
    // of several bodies only some are taken: then the part is another one than was read
    if job.part.bodies.is_none() {
        app.put_on_bench(&job.part, part);
    }
    let id = app.store.create(&job, by).await?;
    app.inspect_later(id);
    Ok(id)
}

#[derive(Deserialize, IntoParams)]
pub struct Asks {
    /// Who asks: what undo and redo would do is of one's own changes.
    person: Option<String>,
}

/// One job as it stands, in a row of its roster; in the first, where that row is gone.
#[utoipa::path(get, path = "/api/jobs/{id}", params(("id" = Uuid, Path), Variant, Has, Asks), responses((status = 200, body = JobView), (status = 404, body = Refusal)))]
pub async fn one(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(has): Query<Has>,
    Query(asks): Query<Asks>,
) -> Result<Answered, Problem> {
    view(&app, id, (variant, has), asks.person.as_deref().map(str::trim)).await
}

#[derive(Deserialize, ToSchema)]
pub struct Change {
    author: String,
    /// Drawn by the window for this change: sent again under the same, it is made once.
    key: Option<Uuid>,
    /// The newest row of the history that its window had seen: what somebody else has changed since is not written over.
    seen: Option<i64>,
    /// Drawn by the window for a field while it is typed into: changes one after another under the same are one step.
    typing: Option<Uuid>,
    edit: Edit,
    /// More of them, made after it in the same step: all, or none.
    #[serde(default)]
    and: Vec<Edit>,
}

#[derive(Deserialize, ToSchema)]
pub struct Step {
    author: String,
    /// As of a change.
    key: Option<Uuid>,
}

/// A job as it stands; its `ETag` is the newest row of its history.
pub struct Answered(JobView);

impl IntoResponse for Answered {
    fn into_response(self) -> Response {
        ([(header::ETAG, format!("\"{}\"", self.0.latest))], Json(self.0)).into_response()
    }
}

/// The row of the history at which a job has to stand for what is asked, as `If-Match` says it.
fn wanted_at(headers: &HeaderMap) -> Result<Option<i64>, Problem> {
    let Some(value) = headers.get(header::IF_MATCH).filter(|value| *value != "*") else { return Ok(None) };
    let row = value.to_str().ok().and_then(|tag| tag.trim().strip_prefix('"')?.strip_suffix('"')?.parse().ok());
    row.map(Some).ok_or_else(|| Problem::Wrong("If-Match names one ETag of this job, in quotation marks, or *.".into()))
}

/// Makes a change of one edit or several. When this answers, the change is kept. With `If-Match` only where nothing was changed since.
#[utoipa::path(post, path = "/api/jobs/{id}/changes", params(("id" = Uuid, Path), Variant, Has), request_body = Change,
    responses((status = 200, body = JobView), (status = 422, body = Refusal), (status = 404, body = Refusal), (status = 409, body = Refusal), (status = 412, body = Refusal)))]
pub async fn change(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(has): Query<Has>,
    headers: HeaderMap,
    Json(change): Json<Change>,
) -> Result<Answered, Problem> {
    let (by, seen) = (author(&change.author)?, change.seen);
    let edits: Vec<Edit> = std::iter::once(change.edit).chain(change.and).collect();
    if edits.len() > MOST_EDITS {
        return Err(Problem::Wrong(format!("At most {MOST_EDITS} edits are made in one step.")));
    }
    let (by, wanted) = (By { author: &by, key: change.key, typing: change.typing }, wanted_at(&headers)?);
    let made = app.make(id, by, edits, Condition { seen, wanted }).await?;
    changed(&app, id, (variant, has), by.author, made).await
}

/// Undo: takes the newest change of that person back; what others did meanwhile stays.
#[utoipa::path(post, path = "/api/jobs/{id}/undo", params(("id" = Uuid, Path), Variant, Has), request_body = Step,
    responses((status = 200, body = JobView), (status = 422, body = Refusal), (status = 404, body = Refusal), (status = 409, body = Refusal)))]
pub async fn undo(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(has): Query<Has>,
    Json(given): Json<Step>,
) -> Result<Answered, Problem> {
    step(&app, id, (variant, has), given, Way::Undo).await
}

/// Redo: makes the change again that this person undid last.
#[utoipa::path(post, path = "/api/jobs/{id}/redo", params(("id" = Uuid, Path), Variant, Has), request_body = Step,
    responses((status = 200, body = JobView), (status = 422, body = Refusal), (status = 404, body = Refusal), (status = 409, body = Refusal)))]
pub async fn redo(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(variant): Query<Variant>,
    Query(has): Query<Has>,
    Json(given): Json<Step>,
) -> Result<Answered, Problem> {
    step(&app, id, (variant, has), given, Way::Redo).await
}

async fn step(app: &Shared, id: Uuid, wanted: (Variant, Has), given: Step, way: Way) -> Result<Answered, Problem> {
    let by = author(&given.author)?;
    app.step(id, By { author: &by, key: given.key, typing: None }, way).await?;
    changed(app, id, wanted, &by, Made::default()).await
}

/// Takes a job off the list; nothing of it is lost.
#[utoipa::path(delete, path = "/api/jobs/{id}", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Refusal)))]
pub async fn remove(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    app.store.set_gone(id, true).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Puts a job back on the list.
#[utoipa::path(post, path = "/api/jobs/{id}/restore", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Refusal)))]
pub async fn restore(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    app.store.set_gone(id, false).await?;
    Ok(StatusCode::NO_CONTENT)
}

#[derive(Deserialize, ToSchema)]
pub struct Folder {
    /// Its name; empty takes the job out of all.
    folder: String,
}

/// Puts a job into a folder of the list. A folder is there as long as a job is in it.
#[utoipa::path(put, path = "/api/jobs/{id}/folder", params(("id" = Uuid, Path)), request_body = Folder,
    responses((status = 204), (status = 404, body = Refusal), (status = 422, body = Refusal)))]
pub async fn put_in_folder(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(Folder { folder }): Json<Folder>,
) -> Result<StatusCode, Problem> {
    /// Characters.
    const LONGEST: usize = 60;
    let folder = folder.trim();
    if folder.chars().count() > LONGEST || folder.chars().any(char::is_control) {
        return Err(Problem::Wrong(format!("A folder's name has at most {LONGEST} characters on one line.")));
    }
    app.store.put_in_folder(id, folder).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The job after a change that `made` things.
pub(super) async fn changed(
    app: &Shared,
    id: Uuid,
    wanted: (Variant, Has),
    by: &str,
    made: Made,
) -> Result<Answered, Problem> {
    app.inspect_later(id);
    let Answered(view) = view(app, id, wanted, Some(by)).await.map_err(|problem| Problem::Kept(Box::new(problem)))?;
    Ok(Answered(JobView { made, ..view }))
}

/// The largest body of a file that holds several.
pub(super) fn largest(part: &solid::Part) -> Option<Vec<u32>> {
    let all = part.bodies.iter().enumerate();
    all.max_by(|(i, a), (j, b)| a.volume.total_cmp(&b.volume).then(j.cmp(i))).map(|(at, _)| vec![at as u32])
}

/// A job in a row of its roster; in the first, where somebody took that row away.
async fn view(
    app: &Shared,
    id: Uuid,
    (Variant { row }, has): (Variant, Has),
    person: Option<&str>,
) -> Result<Answered, Problem> {
    let (standing, shown) = match app.standing(id, row).await {
        Err(Problem::Missing(_)) if row.is_some() => app.standing(id, None).await?,
        found => found?,
    };
    let own = match person {
        Some(person) => app.store.own_steps(id, person).await?,
        None => OwnSteps::default(),
    };
    let stays = has.roster_of.filter(|state| app.store.roster_stays(*state, id, &standing.job.roster));
    let mut view = views::job(app, standing, shown.1, own).await?;
    if stays.is_some() {
        view.rows_of = stays;
        let columns = view.job.roster.columns.clone();
        view.job.roster = Arc::new(trade::Roster { columns, rows: Vec::new() });
    }
    Ok(Answered(view))
}

#[derive(Deserialize, IntoParams)]
pub struct InState {
    /// The present state where none is named.
    state: Option<i64>,
}

/// The part with its marks as a small PNG.
#[utoipa::path(get, path = "/api/jobs/{id}/picture", params(("id" = Uuid, Path), InState), responses((status = 200, content_type = "image/png", body = Vec<u8>)))]
pub async fn picture(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(InState { state }): Query<InState>,
) -> Result<impl IntoResponse, Problem> {
    let picture = app.picture(id, state).await?;
    Ok(([(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "no-cache")], picture.to_vec()))
}

/// Begins the demo's jobs, if there has never been a job.
///
/// # Errors
/// The database does not answer.
pub async fn demo(app: &Shared) -> Result<(), Problem> {
    if !app.store.is_empty().await? {
        return Ok(());
    }
    // the last one begun stands first in the list
    let mut jobs = Vec::new();
    for demo in app.heavy(demo::jobs).await?.into_iter().rev() {
        let sha256 = demo.job.part.sha256.clone().unwrap_or_default();
        app.store.keep(&sha256, &demo.part).await?;
        jobs.push(app.placed(demo.job).await?);
    }
    // at once: a server that was ended meanwhile would find some and begin no more
    for id in app.store.create_all(&jobs, "E. Marrow").await? {
        app.inspect_later(id);
    }
    Ok(())
}
