//! What the queue holds of a run over all rows.

use crate::queue::{Queued, app};
use graphile_worker::{IntoTaskHandlerResult, TaskHandler, WorkerContext};
use serde::{Deserialize, Serialize};
use time::Date;
use uuid::Uuid;

/// The rows of a job as they stand, each put into the queue that is not done.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct PlanRows {
    pub job: Uuid,
}

/// One row of a job.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct DoRow {
    pub job: Uuid,
    /// Of which state of the job.
    pub state: i64,
    pub row: u32,
    pub digest: String,
    pub day: Date,
}

impl TaskHandler for PlanRows {
    // a worker of another version makes other things of a row
    const IDENTIFIER: &'static str = concat!("plan_rows ", env!("TINBADGE_MADE_FROM"));

    async fn run(self, context: WorkerContext) -> impl IntoTaskHandlerResult {
        app(&context)?.plan_rows(self.job).await.map_err(|problem| problem.to_string())
    }
}

impl TaskHandler for DoRow {
    const IDENTIFIER: &'static str = concat!("do_row ", env!("TINBADGE_MADE_FROM"));

    async fn run(self, context: WorkerContext) -> impl IntoTaskHandlerResult {
        app(&context)?.do_row(self).await.map_err(|problem| problem.to_string())
    }
}

impl Queued for PlanRows {
    fn key(&self) -> String {
        format!("plan {}", self.job)
    }
}

impl Queued for DoRow {
    fn key(&self) -> String {
        row_key(self.job, &self.digest)
    }
}

pub(super) fn row_key(job: Uuid, digest: &str) -> String {
    format!("row {job} {digest}")
}
