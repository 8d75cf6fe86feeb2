//! The job: one part with its tool and its marks, as the job file keeps it.

use crate::{
    figure::Figure,
    length::Unit,
    limits::{self, OwnLimit, Sheet},
    mark::Mark,
    mend::{FaceMend, MOST_FACE_MENDS, PartMend, SheetSide},
    own_face::{HeldFace, MOST_OWN_FACES, OwnFace},
    process::Process,
    recipe::MOST_PIECES,
    relief::Sense,
    revision,
    roster::Roster,
    row_files::RowFiles,
    tool::Tool,
    tool_plate::ToolPlate,
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::{collections::HashSet, sync::Arc};

/// The newest job-file version this code writes, and the only one it reads.
pub const VERSION: u32 = 1;

/// Longest text of one mark, characters. Far above any real mark; it keeps a slip of the
/// clipboard from building ten thousand letters.
pub const LONGEST_TEXT: usize = 400;
/// Cap heights outside this range, mm, are slips of the unit.
pub const CAP_HEIGHTS: std::ops::RangeInclusive<f64> = 0.2..=500.0;

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Job {
    /// Version of the job file; 1.
    pub version: u32,
    pub name: String,
    pub part: PartRef,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub face_names: Vec<FaceName>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub tool: Tool,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub process: Process,
    /// Id of one of the shipped limits sheets.
    pub limits: String,
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
}

fn arms_length() -> f64 {
    500.0
}

impl Default for Job {
    /// A job without a part or marks, measured against the sheet for thermoplastics.
    fn default() -> Self {
        Self {
            version: VERSION,
            name: String::new(),
            part: PartRef::of_file("", None),
            face_names: Vec::new(),
            tool: Tool::default(),
            process: Process::default(),
            limits: "thermoplastic".into(),
            own_limits: Vec::new(),
            reading_distance: arms_length(),
            letters_apart: false,
            roster: Arc::default(),
            revision: None,
            tool_plate: ToolPlate::default(),
            row_files: RowFiles::default(),
            own_faces: Vec::new(),
            marks: Vec::new(),
        }
    }
}

/// The part file a job was made for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PartRef {
    /// Name of the file; `tinbadge run` looks for it beside the job file.
    pub file: String,
    /// SHA-256 of its bytes, hexadecimal; left out, the file is not compared.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub sha256: Option<String>,
    /// The unit it is drawn in, where the format does not say.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub unit: Option<Unit>,
    /// Which bodies of a file with several make up the part, by their places from 0; left out, all.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub bodies: Option<Vec<u32>>,
    /// What is mended in the file's mesh, in this order, before anything else is done with it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub mends: Vec<PartMend>,
    /// The part is a sheet without thickness, not a solid with a hole in its skin: marks on it are bodies
    /// of their own. Left out, it is one where its file says so.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub sheet: Option<SheetSide>,
    /// Faces joined and divided by hand, in this order, once the mesh's faces are found.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub face_mends: Vec<FaceMend>,
    /// The revision of the part that this one took the place of, to be compared with.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub replaces: Option<Replaced>,
}

/// An earlier revision of the part, as it was read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Replaced {
    pub file: String,
    pub sha256: String,
    pub unit: Option<Unit>,
    pub bodies: Option<Vec<u32>>,
    pub mends: Vec<PartMend>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub sheet: Option<SheetSide>,
}

impl PartRef {
    /// A part as its file has it, all bodies taken and nothing mended.
    #[must_use]
    pub fn of_file(file: &str, unit: Option<Unit>) -> Self {
        Self {
            file: file.into(),
            sha256: None,
            unit,
            bodies: None,
            mends: Vec::new(),
            sheet: None,
            face_mends: Vec::new(),
            replaces: None,
        }
    }
}

impl From<Replaced> for PartRef {
    fn from(r: Replaced) -> Self {
        Self {
            sha256: Some(r.sha256),
            bodies: r.bodies,
            mends: r.mends,
            sheet: r.sheet,
            ..Self::of_file(&r.file, r.unit)
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

/// What is wrong with a job, before anything is built from it.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum JobError {
    #[error("this job file can't be read: {0}")]
    Unreadable(String),
    #[error("this job file has version {0}; this program reads version {VERSION}")]
    Version(u32),
    #[error("there is no limits sheet “{0}”; there are {known}", known = limits::ids().join(", "))]
    NoSheet(String),
    #[error("the reading distance is {0} mm; it must lie between 10 and 100000")]
    ReadingDistance(f64),
    #[error("{0}")]
    FaceMend(String),
    #[error("{0}")]
    Tool(String),
    #[error("{0}")]
    Process(String),
    #[error("{0}")]
    OwnLimit(String),
    #[error("face {face} is called “{name}”; a face's name has 1 to 60 characters and belongs to one face")]
    FaceName { face: u32, name: String },
    #[error("a limit is set twice for this job; set each once")]
    TwoLimits,
    #[error("{0}")]
    Roster(String),
    #[error("{0}")]
    Revision(String),
    #[error("tool plate: {0}")]
    ToolPlate(String),
    #[error("the files of each row: {0}")]
    RowFiles(String),
    #[error("{0}")]
    OwnFace(String),
    #[error("two marks are called “{0}”; each needs an id of its own")]
    TwoMarks(String),
    #[error("mark “{mark}”: {what}")]
    Mark { mark: String, what: String },
}

impl Job {
    /// A job file's bytes as a checked job.
    ///
    /// # Errors
    /// Says what is wrong, and for JSON that can't be read in which line and column.
    pub fn from_json(bytes: &[u8]) -> Result<Self, JobError> {
        let mut job: Job = serde_json::from_slice(bytes).map_err(|e| JobError::Unreadable(e.to_string()))?;
        job.check()?;
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

    /// What the job is measured against: its sheet with its own limits and what its texture adds.
    ///
    /// # Panics
    /// The job was not checked and names no shipped sheet.
    #[must_use]
    pub fn sheet(&self) -> Sheet {
        let sheet = limits::sheet(&self.limits).expect("a checked job names a shipped sheet");
        sheet.adapted(&self.process, &self.own_limits)
    }

    /// The name of a new mark, made from that of another; that name itself where no mark has it.
    #[must_use]
    pub fn fresh_id(&self, like: &str) -> String {
        let free = |id: &str| self.marks.iter().all(|m| m.id != id);
        let stem = like.trim_end_matches(|c: char| c.is_ascii_digit() || c == '-');
        let stem = if stem.is_empty() { "mark" } else { stem };
        if free(like) && !like.is_empty() {
            return like.into();
        }
        (1..).map(|n| format!("{stem}-{n}")).find(|id| free(id)).expect("marks are finitely many")
    }

    /// Every setting inside its range?
    ///
    /// # Errors
    /// The first setting that is not, by mark and name, with the range it must lie in.
    pub fn check(&self) -> Result<(), JobError> {
        if self.version != VERSION {
            return Err(JobError::Version(self.version));
        }
        if limits::sheet(&self.limits).is_none() {
            return Err(JobError::NoSheet(self.limits.clone()));
        }
        if !(10.0..=100_000.0).contains(&self.reading_distance) {
            return Err(JobError::ReadingDistance(self.reading_distance));
        }
        if self.part.face_mends.len() > MOST_FACE_MENDS {
            return Err(JobError::FaceMend(format!("at most {MOST_FACE_MENDS} faces are joined or divided by hand")));
        }
        self.part.face_mends.iter().try_for_each(FaceMend::check).map_err(JobError::FaceMend)?;
        self.tool.check().map_err(JobError::Tool)?;
        let mut names = HashSet::new();
        for FaceName { face, name } in &self.face_names {
            if name.trim().is_empty() || name.chars().count() > 60 || !names.insert(name) {
                return Err(JobError::FaceName { face: *face, name: name.clone() });
            }
        }
        self.process.check().map_err(JobError::Process)?;
        for own in &self.own_limits {
            own.check().map_err(JobError::OwnLimit)?;
        }
        let subjects: HashSet<_> = self.own_limits.iter().map(|o| o.subject).collect();
        if subjects.len() < self.own_limits.len() {
            return Err(JobError::TwoLimits);
        }
        self.roster.check().map_err(JobError::Roster)?;
        if let Some(revision) = &self.revision {
            revision::rank(revision).map_err(JobError::Revision)?;
        }
        self.tool_plate.check(&self.roster).map_err(JobError::ToolPlate)?;
        self.row_files.check(&self.roster).map_err(JobError::RowFiles)?;
        self.check_own_faces().map_err(JobError::OwnFace)?;
        self.check_marks()
    }

    /// As [`Job::check`], of the marks alone.
    ///
    /// # Errors
    /// As there.
    pub fn check_marks(&self) -> Result<(), JobError> {
        let mut seen = HashSet::new();
        for mark in &self.marks {
            if !seen.insert(&mark.id) {
                return Err(JobError::TwoMarks(mark.id.clone()));
            }
            let wrong = |what| JobError::Mark { mark: mark.id.clone(), what };
            check_mark(mark, &self.roster).map_err(wrong)?;
            if mark.recipe.len() > MOST_PIECES {
                return Err(wrong(format!("a recipe has at most {MOST_PIECES} pieces")));
            }
            mark.recipe.iter().try_for_each(|piece| piece.check(&self.roster)).map_err(wrong)?;
        }
        self.check_manners()
    }
}

impl Job {
    fn check_own_faces(&self) -> Result<(), String> {
        if self.own_faces.len() > MOST_OWN_FACES {
            return Err(format!("a job has at most {MOST_OWN_FACES} lettering faces of its own"));
        }
        self.own_faces.iter().try_for_each(OwnFace::check)?;
        let mut names = HashSet::new();
        match self.own_faces.iter().find(|f| !names.insert(&f.name)) {
            Some(twice) => Err(format!("the job has the lettering face “{}” twice; keep one of them", twice.name)),
            None => Ok(()),
        }
    }

    /// Marks that share a manner are alike in what it stands for.
    fn check_manners(&self) -> Result<(), JobError> {
        for mark in &self.marks {
            let Some(manner) = &mark.manner else { continue };
            let wrong = |what: String| JobError::Mark { mark: mark.id.clone(), what };
            if manner.trim().is_empty() || manner.chars().count() > 60 {
                return Err(wrong("the name of a manner has 1 to 60 characters".into()));
            }
            let first = self.marks.iter().find(|m| m.manner.as_ref() == Some(manner)).unwrap_or(mark);
            if first.lettering != mark.lettering || first.relief != mark.relief {
                return Err(wrong(format!(
                    "it shares the manner “{manner}” with “{}” and is lettered or relieved otherwise",
                    first.id
                )));
            }
        }
        Ok(())
    }
}

/// Refuses a setting, by its name, value and unit, that lies out of its range.
pub(crate) type Within<'a> = &'a dyn Fn(&str, f64, std::ops::RangeInclusive<f64>, &str) -> Result<(), String>;

fn check_mark(mark: &Mark, roster: &Roster) -> Result<(), String> {
    let within = |name: &str, value: f64, range: std::ops::RangeInclusive<f64>, unit: &str| {
        if range.contains(&value) {
            Ok(())
        } else {
            Err(format!("{name} is {value}{unit}; it must lie between {} and {}{unit}", range.start(), range.end()))
        }
    };
    let count = mark.text.chars().count();
    if count > LONGEST_TEXT {
        return Err(format!("the text has {count} characters; at most {LONGEST_TEXT} are built"));
    }
    if mark.id.is_empty() || mark.id.len() > 100 {
        return Err("a mark's id has 1 to 100 characters".into());
    }
    mark.seat.check()?;
    let lettering = &mark.lettering;
    within("cap height", lettering.cap_height, CAP_HEIGHTS, " mm")?;
    if let Some(stroke) = lettering.stroke {
        within("stroke", stroke, 0.02..=lettering.cap_height / 3.0, " mm")?;
    }
    within("letter width", lettering.width, 0.3..=3.0, " times the face's own")?;
    within("slant", lettering.slant, -30.0..=45.0, "°")?;
    if let Some(fit) = lettering.fit {
        within("length of the text", fit.length, 0.2..=1e4, " mm")?;
    }
    within("spacing", lettering.spacing, -lettering.cap_height..=10.0 * lettering.cap_height, " mm")?;
    within("line gap", lettering.line_gap, 0.0..=100.0 * lettering.cap_height, " mm")?;
    mark.relief.check(&within)?;
    mark.place.check(&within)?;
    if let Some(figure) = &mark.figure {
        figure.check(&within, roster)?;
        if matches!(figure, Figure::Pocket(_)) && mark.relief.sense != Sense::Sunken {
            return Err("the pocket of an insert is sunken".into());
        }
    }
    let shift = 10.0 * lettering.cap_height;
    for letter in &mark.letters {
        let name = |what: &str| format!("{what} of letter {} “{}”", letter.at + 1, letter.text);
        within(&name("size"), letter.size, 0.2..=5.0, " times the others'")?;
        within(&name("shift along"), letter.along, -shift..=shift, " mm")?;
        within(&name("shift up"), letter.up, -shift..=shift, " mm")?;
        within(&name("turn"), letter.turn, -360.0..=360.0, "°")?;
        if letter.sense.is_some() && mark.relief.through {
            return Err(format!(
                "letter {} “{}” has a sense of its own, and the mark goes through",
                letter.at + 1,
                letter.text
            ));
        }
        if letter.sense.is_some_and(|own| !own.has_relief() || !mark.relief.sense.has_relief()) {
            return Err(format!(
                "letter {} “{}” can only be raised, sunken or inlaid by itself, in a mark that is one of them",
                letter.at + 1,
                letter.text
            ));
        }
    }
    let mut changed: Vec<u32> = mark.letters.iter().map(|l| l.at).collect();
    changed.sort_unstable();
    if changed.windows(2).any(|pair| pair[0] == pair[1]) {
        return Err("a letter is changed twice; change each once".into());
    }
    Ok(())
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
            ("/version", 7.into(), "version 7"),
            ("/limits", "none".into(), "thermoplastic"),
            ("/tool", serde_json::json!({"pull": [0, 0, 0]}), "no direction"),
            ("/marks/0/colour", "red".into(), "unknown field `colour`"),
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
    fn marks_of_one_manner_are_alike() {
        let mut two = job();
        let mut marks = two["marks"].clone();
        marks[0]["manner"] = "small".into();
        let mut other = marks[0].clone();
        other["id"] = "b".into();
        marks.as_array_mut().unwrap().push(other);
        two["marks"] = marks;
        read(&two).unwrap();
        two["marks"][1]["relief"] = serde_json::json!({"sense": "raised", "height": 0.2, "draft": 3.0});
        let error = read(&two).unwrap_err().to_string();
        assert!(error.contains("shares the manner “small” with “a”"), "{error}");
    }

    #[test]
    fn the_schema_names_what_a_job_needs() {
        let schema = schema();
        assert_eq!(schema["title"], "Tin Badge job file");
        let required = schema["required"].as_array().unwrap();
        assert!(required.contains(&"part".into()) && required.contains(&"limits".into()));
    }
}
