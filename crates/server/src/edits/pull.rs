//! Which way the tool opens.

use super::Change;
use super::faces::surface;
use crate::problem::Problem;
use glam::DVec3;
use serde::{Deserialize, Serialize};
use solid::Surface;
use trade::{Job, Parting, Steel};
use utoipa::ToSchema;
use workbench::Bench;

/// Pull in part coordinates, any length.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetPull {
    pub direction: [f64; 3],
}

impl Change for SetPull {
    fn label(&self, _: &Job) -> String {
        "pull set".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.tool.pull = Some(self.direction);
        Ok(())
    }
}

/// Pull along a plane's normal or a cylinder's axis.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PullFromFace {
    pub face: u32,
}

impl Change for PullFromFace {
    fn label(&self, _: &Job) -> String {
        "pull set".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        job.tool.pull = Some(direction(bench, self.face)?);
        Ok(())
    }
}

/// The fixed half leaves the other way.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SwapHalves {}

impl Change for SwapHalves {
    fn label(&self, _: &Job) -> String {
        "halves swapped".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let pull = job.tool.pull.ok_or_else(|| {
            Problem::Wrong("There is no pull yet, so there are no halves to swap; set it first.".into())
        })?;
        // parting planes stay where they are: their heights are counted along the pull
        for parting in &mut job.tool.parting {
            if let Parting::Plane { height } = parting {
                *height = -*height;
            }
        }
        // so does what was given to the halves
        for given in &mut job.tool.assigned {
            given.to = match &given.to {
                Steel::Fixed => Steel::Moving,
                Steel::Moving => Steel::Fixed,
                slide @ Steel::Slide { .. } => slide.clone(),
            };
        }
        job.tool.pull = Some(pull.map(|c| 0.0 - c));
        Ok(())
    }
}

/// The direction a face has of itself, tidied.
pub(super) fn direction(bench: &Bench, face: u32) -> Result<[f64; 3], Problem> {
    let direction = match surface(bench, face)? {
        Surface::Plane { normal, .. } => *normal,
        Surface::Cylinder { axis, .. }
        | Surface::Torus { axis, .. }
        | Surface::Revolution { axis, .. }
        | Surface::Extrusion { axis, .. } => *axis,
        // out over the apex, the way a tapered part leaves its steel
        Surface::Cone { axis, .. } => -*axis,
        Surface::Sphere { .. } | Surface::Freeform => {
            return Err(Problem::Wrong(
                "This face has no direction of its own. Click a plane, a cylinder, a cone, a torus, a turned or an extruded face, or type the pull.".into(),
            ));
        }
    };
    Ok(tidy(direction).to_array())
}

/// A found direction freed of the rounding of single-precision files.
fn tidy(direction: DVec3) -> DVec3 {
    let near = direction.round();
    if near.length_squared() == 1.0 && direction.distance(near) < 1e-5 { near } else { direction }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::assigned::Assign;
    use crate::edits::tests::bench;
    use trade::Area;

    #[test]
    fn halves_change_places_when_the_pull_turns_and_strokes_of_a_brush_are_one_area() {
        let (mut job, bench) = bench();
        let stroke = |x: f64| Area::Painted { spots: vec![trade::Spot { at: [x, 0.0, 0.0], radius: 1.0 }] };
        Assign { area: stroke(1.0), to: Steel::Fixed }.apply(&mut job, &bench).unwrap();
        Assign { area: stroke(2.0), to: Steel::Fixed }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.tool.assigned.len(), 1);
        assert_eq!(job.tool.assigned[0].area.spots().len(), 2);
        SwapHalves {}.apply(&mut job, &bench).unwrap();
        assert_eq!(job.tool.assigned[0].to, Steel::Moving);
    }

    #[test]
    fn turning_the_pull_leaves_the_parting_plane_where_it_was() {
        let (mut job, bench) = bench();
        job.tool.parting = vec![Parting::Plane { height: 4.0 }];
        SwapHalves {}.apply(&mut job, &bench).unwrap();
        assert_eq!(job.tool.pull, Some([0.0, 0.0, -1.0]));
        assert_eq!(job.tool.parting, vec![Parting::Plane { height: -4.0 }]);
    }
}
