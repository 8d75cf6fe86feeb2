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
    fn label(&self) -> String {
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
