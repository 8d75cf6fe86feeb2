//! Ids that things of a job have had. None is given again: who names one never means another thing.

use crate::job::Job;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// What is kept beside a job about the ids of its past. It is no part of what the job is: two jobs that differ in nothing
/// else are equal.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Given {
    marks: BTreeSet<String>,
    slides: BTreeSet<String>,
    keep_outs: BTreeSet<String>,
    /// The greatest id of a row.
    row: u32,
    /// The greatest id of a cavity.
    cavity: u32,
}

impl PartialEq for Given {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

impl Given {
    /// The ids that a job has now, and those that it is known to have had.
    #[must_use]
    pub fn with(mut self, job: &Job) -> Self {
        self.marks.extend(job.marks.iter().map(|m| m.id.clone()));
        self.slides.extend(job.tool.slides.iter().map(|s| s.name.clone()));
        self.keep_outs.extend(job.tool.keep_outs.iter().map(|k| k.name.clone()));
        self.row = job.roster.rows.iter().map(|r| r.id).fold(self.row, u32::max);
        self.cavity = job.tool_plate.cavities.iter().map(|c| c.id).fold(self.cavity, u32::max);
        self
    }

    #[must_use]
    pub fn has_mark(&self, id: &str) -> bool {
        self.marks.contains(id)
    }

    #[must_use]
    pub fn has_slide(&self, name: &str) -> bool {
        self.slides.contains(name)
    }

    #[must_use]
    pub fn has_keep_out(&self, name: &str) -> bool {
        self.keep_outs.contains(name)
    }

    /// The greatest id that a row has had; 0 for none.
    #[must_use]
    pub fn row(&self) -> u32 {
        self.row
    }

    /// The greatest id that a cavity has had; 0 for none.
    #[must_use]
    pub fn cavity(&self) -> u32 {
        self.cavity
    }

    /// Does it know of an id that `other` doesn't?
    #[must_use]
    pub fn has_more_than(&self, other: &Self) -> bool {
        self.row > other.row
            || self.cavity > other.cavity
            || !self.marks.is_subset(&other.marks)
            || !self.slides.is_subset(&other.slides)
            || !self.keep_outs.is_subset(&other.keep_outs)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Mark, Row};
    use std::sync::Arc;

    #[test]
    fn what_was_removed_is_remembered_and_no_part_of_the_job() {
        let mut job = Job { marks: vec![Mark { id: "mark-1".into(), ..Mark::default() }], ..Job::default() };
        Arc::make_mut(&mut job.roster).rows.push(Row { id: 4, cells: Vec::new() });
        let before = job.clone();
        job.given = Given::default().with(&job);
        assert!(job.given.has_more_than(&Given::default()) && !job.given.has_more_than(&job.given.clone()));
        assert_eq!(job, before);
        job.marks.clear();
        job.roster = Arc::default();
        assert_eq!(job.fresh_id("mark-1"), "mark-2");
        assert_eq!(job.fresh_id("logo"), "logo");
        assert_eq!(job.roster.fresh(job.given.row()).next(), Some(5));
        // a job file says nothing of it
        assert!(!serde_json::to_string(&job).unwrap().contains("given"));
    }
}
