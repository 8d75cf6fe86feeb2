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
