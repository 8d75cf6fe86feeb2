//! Areas that are assigned to a steel, whatever the pulls say.

use super::Change;
use super::faces::known_faces;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Area, Assigned, Job, Steel};
use utoipa::ToSchema;
use workbench::Bench;

/// An area is formed by a steel, whatever the pulls say.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Assign {
    pub area: Area,
    pub to: Steel,
}

impl Change for Assign {
    fn label(&self, _: &Job) -> String {
        format!("area assigned to {}", steel_name(&self.to))
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let Self { area, to } = self;
        known_faces(area, bench)?;
        match (job.tool.assigned.last_mut(), area) {
            // strokes of one brush are one area
            (Some(Assigned { area: Area::Painted { spots }, to: last }), Area::Painted { spots: more })
                if last == to =>
            {
                spots.extend(more);
            }
            _ => job.tool.assigned.push(Assigned { area: area.clone(), to: to.clone() }),
        }
        Ok(())
    }
}

/// Unassigns the area at a place of the list.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Unassign {
    pub at: usize,
}

impl Change for Unassign {
    fn label(&self, _: &Job) -> String {
        "area unassigned".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        if self.at >= job.tool.assigned.len() {
            return Err(Problem::Missing("That area is gone; somebody else may have unassigned it.".into()));
        }
        job.tool.assigned.remove(self.at);
        Ok(())
    }
}

pub(crate) fn steel_name(steel: &Steel) -> String {
    match steel {
        Steel::Fixed => "the fixed half".into(),
        Steel::Moving => "the moving half".into(),
        Steel::Slide { name } => name.clone(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::{
        Edit,
        tests::{bench, refused},
    };

    #[test]
    fn areas_are_assigned_to_steels_that_there_are_and_unassigned_by_their_place() {
        let (job, bench) = bench();
        let to = |face: u32, to: Steel| Assign { area: Area::Faces { faces: vec![face] }, to };
        let slide = Steel::Slide { name: "core".into() };
        let said = Edit::Assign(to(1, slide)).apply(&job, &bench).unwrap_err().to_string();
        assert!(said.contains("no slide “core”"), "{said}");
        assert!(refused(&to(99, Steel::Fixed), &job, &bench).contains("no face 99"));
        assert_eq!(to(0, Steel::Moving).label(&job), "area assigned to the moving half");

        let mut job = job;
        for face in [0, 1] {
            to(face, Steel::Moving).apply(&mut job, &bench).unwrap();
        }
        Unassign { at: 0 }.apply(&mut job, &bench).unwrap();
        let left = [Assigned { area: Area::Faces { faces: vec![1] }, to: Steel::Moving }];
        assert_eq!(job.tool.assigned, left);
        assert!(refused(&Unassign { at: 1 }, &job, &bench).contains("That area is gone"));
    }
}
