//! What the queue holds of a change of many jobs.

use crate::queue::{Queued, app};
use graphile_worker::{IntoTaskHandlerResult, TaskHandler, WorkerContext};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

/// The change tried on one job.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct TryJob {
    pub campaign: Uuid,
    pub job: Uuid,
}

/// The change made to one job.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct TakeJob {
    pub campaign: Uuid,
    pub job: Uuid,
}

impl TaskHandler for TryJob {
    const IDENTIFIER: &'static str = concat!("try_job ", env!("TINBADGE_MADE_FROM"));

    async fn run(self, context: WorkerContext) -> impl IntoTaskHandlerResult {
        app(&context)?.try_job(self.campaign, self.job).await.map_err(|problem| problem.to_string())
    }
}

impl TaskHandler for TakeJob {
    const IDENTIFIER: &'static str = concat!("take_job ", env!("TINBADGE_MADE_FROM"));

    async fn run(self, context: WorkerContext) -> impl IntoTaskHandlerResult {
        app(&context)?.take_job(self.campaign, self.job).await.map_err(|problem| problem.to_string())
    }
}

impl Queued for TryJob {
    fn key(&self) -> String {
        format!("try {} {}", self.campaign, self.job)
    }
}

impl Queued for TakeJob {
    fn key(&self) -> String {
        format!("take {} {}", self.campaign, self.job)
    }
}
