//! Who waits for whom: work off the request threads, the steps of a job, parts that are put on their benches.

use crate::{newest::hold, problem::Problem};
use std::{
    collections::HashMap,
    sync::{Arc, Mutex},
};
use tokio::sync::{Mutex as AsyncMutex, MutexGuard, Semaphore};

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

/// Runs work off the request threads when its turn comes. The turn lasts as long as the work, also where nobody waits for it
/// any more.
pub(crate) async fn in_turn<T: Send + 'static>(
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
