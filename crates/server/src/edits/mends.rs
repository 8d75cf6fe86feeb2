//! Mends of the part's mesh.

use super::Change;
use super::holding::unmarked;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{Job, PartMend};
use utoipa::ToSchema;
use workbench::Bench;

/// Mends the part's mesh further.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MendPart {
    pub mend: PartMend,
}

impl Change for MendPart {
    fn label(&self, _: &Job) -> String {
        "part mended".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        unmarked(job)?;
        job.part.mends.push(self.mend);
        Ok(())
    }
}

/// Removes a mend again.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemoveMend {
    pub mend: PartMend,
}

impl Change for RemoveMend {
    fn label(&self, _: &Job) -> String {
        "mend of the part removed".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        unmarked(job)?;
        job.part.mends.retain(|m| *m != self.mend);
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::bench;
    use crate::edits::{faces::NameFace, keep_outs::AddKeepOut};
    use trade::{Area, KeepOutKind};

    #[test]
    fn what_names_faces_keeps_the_parts_mends_and_bodies_as_they_are() {
        let (mut job, bench) = bench();
        let done = |edit: &dyn Change, job: &Job| {
            let mut job = job.clone();
            edit.apply(&mut job, &bench).map(|()| job)
        };
        job.marks.clear();
        let mend = MendPart { mend: PartMend::Turn };
        assert!(done(&mend, &job).is_ok());
        let area = Area::Faces { faces: vec![0] };
        let kept = done(&AddKeepOut { kind: KeepOutKind::Polished, area }, &job).unwrap();
        assert!(done(&mend, &kept).unwrap_err().to_string().contains("Keep-outs"));
        let named = done(&NameFace { face: 0, name: "lid".into() }, &job).unwrap();
        assert!(done(&mend, &named).unwrap_err().to_string().contains("names"));
        let gone = done(&NameFace { face: 99, name: "lid".into() }, &job);
        assert!(gone.unwrap_err().to_string().contains("no face 99"));
    }
}
