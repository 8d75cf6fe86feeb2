//! Jobs name faces by their numbers, which hold for faces found in one way. A job that is kept says where its faces lie, and a
//! later version of the program, which may find other faces in the same file, finds them by their places.

use crate::steps::Steps;
use std::collections::{BTreeMap, BTreeSet};
use trade::{FaceAt, Job};

/// Names the job's faces by the numbers that they have on this bench. A face whose place lies on none keeps its number.
pub fn find_again(job: &mut Job, on: &impl Steps) {
    if job.faces_at.is_empty() {
        return;
    }
    let under = |f: &FaceAt| Some((f.face, on.part().face_at(on.queries(), f.at.into())?));
    let went: BTreeMap<u32, u32> = job.faces_at.iter().filter_map(under).filter(|(was, is)| was != is).collect();
    if !went.is_empty() {
        job.renumber_faces(|face| went.get(&face).copied().unwrap_or(face));
    }
}

/// Says in the job where the faces lie that it names.
pub fn place(job: &mut Job, on: &impl Steps) {
    let named = job.named_faces();
    job.faces_at.retain(|f| named.contains(&f.face));
    let placed: BTreeSet<u32> = job.faces_at.iter().map(|f| f.face).collect();
    let missing = named.difference(&placed).copied().collect();
    let places = on.part().places_on(&missing);
    job.faces_at.extend(places.into_iter().map(|(face, at)| FaceAt { face, at: at.to_array() }));
    job.faces_at.sort_by_key(|f| f.face);
}
