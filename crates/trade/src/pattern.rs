//! Patterns: marks of one seat that the shop keeps, to be placed on other jobs in one step.

use crate::job::version_1::upgrade_mark;
use crate::{Column, Job, Mark, OwnFace, SeatRef, Tie};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Most marks of one pattern.
pub const MOST_MARKS: usize = 50;
/// Longest name, characters.
const LONGEST_NAME: usize = 80;

/// Marks of one seat with all that they need: ties to its edges and among one another, and the columns of a roster
/// that their recipes read, and the shop's own faces that they are lettered in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pattern {
    pub name: String,
    pub marks: Vec<Mark>,
    pub columns: Vec<Column>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub own_faces: Vec<OwnFace>,
}

impl Pattern {
    /// A pattern as it was kept, whichever version wrote it.
    ///
    /// # Errors
    /// Says what can't be read.
    pub fn from_kept(mut document: serde_json::Value) -> Result<Self, String> {
        let marks = document.get_mut("marks").and_then(serde_json::Value::as_array_mut);
        marks.into_iter().flatten().filter_map(serde_json::Value::as_object_mut).for_each(upgrade_mark);
        serde_json::from_value(document).map_err(|e| e.to_string())
    }

    /// Marks of a job, in the job's order, as a pattern.
    ///
    /// # Errors
    /// There is no such mark, they lie on several seats, or one is tied to a mark that isn't among them.
    pub fn of(job: &Job, ids: &[String], name: &str) -> Result<Self, String> {
        let name = name.trim();
        if name.is_empty() || name.chars().count() > LONGEST_NAME {
            return Err(format!("a pattern needs a name of 1 to {LONGEST_NAME} characters"));
        }
        if let Some(id) = ids.iter().find(|id| job.marks.iter().all(|m| m.id != **id)) {
            return Err(format!("the job has no mark “{id}”"));
        }
        let marks: Vec<Mark> = job.marks.iter().filter(|m| ids.contains(&m.id)).cloned().collect();
        let Some(first) = marks.first() else { return Err("a pattern needs a mark".into()) };
        if marks.len() > MOST_MARKS {
            return Err(format!("a pattern has at most {MOST_MARKS} marks, not {}", marks.len()));
        }
        if let Some(other) = marks.iter().find(|m| m.seat != first.seat) {
            return Err(format!("the marks of a pattern lie on one seat; “{}” and “{}” don't", first.id, other.id));
        }
        for mark in &marks {
            if let Some(to) = ties_to(mark).find(|to| !ids.contains(to)) {
                let id = &mark.id;
                return Err(format!("“{id}” is tied to the mark “{to}”; keep both, or tie it to something else"));
            }
        }
        let needed = |c: &&Column| marks.iter().any(|m| m.columns().any(|name| name == c.name));
        let columns = job.roster.columns.iter().filter(needed).cloned().collect();
        let lettered_in = |f: &&OwnFace| marks.iter().any(|m| m.lettering.face == f.name);
        let own_faces = job.own_faces.iter().filter(lettered_in).cloned().collect();
        Ok(Self { name: name.into(), marks, columns, own_faces })
    }

    /// Places it on a seat of a job: columns that the job's roster lacks are added, empty. A style is kept where the
    /// job's marks of that style are alike; elsewhere the marks keep what they look like. Own faces come with it, under
    /// another name where the job has another face of that name.
    pub fn place(&self, job: &mut Job, seat: &SeatRef) {
        let faces: Vec<(&str, String)> = self.own_faces.iter().map(|f| (f.name.as_str(), bring_face(job, f))).collect();
        for column in &self.columns {
            if job.roster.column(&column.name).is_none() {
                let roster = Arc::make_mut(&mut job.roster);
                roster.columns.push(column.clone());
                roster.rows.iter_mut().for_each(|r| r.cells.push(String::new()));
            }
        }
        let mut ids: Vec<(String, String)> = Vec::new();
        let first = job.marks.len();
        for kept in &self.marks {
            let mut mark = kept.clone();
            mark.id = job.fresh_id(&kept.id);
            mark.seat = seat.clone();
            if let Some((_, here)) = faces.iter().find(|(kept, _)| *kept == mark.lettering.face) {
                mark.lettering.face.clone_from(here);
            }
            mark.lettering.own = job.held_face(&mark.lettering.face);
            let alike = |m: &Mark| m.lettering == mark.lettering && m.relief == mark.relief;
            if job.marks.iter().any(|m| m.style == mark.style && !alike(m)) {
                mark.style = None;
            }
            ids.push((kept.id.clone(), mark.id.clone()));
            job.marks.push(mark);
        }
        for mark in &mut job.marks[first..] {
            for tie in [&mut mark.place.along, &mut mark.place.up] {
                if let Tie::Mark { id, .. } = tie
                    && let Some((_, new)) = ids.iter().find(|(old, _)| old == id)
                {
                    id.clone_from(new);
                }
            }
        }
    }
}

/// Puts a face in a job that hasn't got it; the name that it has there.
fn bring_face(job: &mut Job, face: &OwnFace) -> String {
    let names = std::iter::once(face.name.clone()).chain((2..).map(|n| format!("{} ({n})", face.name)));
    for name in names {
        match job.own_faces.iter().find(|f| f.name == name) {
            None => {
                job.own_faces.push(OwnFace { name: name.clone(), ..face.clone() });
                return name;
            }
            Some(there) if *there == (OwnFace { name: name.clone(), ..face.clone() }) => return name,
            Some(_) => {}
        }
    }
    unreachable!("names do not end")
}

fn ties_to(mark: &Mark) -> impl Iterator<Item = &String> {
    [&mark.place.along, &mark.place.up]
        .into_iter()
        .filter_map(|tie| if let Tie::Mark { id, .. } = tie { Some(id) } else { None })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{BoxSide, ColumnKind, Piece, Row, recipe::PieceOf};

    fn mark(id: &str, along: Tie) -> Mark {
        let mut mark = Mark { id: id.into(), text: id.into(), style: Some("small".into()), ..Mark::default() };
        mark.seat.face = 3;
        mark.place.along = along;
        mark
    }

    fn kept() -> Job {
        let after = Tie::Mark { id: "no-1".into(), side: BoxSide::End, distance: 2.0 };
        let mut rev = mark("rev-1", after);
        rev.recipe = vec![Piece::plain(PieceOf::cell("variant"))];
        let mut job = Job { marks: vec![mark("no-1", Tie::FromStart { distance: 5.0 }), rev], ..Job::default() };
        let text = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
        Arc::make_mut(&mut job.roster).columns = vec![text("part"), text("variant")];
        job
    }

    #[test]
    fn it_is_laid_with_its_ties_and_the_columns_that_it_needs() {
        let ids = ["rev-1", "no-1"].map(str::to_owned);
        let pattern = Pattern::of(&kept(), &ids, " foot ").unwrap();
        assert_eq!((pattern.name.as_str(), pattern.columns.len()), ("foot", 1));
        let mut job = Job { marks: vec![mark("no-1", Tie::Middle)], ..Job::default() };
        let columns = vec![Column { name: "cavity".into(), kind: ColumnKind::Cavity }];
        job.roster = crate::Roster { columns, rows: vec![Row { id: 1, cells: vec!["A".into()] }] }.into();
        let seat = SeatRef { face: 7, with: Vec::new() };
        pattern.place(&mut job, &seat);
        assert_eq!(job.roster.rows[0].cells, ["A", ""]);
        assert_eq!(job.marks.iter().map(|m| m.id.as_str()).collect::<Vec<_>>(), ["no-1", "no-2", "rev-1"]);
        assert!(job.marks[1..].iter().all(|m| m.seat == seat && m.style.as_deref() == Some("small")));
        let tied = Tie::Mark { id: "no-2".into(), side: BoxSide::End, distance: 2.0 };
        assert_eq!(job.marks[2].place.along, tied);
        job.check().unwrap();

        // again, where the style stands for something else
        job.marks.iter_mut().for_each(|m| m.lettering.cap_height = 9.0);
        pattern.place(&mut job, &seat);
        assert!(job.marks[3..].iter().all(|m| m.style.is_none() && m.lettering.cap_height < 9.0));
        job.check().unwrap();
    }

    #[test]
    fn an_own_face_comes_with_its_marks() {
        let mut from = kept();
        let letter = |outline: &str| crate::OwnLetter {
            character: 'H',
            outline: outline.into(),
            left: 10.0,
            right: 10.0,
            rise: 0.0,
        };
        let face = |outline: &str| OwnFace {
            name: "Block".into(),
            file: "block.svg".into(),
            letters: vec![letter(outline)],
            blank: 40.0,
        };
        from.own_faces = vec![face("M0 0L60 0L60 100Z"), OwnFace { name: "Other".into(), ..face("") }];
        from.marks[0].lettering.face = "Block".into();
        let pattern = Pattern::of(&from, &["no-1".into()], "foot").unwrap();
        assert_eq!(pattern.own_faces, from.own_faces[..1]);
        let seat = SeatRef::on(2);
        let mut job = Job::default();
        pattern.place(&mut job, &seat);
        pattern.place(&mut job, &seat);
        assert_eq!(job.own_faces, pattern.own_faces);
        // what the job calls so already stays what it is
        job.own_faces[0] = face("M0 0L50 0L50 100Z");
        pattern.place(&mut job, &seat);
        pattern.place(&mut job, &seat);
        let names: Vec<&str> = job.own_faces.iter().map(|f| f.name.as_str()).collect();
        assert_eq!(names, ["Block", "Block (2)"]);
        let faces: Vec<&str> = job.marks.iter().map(|m| m.lettering.face.as_str()).collect();
        assert_eq!(faces, ["Block", "Block", "Block (2)", "Block (2)"]);
        assert_eq!(job.marks[3].lettering.own.as_ref().unwrap().face.letters, pattern.own_faces[0].letters);
    }

    #[test]
    fn what_cant_be_kept_is_said() {
        let mut job = kept();
        let keep = |job: &Job, ids: &[&str], name: &str| {
            Pattern::of(job, &ids.iter().map(|id| (*id).to_owned()).collect::<Vec<_>>(), name).unwrap_err()
        };
        assert!(keep(&job, &["rev-1"], "x").contains("tied to the mark “no-1”"));
        assert!(keep(&job, &["no-1", "b"], "x").contains("no mark “b”"));
        assert!(keep(&job, &["no-1"], "  ").contains("needs a name"));
        assert!(keep(&job, &[], "x").contains("needs a mark"));
        job.marks[0].seat.face = 4;
        assert!(keep(&job, &["no-1", "rev-1"], "x").contains("one seat"));
    }
}
