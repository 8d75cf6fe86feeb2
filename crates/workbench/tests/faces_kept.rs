//! Jobs on parts whose faces another finder numbered otherwise: what names a face goes on naming that face.

use glam::DVec3;
use solid::{Part, Surface};
use std::collections::BTreeSet;
use trade::{Area, FaceMend, FaceName, Job, KeepOut, KeepOutKind, Mark, PartRef, Parting, SeatRef, Tool};
use workbench::{Bench, Scope, faces_kept, revision::face_mended};

/// The same part with its faces in the opposite order.
fn backwards(part: &Part) -> Part {
    let mut part = part.clone();
    let last = part.faces.len() as u32 - 1;
    part.faces.reverse();
    part.face_of.iter_mut().for_each(|face| *face = last - *face);
    part
}

fn looking(part: &Part, way: DVec3) -> u32 {
    let wanted = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.dot(way) > 0.999);
    part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32
}

/// A mark on the top and over its edge to the front, a keep-out on the right, a name on the left.
fn block() -> (Part, Job) {
    let part = Part::from_mesh(&demo::parts::plain_block()).unwrap();
    let face = |way: DVec3| looking(&part, way);
    let keep_out = KeepOut {
        name: "gasket".into(),
        kind: KeepOutKind::Sealing,
        area: Area::Faces { faces: vec![face(DVec3::X)] },
        margin: None,
    };
    let mark = Mark { id: "m".into(), text: "R4".into(), seat: SeatRef::on(face(DVec3::Z)), ..Mark::default() };
    let job = Job {
        part: PartRef::of_file("block.stl", None),
        face_names: vec![FaceName { face: face(DVec3::NEG_X), name: "left".into() }],
        tool: Tool {
            pull: Some([0.0, 0.0, 1.0]),
            parting: vec![Parting::Plane { height: 0.0 }],
            keep_outs: vec![keep_out],
            ..Tool::default()
        },
        marks: vec![mark],
        ..Job::default()
    };
    (part, job)
}

#[test]
fn faces_numbered_otherwise_are_found_again_and_every_finding_stays() {
    let (part, mut job) = block();
    let bench = Bench::new(part.clone());
    faces_kept::place(&mut job, &bench);
    assert_eq!(job.faces_at.iter().map(|f| f.face).collect::<BTreeSet<_>>(), job.named_faces());
    let other = backwards(&part);
    let again = Bench::new(other.clone());
    let mut moved = job.clone();
    faces_kept::find_again(&mut moved, &again);
    assert_eq!(moved.marks[0].seat, SeatRef::on(looking(&other, DVec3::Z)));
    assert_ne!(moved.marks[0].seat, job.marks[0].seat);
    assert_eq!(moved.tool.keep_outs[0].area, Area::Faces { faces: vec![looking(&other, DVec3::X)] });
    assert_eq!(moved.face_names[0].face, looking(&other, DVec3::NEG_X));
    let told = |bench: &Bench, job: &Job| format!("{:?}", bench.outcome(job, Scope::NearMarks).marks[0].findings);
    assert_eq!(told(&again, &moved), told(&bench, &job));
    // where nothing says where they lie, and where they lie as they did, they stay as they are
    for same in [Job { faces_at: Vec::new(), ..job.clone() }, job.clone()] {
        let mut back = same.clone();
        faces_kept::find_again(&mut back, &bench);
        assert_eq!(back, same);
    }
}

#[test]
fn two_faces_that_are_one_now_are_named_once() {
    let (part, mut job) = block();
    let [top, front, left] = [DVec3::Z, DVec3::NEG_Y, DVec3::NEG_X].map(|way| looking(&part, way));
    job.marks[0].seat = SeatRef { face: top, with: vec![front, left] };
    job.face_names.push(FaceName { face: top, name: "lid".into() });
    job.face_names.push(FaceName { face: front, name: "front".into() });
    job.tool.keep_outs[0].area = Area::Faces { faces: vec![top, front] };
    faces_kept::place(&mut job, &Bench::new(part.clone()));
    let mut joined = part;
    joined.mend_faces(&[FaceMend::Join { face: front, with: top, at: None }]).unwrap();
    faces_kept::find_again(&mut job, &Bench::new(joined));
    assert_eq!(job.marks[0].seat, SeatRef { face: front, with: vec![left] });
    assert_eq!(job.tool.keep_outs[0].area, Area::Faces { faces: vec![front] });
    let names: Vec<_> = job.face_names.iter().map(|n| (n.face, &*n.name)).collect();
    assert_eq!(names, [(left, "left"), (front, "lid")]);
}

#[test]
fn faces_joined_and_divided_by_hand_are_so_on_a_part_numbered_otherwise() {
    let part = Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::Z * 40.0, 12.0)).unwrap();
    let job = Job { part: PartRef::of_file("cylinder.stl", None), ..Job::default() };
    let face = part.faces.iter().position(|f| matches!(f.surface, Surface::Cylinder { .. })).unwrap() as u32;
    let spots = part
        .triangles_of(face)
        .map(|t| part.mesh.centroid(t as usize))
        .filter(|c| c.x > 0.0)
        .map(|c| trade::Spot { at: c.to_array(), radius: 0.05 })
        .collect();
    let divided = face_mended(&job, &Bench::new(part.clone()), &FaceMend::Divide { face, spots, at: None }).unwrap();
    let mut halves = part.clone();
    halves.mend_faces(&divided.part.face_mends).unwrap();
    let half = halves.faces.len() as u32 - 1;
    let top = looking(&part, DVec3::Z);
    let join = FaceMend::Join { face: half, with: top, at: None };
    let joined = face_mended(&divided, &Bench::new(halves.clone()), &join).unwrap();
    halves.mend_faces(std::slice::from_ref(&joined.part.face_mends[1])).unwrap();
    // the same on the part with its faces in the opposite order: the same facets lie together
    let mut other = backwards(&part);
    other.mend_faces(&joined.part.face_mends).unwrap();
    let groups = |part: &Part| -> BTreeSet<Vec<usize>> {
        let of = |face: usize| -> Vec<usize> {
            (0..part.face_of.len()).filter(|&t| part.face_of[t] as usize == face).collect()
        };
        (0..part.faces.len()).map(of).filter(|facets| !facets.is_empty()).collect()
    };
    assert_eq!(groups(&other), groups(&halves));
    assert_eq!(groups(&other).len(), 3);
    // and found joined and divided already, nothing is left to do
    let mends = joined.part.face_mends.clone();
    let mut found = other.clone();
    found.mend_faces(&mends).unwrap();
    assert_eq!(groups(&found), groups(&other));
}
