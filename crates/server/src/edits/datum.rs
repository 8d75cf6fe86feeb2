//! From where the toolmaker measures.

use super::Change;
use crate::problem::Problem;
use glam::DVec3;
use serde::{Deserialize, Serialize};
use solid::Surface;
use trade::{Datum, Job};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// Another zero.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetDatum {
    pub datum: Datum,
}

impl Change for SetDatum {
    fn label(&self, _: &Job) -> String {
        "zero of the tool".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.datum = self.datum;
        Ok(())
    }
}

/// The zero on the axis of a round face, a hole or a boss, or in the middle of a ball; on a plane in its middle. Along the pull
/// it lies on the parting plane, where one is set, else as far as the part's zero.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DatumAtFace {
    pub face: u32,
}

impl Change for DatumAtFace {
    fn label(&self, _: &Job) -> String {
        "zero of the tool at a face".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let part = bench.part();
        let face = part.faces.get(self.face as usize);
        let face = face.ok_or_else(|| Problem::Wrong("The part has no such face.".into()))?;
        let pull = unit_pull(&job.tool).ok_or_else(|| Problem::Wrong("Set the pull first.".into()))?;
        let along = |origin: DVec3, axis: DVec3| match axis.dot(pull).abs() > 0.999 {
            true => Ok(origin),
            false => Err(Problem::Wrong("Its axis does not run along the pull; take a face whose axis does.".into())),
        };
        let at = match face.surface {
            Surface::Cylinder { origin, axis, .. } => along(origin, axis)?,
            Surface::Cone { apex, axis, .. } => along(apex, axis)?,
            Surface::Torus { centre, axis, .. } => along(centre, axis)?,
            Surface::Revolution { origin, axis, .. } => along(origin, axis)?,
            Surface::Sphere { centre, .. } => centre,
            Surface::Plane { .. } | Surface::Extrusion { .. } | Surface::Freeform => middle(bench, self.face),
        };
        let at = at + pull * (job.tool.parting_plane().unwrap_or_default() - at.dot(pull));
        // a thousandth of a µm: what is left of turning axes is no figure
        job.datum = Datum::Point { at: at.to_array().map(|c| (c * 1e6).round() / 1e6 + 0.0) };
        Ok(())
    }
}

/// The middle of a face's extents.
fn middle(bench: &Bench, face: u32) -> DVec3 {
    let part = bench.part();
    let own = part.face_of.iter().enumerate().filter(|(_, f)| **f == face).map(|(t, _)| part.mesh.corners(t));
    let start = (DVec3::INFINITY, DVec3::NEG_INFINITY);
    let (low, high) = own.flatten().fold(start, |(low, high), p| (low.min(p), high.max(p)));
    (low + high) / 2.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, refused};
    use trade::Parting;

    #[test]
    fn a_face_gives_the_zero_and_the_parting_plane_its_height() {
        let (mut job, bench) = bench();
        let top = facing(&bench, DVec3::Z);
        // a block of 60 × 30 × 12 from the origin
        DatumAtFace { face: top }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.datum, Datum::Point { at: [30.0, 15.0, 0.0] });
        job.tool.parting = vec![Parting::Plane { height: 5.0 }];
        DatumAtFace { face: top }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.datum, Datum::Point { at: [30.0, 15.0, 5.0] });
        SetDatum { datum: Datum::Zero }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.datum, Datum::Zero);
        assert!(refused(&DatumAtFace { face: 999 }, &job, &bench).contains("no such face"));
    }
}
