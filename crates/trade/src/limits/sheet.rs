//! Sheets of a shop's own: limits under a name, in versions.

use super::OwnLimit;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// Limits that a shop judges by. What it doesn't state is asked as the shipped sheet of its process asks it, with the
/// margins of that one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Sheet {
    pub name: String,
    /// 1 and up; it grows each time the sheet is kept anew under its name.
    pub version: u32,
    /// Each subject once.
    pub limits: Vec<OwnLimit>,
}

impl Sheet {
    /// Its name and version, as a finding names it.
    #[must_use]
    pub fn told(&self) -> String {
        format!("{}, version {}", self.name, self.version)
    }

    /// # Errors
    /// Its name, version or a limit that can't be.
    pub fn check(&self) -> Result<(), String> {
        if self.name.trim() != self.name || !(1..=60).contains(&self.name.chars().count()) {
            return Err("the name of a sheet of limits has 1 to 60 characters, none of them blank at its ends".into());
        }
        if self.name.chars().any(char::is_control) {
            return Err("the name of a sheet of limits is one line of text".into());
        }
        if super::sets().iter().any(|s| s.name == self.name) {
            return Err(format!("“{}” is a sheet that ships; call this one otherwise", self.name));
        }
        let wrong = |what: String| format!("sheet of limits “{}”: {what}", self.name);
        if self.version == 0 {
            return Err(wrong("its version is 0; versions begin with 1".into()));
        }
        self.limits.iter().try_for_each(OwnLimit::check).map_err(wrong)?;
        let mut seen = HashSet::new();
        if self.limits.iter().all(|l| seen.insert(l.subject)) {
            Ok(())
        } else {
            Err(wrong("it sets a limit twice; keep one of them".into()))
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Job, limits::Subject, process::Process};

    fn limit(subject: Subject, value: f64) -> OwnLimit {
        OwnLimit { subject, value, source: "works standard 12".into() }
    }

    fn sheet(limits: Vec<OwnLimit>) -> Sheet {
        Sheet { name: "Works standard".into(), version: 2, limits }
    }

    #[test]
    fn a_sheet_outdoes_the_shipped_one_and_the_job_outdoes_the_sheet() {
        let mut job = Job { sheet: Some(sheet(vec![limit(Subject::Draft, 2.5)])), ..Job::default() };
        let draft = job.limit_set().limit(Subject::Draft);
        assert_eq!(
            (draft.value, &*draft.sheet, &*draft.source),
            (2.5, "Works standard, version 2", "works standard 12")
        );
        // a margin of the shipped sheet's, and what the sheet doesn't state
        let stroke = job.limit_set().limit(Subject::Stroke);
        assert_eq!((draft.margin, &*stroke.sheet), (0.25, "thermoplastic moulding, version 1"));
        job.process.texture = 0.05;
        // 1° for each 0.025 mm, from memory
        assert!((job.limit_set().limit(Subject::Draft).value - 4.5).abs() < 1e-12);
        job.own_limits = vec![limit(Subject::Draft, 3.0)];
        let draft = job.limit_set().limit(Subject::Draft);
        assert_eq!((draft.value, &*draft.sheet), (3.0, "this job"));
    }

    #[test]
    fn what_a_job_sets_becomes_a_sheet_and_judges_alike() {
        let own = vec![limit(Subject::Stroke, 0.35), limit(Subject::Draft, 2.0)];
        for texture in [0.0, 0.05] {
            let process = Process { texture, ..Process::default() };
            let job = Job { own_limits: own.clone(), process, ..Job::default() };
            let kept = job.as_sheet("Works standard", 1);
            kept.check().unwrap();
            assert_eq!(kept.limits.len(), 31);
            let mut judged = job.clone();
            judged.judge_by("thermoplastic", Some(kept));
            // with a texture a draft of the job's own is taken as it is: it stays with the job
            assert_eq!(judged.own_limits.len(), usize::from(texture > 0.0));
            for (before, after) in job.limit_set().limits.iter().zip(&judged.limit_set().limits) {
                assert_eq!((before.subject, before.value), (after.subject, after.value), "{texture}");
            }
        }
    }

    #[test]
    fn a_sheet_that_cannot_be_is_refused_in_words() {
        sheet(vec![limit(Subject::Draft, 2.0)]).check().unwrap();
        for (wrong, says) in [
            (Sheet { name: " ".into(), ..sheet(vec![]) }, "1 to 60 characters"),
            (Sheet { name: "a\nb".into(), ..sheet(vec![]) }, "one line"),
            (Sheet { name: "thermoplastic moulding".into(), ..sheet(vec![]) }, "ships"),
            (Sheet { version: 0, ..sheet(vec![]) }, "begin with 1"),
            (sheet(vec![limit(Subject::Draft, -1.0)]), "must lie between"),
            (sheet(vec![limit(Subject::Draft, 2.0), limit(Subject::Draft, 3.0)]), "twice"),
        ] {
            let said = wrong.check().unwrap_err();
            assert!(said.contains(says), "{said} should say {says}");
        }
    }
}
