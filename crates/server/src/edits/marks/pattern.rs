//! The marks of a pattern.

use super::super::Change;
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use trade::{Job, Pattern, SeatRef};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// The marks of a pattern on a face, tied as they were kept.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlacePattern {
    pub pattern: Pattern,
    pub face: u32,
}

impl Change for PlacePattern {
    fn label(&self, _: &Job) -> String {
        format!("pattern “{}” applied", self.pattern.name)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let seat = SeatRef::on(self.face);
        bench.seat(&seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
        self.pattern.place(job, &seat);
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, refused};
    use glam::DVec3;

    #[test]
    fn a_pattern_goes_on_the_face_that_was_clicked() {
        let (mut job, bench) = bench();
        let kept = Pattern::of(&job, &[job.marks[0].id.clone()], "number").unwrap();
        let side = facing(&bench, DVec3::NEG_Y);
        PlacePattern { pattern: kept.clone(), face: side }.apply(&mut job, &bench).unwrap();
        let [own, placed] = &job.marks[..] else { panic!("{} marks", job.marks.len()) };
        assert_eq!((placed.seat.clone(), placed.text.as_str()), (SeatRef::on(side), own.text.as_str()));
        assert!(placed.id != own.id && placed.lettering == own.lettering);
        let edit = PlacePattern { pattern: kept, face: 99 };
        assert!(refused(&edit, &job, &bench).contains("no face 99"));
        assert_eq!(edit.label(&job), "pattern “number” applied");
    }
}
