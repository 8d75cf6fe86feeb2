//! Cuts that are kept for a record, worked out anew from how they lie.

use crate::SectionRecord;
use glam::DVec3;
use trade::Job;
use workbench::{
    Bench, Outcome, Steps,
    section::{
        Laid, measured, of_outcome,
        said::{self, Names},
        wished,
    },
    unit_pull,
};

/// How a cut lies, and which places were pressed on it, mm.
pub struct SectionWish {
    pub mark: String,
    pub lies: Laid,
    pub places: Vec<DVec3>,
}

/// The cut, with what its places tell; `job` is filled for the row that `outcome` is of. `None` where the mark is not built.
#[must_use]
pub fn section(bench: &Bench, outcome: &Outcome, job: &Job, wish: &SectionWish) -> Option<SectionRecord> {
    let at = outcome.marks.iter().position(|m| m.id == wish.mark)?;
    let built = outcome.marks[at].built.as_deref()?;
    let (laid, _) = wished(outcome, at, &wish.lies)?;
    let pull = built.pull.or(unit_pull(&job.tool));
    let cut = of_outcome(bench, outcome, laid.plane, pull);
    let names = Names { job, part: bench.part(), outcome: Some(outcome) };
    let far = wish.places.iter().map(|p| p.distance(laid.at)).fold(0.0, f64::max);
    // a cut that lies rather level shows the letter, else its relief
    let wide = if wish.lies.tilt_deg > 45.0 { 3.2 * built.placed.cap_height } else { 8.0 * built.mark.relief.height };
    Some(SectionRecord {
        mark: wish.mark.clone(),
        normal: laid.plane.normal.to_array(),
        height: laid.plane.height,
        at: laid.at.to_array(),
        eye: laid.eye.to_array(),
        up: laid.up.to_array(),
        wide: wide.max(2.6 * far).max(2.0),
        places: wish.places.iter().map(|p| p.to_array()).collect(),
        says: said::measured(&cut, &measured(&cut, laid.up, &wish.places), pull, names),
    })
}
