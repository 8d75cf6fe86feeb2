//! A reading that is stopped, by itself in its program: no process is left of it.

mod tangled;

use solid::{PartError, Stage, Stopped, Watch};
use std::{
    sync::atomic::{AtomicU32, Ordering},
    time::Instant,
};
use tangled::tangled;
use trade::{PartRef, Unit};

/// Somebody who waits no more once the stage is reached.
struct Until(Stage, AtomicU32);

impl Watch for Until {
    fn reached(&self, stage: Stage, _: f64) -> Result<(), Stopped> {
        self.1.fetch_add(1, Ordering::Relaxed);
        if stage >= self.0 { Err(Stopped) } else { Ok(()) }
    }
}

/// Processes that this one started and that still run, or wait to be asked how they ended.
fn children() -> usize {
    let own = std::process::id().to_string();
    let parents = std::fs::read_dir("/proc").unwrap().filter_map(|entry| {
        let status = std::fs::read_to_string(entry.ok()?.path().join("status")).ok()?;
        Some(status.lines().find_map(|l| l.strip_prefix("PPid:"))?.trim().to_owned())
    });
    parents.filter(|parent| *parent == own).count()
}

#[test]
fn a_reading_that_is_stopped_leaves_no_process() {
    let until = Until(Stage::Soundness, AtomicU32::new(0));
    let begun = Instant::now();
    let read = reader::part(&tangled(200_000), &PartRef::of_file("part.stl", Some(Unit::Mm)), &until);
    assert!(matches!(read, Err(PartError::Stopped)), "{:?}", read.err());
    assert!(until.1.load(Ordering::Relaxed) > 1, "it was asked more than once");
    // to its end it would take minutes
    assert!(begun.elapsed().as_secs() < 60);
    assert_eq!(children(), 0);
}
