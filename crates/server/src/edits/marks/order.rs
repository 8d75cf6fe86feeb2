//! Marks removed, and their order in the rack.

use super::{super::Change, called, find};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::Bench;

/// A mark goes.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemoveMark {
    pub id: String,
}

impl Change for RemoveMark {
    fn label(&self, job: &Job) -> String {
        format!("{} removed", called(job, &self.id))
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        job.marks.remove(at);
        Ok(())
    }
}

/// A mark stands elsewhere in the rack.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MoveMark {
    pub id: String,
    pub to: usize,
}

impl Change for MoveMark {
    fn label(&self, job: &Job) -> String {
        format!("{} moved in the rack", called(job, &self.id))
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let mark = job.marks.remove(at);
        job.marks.insert(self.to.min(job.marks.len()), mark);
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::marks::copy::CopyMark;
    use crate::edits::tests::{bench, refused};

    #[test]
    fn marks_move_in_the_rack_and_are_removed_by_name() {
        let (mut job, bench) = bench();
        let first = job.marks[0].id.clone();
        CopyMark { id: first.clone() }.apply(&mut job, &bench).unwrap();
        let second = job.marks[1].id.clone();
        let order = |job: &Job| job.marks.iter().map(|m| m.id.clone()).collect::<Vec<_>>();
        MoveMark { id: second.clone(), to: 0 }.apply(&mut job, &bench).unwrap();
        assert_eq!(order(&job), [second.clone(), first.clone()]);
        // beyond the end is the end
        MoveMark { id: second.clone(), to: 9 }.apply(&mut job, &bench).unwrap();
        assert_eq!(order(&job), [first.clone(), second.clone()]);
        RemoveMark { id: first.clone() }.apply(&mut job, &bench).unwrap();
        assert_eq!(order(&job), [second]);
        let gone = RemoveMark { id: first.clone() };
        assert!(refused(&gone, &job, &bench).contains(&format!("no mark “{first}” any more")));
        assert!(refused(&MoveMark { id: first, to: 0 }, &job, &bench).contains("any more"));
    }
}
