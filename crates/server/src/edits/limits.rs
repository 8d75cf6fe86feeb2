//! What the job is measured against.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::{OwnLimit, limits::Subject};
use utoipa::ToSchema;
use workbench::Bench;

/// A limit of the job's own.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetLimit {
    pub limit: OwnLimit,
}

impl Change for SetLimit {
    fn label(&self) -> String {
        "limit of the job's own".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.own_limits.retain(|o| o.subject != self.limit.subject);
        job.own_limits.push(self.limit.clone());
        Ok(())
    }
}

/// Back to what the limits say.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ResetLimit {
    pub subject: Subject,
}

impl Change for ResetLimit {
    fn label(&self) -> String {
        "limit as it was".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.own_limits.retain(|o| o.subject != self.subject);
        Ok(())
    }
}

/// Another limit set.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetLimits {
    pub limits: String,
}

impl Change for SetLimits {
    fn label(&self) -> String {
        format!("limits {}", self.limits)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.limits.clone_from(&self.limits);
        Ok(())
    }
}

/// From how far the marks are read.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetReadingDistance {
    pub mm: f64,
}

impl Change for SetReadingDistance {
    fn label(&self) -> String {
        format!("reading distance {} mm", self.mm)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.reading_distance = self.mm;
        Ok(())
    }
}
