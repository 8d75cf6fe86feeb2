//! What is wrong with a job, before anything is built from it.

use super::{FaceName, Job, VERSION};
use crate::{
    cutter,
    limits::{self, Sheet},
    mend::{FaceMend, MOST_FACE_MENDS},
    note::LONGEST_NOTE,
    own_face::{MOST_OWN_FACES, OwnFace},
    range::within,
    recipe::MOST_PIECES,
    revision,
};
use std::collections::HashSet;

/// Marks of one job.
const MOST_MARKS: usize = 1_000;

/// What is wrong with a job, before anything is built from it.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum JobError {
    #[error("this job file can't be read: {0}")]
    Unreadable(String),
    #[error("this job file has version {0}; this program reads versions 1 to {VERSION}")]
    Version(u32),
    #[error("there are no limits called “{0}”; there are {known}", known = limits::ids().join(", "))]
    NoLimitSet(String),
    #[error("the {what} has {count} characters; at most {most} are kept")]
    Long { what: &'static str, count: usize, most: usize },
    #[error("the job has {0} marks; at most {MOST_MARKS} are kept in one: take the others into a second job")]
    TooManyMarks(usize),
    #[error("the reading distance is {0} mm; it must lie between 10 and 100000")]
    ReadingDistance(f64),
    #[error("{0}")]
    FaceMend(String),
    #[error("{0}")]
    Tool(String),
    #[error("{0}")]
    Process(String),
    #[error("{0}")]
    Sheet(String),
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
    #[error("{0}")]
    Datum(String),
    #[error("{0}")]
    Cutter(String),
    #[error("the files of each row: {0}")]
    RowFiles(String),
    #[error("{0}")]
    OwnFace(String),
    #[error("{0}")]
    Waiver(String),
    #[error("two marks are called “{0}”; each needs an id of its own")]
    TwoMarks(String),
    #[error("mark “{mark}”: {what}")]
    Mark { mark: String, what: String },
}

fn short(what: &'static str, text: &str, most: usize) -> Result<(), JobError> {
    match text.chars().count() {
        count if count > most => Err(JobError::Long { what, count, most }),
        _ => Ok(()),
    }
}

impl Job {
    /// Every setting inside its range?
    ///
    /// # Errors
    /// The first setting that is not, by mark and name, with the range it must lie in.
    pub fn check(&self) -> Result<(), JobError> {
        if self.version != VERSION {
            return Err(JobError::Version(self.version));
        }
        if limits::set(&self.limits).is_none() {
            return Err(JobError::NoLimitSet(self.limits.clone()));
        }
        short("name of the job", &self.name, 200)?;
        short("name of the part's file", &self.part.file, 255)?;
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
        self.sheet.iter().try_for_each(Sheet::check).map_err(JobError::Sheet)?;
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
        self.datum.check().map_err(JobError::Datum)?;
        cutter::check(&self.cutters, &within).map_err(JobError::Cutter)?;
        self.row_files.check(&self.roster).map_err(JobError::RowFiles)?;
        self.check_own_faces().map_err(JobError::OwnFace)?;
        self.check_waivers().map_err(JobError::Waiver)?;
        self.check_marks()
    }

    /// As [`Job::check`], of the marks alone.
    ///
    /// # Errors
    /// As there.
    pub fn check_marks(&self) -> Result<(), JobError> {
        if self.marks.len() > MOST_MARKS {
            return Err(JobError::TooManyMarks(self.marks.len()));
        }
        let mut seen = HashSet::new();
        for mark in &self.marks {
            short("id of a mark", &mark.id, 100)?;
            if !seen.insert(&mark.id) {
                return Err(JobError::TwoMarks(mark.id.clone()));
            }
            let wrong = |what| JobError::Mark { mark: mark.called(), what };
            for (what, name) in [("name of a mark", &mark.name), ("group of a mark", &mark.group)] {
                let Some(name) = name else { continue };
                if name.trim().is_empty() || name.chars().count() > 60 {
                    return Err(wrong(format!("the {what} has 1 to 60 characters")));
                }
            }
            if let Some(note) = &mark.note {
                short("note of a mark", note, LONGEST_NOTE)?;
            }
            mark.check(&self.roster).map_err(wrong)?;
            if mark.recipe.len() > MOST_PIECES {
                return Err(wrong(format!("a recipe has at most {MOST_PIECES} pieces")));
            }
            mark.recipe.iter().try_for_each(|piece| piece.check(&self.roster)).map_err(wrong)?;
        }
        self.check_styles()
    }

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

    /// Marks that share a style are alike in what it stands for.
    fn check_styles(&self) -> Result<(), JobError> {
        for mark in &self.marks {
            let Some(style) = &mark.style else { continue };
            let wrong = |what: String| JobError::Mark { mark: mark.called(), what };
            if style.trim().is_empty() || style.chars().count() > 60 {
                return Err(wrong("the name of a style has 1 to 60 characters".into()));
            }
            let first = self.marks.iter().find(|m| m.style.as_ref() == Some(style)).unwrap_or(mark);
            if first.lettering != mark.lettering || first.relief != mark.relief {
                return Err(wrong(format!(
                    "it shares the style “{style}” with “{}” and has other lettering or relief",
                    first.called()
                )));
            }
        }
        Ok(())
    }
}
