//! The queue of what is to be done in the background. It stands in the database, so that any number of workers on any
//! machines share it, and what a worker leaves undone when it ends another one does.

use crate::{
    app::Shared,
    campaign::{TakeJob, TryJob},
    problem::Problem,
    rows::{DoRow, PlanRows},
    store::Store,
};
use graphile_worker::worker_utils::types::CleanupTask;
use graphile_worker::{TaskHandler, Worker, WorkerBuildError, WorkerContext, WorkerOptions, WorkerRecoveryConfig};
use sea_orm::{ConnectionTrait, Statement};
use serde::Serialize;
use std::{fmt, time::Duration};
use tokio_util::sync::CancellationToken;

/// How often a worker says that it is alive, and after how long without it its work is given to others.
const HEARTBEAT: Duration = Duration::from_secs(2);
const GIVEN_UP: Duration = Duration::from_secs(12);

/// Of what the queue keeps of a task that can't be done, e.g. since the database was gone.
const MOST_TRIES: i32 = 12;

/// What the workers work for.
#[derive(Clone)]
struct Works(Shared);

impl fmt::Debug for Works {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("Works")
    }
}

pub(crate) fn app(context: &WorkerContext) -> Result<Shared, String> {
    context.get_ext::<Works>().map(|works| works.0.clone()).ok_or_else(|| "the worker works for nobody".into())
}

/// A task as the queue's own function takes it.
#[derive(Serialize)]
struct Spec {
    identifier: &'static str,
    payload: serde_json::Value,
    max_attempts: i32,
    job_key: String,
}

/// A task that stands in the queue once under its key.
pub(crate) trait Queued: TaskHandler + Serialize {
    fn key(&self) -> String;
}

/// Puts tasks into the queue when the transaction of `connection` commits.
///
/// # Errors
/// The database does not answer.
pub(crate) async fn enqueue<T: Queued>(connection: &impl ConnectionTrait, tasks: &[T]) -> Result<(), Problem> {
    if tasks.is_empty() {
        return Ok(());
    }
    let spec = |task: &T| Spec {
        identifier: T::IDENTIFIER,
        payload: serde_json::to_value(task).expect("ids, dates and words only"),
        max_attempts: MOST_TRIES,
        job_key: task.key(),
    };
    let specs: Vec<Spec> = tasks.iter().map(spec).collect();
    let statement = Statement::from_sql_and_values(
        connection.get_database_backend(),
        "SELECT count(*) FROM graphile_worker.add_jobs(ARRAY(
             SELECT s FROM jsonb_populate_recordset(NULL::graphile_worker.job_spec, $1) s))",
        [serde_json::to_value(specs).expect("words and numbers only").into()],
    );
    connection.execute_raw(statement).await?;
    Ok(())
}

/// Takes tasks out of the queue again that nobody has begun, by their keys.
///
/// # Errors
/// The database does not answer.
pub(crate) async fn dequeue(connection: &impl ConnectionTrait, keys: Vec<String>) -> Result<(), Problem> {
    let statement = Statement::from_sql_and_values(
        connection.get_database_backend(),
        "SELECT count(graphile_worker.remove_job(key)) FROM jsonb_array_elements_text($1) key",
        [serde_json::to_value(keys).expect("words only").into()],
    );
    connection.execute_raw(statement).await?;
    Ok(())
}

impl Store {
    /// How many tasks stand in the queue, those under way among them.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn queued(&self) -> Result<i64, Problem> {
        let backend = self.database.get_database_backend();
        let count = Statement::from_string(
            backend,
            "SELECT count(*) FROM graphile_worker.jobs WHERE attempts < max_attempts OR locked_at IS NOT NULL",
        );
        let row = self.database.query_one_raw(count).await?;
        Ok(row.map(|row| row.try_get_by_index(0)).transpose()?.unwrap_or_default())
    }
}

/// Makes the queue where there is none yet, takes out what was given up, and has the rows planned anew of runs that may be of
/// another version of the program.
///
/// # Errors
/// The database does not answer.
pub(crate) async fn prepare(app: &Shared) -> Result<(), String> {
    let worker = worker(app, 1, CancellationToken::new()).await.map_err(|e| e.to_string())?;
    let given_up = [CleanupTask::DeletePermanentlyFailedJobs];
    worker.create_utils().cleanup(&given_up).await.map_err(|e| e.to_string())?;
    app.store.plan_runs().await.map_err(|e| e.to_string())?;
    app.store.plan_campaigns().await.map_err(|e| e.to_string())
}

/// A worker that does so many tasks at once until `stop`; making it makes the queue.
async fn worker(app: &Shared, at_once: usize, stop: CancellationToken) -> Result<Worker, WorkerBuildError> {
    let recovery = WorkerRecoveryConfig::default()
        .enabled(true)
        .heartbeat_interval(HEARTBEAT)
        .sweep_interval(2 * HEARTBEAT)
        .sweep_threshold(GIVEN_UP)
        .recovery_delay(Duration::ZERO);
    WorkerOptions::default()
        .concurrency(at_once.max(1))
        .pg_pool(app.store.database.get_postgres_connection_pool().clone())
        .worker_recovery(recovery)
        .listen_os_shutdown_signals(false)
        .shutdown_signal(stop.cancelled_owned())
        // the process ends at once where it is asked to
        .shutdown_grace_period(Duration::ZERO)
        .shutdown_interrupted_job_retry_delay(Duration::ZERO)
        .add_extension(Works(app.clone()))
        .define_job::<PlanRows>()
        .define_job::<DoRow>()
        .define_job::<TryJob>()
        .define_job::<TakeJob>()
        .init()
        .await
}

/// Does what stands in the queue until `stop`.
pub(crate) async fn work(app: Shared, at_once: usize, stop: CancellationToken) {
    while !stop.is_cancelled() {
        let ended = match worker(&app, at_once, stop.clone()).await {
            Ok(worker) => worker.run().await.map_err(|e| e.to_string()),
            Err(problem) => Err(problem.to_string()),
        };
        if let Err(problem) = ended {
            tracing::warn!("working through the queue: {problem}; trying again");
            tokio::time::sleep(Duration::from_secs(1)).await;
        }
    }
}
