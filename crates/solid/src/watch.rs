//! Somebody watches a part being read: is told how far it is, and can stop it.

use serde::{Deserialize, Serialize};

/// What is being done, in this order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum Stage {
    /// The file becomes triangles.
    Reading,
    /// Vertices are joined, mends made.
    Joining,
    /// Open edges and crossings are looked for.
    Soundness,
    /// Faces are looked for.
    Faces,
}

/// Whoever waits does so no more.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Stopped;

pub trait Watch: Sync {
    /// `share` of the stage is done, 0 to 1.
    ///
    /// # Errors
    /// [`Stopped`]: leave off.
    fn reached(&self, stage: Stage, share: f64) -> Result<(), Stopped>;
}

/// Nobody watches.
pub struct Unwatched;

impl Watch for Unwatched {
    fn reached(&self, _: Stage, _: f64) -> Result<(), Stopped> {
        Ok(())
    }
}
