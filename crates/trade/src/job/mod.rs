//! The job: one part with its tool and its marks, as the job file keeps it.

mod checked;
mod named_faces;
mod part_ref;
pub(crate) mod version_1;

use crate::{
    cutter::Cutter,
    given::Given,
    in_steel::Datum,
    limits::{self, LimitSet, OwnLimit, Sheet, Subject},
    mark::Mark,
    own_face::{HeldFace, OwnFace},
    process::Process,
    roster::Roster,
    row_files::RowFiles,
    tool::Tool,
    tool_plate::ToolPlate,
    waiver::{FilledFor, Waiver},
};
pub use checked::JobError;
pub use part_ref::{PartRef, Replaced};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// The job-file version that is written; version 1, whose words were others, is read too.
pub const VERSION: u32 = 2;

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Job {
    /// Version of the job file; 2.
    pub version: u32,
    pub name: String,
    pub part: PartRef,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub face_names: Vec<FaceName>,
    /// Where the faces lie that it names by their numbers; the program keeps it. Another version of the program may
    /// find and number faces otherwise: they are found again by their places. Left out, the numbers are taken as they
    /// are.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub faces_at: Vec<FaceAt>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub tool: Tool,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub process: Process,
    /// Id of one of the shipped limit sets.
    pub limits: String,
    /// A sheet of the shop's own that outdoes the set, as it was when the job took it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub sheet: Option<Sheet>,
    /// Limits that this job sets otherwise, each subject once.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub own_limits: Vec<OwnLimit>,
    /// From how far the marks are read, mm.
    #[serde(default = "arms_length")]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub reading_distance: f64,
    /// Lettering bodies are handed off letter by letter; else those of a mark are joined to one.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub letters_apart: bool,
    /// Parts, variants and cavities, each a row. Shared: jobs are copied oftener than thousands of rows change.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub roster: Arc<Roster>,
    /// The revision that recipes write where the roster has none of its own.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub revision: Option<String>,
    /// Where the cavities lie.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub tool_plate: ToolPlate,
    /// From where the toolmaker measures; left out, from the part's zero.
    #[serde(default, skip_serializing_if = "Datum::is_zero")]
    pub datum: Datum,
    /// Cutters that the toolmaker has.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub cutters: Vec<Cutter>,
    /// What is made for every row of the roster.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub row_files: RowFiles,
    /// Lettering faces of the shop's own that its marks may be lettered in.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub own_faces: Vec<OwnFace>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub marks: Vec<Mark>,
    /// Findings that fail and that somebody answers for.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub waivers: Vec<Waiver>,
    /// For which row and day it was filled.
    #[serde(skip)]
    pub filled_for: Option<FilledFor>,
    /// Ids that its things have had, where that is known.
    #[serde(skip)]
    pub given: Given,
}

fn arms_length() -> f64 {
    500.0
}

impl Default for Job {
    /// A job without a part or marks, measured against the limits for thermoplastics.
    fn default() -> Self {
        Self {
            version: VERSION,
            name: String::new(),
            part: PartRef::of_file("", None),
            face_names: Vec::new(),
            faces_at: Vec::new(),
            tool: Tool::default(),
            process: Process::default(),
            limits: "thermoplastic".into(),
            sheet: None,
            own_limits: Vec::new(),
            reading_distance: arms_length(),
            letters_apart: false,
            roster: Arc::default(),
            revision: None,
            tool_plate: ToolPlate::default(),
            datum: Datum::default(),
            cutters: Vec::new(),
            row_files: RowFiles::default(),
            own_faces: Vec::new(),
            marks: Vec::new(),
            waivers: Vec::new(),
            filled_for: None,
            given: Given::default(),
        }
    }
}

/// A face of the part by a name of its own.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FaceName {
    pub face: u32,
    pub name: String,
}

/// Where a face lies.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FaceAt {
    pub face: u32,
    /// A place on it, inside its outline, mm in the part.
    pub at: [f64; 3],
}

impl Job {
    /// A job file's bytes as a checked job.
    ///
    /// # Errors
    /// Says what is wrong, and for JSON that can't be read in which line and column.
    pub fn from_json(bytes: &[u8]) -> Result<Self, JobError> {
        /// What tells how the rest is to be read.
        #[derive(Deserialize)]
        struct Versioned {
            version: u32,
        }
        let unreadable = |e: serde_json::Error| JobError::Unreadable(e.to_string());
        let mut job: Job = match serde_json::from_slice(bytes).map_err(unreadable)? {
            Versioned { version: 1 } => {
                let old = serde_json::from_slice(bytes).map_err(unreadable)?;
                serde_json::from_value(version_1::upgraded(old)).map_err(unreadable)?
            }
            Versioned { version: VERSION } => serde_json::from_slice(bytes).map_err(unreadable)?,
            Versioned { version } => return Err(JobError::Version(version)),
        };
        job.tool_plate.number();
        job.check()?;
        job.hold_faces();
        Ok(job)
    }

    /// A job as it was kept, whichever version wrote it; it was checked then.
    ///
    /// # Errors
    /// Says what can't be read.
    pub fn from_kept(document: serde_json::Value) -> Result<Self, JobError> {
        let old = document.get("version").and_then(serde_json::Value::as_u64) == Some(1);
        let document = if old { version_1::upgraded(document) } else { document };
        let mut job: Job = serde_json::from_value(document).map_err(|e| JobError::Unreadable(e.to_string()))?;
        job.tool_plate.number();
        job.hold_faces();
        Ok(job)
    }

    /// The job's own face of a name.
    #[must_use]
    pub fn held_face(&self, name: &str) -> Option<HeldFace> {
        self.own_faces.iter().find(|f| f.name == name).map(HeldFace::new)
    }

    /// Gives each mark the own face that its lettering names. To be called on a job that was read, and after its faces
    /// or the lettering of a mark have changed.
    pub fn hold_faces(&mut self) {
        let held: Vec<HeldFace> = self.own_faces.iter().map(HeldFace::new).collect();
        for lettering in self.marks.iter_mut().map(|m| &mut m.lettering) {
            lettering.own = held.iter().find(|h| h.face.name == lettering.face).cloned();
        }
    }

    /// What the job is measured against: its limit set with its sheet, its own limits and what its texture adds.
    ///
    /// # Panics
    /// The job was not checked and names no shipped set.
    #[must_use]
    pub fn limit_set(&self) -> LimitSet {
        self.shipped_set().adapted(self.sheet.as_ref(), &self.process, &self.own_limits)
    }

    /// As [`Job::limit_set`], without what the job sets otherwise.
    ///
    /// # Panics
    /// As there.
    #[must_use]
    pub fn limits_of_sheet(&self) -> LimitSet {
        self.shipped_set().adapted(self.sheet.as_ref(), &self.process, &[])
    }

    /// Name and version of the sheet that the job is judged by.
    ///
    /// # Panics
    /// As [`Job::limit_set`].
    #[must_use]
    pub fn limit_sheet(&self) -> String {
        self.sheet.as_ref().map_or_else(|| self.shipped_set().sheet(), Sheet::told)
    }

    fn shipped_set(&self) -> &'static LimitSet {
        limits::set(&self.limits).expect("a checked job names a shipped set")
    }

    /// All limits of this job as a sheet, without what its texture adds: that is added where the sheet is used.
    ///
    /// # Panics
    /// As [`Job::limit_set`].
    #[must_use]
    pub fn as_sheet(&self, name: &str, version: u32) -> Sheet {
        let own: Vec<OwnLimit> =
            self.own_limits.iter().filter(|o| !self.bound_to_texture(o.subject)).cloned().collect();
        let set = self.shipped_set().adapted(self.sheet.as_ref(), &Process::default(), &own);
        Sheet { name: name.into(), version, limits: set.limits.into_iter().map(limits::Limit::stated).collect() }
    }

    /// Takes another set of limits, or a sheet over it. What the job set otherwise is given up with a sheet that was
    /// made of it, but for what was set knowing the job's texture.
    pub fn judge_by(&mut self, limits: &str, sheet: Option<Sheet>) {
        if let Some(sheet) = &sheet {
            let bound = |o: &OwnLimit| self.bound_to_texture(o.subject);
            let kept = |o: &OwnLimit| sheet.limits.iter().any(|l| l.subject == o.subject && l.value == o.value);
            let stays: Vec<OwnLimit> = self.own_limits.iter().filter(|o| bound(o) || !kept(o)).cloned().collect();
            self.own_limits = stays;
        }
        self.limits = limits.into();
        self.sheet = sheet;
    }

    /// A limit set for this job on what its texture moves holds for the textured part alone.
    fn bound_to_texture(&self, subject: Subject) -> bool {
        self.process.texture > 0.0 && subject.is_moved_by_texture()
    }

    /// The name of a new mark, made from that of another; that name itself where no mark has it or had it.
    #[must_use]
    pub fn fresh_id(&self, like: &str) -> String {
        let free = |id: &str| self.marks.iter().all(|m| m.id != id) && !self.given.has_mark(id);
        let stem = like.trim_end_matches(|c: char| c.is_ascii_digit() || c == '-');
        let stem = if stem.is_empty() { "mark" } else { stem };
        if free(like) && !like.is_empty() {
            return like.into();
        }
        (1..).map(|n| format!("{stem}-{n}")).find(|id| free(id)).expect("marks are finitely many")
    }
}

/// JSON Schema of the job file, generated from these types.
#[must_use]
pub fn schema() -> serde_json::Value {
    let mut schema = schemars::schema_for!(Job).to_value();
    schema["title"] = "Tin Badge job file".into();
    schema
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Tie;

    fn job() -> serde_json::Value {
        serde_json::json!({
            "version": 1, "name": "Block", "limits": "thermoplastic",
            "part": {"file": "block.stl", "unit": "mm"},
            "marks": [{"id": "a", "text": "VB-20", "seat": {"face": 0}}]
        })
    }

    fn read(job: &serde_json::Value) -> Result<Job, JobError> {
        Job::from_json(job.to_string().as_bytes())
    }

    #[test]
    fn a_short_job_file_is_filled_with_the_usual_settings() {
        let job = read(&job()).unwrap();
        assert_eq!(job.reading_distance, 500.0);
        assert_eq!(job.marks[0].relief, crate::Relief::default());
        assert_eq!(job.marks[0].place.along, Tie::Middle);
        let back = Job::from_json(serde_json::to_string(&job).unwrap().as_bytes()).unwrap();
        assert_eq!(back, job);
    }

    #[test]
    fn settings_out_of_range_name_the_mark_and_the_range() {
        for (pointer, value, says) in [
            (
                "/marks/0/lettering",
                serde_json::json!({"face":"osifont","cap_height":0,"line_gap":1}),
                "cap height is 0 mm; it must lie between 0.2 and 500 mm",
            ),
            (
                "/marks/0/lettering",
                serde_json::json!({"face":"osifont","cap_height":1e6,"line_gap":1}),
                "cap height is 1000000 mm",
            ),
            ("/marks/0/text", "A".repeat(10_000).into(), "10000 characters"),
            ("/marks/0/id", "a".repeat(101).into(), "id of a mark has 101 characters; at most 100"),
            ("/name", "A".repeat(100_000).into(), "name of the job has 100000 characters; at most 200"),
            ("/version", 7.into(), "version 7"),
            ("/limits", "none".into(), "thermoplastic"),
            ("/tool", serde_json::json!({"pull": [0, 0, 0]}), "no direction"),
            ("/marks/0/tint", "red".into(), "unknown field `tint`"),
            ("/marks/0/colour", "red".into(), "“red” is not a colour"),
        ] {
            let mut changed = job();
            let (parent, key) = pointer.rsplit_once('/').unwrap();
            let at = if parent.is_empty() { &mut changed } else { changed.pointer_mut(parent).unwrap() };
            at[key] = value;
            let error = read(&changed).unwrap_err().to_string();
            assert!(error.contains(says), "{error} should say {says}");
        }
    }

    #[test]
    fn marks_of_one_style_are_alike() {
        let mut two = job();
        let mut marks = two["marks"].clone();
        marks[0]["style"] = "small".into();
        let mut other = marks[0].clone();
        other["id"] = "b".into();
        marks.as_array_mut().unwrap().push(other);
        two["marks"] = marks;
        read(&two).unwrap();
        two["marks"][1]["relief"] = serde_json::json!({"sense": "raised", "height": 0.2, "draft": 3.0});
        let error = read(&two).unwrap_err().to_string();
        assert!(error.contains("shares the style “small” with “VB-20”"), "{error}");
    }

    #[test]
    fn the_schema_names_what_a_job_needs() {
        let schema = schema();
        assert_eq!(schema["title"], "Tin Badge job file");
        let required = schema["required"].as_array().unwrap();
        assert!(required.contains(&"part".into()) && required.contains(&"limits".into()));
    }
}
