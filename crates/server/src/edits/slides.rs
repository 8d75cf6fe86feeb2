//! Slides.

use super::Change;
use super::{fresh, pull::direction};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Job, Parting, Slide, Steel};
use utoipa::ToSchema;
use workbench::Bench;

/// A slide that leaves along a direction, part coordinates, any length.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AddSlide {
    pub direction: [f64; 3],
}

impl Change for AddSlide {
    fn label(&self, _: &Job) -> String {
        "slide added".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        add_slide(job, self.direction);
        Ok(())
    }
}

/// A slide that leaves along a plane's normal or a cylinder's axis.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AddSlideFromFace {
    pub face: u32,
}

impl Change for AddSlideFromFace {
    fn label(&self, _: &Job) -> String {
        "slide added".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        add_slide(job, direction(bench, self.face)?);
        Ok(())
    }
}

/// A slide leaves otherwise.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetSlidePull {
    pub name: String,
    pub direction: [f64; 3],
}

impl Change for SetSlidePull {
    fn label(&self, _: &Job) -> String {
        format!("pull of {}", self.name)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = slide(job, &self.name)?;
        job.tool.slides[at].pull = self.direction;
        Ok(())
    }
}

/// A slide is called otherwise.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RenameSlide {
    pub name: String,
    pub to: String,
}

impl Change for RenameSlide {
    fn label(&self, _: &Job) -> String {
        format!("{} renamed to {}", self.name, self.to)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = slide(job, &self.name)?;
        job.tool.slides[at].name = self.to.trim().into();
        rename_slide(job, &self.name, self.to.trim());
        Ok(())
    }
}

/// A slide goes, with what stands on it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemoveSlide {
    pub name: String,
}

impl Change for RemoveSlide {
    fn label(&self, _: &Job) -> String {
        format!("{} removed", self.name)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = slide(job, &self.name)?;
        job.tool.slides.remove(at);
        // with it goes what stands on it
        job.tool.assigned.retain(|g| g.to != Steel::Slide { name: self.name.clone() });
        job.tool.parting.retain(|p| *p != Parting::Silhouette { slide: Some(self.name.clone()) });
        Ok(())
    }
}

fn add_slide(job: &mut Job, pull: [f64; 3]) {
    let name = fresh("slide", |n| job.tool.slides.iter().any(|s| s.name == n) || job.given.has_slide(n));
    job.tool.slides.push(Slide { name, pull });
}

fn slide(job: &Job, name: &str) -> Result<usize, Problem> {
    job.tool.slides.iter().position(|s| s.name == name).ok_or_else(|| {
        Problem::Missing(format!("There is no slide “{name}” any more; somebody else may have removed it."))
    })
}

/// What names the slide goes on naming it.
fn rename_slide(job: &mut Job, name: &str, to: &str) {
    for given in &mut job.tool.assigned {
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::bench;
    use crate::edits::{assigned::Assign, parting::AddParting};
    use trade::Area;

    #[test]
    fn a_slide_keeps_its_areas_and_lines_under_a_new_name_and_takes_them_along_when_it_goes() {
        let (job, bench) = bench();
        let apply = |job: &Job, edit: &dyn Change| {
            let mut job = job.clone();
            edit.apply(&mut job, &bench).unwrap();
            job
        };
        let slide = |name: &str| Steel::Slide { name: name.into() };
        let job = apply(&job, &AddSlide { direction: [1.0, 0.0, 0.0] });
        let job = apply(&job, &Assign { area: Area::Faces { faces: vec![0] }, to: slide("slide 1") });
        let line = Parting::Silhouette { slide: Some("slide 1".into()) };
        let job = apply(&job, &AddParting { parting: line });
        let lines = job.tool.parting.len();
        let job = apply(&job, &RenameSlide { name: "slide 1".into(), to: "side core".into() });
        assert_eq!(job.tool.assigned[0].to, slide("side core"));
        assert_eq!(job.tool.parting[lines - 1], Parting::Silhouette { slide: Some("side core".into()) });
        let job = apply(&job, &RemoveSlide { name: "side core".into() });
        assert!(job.tool.assigned.is_empty() && job.tool.parting.len() == lines - 1);
    }
}
