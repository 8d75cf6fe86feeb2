//! Faces joined, divided and named by hand.

use super::Change;
use super::holding::unnamed;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use solid::Surface;
use trade::Job;
use trade::{Area, FaceMend, FaceName, Spot};
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
    fn label(&self, _: &Job) -> String {
        "faces joined".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        *job = face_mended(job, bench, &FaceMend::Join { face: self.face, with: self.with, at: None })?;
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
    fn label(&self, _: &Job) -> String {
        "face divided".into()
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let divide = FaceMend::Divide { face: self.face, spots: self.spots.clone(), at: None };
        *job = face_mended(job, bench, &divide)?;
        Ok(())
    }
}

/// Back to the faces that were found.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClearFaceMends {}

impl Change for ClearFaceMends {
    fn label(&self, _: &Job) -> String {
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
    fn label(&self, _: &Job) -> String {
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, refused};
    use glam::DVec3;

    #[test]
    fn neighbours_are_joined_and_the_faces_as_found_come_back_when_no_mark_needs_them() {
        let (mut job, bench) = bench();
        let [top, bottom, front] = [DVec3::Z, DVec3::NEG_Z, DVec3::NEG_Y].map(|way| facing(&bench, way));
        let apart = JoinFaces { face: top, with: bottom };
        assert!(refused(&apart, &job, &bench).contains("no edge in common"));
        JoinFaces { face: top, with: front }.apply(&mut job, &bench).unwrap();
        let [FaceMend::Join { face, with, at: Some(at) }] = job.part.face_mends[..] else { panic!("{:?}", job.part) };
        assert_eq!([face, with], [top, front]);
        let under = at.map(|at| bench.part().face_at(bench.queries(), at.into()));
        assert_eq!(under, [Some(top), Some(front)]);
        assert!(refused(&ClearFaceMends {}, &job, &bench).contains("Remove the marks first"));
        job.marks.clear();
        ClearFaceMends {}.apply(&mut job, &bench).unwrap();
        assert_eq!(job.part.face_mends, []);
    }

    #[test]
    fn a_face_has_one_name_and_an_empty_one_removes_it() {
        let (mut job, bench) = bench();
        for name in [" lid ", "cover"] {
            NameFace { face: 2, name: name.into() }.apply(&mut job, &bench).unwrap();
            assert_eq!(job.face_names, [FaceName { face: 2, name: name.trim().into() }]);
        }
        NameFace { face: 2, name: "  ".into() }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.face_names, []);
        assert!(refused(&NameFace { face: 99, name: "lid".into() }, &job, &bench).contains("from 0 to 5"));
    }
}
