//! A mark once more.

use super::{super::Change, called, find, placed};
use crate::problem::Problem;
use glam::DVec2;
use serde::{Deserialize, Serialize};
use trade::{Baseline, Job};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// The mark once more, clear of itself.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CopyMark {
    pub id: String,
}

impl Change for CopyMark {
    fn label(&self, job: &Job) -> String {
        format!("{} copied", called(job, &self.id))
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let mut copy = job.marks[at].clone();
        copy.id = job.fresh_id(&self.id);
        // clear of the original: below it by one and a half capitals
        let step = 1.5 * copy.lettering.cap_height;
        if let Baseline::Arc { radius, .. } = &mut copy.place.baseline {
            *radius += step;
        } else if let Ok(seat) = bench.seat(&copy.seat, unit_pull(&job.tool))
            && let Ok(placed) = placed(job, bench, &job.marks[at], &seat)
        {
            let by = if matches!(copy.place.baseline, Baseline::Edge { .. }) { step } else { -step };
            copy.place = relief::place::shifted(&copy.place, &placed, &seat, DVec2::Y * by);
        }
        job.marks.insert(at + 1, copy);
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, middle, refused};
    use trade::{Justify, Tops};

    #[test]
    fn a_copy_is_clear_of_its_mark_by_half_a_capital() {
        let (mut job, bench) = bench();
        let id = job.marks[0].id.clone();
        let step = 1.5 * job.marks[0].lettering.cap_height;
        CopyMark { id: id.clone() }.apply(&mut job, &bench).unwrap();
        let [own, copy] = [0, 1].map(|k| middle(&job, &bench, &job.marks[k]));
        assert!((own - copy).distance(glam::DVec3::Y * step) < 0.011, "{own} {copy}");
        // on a circle it stands outside of it
        let arc = Baseline::Arc { radius: 9.0, tops: Tops::Out, share: 50.0, stands: Justify::Middle, bent: false };
        job.marks[0].place.baseline = arc;
        CopyMark { id }.apply(&mut job, &bench).unwrap();
        let Baseline::Arc { radius, .. } = job.marks[1].place.baseline else { panic!("no arc") };
        assert!((radius - 9.0 - step).abs() < 1e-9, "{radius}");
        assert!(refused(&CopyMark { id: "nobody".into() }, &job, &bench).contains("no mark “nobody”"));
    }
}
