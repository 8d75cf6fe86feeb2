//! Who waits for whom: work off the request threads, the steps of a job, parts that are put on their benches.

use crate::{app::App, meter::UnderWay, newest::hold, problem::Problem, readings::Reading};
use solid::Part;
use std::{
    collections::HashMap,
    sync::{Arc, Mutex},
};
use tokio::sync::{Mutex as AsyncMutex, MutexGuard, OwnedSemaphorePermit, Semaphore};
use uuid::Uuid;

/// One change of a job is worked out at a time, one solid joined, one inspected and one handed off; who waits takes the
/// newest state.
#[derive(Default)]
pub(crate) struct Turns {
    pub(crate) editing: AsyncMutex<()>,
    pub(crate) joining: AsyncMutex<()>,
    pub(crate) inspecting: AsyncMutex<()>,
    pub(crate) handing: AsyncMutex<()>,
}

/// Parts that are being put on their benches, by what tells them apart.
#[derive(Default)]
pub(crate) struct Openings(Mutex<HashMap<String, Arc<AsyncMutex<()>>>>);

impl Openings {
    pub(crate) fn of(&self, key: &str) -> Opening<'_> {
        let turn = hold(&self.0).entry(key.into()).or_default().clone();
        Opening { all: self, key: key.into(), turn }
    }
}

/// Somebody who waits for a part, or reads it; the last one who does leaves nothing behind.
pub(crate) struct Opening<'a> {
    all: &'a Openings,
    key: String,
    turn: Arc<AsyncMutex<()>>,
}

impl Opening<'_> {
    pub(crate) async fn turn(&self) -> MutexGuard<'_, ()> {
        self.turn.lock().await
    }
}

impl Drop for Opening<'_> {
    fn drop(&mut self) {
        let mut all = hold(&self.all.0);
        // the map's and our own
        if Arc::strong_count(&self.turn) <= 2 {
            all.remove(&self.key);
        }
    }
}

/// Triangles from which on a part is a very large one.
const LARGE: usize = 300_000;

/// Heavy work at one time, by what waits for it.
pub(crate) struct Pool {
    /// What a person waits for at this moment: edits, and where they lie on the part. Nothing that may take long.
    quick: Arc<Semaphore>,
    /// What is asked for and can wait a little: findings, pictures, files, rows.
    later: Arc<Semaphore>,
    /// On very large parts: less than all, whichever kind.
    large: Arc<Semaphore>,
    /// Files that are read, each in a process of its own.
    reading: Arc<Semaphore>,
}

impl Pool {
    pub(crate) fn new() -> Self {
        let cores = std::thread::available_parallelism().map_or(2, usize::from);
        let turns = |count| Arc::new(Semaphore::new(count));
        Self {
            quick: turns(cores),
            later: turns(cores),
            large: turns(cores.saturating_sub(1).max(1)),
            reading: turns(cores),
        }
    }
}

impl App {
    /// Runs work that a person waits for off the request threads. A panic in it ends that work only.
    ///
    /// # Errors
    /// The work panicked.
    pub async fn heavy<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        let gauge = self.meter.working.clone();
        in_turn(&self.pool.quick, move || {
            let _under_way = UnderWay::on(&gauge);
            work()
        })
        .await
    }

    /// As [`App::heavy`], for work on a part: on a very large one it may take minutes, and leaves a turn to what is done on
    /// others.
    ///
    /// # Errors
    /// The work panicked.
    pub async fn heavy_on<T: Send + 'static>(
        &self,
        part: &Part,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let turn = self.large_turn(part).await;
        self.heavy(move || {
            let _turn = turn;
            work()
        })
        .await
    }

    /// Runs work that can wait a little; edits don't wait behind it.
    ///
    /// # Errors
    /// The work panicked.
    pub async fn later<T: Send + 'static>(
        &self,
        part: &Part,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let (turn, gauge) = (self.large_turn(part).await, self.meter.working.clone());
        in_turn(&self.pool.later, move || {
            let (_turn, _under_way) = (turn, UnderWay::on(&gauge));
            work()
        })
        .await
    }

    async fn large_turn(&self, part: &Part) -> Option<OwnedSemaphorePermit> {
        if part.mesh.triangles.len() < LARGE {
            return None;
        }
        Some(self.pool.large.clone().acquire_owned().await.expect("turns are never closed"))
    }

    /// Reads a file in a process of its own; where whoever asked for it waits no more, the reading is ended.
    ///
    /// # Errors
    /// The reading panicked.
    pub async fn read_apart<T: Send + 'static>(
        &self,
        ticket: Option<Uuid>,
        read: impl FnOnce(&Reading) -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let waiting = self.readings.begin(ticket);
        let (reading, gauge) = (waiting.reading.clone(), self.meter.reading.clone());
        in_turn(&self.pool.reading, move || {
            let _under_way = UnderWay::on(&gauge);
            read(&reading)
        })
        .await
    }
}

/// Runs work off the request threads when its turn comes. The turn lasts as long as the work, also where nobody waits for it
/// any more.
async fn in_turn<T: Send + 'static>(
    turns: &Arc<Semaphore>,
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Problem> {
    let turn = turns.clone().acquire_owned().await.expect("turns are never closed");
    let work = move || {
        let _turn = turn;
        work()
    };
    tokio::task::spawn_blocking(work).await.map_err(|e| Problem::Panicked(why(e)))
}

fn why(error: tokio::task::JoinError) -> String {
    if !error.is_panic() {
        return "it was stopped".into();
    }
    let panic = error.into_panic();
    panic
        .downcast_ref::<String>()
        .cloned()
        .or_else(|| panic.downcast_ref::<&str>().map(|s| (*s).to_owned()))
        .unwrap_or_else(|| "no reason given".into())
}
