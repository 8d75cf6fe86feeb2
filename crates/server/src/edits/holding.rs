//! What holds the part as it is: marks, areas and names hold faces by their numbers, which another part does not keep.

use crate::problem::Problem;
use trade::{Area, Job};

/// Faces that were joined or divided by hand are faces of the part as it is.
pub(super) fn unmarked(job: &Job) -> Result<(), Problem> {
    unnamed(job)?;
    if !job.part.face_mends.is_empty() {
        return Err(Problem::Wrong(
            "Faces joined or divided by hand are faces of the part as it is. Restore the faces as found first.".into(),
        ));
    }
    Ok(())
}

/// Marks, areas and names hold faces by their numbers, which another part does not keep.
pub(super) fn unnamed(job: &Job) -> Result<(), Problem> {
    if !job.marks.is_empty() {
        return Err(Problem::Wrong(
            "Marks sit on faces of the part as it is, and would lose them. Remove the marks first.".into(),
        ));
    }
    let of_faces = |area: &Area| matches!(area, Area::Faces { .. });
    let tool = &job.tool;
    if tool.keep_outs.iter().any(|k| of_faces(&k.area)) || tool.assigned.iter().any(|g| of_faces(&g.area)) {
        return Err(Problem::Wrong(
            "Keep-outs or areas assigned to a steel are faces of the part as it is, and would lose them. Remove them first."
                .into(),
        ));
    }
    if !job.face_names.is_empty() {
        return Err(Problem::Wrong(
            "Named faces of the part as it is would lose their names. Remove the names first.".into(),
        ));
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::bench;
    use trade::{Assigned, FaceMend, FaceName, Spot, Steel};

    #[test]
    fn whatever_names_faces_holds_the_part_and_what_lies_at_places_does_not() {
        let (mut job, _) = bench();
        let says = |job: &Job| unmarked(job).unwrap_err().to_string();
        assert!(says(&job).contains("Remove the marks first"));
        job.marks.clear();
        assert!(unmarked(&job).is_ok());
        let spots = vec![Spot { at: [0.0; 3], radius: 1.0 }];
        job.tool.assigned = vec![Assigned { area: Area::Painted { spots }, to: Steel::Moving }];
        assert!(unmarked(&job).is_ok());
        job.tool.assigned[0].area = Area::Faces { faces: vec![1] };
        assert!(says(&job).contains("assigned to a steel"));
        job.tool.assigned.clear();
        job.face_names = vec![FaceName { face: 0, name: "lid".into() }];
        assert!(says(&job).contains("Named faces"));
        job.face_names.clear();
        job.part.face_mends = vec![FaceMend::Join { face: 0, with: 1, at: None }];
        assert!(unnamed(&job).is_ok() && says(&job).contains("Restore the faces"));
    }
}
