//! A mark once more on many faces, in the middle of each.

use super::{super::Change, called, find, placed};
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use solid::Surface;
use trade::{Baseline, Job, Mark, SeatRef, Tie};
use utoipa::ToSchema;
use workbench::{Bench, Steps, unit_pull};

/// Faces that a mark is copied to at once.
const MOST_FACES: usize = 200;

/// The mark once more in the middle of each of these faces; where none are named, of every other flat face of the outside that
/// holds it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CopyToFaces {
    pub id: String,
    pub faces: Option<Vec<u32>>,
}

impl Change for CopyToFaces {
    fn label(&self, job: &Job) -> String {
        let name = called(job, &self.id);
        match &self.faces {
            Some(faces) => format!("{name} copied to {} faces", faces.len()),
            None => format!("{name} copied to every flat face that holds it"),
        }
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let at = find(job, &self.id)?;
        let mark = job.marks[at].clone();
        if matches!(mark.place.baseline, Baseline::Edge { .. }) {
            return Err(Problem::Wrong(
                "What stands beside an edge has its place from that edge, which other faces don't have. Stand it on a straight \
                 line first."
                    .into(),
            ));
        }
        let faces = match &self.faces {
            Some(faces) => faces.clone(),
            None => holding(job, bench, &mark),
        };
        if faces.is_empty() {
            return Err(Problem::Wrong("No other flat face of the part holds the mark.".into()));
        }
        if faces.len() > MOST_FACES {
            let many = faces.len();
            return Err(Problem::Wrong(format!(
                "These are {many} faces; a mark is copied to at most {MOST_FACES} at once."
            )));
        }
        for (k, face) in faces.into_iter().enumerate() {
            let copy = centred(&mark, face);
            bench.seat(&copy.seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
            let id = job.fresh_id(&self.id);
            job.marks.insert(at + 1 + k, Mark { id, ..copy });
        }
        Ok(())
    }
}

/// The mark in the middle of a face.
fn centred(mark: &Mark, face: u32) -> Mark {
    let mut copy = mark.clone();
    copy.seat = SeatRef::on(face);
    (copy.place.along, copy.place.up) = (Tie::Middle, Tie::Middle);
    copy
}

/// Flat faces other than the mark's own on which all of it finds room in the middle.
fn holding(job: &Job, bench: &Bench, mark: &Mark) -> Vec<u32> {
    let own = mark.seat.faces();
    let flat = |face: &u32| matches!(bench.part().faces[*face as usize].surface, Surface::Plane { .. });
    let holds = |face: &u32| {
        let copy = centred(mark, *face);
        let Ok(seat) = bench.seat(&copy.seat, unit_pull(&job.tool)) else { return false };
        placed(job, bench, &copy, &seat).is_ok_and(|p| seat.holds(&[p.outline]))
    };
    (0..bench.part().faces.len() as u32).filter(|f| !own.contains(f)).filter(flat).filter(holds).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, facing, middle, refused};
    use glam::DVec3;

    #[test]
    fn a_mark_stands_in_the_middle_of_every_flat_face_that_is_large_enough() {
        // a block of 60 × 30 × 12 from the origin, the mark on its top
        let (mut job, bench) = bench();
        job.marks[0].text = "A".into();
        job.marks[0].lettering.cap_height = 5.0;
        let id = job.marks[0].id.clone();
        CopyToFaces { id: id.clone(), faces: None }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.marks.len(), 6);
        let mut middles: Vec<[f64; 3]> = job.marks[1..].iter().map(|m| middle(&job, &bench, m).to_array()).collect();
        middles.sort_by(|a, b| a.partial_cmp(b).unwrap());
        let wanted = [[0.0, 15.0, 6.0], [30.0, 0.0, 6.0], [30.0, 15.0, 0.0], [30.0, 30.0, 6.0], [60.0, 15.0, 6.0]];
        for (found, wanted) in middles.iter().zip(wanted) {
            assert!(DVec3::from(*found).distance(wanted.into()) < 0.01, "{found:?} for {wanted:?}");
        }
        // capitals of 20 find room on the top and the bottom alone
        job.marks.truncate(1);
        job.marks[0].lettering.cap_height = 20.0;
        CopyToFaces { id: id.clone(), faces: None }.apply(&mut job, &bench).unwrap();
        assert_eq!(job.marks.len(), 2);
        assert_eq!(job.marks[1].seat, SeatRef::on(facing(&bench, DVec3::NEG_Z)));
        assert!(refused(&CopyToFaces { id: id.clone(), faces: Some(vec![999]) }, &job, &bench).contains("no face 999"));
        let edge = Baseline::Edge {
            near: [0.0; 3],
            gap: 1.0,
            share: 50.0,
            stands: trade::Justify::Middle,
            turned: false,
            bent: false,
        };
        job.marks[0].place.baseline = edge;
        assert!(refused(&CopyToFaces { id, faces: None }, &job, &bench).contains("beside an edge"));
    }
}
