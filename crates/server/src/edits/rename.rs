//! The name of a job.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::Bench;

/// The job is called otherwise.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Rename {
    pub name: String,
}

impl Change for Rename {
    fn label(&self, _: &Job) -> String {
        format!("job renamed to “{}”", self.name)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let name = self.name.trim();
        if name.is_empty() || name.chars().count() > 200 {
            return Err(Problem::Wrong("A job's name has 1 to 200 characters.".into()));
        }
        job.name = name.into();
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::bench;

    #[test]
    fn a_name_is_trimmed_and_never_empty() {
        let (mut job, bench) = bench();
        Rename { name: " Cap ".into() }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.name, "Cap");
        for bad in [" ".to_owned(), "x".repeat(201)] {
            assert!(Rename { name: bad }.apply(&mut job, &bench).unwrap_err().to_string().contains("1 to 200"));
        }
    }
}
