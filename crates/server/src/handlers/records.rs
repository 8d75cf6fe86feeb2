//! Records of inspections: made, listed, opened, held against one another, repeated, taken as files.

use super::{
    attached::{attached, shown, stem},
    author,
};
use crate::{
    app::Shared,
    problem::{Problem, Refusal},
    records::{Wish, read},
    store::Summary,
};
use ::record::{Difference, SectionWish, csv, differences};
use axum::{
    Json,
    extract::{Path, State},
    response::{IntoResponse, Response},
};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use time::format_description::well_known::Rfc3339;
use trade::limits::State as Verdict;
use utoipa::ToSchema;
use uuid::Uuid;
use workbench::section::Laid;

/// A record of the list.
#[derive(Serialize, ToSchema)]
pub struct RecordLine {
    pub number: i64,
    /// The state of the job that was recorded.
    pub state: i64,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    /// SHA-256 of its document.
    pub sha256: String,
    pub of: Summary,
}

/// A job's records, the newest first.
#[utoipa::path(get, path = "/api/jobs/{id}/records", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<RecordLine>)))]
pub async fn records(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<Vec<RecordLine>>, Problem> {
    let kept = app.store.records(id).await?;
    let line = |r: crate::store::Listed| {
        let of = serde_json::from_value(r.summary)
            .map_err(|e| Problem::Wrong(format!("What record {} came to can't be read: {e}.", r.number)))?;
        let at = r.at.format(&Rfc3339).unwrap_or_default();
        Ok(RecordLine { number: r.number, state: r.state, by: r.author, at, sha256: r.sha256, of })
    };
    Ok(Json(kept.into_iter().map(line).collect::<Result<_, Problem>>()?))
}

#[derive(Deserialize, ToSchema)]
pub struct MakeRecord {
    author: String,
    /// The state whose findings were looked at.
    state: i64,
    /// Which row of the roster; the first where none is named.
    row: Option<u32>,
    /// With what all rows came to, too.
    #[serde(default)]
    all_rows: bool,
    /// Cuts that were kept for it, fifty at most.
    #[serde(default)]
    cuts: Vec<KeptCut>,
}

/// How a cut through a mark lies, and which places were pressed on it: mm and degrees.
#[derive(Deserialize, ToSchema)]
pub struct KeptCut {
    mark: String,
    /// Where it was measured: a place, or two.
    through: Vec<[f64; 3]>,
    turn: Option<f64>,
    tilt: f64,
    shift: f64,
    places: Vec<[f64; 3]>,
}

impl KeptCut {
    fn wish(self) -> Result<SectionWish, Problem> {
        /// A place is farther off, mm, than any part is large.
        const FAR: f64 = 1e6;
        let places = self.through.iter().chain(&self.places).flatten();
        let fine = places.chain([&self.tilt, &self.shift]).chain(&self.turn).all(|n| n.is_finite() && n.abs() < FAR);
        if !matches!(self.through.len(), 1 | 2) || self.places.len() > 3 || !fine {
            return Err(Problem::Wrong(
                "A cut goes through one place or two and has at most three places pressed on it.".into(),
            ));
        }
        let places = |all: Vec<[f64; 3]>| all.into_iter().map(DVec3::from).collect();
        Ok(SectionWish {
            mark: self.mark,
            lies: Laid { through: places(self.through), turn_deg: self.turn, tilt_deg: self.tilt, shift: self.shift },
            places: places(self.places),
        })
    }
}

#[derive(Serialize, ToSchema)]
pub struct MadeRecord {
    pub number: i64,
}

/// Freezes the inspection of a job as it stands, with its proof. It is written once and stays.
#[utoipa::path(post, path = "/api/jobs/{id}/records", params(("id" = Uuid, Path)), request_body = MakeRecord,
    responses((status = 201, body = MadeRecord), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn make_record(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Json(make): Json<MakeRecord>,
) -> Result<impl IntoResponse, Problem> {
    let author = author(&make.author)?;
    const MOST_CUTS: usize = 50;
    if make.cuts.len() > MOST_CUTS {
        return Err(Problem::Wrong(format!("At most {MOST_CUTS} cuts are kept with a record.")));
    }
    let sections = make.cuts.into_iter().map(KeptCut::wish).collect::<Result<_, _>>()?;
    let wish = Wish { author: &author, state: make.state, row: make.row, all_rows: make.all_rows, sections };
    let number = app.make_record(id, wish).await?;
    Ok((axum::http::StatusCode::CREATED, Json(MadeRecord { number })))
}

/// A record that is opened.
#[derive(Serialize, ToSchema)]
pub struct RecordView {
    pub number: i64,
    pub by: String,
    /// RFC 3339.
    pub at: String,
    pub program: String,
    pub state: Option<i64>,
    pub part: String,
    pub part_sha256: String,
    /// The row of the roster, from 1 on, and what stands in it.
    pub row: Option<usize>,
    pub cells: Vec<String>,
    pub sheet: String,
    pub verdict: Verdict,
    pub marks: Vec<RecordedMark>,
    pub files: usize,
    /// How many rows were recorded beside it.
    pub rows: usize,
    /// Cuts that were kept with it.
    pub cuts: Vec<RecordedCut>,
}

/// A cut through a mark, and what was measured in it.
#[derive(Serialize, ToSchema)]
pub struct RecordedCut {
    pub mark: String,
    pub says: Vec<String>,
}

#[derive(Serialize, ToSchema)]
pub struct RecordedMark {
    pub mark: String,
    pub text: String,
    pub verdict: Verdict,
    pub findings: Vec<inspection::Finding>,
    /// Of its reading test: how the letter stands that reads worst, and by how much it stands out.
    pub reading: Option<Verdict>,
    pub margin: Option<f64>,
}

/// A record as it was kept.
#[utoipa::path(get, path = "/api/jobs/{id}/records/{number}", params(("id" = Uuid, Path), ("number" = i64, Path)),
    responses((status = 200, body = RecordView), (status = 404, body = Refusal)))]
pub async fn record(
    State(app): State<Shared>,
    Path((id, number)): Path<(Uuid, i64)>,
) -> Result<Json<RecordView>, Problem> {
    let record = app.record(id, number).await?;
    let marks = record.marks.into_iter().map(|m| RecordedMark {
        mark: m.mark,
        text: m.text,
        verdict: m.verdict,
        findings: m.findings,
        reading: m.reading.as_ref().map(|r| r.verdict),
        margin: m.reading.map(|r| r.margin),
    });
    Ok(Json(RecordView {
        number,
        by: record.by,
        at: record.at,
        program: record.program,
        state: record.state,
        part: record.part.file,
        part_sha256: record.part.sha256,
        row: record.row.as_ref().map(|r| r.place),
        cells: record.row.map_or_else(Vec::new, |r| r.cells),
        sheet: record.sheet,
        verdict: record.verdict,
        marks: marks.collect(),
        files: record.files.len(),
        rows: record.rows.len(),
        cuts: record.sections.into_iter().map(|s| RecordedCut { mark: s.mark, says: s.says }).collect(),
    }))
}

/// Something that differs between two records, or between a record and its repetition.
#[derive(Serialize, ToSchema)]
pub struct DifferenceView {
    pub what: String,
    /// Empty where there was none, or is none now.
    pub was: String,
    pub is: String,
    /// By no more than the errors that were stated with both figures.
    pub within_error: bool,
}

impl From<Difference> for DifferenceView {
    fn from(d: Difference) -> Self {
        Self { what: d.what, was: d.was, is: d.is, within_error: d.within_error }
    }
}

/// In what a record differs from an earlier one of the job.
#[utoipa::path(get, path = "/api/jobs/{id}/records/{number}/since/{earlier}",
    params(("id" = Uuid, Path), ("number" = i64, Path), ("earlier" = i64, Path)),
    responses((status = 200, body = Vec<DifferenceView>), (status = 404, body = Refusal)))]
pub async fn since(
    State(app): State<Shared>,
    Path((id, number, earlier)): Path<(Uuid, i64, i64)>,
) -> Result<Json<Vec<DifferenceView>>, Problem> {
    let (was, is) = (app.record(id, earlier).await?, app.record(id, number).await?);
    Ok(Json(differences(&was, &is).into_iter().map(Into::into).collect()))
}

/// What inspecting a record's job once more came to.
#[derive(Serialize, ToSchema)]
pub struct RepeatView {
    /// Figures that are the same to the last digit.
    pub same: usize,
    /// Figures that moved within their stated error.
    pub within: usize,
    pub otherwise: Vec<DifferenceView>,
}

/// Inspects what was recorded once more: the same job on the same part.
#[utoipa::path(post, path = "/api/jobs/{id}/records/{number}/repeat", params(("id" = Uuid, Path), ("number" = i64, Path)),
    responses((status = 200, body = RepeatView), (status = 404, body = Refusal)))]
pub async fn repeat(
    State(app): State<Shared>,
    Path((id, number)): Path<(Uuid, i64)>,
) -> Result<Json<RepeatView>, Problem> {
    let repeated = app.repeat_record(id, number).await?;
    let otherwise = repeated.otherwise.into_iter().map(Into::into).collect();
    Ok(Json(RepeatView { same: repeated.same, within: repeated.within, otherwise }))
}

/// A record's file: `proof.pdf`, `figures.csv` or `record.json`.
#[utoipa::path(get, path = "/api/jobs/{id}/records/{number}/{file}",
    params(("id" = Uuid, Path), ("number" = i64, Path), ("file" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn file(
    State(app): State<Shared>,
    Path((id, number, file)): Path<(Uuid, i64, String)>,
) -> Result<Response, Problem> {
    let kept = app.store.record(id, number).await?;
    let record = read(number, &kept.json)?;
    let name = format!("{}-record-{number}-{file}", stem(&record.job.name));
    let (kind, bytes) = match file.as_str() {
        "proof.pdf" => ("application/pdf", kept.proof),
        "figures.csv" => ("text/csv; charset=utf-8", app.heavy(move || csv(&record)).await?),
        "record.json" => ("application/json", kept.json),
        _ => {
            return Err(Problem::Missing(format!(
                "A record has no file {file}: proof.pdf, figures.csv or record.json."
            )));
        }
    };
    Ok(if file == "proof.pdf" { shown(kind, &name, bytes) } else { attached(kind, &name, bytes) })
}
