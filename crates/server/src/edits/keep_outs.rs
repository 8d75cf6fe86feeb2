//! Where lettering stays out.

use super::Change;
use super::{faces::known_faces, fresh};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use trade::{Area, KeepOut, KeepOutKind};
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
    fn label(&self) -> String {
        format!("keep-out: {}", self.kind.word())
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        known_faces(&self.area, bench)?;
        let name = fresh(self.kind.word(), |n| job.tool.keep_outs.iter().any(|k| k.name == n));
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
    fn label(&self) -> String {
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
    fn label(&self) -> String {
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
