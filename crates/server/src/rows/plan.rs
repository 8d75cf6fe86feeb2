//! Every row of a job as it is to be done.

use sha2::{Digest, Sha256};
use std::sync::Arc;
use time::Date;
use trade::{Job, RowFile, RowFiles, ToolPlate};
use workbench::{Bench, Steps};

/// A row as it is to be done.
pub struct Planned {
    pub row: u32,
    /// Of all that it is made from.
    pub digest: String,
    /// Filled from the row; it has no roster.
    pub job: Job,
}

/// A job without what its rows need not hold.
struct Bare {
    job: Job,
    /// Faces of the shop's own in which its marks are lettered, as JSON.
    faces: Vec<u8>,
}

impl Bare {
    fn of(job: &Job) -> Self {
        let mut bare = job.clone();
        bare.row_files = RowFiles::default();
        bare.tool_plate = ToolPlate::default();
        bare.marks.iter_mut().for_each(|mark| mark.fixed.clear());
        // what somebody answers for is as it is
        bare.waivers.clear();
        // marks hold the faces that they are lettered in; thousands of rows need not
        let mut faces = std::mem::take(&mut bare.own_faces);
        faces.retain(|f| bare.marks.iter().any(|m| m.lettering.face == f.name));
        Self { job: bare, faces: serde_json::to_vec(&faces).expect("a face has string keys and finite numbers") }
    }

    fn planned(&self, row: &trade::Row, day: Date) -> Planned {
        let mut job = self.job.filled_from(Some(row), day);
        // the texts are made: how no longer matters
        job.roster = Arc::default();
        job.revision = None;
        for mark in &mut job.marks {
            mark.recipe.clear();
            mark.columns_mut().for_each(String::clear);
        }
        let unsaid: Vec<_> = job.marks.iter().map(|m| &m.unsaid).collect();
        let digest = Sha256::new()
            // what another version made is made anew
            .chain_update(env!("TINBADGE_MADE_FROM"))
            .chain_update(serde_json::to_vec(&job).expect("a job has string keys and finite numbers"))
            .chain_update(&self.faces)
            .chain_update(format!("{unsaid:?}"))
            .finalize();
        Planned { row: row.id, digest: digest.iter().map(|b| format!("{b:02x}")).collect(), job }
    }
}

/// Every row of a job as it is on a day.
#[must_use]
pub fn plan(job: &Job, day: Date) -> Vec<Planned> {
    let bare = Bare::of(job);
    job.roster.rows.iter().map(|row| bare.planned(row, day)).collect()
}

/// One row of a job as it is on a day, by its id.
pub(super) fn planned(job: &Job, row: u32, day: Date) -> Option<Planned> {
    Some(Bare::of(job).planned(job.roster.row(row)?, day))
}

/// Names in the handoff of the files that a job wants of each row.
#[must_use]
pub fn wanted(job: &Job, bench: &Bench) -> Vec<String> {
    let surface_body = bench.part().surface_body.is_some();
    RowFile::ALL
        .into_iter()
        .filter(|kind| job.row_files.kinds.contains(kind))
        .filter_map(|kind| kind.handed_as(surface_body).map(str::to_owned))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::rows::{
        archive::list,
        kept::{Kept, Work},
    };
    use std::collections::HashMap;
    use trade::{Column, ColumnKind, Mark, Piece, Roster, Row, recipe::PieceOf};
    use workbench::rows::RowFound;

    const DAY: time::Date = time::macros::date!(2026 - 11 - 26);

    fn job(cells: &[[&str; 2]]) -> Job {
        let column = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
        let row = |(at, cells): (usize, &[&str; 2])| Row { id: at as u32, cells: cells.map(str::to_owned).to_vec() };
        let roster = Roster {
            columns: vec![column("cavity"), column("note")],
            rows: cells.iter().enumerate().map(row).collect(),
        };
        let recipe = vec![Piece::plain(PieceOf::cell("cavity"))];
        Job { roster: roster.into(), marks: vec![Mark { id: "c".into(), recipe, ..Mark::default() }], ..Job::default() }
    }

    #[test]
    fn rows_that_say_the_same_are_done_once_whatever_else_stands_in_them() {
        let digests = |job: &Job| plan(job, DAY).into_iter().map(|p| p.digest).collect::<Vec<_>>();
        let before = digests(&job(&[["1", "a"], ["2", "b"], ["1", "c"]]));
        assert_eq!(before[0], before[2]);
        assert_ne!(before[0], before[1]);
        // a row more, a note, and how files are called leave them alone; a text and a size don't
        let mut other = job(&[["1", "x"], ["3", "b"], ["9", ""]]);
        other.row_files.kinds = vec![RowFile::SolidStl];
        let after = digests(&other);
        assert_eq!(before[0], after[0]);
        assert_ne!(before[1], after[1]);
        other.marks[0].lettering.cap_height += 0.1;
        assert_ne!(digests(&other)[0], after[0]);
        // a face of the shop's own counts where a mark is lettered in it
        let face = |blank: f64| trade::OwnFace { name: "Bars".into(), file: "".into(), letters: Vec::new(), blank };
        let before = digests(&other);
        other.own_faces = vec![face(40.0)];
        assert_eq!(digests(&other), before);
        other.marks[0].lettering.face = "Bars".into();
        other.hold_faces();
        let lettered = plan(&other, DAY);
        assert!(lettered[0].job.own_faces.is_empty() && lettered[0].job.marks[0].lettering.own.is_some());
        other.own_faces[0].blank = 50.0;
        assert_ne!(digests(&other)[0], lettered[0].digest);
        // without a text: for a reason
        let none = digests(&job(&[["", "a"], ["1", "a"]]));
        assert_ne!(none[0], none[1]);
    }

    #[test]
    fn a_row_is_done_when_it_was_measured_and_all_files_that_are_wanted_were_asked_for() {
        let files = |names: &[&str]| names.iter().map(|n| (*n).to_owned()).collect::<Vec<_>>();
        let found = Some(RowFound { marks: Vec::new() });
        let measured = Kept { found: found.clone(), ..Kept::default() };
        assert!(measured.is_done(Work::Measure, &[]));
        assert!(!measured.is_done(Work::Build, &files(&["a.stl"])));
        let built = Kept { found, asked: files(&["a.stl", "b.stl"]), problem: None };
        assert!(built.is_done(Work::Build, &files(&["a.stl"])));
        assert!(!built.is_done(Work::Build, &files(&["a.stl", "c.stl"])));
        // a fault of the program is not met again and again
        assert!(
            Kept { problem: Some("it stopped".into()), ..Kept::default() }.is_done(Work::Build, &files(&["a.stl"]))
        );
    }

    #[test]
    fn the_list_tells_each_rows_name_and_worst_finding_beside_its_cells() {
        let mut job = job(&[["1", "a"], ["2", "b"]]);
        Arc::make_mut(&mut job.roster).columns[1].name = "files called".into();
        let planned = plan(&job, DAY);
        let kept =
            HashMap::from([(planned[1].digest.clone(), Kept { problem: Some("No.".into()), ..Kept::default() })]);
        let list = list(&job, &["P 1".into(), "P 2".into()], &planned, &kept);
        assert_eq!(list.columns[2].name, "files called*");
        assert_eq!(list.rows[0].cells, ["1", "a", "P 1", "not measured"]);
        assert_eq!(list.rows[1].cells, ["2", "b", "P 2", "No."]);
    }
}
