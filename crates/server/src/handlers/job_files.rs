//! A job with its part in one file: sent to somebody, and made a job of again where it arrives.

use super::{
    attached::{attached, stem},
    author,
    handoff::archive,
    jobs::{Begun, made_of},
};
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    body::Bytes,
    extract::{Path, Query, State},
    http::StatusCode,
    response::Response,
};
use serde::Deserialize;
use solid::{formats::LARGEST_FILE, part::digest};
use std::io::{Cursor, Read};
use trade::Job;
use utoipa::IntoParams;
use uuid::Uuid;

/// What a job file is called in archives.
pub(crate) const JOB_FILE: &str = "job.tinbadge.json";
/// What job files are recognised by.
const ENDING: &str = ".tinbadge.json";
/// Largest job file that is taken out of an archive, bytes: one with 5,000 rows has 1 MB.
const LARGEST_JOB: u64 = 64 << 20;
/// Files that an archive may hold: one of a handoff has some dozens.
const MOST_FILES: usize = 10_000;

/// The job as it stands and its part file, in one archive.
#[utoipa::path(get, path = "/api/jobs/{id}/job.zip", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "application/zip", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn as_archive(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let job = app.store.standing(id).await?.job;
    let part = app.part_file(&job).await?;
    let name = format!("{}-job.zip", stem(&job.name));
    let bytes = app
        .heavy(move || {
            let bytes = serde_json::to_vec_pretty(&job).expect("a job has string keys and finite numbers");
            archive(&[handoff::Named { name: JOB_FILE.into(), bytes }, part])
        })
        .await??;
    Ok(attached("application/zip", &name, bytes))
}

#[derive(Deserialize, IntoParams)]
pub struct OfArchive {
    author: String,
}

/// Makes a job of an archive that holds a job file and its part file: one that was sent, or a handoff.
#[utoipa::path(post, path = "/api/jobs/of-archive", params(OfArchive), request_body(content = Vec<u8>, content_type = "application/zip"),
    responses((status = 201, body = Begun), (status = 422, body = Refusal)))]
pub async fn of_archive(
    State(app): State<Shared>,
    Query(OfArchive { author: given }): Query<OfArchive>,
    bytes: Bytes,
) -> Result<(StatusCode, Json<Begun>), Problem> {
    let by = author(&given)?;
    let (mut job, part) = app.heavy(move || unpacked(&bytes)).await??;
    let found = digest(&part);
    if job.part.sha256.as_ref().is_some_and(|wanted| *wanted != found) {
        return Err(Problem::Wrong(format!(
            "“{}” in the archive is not the file the job was made for.",
            job.part.file
        )));
    }
    app.store.keep(&found, &part).await?;
    job.part.sha256 = Some(found);
    let id = made_of(&app, job, &by).await?;
    Ok((StatusCode::CREATED, Json(Begun { id })))
}

/// The job and its part file of an archive.
fn unpacked(bytes: &[u8]) -> Result<(Job, Vec<u8>), Problem> {
    let wrong = |why: String| Problem::Wrong(format!("The archive can’t be read: {why}."));
    let mut files = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|e| wrong(e.to_string()))?;
    if files.len() > MOST_FILES {
        return Err(wrong(format!("it holds {} files, and at most {MOST_FILES} are looked at", files.len())));
    }
    let names: Vec<String> = files.file_names().map(str::to_owned).collect();
    let mut own = names.iter().filter(|name| name.ends_with(ENDING));
    let (Some(job), None) = (own.next(), own.next()) else {
        let many = names.iter().filter(|name| name.ends_with(ENDING)).count();
        return Err(wrong(format!("it must hold one job file (*{ENDING}), and holds {many}")));
    };
    let mut take = |name: &str, most: u64| {
        let file = files.by_name(name).map_err(|e| wrong(format!("{name}: {e}")))?;
        let mut bytes = Vec::new();
        file.take(most + 1).read_to_end(&mut bytes).map_err(|e| wrong(format!("{name}: {e}")))?;
        if bytes.len() as u64 > most {
            return Err(wrong(format!("{name} is larger than {} MB", most >> 20)));
        }
        Ok(bytes)
    };
    let job = Job::from_json(&take(job, LARGEST_JOB)?)?;
    // a handoff calls a part otherwise whose name is that of one of its own files
    let part = [format!("part-{}", job.part.file), job.part.file.clone()].into_iter().find(|name| names.contains(name));
    let part = part.ok_or_else(|| wrong(format!("the job’s part, “{}”, is not in it", job.part.file)))?;
    Ok((job, take(&part, LARGEST_FILE as u64)?))
}

#[cfg(test)]
mod tests {
    use super::*;
    use trade::PartRef;

    fn zipped(files: &[(&str, &[u8])]) -> Vec<u8> {
        let files: Vec<_> =
            files.iter().map(|(name, bytes)| handoff::Named { name: (*name).into(), bytes: bytes.to_vec() }).collect();
        archive(&files).unwrap_or_default()
    }

    fn told(files: &[(&str, &[u8])]) -> String {
        unpacked(&zipped(files))
            .map_or_else(|e| e.to_string(), |(job, part)| format!("{} {}", job.part.file, part.len()))
    }

    #[test]
    fn an_archive_is_taken_with_one_job_and_its_part_and_nothing_less() {
        let job =
            Job { name: "Cap".into(), part: PartRef::of_file("cap.stl", Some(trade::Unit::Mm)), ..Job::default() };
        let json = serde_json::to_vec(&job).unwrap();
        assert_eq!(told(&[(JOB_FILE, &json), ("cap.stl", b"solid")]), "cap.stl 5");
        assert_eq!(told(&[("cap.stl", b"other"), ("part-cap.stl", b"it"), (JOB_FILE, &json)]), "cap.stl 2");
        assert!(told(&[(JOB_FILE, &json)]).contains("“cap.stl”, is not in it"));
        assert!(told(&[("cap.stl", b"solid")]).contains("holds 0"));
        assert!(told(&[(JOB_FILE, &json), ("a/b.tinbadge.json", &json)]).contains("holds 2"));
        assert!(told(&[(JOB_FILE, b"{"), ("cap.stl", b"solid")]).len() > 5);
        assert!(unpacked(b"no zip").is_err());
        // a bomb of zeros is left where it is
        let zeros = vec![b' '; (LARGEST_JOB + 1) as usize];
        assert!(told(&[(JOB_FILE, &zeros), ("cap.stl", b"solid")]).contains("is larger than 64 MB"));
    }
}
