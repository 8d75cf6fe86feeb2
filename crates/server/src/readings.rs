//! Parts that are being read: how far each is, for whoever waits, and stopped when nobody waits any
//! more.

use solid::{Stage, Stopped, Watch};
use std::{
    collections::HashMap,
    sync::{
        Arc, Mutex, PoisonError,
        atomic::{AtomicBool, AtomicU8, Ordering},
    },
};
use uuid::Uuid;

const STAGES: [(Stage, &str); 4] = [
    (Stage::Reading, "reading the file"),
    (Stage::Joining, "joining vertices"),
    (Stage::Soundness, "looking for open edges and crossings"),
    (Stage::Faces, "looking for faces"),
];

#[derive(Default)]
pub struct Reading {
    stage: AtomicU8,
    percent: AtomicU8,
    stopped: AtomicBool,
}

impl Watch for Reading {
    fn reached(&self, stage: Stage, share: f64) -> Result<(), Stopped> {
        let at = STAGES.iter().position(|(s, _)| *s == stage).unwrap_or_default();
        self.stage.store(at as u8, Ordering::Relaxed);
        self.percent.store((100.0 * share) as u8, Ordering::Relaxed);
        if self.stopped.load(Ordering::Relaxed) { Err(Stopped) } else { Ok(()) }
    }
}

impl Reading {
    /// The stage in words, and percent of it.
    #[must_use]
    pub fn told(&self) -> (&'static str, u8) {
        let stage = self.stage.load(Ordering::Relaxed) as usize;
        (STAGES[stage.min(STAGES.len() - 1)].1, self.percent.load(Ordering::Relaxed))
    }
}

/// Readings by the ticket that whoever asked for them drew.
#[derive(Default)]
pub struct Readings(Arc<Mutex<HashMap<Uuid, Arc<Reading>>>>);

/// Held by the request that wants the part: when it ends, however it ends, the reading is stopped.
pub struct Waiting {
    pub reading: Arc<Reading>,
    ticket: Option<Uuid>,
    all: Arc<Mutex<HashMap<Uuid, Arc<Reading>>>>,
}

impl Readings {
    #[must_use]
    pub fn begin(&self, ticket: Option<Uuid>) -> Waiting {
        let reading = Arc::new(Reading::default());
        if let Some(ticket) = ticket {
            self.0.lock().unwrap_or_else(PoisonError::into_inner).insert(ticket, reading.clone());
        }
        Waiting { reading, ticket, all: self.0.clone() }
    }

    #[must_use]
    pub fn get(&self, ticket: Uuid) -> Option<Arc<Reading>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).get(&ticket).cloned()
    }
}

impl Drop for Waiting {
    fn drop(&mut self) {
        self.reading.stopped.store(true, Ordering::Relaxed);
        if let Some(ticket) = self.ticket {
            self.all.lock().unwrap_or_else(PoisonError::into_inner).remove(&ticket);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use solid::{Part, PartError};

    #[test]
    fn a_reading_that_nobody_waits_for_is_stopped_and_forgotten() {
        let readings = Readings::default();
        let ticket = Uuid::new_v4();
        let waiting = readings.begin(Some(ticket));
        let reading = waiting.reading.clone();
        let bytes = solid::formats::stl::write(&demo::parts::valve_body());
        let unit = Some(trade::Unit::Mm);
        assert!(Part::read_mended("valve.stl", &bytes, unit, &[], &*reading).is_ok());
        assert_eq!(readings.get(ticket).unwrap().told().0, "looking for faces");
        drop(waiting);
        assert!(readings.get(ticket).is_none());
        let stopped = Part::read_mended("valve.stl", &bytes, unit, &[], &*reading);
        assert!(matches!(stopped, Err(PartError::Stopped)));
    }
}
