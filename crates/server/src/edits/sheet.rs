//! An open part taken as a sheet.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::SheetSide;
use utoipa::ToSchema;
use workbench::{Bench, Steps};

/// An open part is meant as a sheet without thickness, marked on one side; without a side it is not.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeAsSheet {
    pub side: Option<SheetSide>,
}

impl Change for TakeAsSheet {
    fn label(&self) -> String {
        match self.side {
            Some(_) => "part taken as a sheet".into(),
            None => "part not taken as a sheet".into(),
        }
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        if !job.marks.is_empty() {
            return Err(Problem::Wrong(
                "Marks stand on the side of the part that is its outside now. Remove them first.".into(),
            ));
        }
        if self.side.is_some() && !bench.part().soundness.is_sheet() {
            return Err(Problem::Wrong(
                "The part can't be a sheet: either it is closed, or more is wrong with it than open edges.".into(),
            ));
        }
        job.part.sheet = self.side;
        Ok(())
    }
}
