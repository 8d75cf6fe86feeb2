//! Areas that are given to a steel, whatever the pulls say.

use super::Change;
use super::faces::known_faces;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::{Area, Given, Steel};
use utoipa::ToSchema;
use workbench::Bench;

/// An area is formed by a steel, whatever the pulls say.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Give {
    pub area: Area,
    pub to: Steel,
}

impl Change for Give {
    fn label(&self) -> String {
        format!("area given to {}", steel_name(&self.to))
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let Self { area, to } = self;
        known_faces(area, bench)?;
        match (job.tool.given.last_mut(), area) {
            // strokes of one brush are one area
            (Some(Given { area: Area::Painted { spots }, to: last }), Area::Painted { spots: more }) if last == to => {
                spots.extend(more);
            }
            _ => job.tool.given.push(Given { area: area.clone(), to: to.clone() }),
        }
        Ok(())
    }
}

/// Takes back what was given at a place of the list.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeBack {
    pub at: usize,
}

impl Change for TakeBack {
    fn label(&self) -> String {
        "given area taken back".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        if self.at >= job.tool.given.len() {
            return Err(Problem::Missing("That area is gone; somebody else may have taken it back.".into()));
        }
        job.tool.given.remove(self.at);
        Ok(())
    }
}

pub(crate) fn steel_name(steel: &Steel) -> String {
    match steel {
        Steel::First => "the first half".into(),
        Steel::Second => "the second half".into(),
        Steel::Slide { name } => name.clone(),
    }
}
