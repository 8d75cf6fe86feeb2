//! Faces joined, divided and named by hand.

use super::Change;
use super::holding::unnamed;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use solid::Surface;
use trade::Area;
use trade::Job;
use trade::{FaceMend, FaceName, Spot};
use utoipa::ToSchema;
use workbench::revision::face_mended;
use workbench::{Bench, Steps};

/// Two neighbouring faces become one, under the first one's number.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct JoinFaces {
    pub face: u32,
    pub with: u32,
}

impl Change for JoinFaces {
    fn label(&self) -> String {
        "faces joined".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        *job = face_mended(job, bench, &FaceMend::Join { face: self.face, with: self.with })?;
        Ok(())
    }
}

/// The facets of a face that a brush touched become a face of their own.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DivideFace {
    pub face: u32,
    pub spots: Vec<Spot>,
}

impl Change for DivideFace {
    fn label(&self) -> String {
        "face divided".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        *job = face_mended(job, bench, &FaceMend::Divide { face: self.face, spots: self.spots.clone() })?;
        Ok(())
    }
}

/// Back to the faces that were found.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClearFaceMends {}

impl Change for ClearFaceMends {
    fn label(&self) -> String {
        "faces as they were found".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        unnamed(job)?;
        job.part.face_mends.clear();
        Ok(())
    }
}

/// A face's own name; an empty one removes it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NameFace {
    pub face: u32,
    pub name: String,
}

impl Change for NameFace {
    fn label(&self) -> String {
        format!("face named “{}”", self.name)
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        surface(bench, self.face)?;
        job.face_names.retain(|n| n.face != self.face);
        if !self.name.trim().is_empty() {
            job.face_names.push(FaceName { face: self.face, name: self.name.trim().into() });
        }
        Ok(())
    }
}

pub(super) fn known_faces(area: &Area, bench: &Bench) -> Result<(), Problem> {
    if let Area::Faces { faces } = area {
        for face in faces {
            surface(bench, *face)?;
        }
    }
    Ok(())
}

pub(super) fn surface(bench: &Bench, face: u32) -> Result<&Surface, Problem> {
    let faces = &bench.part().faces;
    faces.get(face as usize).map(|f| &f.surface).ok_or_else(|| {
        Problem::Wrong(format!("The part has no face {face}; its faces run from 0 to {}.", faces.len() - 1))
    })
}
