//! How lettering bodies are handed off.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::Bench;

/// Lettering bodies are handed off letter by letter, or those of a mark joined to one.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetLettersApart {
    pub apart: bool,
}

impl Change for SetLettersApart {
    fn label(&self, _: &Job) -> String {
        match self.apart {
            true => "letters handed off one by one".into(),
            false => "letters of a mark handed off as one".into(),
        }
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.letters_apart = self.apart;
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::bench;

    #[test]
    fn letters_are_handed_off_one_by_one_and_as_one_again() {
        let (mut job, bench) = bench();
        let edit = |apart: bool| SetLettersApart { apart };
        for apart in [true, false] {
            edit(apart).apply(&mut job, &bench).unwrap();
            assert_eq!(job.letters_apart, apart);
        }
        assert_ne!(edit(true).label(&job), edit(false).label(&job));
    }
}
