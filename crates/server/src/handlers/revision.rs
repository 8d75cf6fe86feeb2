//! A newer revision of the part: first a proposal of what goes where, kept nowhere; then, when it is
//! confirmed, a change of the job like any other.

use super::{
    author,
    jobs::{Answered, changed},
};
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
    store::{By, Standing},
    views::{self, FaceView, JobView, Made},
};
use axum::{
    Json,
    body::Bytes,
    extract::{Path, Query, State},
};
use serde::{Deserialize, Serialize};
use solid::matching::Match;
use std::collections::BTreeMap;
use trade::{PartRef, Replaced, Unit};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;
use workbench::Steps;
use workbench::revision::{Use, propose, revised};

#[derive(Deserialize, IntoParams)]
pub struct Newer {
    /// Name of the newer file; its ending says the format.
    file: String,
    /// Where the format leaves it open.
    unit: Option<Unit>,
    /// Under this number it can be asked how far the reading is.
    ticket: Option<Uuid>,
}

#[derive(Serialize, ToSchema)]
pub struct Proposal {
    /// The job's state that it was made for; to be given back as well.
    pub state: i64,
    /// To be given back when it is confirmed.
    pub part: PartRef,
    pub rows: Vec<RevisionRow>,
    /// The newer part's faces.
    pub faces: Vec<FaceView>,
    /// Extent along x, y, z, mm, before and now.
    pub size: [[f64; 3]; 2],
    /// mm³; `None` for a part that is not closed.
    pub volume: [Option<f64>; 2],
    /// What keeps the newer part from being marked.
    pub complaint: Option<String>,
}

/// A face that the job uses, and the one that takes its place.
#[derive(Serialize, ToSchema)]
pub struct RevisionRow {
    pub face: u32,
    pub says: String,
    /// What uses it, in words.
    pub uses: Vec<String>,
    pub fate: Fate,
    /// The face that takes its place, or the closest match one.
    pub to: Option<u32>,
    /// How far its middle moved, mm.
    pub moved: Option<f64>,
}

#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Fate {
    Same,
    Moved,
    Guess,
    Gone,
}

/// What the job would become on a newer part. Nothing of the job changes.
#[utoipa::path(post, path = "/api/jobs/{id}/revision", params(("id" = Uuid, Path), Newer),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = Proposal), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn propose_revision(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(newer): Query<Newer>,
    bytes: Bytes,
) -> Result<Json<Proposal>, Problem> {
    let Standing { mut job, state, .. } = app.store.standing(id).await?;
    let old = app.bench(&mut job).await?;
    let mut asked = PartRef::of_file(&newer.file, newer.unit);
    let mut part = app.read(bytes.clone(), asked.clone(), newer.ticket).await?;
    asked.sha256 = Some(part.sha256.clone());
    asked.unit = Some(part.unit);
    asked.surface_body = job.part.surface_body;
    // of several bodies those that were taken before, if there are as many, else the largest
    if part.bodies.len() > 1 {
        let before = job.part.bodies.clone().filter(|b| b.iter().all(|&at| (at as usize) < part.bodies.len()));
        asked.bodies = before.or_else(|| super::jobs::largest(&part));
        part = app.read(bytes.clone(), asked.clone(), newer.ticket).await?;
    }
    app.store.keep(&part.sha256, &bytes).await?;
    app.put_on_bench(&asked, part);
    let new = app.bench_of(&asked).await?;
    let proposal = app
        .heavy(move || {
            let rows = propose(&job, &old, &new)
                .into_iter()
                .map(|row| {
                    let (fate, moved) = match row.found {
                        Match::Same { .. } => (Fate::Same, None),
                        Match::Moved { by, .. } => (Fate::Moved, Some(by.length())),
                        Match::Guess { .. } => (Fate::Guess, None),
                        Match::Gone => (Fate::Gone, None),
                    };
                    RevisionRow {
                        face: row.face,
                        says: views::says(old.part(), row.face),
                        uses: row.uses.iter().map(|u| in_words(u, &job)).collect(),
                        fate,
                        to: row.found.to(),
                        moved,
                    }
                })
                .collect();
            let size = |part: &solid::Part| {
                let (low, high) = part.mesh.bounds();
                (high - low).to_array()
            };
            let volume = |part: &solid::Part| part.soundness.is_closed().then(|| part.mesh.volume());
            Proposal {
                state,
                part: asked,
                rows,
                faces: views::faces(new.part()),
                size: [size(old.part()), size(new.part())],
                volume: [volume(old.part()), volume(new.part())],
                complaint: new.part().markable().err(),
            }
        })
        .await?;
    Ok(Json(proposal))
}

fn in_words(used: &Use, job: &trade::Job) -> String {
    match used {
        Use::Mark(id) => {
            let text = job.marks.iter().find(|m| m.id == *id).map_or("", |m| &m.text);
            format!("mark “{}”", text.replace('\n', " / "))
        }
        Use::KeepOut(name) => format!("keep-out “{name}”"),
        Use::Assigned(at) => {
            let to = job.tool.assigned.get(*at).map(|g| crate::edits::steel_name(&g.to));
            format!("assigned to {}", to.unwrap_or_default())
        }
        Use::Name(name) => format!("named “{name}”"),
        Use::Parting(_) => "parting plane".into(),
        Use::Edge(_) => "parting line along edges".into(),
    }
}

#[derive(Deserialize, ToSchema)]
pub struct Confirmed {
    author: String,
    /// As of a change.
    key: Option<Uuid>,
    /// The job's state that the proposal was made for.
    state: i64,
    part: PartRef,
    /// For faces that go elsewhere than proposed: which takes their place, or none.
    choices: Vec<Choice>,
}

#[derive(Deserialize, ToSchema)]
pub struct Choice {
    face: u32,
    to: Option<u32>,
}

/// Takes a newer part in the old one's place. Undo brings the old one back.
#[utoipa::path(post, path = "/api/jobs/{id}/revision/confirmed", params(("id" = Uuid, Path)), request_body = Confirmed,
    responses((status = 200, body = JobView), (status = 422, body = Refusal), (status = 404, body = Refusal),
        (status = 409, body = Refusal)))]
pub async fn confirm_revision(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(confirmed): Json<Confirmed>,
) -> Result<Answered, Problem> {
    let by = author(&confirmed.author)?;
    let Confirmed { part, choices, state, key, .. } = confirmed;
    let proposed = app.store.state_of(id, state).await?.0.part;
    let choices: BTreeMap<u32, Option<u32>> = choices.into_iter().map(|c| (c.face, c.to)).collect();
    let new = app.bench_of(&part).await?;
    let alter = |Standing { mut job, .. }: Standing| {
        let (app, part, proposed) = (app.clone(), part.clone(), proposed.clone());
        let (new, choices) = (new.clone(), choices.clone());
        async move {
            if job.part != proposed {
                return Err(Problem::Overtaken(
                    "Somebody else changed the part of this job meanwhile; drop the newer revision once more.".into(),
                ));
            }
            let old = app.bench(&mut job).await?;
            let revise = move || {
                let was = &job.part;
                let replaces = was.sha256.clone().map(|sha256| Replaced {
                    file: was.file.clone(),
                    sha256,
                    unit: was.unit,
                    bodies: was.bodies.clone(),
                    mends: was.mends.clone(),
                    surface_body: was.surface_body,
                });
                let revised = revised(&job, &old, &new, PartRef { replaces, ..part }, &choices);
                revised.check()?;
                Ok::<_, Problem>(revised)
            };
            app.placed(app.heavy(revise).await??).await
        }
    };
    app.edit(id, By { author: &by, key, typing: None }, || "newer revision of the part".into(), alter).await?;
    changed(&app, id, Default::default(), &by, Made::default()).await
}
