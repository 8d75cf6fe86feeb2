//! Edits of the tool: slides, parting lines, keep-outs.

use super::{surface, tidy};
use crate::problem::Problem;
use glam::DVec3;
use solid::Surface;
use trade::{Job, Parting, Slide, Steel};
use workbench::Bench;

pub(crate) fn steel_name(steel: &Steel) -> String {
    match steel {
        Steel::First => "the first half".into(),
        Steel::Second => "the second half".into(),
        Steel::Slide { name } => name.clone(),
    }
}

/// `stem` with the first number that is free.
pub(super) fn fresh(stem: &str, taken: impl Fn(&str) -> bool) -> String {
    (1..).map(|n| format!("{stem} {n}")).find(|name| !taken(name)).expect("names are finitely many")
}

pub(super) fn add_slide(job: &mut Job, pull: [f64; 3]) {
    let name = fresh("slide", |n| job.tool.slides.iter().any(|s| s.name == n));
    job.tool.slides.push(Slide { name, pull });
}

pub(super) fn slide(job: &Job, name: &str) -> Result<usize, Problem> {
    job.tool.slides.iter().position(|s| s.name == name).ok_or_else(|| {
        Problem::Missing(format!("There is no slide “{name}” any more; somebody else may have taken it away."))
    })
}

/// What names the slide goes on naming it.
pub(super) fn rename_slide(job: &mut Job, name: &str, to: &str) {
    for given in &mut job.tool.given {
        if let Steel::Slide { name: n } = &mut given.to
            && n == name
        {
            *n = to.into();
        }
    }
    for parting in &mut job.tool.parting {
        if let Parting::Silhouette { slide: Some(n) } = parting
            && n == name
        {
            *n = to.into();
        }
    }
}

pub(super) fn keep_out(job: &Job, name: &str) -> Result<usize, Problem> {
    job.tool.keep_outs.iter().position(|k| k.name == name).ok_or_else(|| {
        Problem::Missing(format!("There is no keep-out “{name}” any more; somebody else may have taken it away."))
    })
}

pub(super) fn pick_edge(job: &mut Job, bench: &Bench, at: Option<usize>, point: [f64; 3]) -> Result<(), Problem> {
    let edges = ::tool::edges::Edges::of(bench.part());
    let Some(run) = edges.nearest(DVec3::from(point)) else {
        return Err(Problem::Wrong("The part is one face without edges; draw the parting line otherwise.".into()));
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

pub(super) fn parting_line(job: &mut Job, at: usize) -> Result<&mut Parting, Problem> {
    job.tool
        .parting
        .get_mut(at)
        .ok_or_else(|| Problem::Missing("That parting line is gone; somebody else may have taken it away.".into()))
}

/// The direction a face has of itself, tidied.
pub(super) fn direction(bench: &Bench, face: u32) -> Result<[f64; 3], Problem> {
    let direction = match surface(bench, face)? {
        Surface::Plane { normal, .. } => *normal,
        Surface::Cylinder { axis, .. } | Surface::Torus { axis, .. } => *axis,
        // out over the apex, the way a tapered part leaves its steel
        Surface::Cone { axis, .. } => -*axis,
        Surface::Sphere { .. } | Surface::Freeform => {
            return Err(Problem::Wrong(
                "This face has no direction of its own. Press a plane, a cylinder, a cone or a torus, or type the pull.".into(),
            ));
        }
    };
    Ok(tidy(direction).to_array())
}
