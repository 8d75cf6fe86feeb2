//! Cutters that the toolmaker has.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Cutter, Job};
use utoipa::ToSchema;
use workbench::Bench;

/// One more cutter.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AddCutter {
    pub cutter: Cutter,
}

impl Change for AddCutter {
    fn label(&self, _: &Job) -> String {
        format!("cutter {}", self.cutter.name())
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        new(job, &self.cutter)?;
        job.cutters.push(self.cutter);
        Ok(())
    }
}

/// Another form of a cutter, which is the one that looks as `was` does.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetCutter {
    pub was: Cutter,
    pub cutter: Cutter,
}

impl Change for SetCutter {
    fn label(&self, _: &Job) -> String {
        format!("cutter {} → {}", self.was.name(), self.cutter.name())
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let place = found(job, &self.was)?;
        if self.was != self.cutter {
            new(job, &self.cutter)?;
        }
        job.cutters[place] = self.cutter;
        Ok(())
    }
}

#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemoveCutter {
    pub cutter: Cutter,
}

impl Change for RemoveCutter {
    fn label(&self, _: &Job) -> String {
        format!("cutter {} removed", self.cutter.name())
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let place = found(job, &self.cutter)?;
        job.cutters.remove(place);
        Ok(())
    }
}

fn found(job: &Job, cutter: &Cutter) -> Result<usize, Problem> {
    let missing = || Problem::Wrong(format!("The job has no cutter {} any more.", cutter.name()));
    job.cutters.iter().position(|c| c == cutter).ok_or_else(missing)
}

/// Two that look alike could not be told apart.
fn new(job: &Job, cutter: &Cutter) -> Result<(), Problem> {
    if job.cutters.contains(cutter) {
        return Err(Problem::Wrong(format!("The cutter {} is there already.", cutter.name())));
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::{
        Edit,
        tests::{bench, refused},
    };

    #[test]
    fn a_cutter_is_added_changed_and_removed_by_how_it_looks() {
        let (job, bench) = bench();
        let (wide, narrow) = (Cutter::straight(0.5), Cutter::straight(0.3));
        let job = Edit::AddCutter(AddCutter { cutter: wide }).apply(&job, &bench).unwrap();
        assert!(refused(&AddCutter { cutter: wide }, &job, &bench).contains("there already"));
        let job = Edit::SetCutter(SetCutter { was: wide, cutter: narrow }).apply(&job, &bench).unwrap();
        assert_eq!(job.cutters, [narrow]);
        let both = Edit::AddCutter(AddCutter { cutter: wide }).apply(&job, &bench).unwrap();
        assert!(refused(&SetCutter { was: wide, cutter: narrow }, &both, &bench).contains("there already"));
        assert!(refused(&RemoveCutter { cutter: wide }, &job, &bench).contains("any more"));
        let wrong = Edit::SetCutter(SetCutter { was: narrow, cutter: Cutter { taper: 80.0, ..narrow } });
        assert!(wrong.apply(&job, &bench).unwrap_err().to_string().contains("between 0 and 60"));
        assert!(Edit::RemoveCutter(RemoveCutter { cutter: narrow }).apply(&job, &bench).unwrap().cutters.is_empty());
    }
}
