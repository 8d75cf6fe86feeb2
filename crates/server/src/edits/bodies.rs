//! Which bodies of a file make up the part.

use super::Change;
use super::holding::unmarked;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::{Bench, Steps};

/// Which bodies of the file make up the part, by their places.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeBodies {
    pub bodies: Vec<u32>,
}

impl Change for TakeBodies {
    fn label(&self, _: &Job) -> String {
        "bodies chosen".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        job.part.bodies = Some(take(job, bench, &self.bodies)?);
        Ok(())
    }
}

/// The chosen bodies in order, if the file has them and no mark sits on those taken now.
fn take(job: &Job, bench: &Bench, bodies: &[u32]) -> Result<Vec<u32>, Problem> {
    let count = bench.part().bodies.len();
    if count < 2 {
        return Err(Problem::Wrong("The part file holds one body only; there is nothing to choose.".into()));
    }
    unmarked(job)?;
    let mut bodies = bodies.to_vec();
    bodies.sort_unstable();
    bodies.dedup();
    if bodies.is_empty() || bodies.iter().any(|&b| b as usize >= count) {
        return Err(Problem::Wrong(format!("Choose at least one of the {count} bodies, by their places from 0.")));
    }
    Ok(bodies)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, refused};
    use solid::PartBody;

    #[test]
    fn bodies_are_chosen_by_their_places_while_no_mark_sits_on_them() {
        let (mut job, one) = bench();
        let choose = |bodies: &[u32]| TakeBodies { bodies: bodies.to_vec() };
        assert!(refused(&choose(&[0]), &job, &one).contains("one body only"));
        let mut part = (**one.part()).clone();
        let body = |name: &str| PartBody { name: name.into(), solid: true, volume: 1.0, taken: true };
        part.bodies = ["cap", "seal", "clip"].map(body).to_vec();
        let three = Bench::new(part);
        assert!(refused(&choose(&[0]), &job, &three).contains("Remove the marks first"));
        job.marks.clear();
        choose(&[2, 0, 2]).apply(&mut job, &three).unwrap();
        assert_eq!(job.part.bodies, Some(vec![0, 2]));
        for wrong in [&[][..], &[3]] {
            assert!(refused(&choose(wrong), &job, &three).contains("one of the 3 bodies"));
        }
    }
}
