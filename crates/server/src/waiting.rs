//! Work that runs elsewhere is told when nobody waits for it any more.

use solid::{Stage, Stopped, Watch};
use std::sync::{
    Arc,
    atomic::{AtomicBool, Ordering},
};

/// Held by the request that waits: when it ends, however it ends, the work is stopped.
#[derive(Default)]
pub struct Waiting(Arc<AtomicBool>);

impl Waiting {
    /// What the work looks at.
    #[must_use]
    pub fn stopped(&self) -> Arc<AtomicBool> {
        self.0.clone()
    }
}

impl Drop for Waiting {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

/// Leaves off when nobody waits.
pub struct WhileWaited(pub Arc<AtomicBool>);

impl Watch for WhileWaited {
    fn reached(&self, _: Stage, _: f64) -> Result<(), Stopped> {
        if self.0.load(Ordering::Relaxed) { Err(Stopped) } else { Ok(()) }
    }
}
