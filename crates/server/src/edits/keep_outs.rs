//! Where lettering stays out.

use super::Change;
use super::{faces::known_faces, fresh};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Area, Job, KeepOut, KeepOutKind};
use utoipa::ToSchema;
use workbench::Bench;

/// One more keep-out, named after its kind.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AddKeepOut {
    pub kind: KeepOutKind,
    pub area: Area,
}

impl Change for AddKeepOut {
    fn label(&self, _: &Job) -> String {
        format!("keep-out: {}", self.kind.word())
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        known_faces(&self.area, bench)?;
        let name =
            fresh(self.kind.word(), |n| job.tool.keep_outs.iter().any(|k| k.name == n) || job.given.has_keep_out(n));
        job.tool.keep_outs.push(KeepOut { name, kind: self.kind, area: self.area.clone(), margin: None });
        Ok(())
    }
}

/// The keep-out called `name` becomes `keep_out`.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetKeepOut {
    pub name: String,
    pub keep_out: KeepOut,
}

impl Change for SetKeepOut {
    fn label(&self, _: &Job) -> String {
        format!("keep-out {} changed", self.name)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        known_faces(&self.keep_out.area, bench)?;
        let at = keep_out(job, &self.name)?;
        job.tool.keep_outs[at] = KeepOut { name: self.keep_out.name.trim().into(), ..self.keep_out.clone() };
        Ok(())
    }
}

/// A keep-out goes.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemoveKeepOut {
    pub name: String,
}

impl Change for RemoveKeepOut {
    fn label(&self, _: &Job) -> String {
        format!("{} removed", self.name)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let at = keep_out(job, &self.name)?;
        job.tool.keep_outs.remove(at);
        Ok(())
    }
}

fn keep_out(job: &Job, name: &str) -> Result<usize, Problem> {
    job.tool.keep_outs.iter().position(|k| k.name == name).ok_or_else(|| {
        Problem::Missing(format!("There is no keep-out “{name}” any more; somebody else may have removed it."))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, refused};

    #[test]
    fn keep_outs_are_named_after_their_kind_changed_and_removed_by_name() {
        let (mut job, bench) = bench();
        let area = |face: u32| Area::Faces { faces: vec![face] };
        for face in [0, 1] {
            AddKeepOut { kind: KeepOutKind::Polished, area: area(face) }.apply(&mut job, &bench).unwrap();
        }
        let names = |job: &Job| job.tool.keep_outs.iter().map(|k| k.name.clone()).collect::<Vec<_>>();
        assert_eq!(names(&job), ["polished face 1", "polished face 2"]);
        let unknown = AddKeepOut { kind: KeepOutKind::Gate, area: area(99) };
        assert!(refused(&unknown, &job, &bench).contains("no face 99"));

        let keep_out = KeepOut { name: " lid ".into(), margin: Some(2.5), ..job.tool.keep_outs[0].clone() };
        SetKeepOut { name: "polished face 1".into(), keep_out }.apply(&mut job, &bench).unwrap();
        assert_eq!(names(&job), ["lid", "polished face 2"]);
        assert_eq!(job.tool.keep_outs[0].margin, Some(2.5));
        // a name that is free again is given again
        AddKeepOut { kind: KeepOutKind::Polished, area: area(2) }.apply(&mut job, &bench).unwrap();
        assert_eq!(names(&job), ["lid", "polished face 2", "polished face 1"]);
        RemoveKeepOut { name: "polished face 2".into() }.apply(&mut job, &bench).unwrap();
        assert_eq!(names(&job), ["lid", "polished face 1"]);
        let gone = RemoveKeepOut { name: "polished face 2".into() };
        assert!(refused(&gone, &job, &bench).contains("no keep-out “polished face 2” any more"));
    }
}
