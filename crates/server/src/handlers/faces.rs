//! Lettering faces: those that ship, those of a job, those that the shop keeps.

use super::author;
use crate::{
    app::Shared,
    problem::{Problem, Refusal, sentence},
};
use axum::{
    Json,
    extract::{Query, State},
    http::StatusCode,
};
use serde::{Deserialize, Serialize};
use trade::{HeldFace, Lettering, OwnFace};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Where a face lies.
#[derive(Clone, Copy, PartialEq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FaceOf {
    /// It ships with the application.
    Shipped,
    /// The job holds it.
    Job,
    /// The shop keeps it, and the job hasn't got it, or holds another under its name.
    Shop,
    /// The shop keeps it off its list.
    Gone,
}

#[derive(Serialize, ToSchema)]
pub struct LetteringFace {
    pub id: String,
    pub name: String,
    pub of: FaceOf,
    pub character: String,
    /// Empty for a face of the shop's own.
    pub licence: String,
    /// A word set in it, as SVG path data, y up, capitals 10 high.
    pub sample: String,
    pub width: f64,
    /// The newest version that the shop keeps under its name; none, where it keeps none.
    pub version: Option<i32>,
}

const SAMPLE: &str = "R4-07";

/// The sample, or as many letters as it has, where a face lacks something of it.
fn sample(lettering: &Lettering) -> (String, f64) {
    let text = match &lettering.own {
        Some(own) if !SAMPLE.chars().all(|c| own.face.letter(c).is_some()) => {
            own.face.letters.iter().take(SAMPLE.len()).map(|l| l.character).collect()
        }
        _ => SAMPLE.to_owned(),
    };
    let set = lettering::set(&text, lettering, &[]).ok();
    set.map_or_else(Default::default, |s| {
        (s.characters.iter().map(|c| crate::views::path(&c.region)).collect(), s.size.x)
    })
}

fn shipped() -> impl Iterator<Item = LetteringFace> {
    lettering::faces().iter().map(|f| {
        let (sample, width) = sample(&Lettering { face: f.id.into(), cap_height: 10.0, ..Lettering::default() });
        let (id, name, character, licence) = (f.id.into(), f.name.into(), f.character.into(), f.licence.into());
        LetteringFace { id, name, of: FaceOf::Shipped, character, licence, sample, width, version: None }
    })
}

fn own(face: &OwnFace, of: FaceOf, version: Option<i32>) -> LetteringFace {
    let own = Some(HeldFace::new(face));
    let (sample, width) = sample(&Lettering { face: face.name.clone(), own, cap_height: 10.0, ..Lettering::default() });
    let letters = face.letters.len();
    let character = format!("{letters} {} of {}", if letters == 1 { "letter" } else { "letters" }, face.file);
    LetteringFace {
        id: face.name.clone(),
        name: face.name.clone(),
        of,
        character,
        licence: String::new(),
        sample,
        width,
        version,
    }
}

#[derive(Deserialize, IntoParams)]
pub struct FacesFor {
    /// A job, by its id.
    job: Uuid,
}

/// The lettering faces that a mark of a job can be lettered in, the shop's own first.
#[utoipa::path(get, path = "/api/faces", params(FacesFor),
    responses((status = 200, body = Vec<LetteringFace>), (status = 404, body = Refusal)))]
pub async fn faces(
    State(app): State<Shared>,
    Query(wish): Query<FacesFor>,
) -> Result<Json<Vec<LetteringFace>>, Problem> {
    let held = app.store.standing(wish.job).await?.job.own_faces;
    let kept = app.store.own_faces().await?;
    let faces = app.heavy(move || {
        let of_shop = kept.iter().filter(|k| !held.contains(&k.face)).map(|k| {
            let of = if k.gone { FaceOf::Gone } else { FaceOf::Shop };
            own(&k.face, of, Some(k.version))
        });
        let version = |f: &OwnFace| kept.iter().find(|k| k.face.name == f.name).map(|k| k.version);
        held.iter().map(|f| own(f, FaceOf::Job, version(f))).chain(of_shop).chain(shipped()).collect()
    });
    Ok(Json(faces.await?))
}

#[derive(Deserialize, IntoParams)]
pub struct NamedFace {
    name: String,
    /// The newest where none is named.
    version: Option<i32>,
}

/// A face that the shop keeps.
#[utoipa::path(get, path = "/api/own-face", params(NamedFace),
    responses((status = 200, body = OwnFace), (status = 404, body = Refusal)))]
pub async fn own_face(State(app): State<Shared>, Query(wish): Query<NamedFace>) -> Result<Json<OwnFace>, Problem> {
    Ok(Json(app.store.own_face(&wish.name, wish.version).await?))
}

#[derive(Deserialize, ToSchema)]
pub struct KeepFace {
    author: String,
    face: OwnFace,
    /// The version of that name that its window has seen; left out, it has seen none.
    #[serde(default)]
    seen: i32,
}

/// Keeps a face for all jobs of the shop, as the next version of what is kept under its name.
#[utoipa::path(post, path = "/api/own-face", request_body = KeepFace,
    responses((status = 204), (status = 409, body = Refusal), (status = 422, body = Refusal)))]
pub async fn keep_own_face(State(app): State<Shared>, Json(wish): Json<KeepFace>) -> Result<StatusCode, Problem> {
    let by = author(&wish.author)?;
    let face = app
        .heavy(move || lettering::own::check(&wish.face).map(|()| wish.face).map_err(|e| Problem::Wrong(sentence(&e))))
        .await??;
    app.store.keep_own_face(&face, wish.seen, &by).await?;
    Ok(StatusCode::NO_CONTENT)
}

#[derive(Deserialize, ToSchema)]
pub struct FaceGone {
    author: String,
    name: String,
    gone: bool,
}

/// Takes a face off the shop's list, or puts it back.
#[utoipa::path(post, path = "/api/own-face/gone", request_body = FaceGone,
    responses((status = 204), (status = 404, body = Refusal)))]
pub async fn set_own_face_gone(
    State(app): State<Shared>,
    Json(FaceGone { author: by, name, gone }): Json<FaceGone>,
) -> Result<StatusCode, Problem> {
    app.store.set_own_face_gone(&name, gone, &author(&by)?).await?;
    Ok(StatusCode::NO_CONTENT)
}
