//! An open part taken as a surface body.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{BodySide, Job};
use utoipa::ToSchema;
use workbench::{Bench, Steps};

/// An open part is meant as a surface body, marked on one side; without a side it is not.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeAsSurfaceBody {
    pub side: Option<BodySide>,
}

impl Change for TakeAsSurfaceBody {
    fn label(&self, _: &Job) -> String {
        match self.side {
            Some(_) => "part taken as a surface body".into(),
            None => "part not taken as a surface body".into(),
        }
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        if !job.marks.is_empty() {
            return Err(Problem::Wrong(
                "Marks stand on the side of the part that is its outside now. Remove them first.".into(),
            ));
        }
        if self.side.is_some() && !bench.part().soundness.is_surface_body() {
            return Err(Problem::Wrong(
                "The part can't be a surface body: either it is closed, or more is wrong with it than open edges."
                    .into(),
            ));
        }
        job.part.surface_body = self.side;
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, refused};
    use solid::Part;

    #[test]
    fn only_an_open_part_without_marks_is_taken_as_a_surface_body() {
        let (mut job, closed) = bench();
        let taken = TakeAsSurfaceBody { side: Some(BodySide::Front) };
        assert!(refused(&taken, &job, &closed).contains("Remove them first"));
        job.marks.clear();
        assert!(refused(&taken, &job, &closed).contains("it is closed"));
        // the block without one of its facets
        let mut mesh = demo::parts::plain_block();
        mesh.triangles.pop();
        let open = Bench::new(Part::from_mesh(&mesh).unwrap());
        taken.apply(&mut job, &open).unwrap();
        assert_eq!(job.part.surface_body, Some(BodySide::Front));
        TakeAsSurfaceBody { side: None }.apply(&mut job, &open).unwrap();
        assert_eq!(job.part.surface_body, None);
    }
}
