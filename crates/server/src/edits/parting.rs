//! Parting lines.

use super::Change;
use crate::problem::Problem;
use glam::DVec3;
use serde::{Deserialize, Serialize};
use trade::{Job, Parting};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// One more parting line.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AddParting {
    pub parting: Parting,
}

impl Change for AddParting {
    fn label(&self, _: &Job) -> String {
        "parting line added".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.tool.parting.push(self.parting.clone());
        Ok(())
    }
}

/// A parting plane through a point of the part, mm; on a face that lies square to the pull it is the face's own plane.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PartingAt {
    pub point: [f64; 3],
}

impl Change for PartingAt {
    fn label(&self, _: &Job) -> String {
        "parting line added".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        /// A face that leans less lies square to the pull: facets are single precision.
        const SQUARE: f64 = 1e-9;
        let pull = unit_pull(&job.tool)
            .ok_or_else(|| Problem::Wrong("Set the pull first: a parting plane lies square to it.".into()))?;
        let rounded = |v: f64, places: i32| (v * 10_f64.powi(places)).round() / 10_f64.powi(places);
        let point = DVec3::from(self.point);
        let part = bench.part();
        let hit = bench.queries().nearest(point, 0.1).map(|hit| hit.triangle as usize);
        let flush = hit.filter(|&t| 1.0 - part.mesh.normal(t).dot(pull).abs() < SQUARE);
        let height = flush.map_or_else(
            || rounded(point.dot(pull), 3),
            |t| {
                let own = part.mesh.centroid(t).dot(pull);
                // as it is drawn, where the file's precision is all that is between
                if (rounded(own, 3) - own).abs() < 2e-6 { rounded(own, 3) } else { rounded(own, 6) }
            },
        );
        job.tool.parting.push(Parting::Plane { height });
        Ok(())
    }
}

/// A parting line runs otherwise.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetParting {
    pub at: usize,
    pub parting: Parting,
}

impl Change for SetParting {
    fn label(&self, _: &Job) -> String {
        "parting line changed".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        parting_line(job, self.at)?.clone_from(&self.parting);
        Ok(())
    }
}

/// A parting line goes.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemoveParting {
    pub at: usize,
}

impl Change for RemoveParting {
    fn label(&self, _: &Job) -> String {
        "parting line removed".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        parting_line(job, self.at)?;
        job.tool.parting.remove(self.at);
        Ok(())
    }
}

/// The edge of the part nearest to a point joins the line along edges at `at`, or begins one; an
/// edge that belongs to the line leaves it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PickEdge {
    pub at: Option<usize>,
    pub point: [f64; 3],
}

impl Change for PickEdge {
    fn label(&self, _: &Job) -> String {
        "edge of the parting line picked".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        pick_edge(job, bench, self.at, self.point)
    }
}

fn pick_edge(job: &mut Job, bench: &Bench, at: Option<usize>, point: [f64; 3]) -> Result<(), Problem> {
    let edges = ::tool::edges::Edges::of(bench.part());
    let Some(run) = edges.nearest(DVec3::from(point)) else {
        return Err(Problem::Wrong("The part is one face without edges; draw the parting line in another way.".into()));
    };
    let Some(at) = at else {
        job.tool.parting.push(Parting::Edges { through: vec![point] });
        return Ok(());
    };
    let Parting::Edges { through } = parting_line(job, at)? else {
        return Err(Problem::Wrong("That parting line does not run along edges.".into()));
    };
    let before = through.len();
    through.retain(|p| edges.nearest(DVec3::from(*p)).as_ref() != Some(&run));
    if through.len() == before {
        through.push(point);
    }
    if through.is_empty() {
        job.tool.parting.remove(at);
    }
    Ok(())
}

fn parting_line(job: &mut Job, at: usize) -> Result<&mut Parting, Problem> {
    job.tool
        .parting
        .get_mut(at)
        .ok_or_else(|| Problem::Missing("That parting line is gone; somebody else may have removed it.".into()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::bench;

    #[test]
    fn a_plane_clicked_on_a_face_lies_on_it() {
        let (mut job, bench) = bench();
        job.tool.parting.clear();
        // the press is off by what drawing rounds
        for off in [-4e-4, 4e-4, 0.03] {
            PartingAt { point: [10.0, 5.0, 12.0 + off] }.apply(&mut job, &bench).unwrap();
        }
        assert_eq!(job.tool.parting, vec![Parting::Plane { height: 12.0 }; 3]);
    }

    #[test]
    fn a_plane_goes_through_the_point_and_an_edge_that_is_picked_twice_leaves_the_line() {
        let (mut job, bench) = bench();
        job.tool.parting.clear();
        PartingAt { point: [10.0, 5.0, 4.0] }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.tool.parting, vec![Parting::Plane { height: 4.0 }]);
        // the upper edge of the block's front
        let pick = |at| PickEdge { at, point: [30.0, 0.0, 12.0] };
        pick(None).apply(&mut job, &bench).unwrap();
        assert!(matches!(&job.tool.parting[1], Parting::Edges { through } if through.len() == 1));
        pick(Some(1)).apply(&mut job, &bench).unwrap();
        assert_eq!(job.tool.parting.len(), 1);
        assert!(RemoveParting { at: 7 }.apply(&mut job, &bench).unwrap_err().to_string().contains("gone"));
    }
}
