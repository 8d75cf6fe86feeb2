//! Patterns: marks of one seat that the shop keeps, to be laid on other jobs in one step.

use crate::{Column, Job, Mark, SeatRef, Tie};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Most marks of one pattern.
pub const MOST_MARKS: usize = 50;
/// Longest name, characters.
const LONGEST_NAME: usize = 80;

/// Marks of one seat with all that they need: ties to its edges and among one another, and the columns of a roster
/// that their recipes read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pattern {
    pub name: String,
    pub marks: Vec<Mark>,
    pub columns: Vec<Column>,
}

impl Pattern {
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
        Ok(Self { name: name.into(), marks, columns })
    }

    /// Lays it on a seat of a job: columns that the job's roster lacks are added, empty. A manner is kept where the
    /// job's marks of that manner are alike; elsewhere the marks keep what they look like.
    pub fn lay(&self, job: &mut Job, seat: &SeatRef) {
        for column in &self.columns {
            if job.roster.column(&column.name).is_none() {
                job.roster.columns.push(column.clone());
                job.roster.rows.iter_mut().for_each(|r| r.cells.push(String::new()));
            }
        }
        let mut ids: Vec<(String, String)> = Vec::new();
        let first = job.marks.len();
        for kept in &self.marks {
            let mut mark = kept.clone();
            mark.id = job.fresh_id(&kept.id);
            mark.seat = seat.clone();
            let alike = |m: &Mark| m.lettering == mark.lettering && m.relief == mark.relief;
            if job.marks.iter().any(|m| m.manner == mark.manner && !alike(m)) {
                mark.manner = None;
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
        let mut mark = Mark { id: id.into(), text: id.into(), manner: Some("small".into()), ..Mark::default() };
        mark.seat.face = 3;
        mark.place.along = along;
        mark
    }

    fn kept() -> Job {
        let after = Tie::Mark { id: "no-1".into(), side: BoxSide::End, distance: 2.0 };
        let mut rev = mark("rev-1", after);
        rev.recipe = vec![Piece::plain(PieceOf::Column { column: "variant".into() })];
        let mut job = Job { marks: vec![mark("no-1", Tie::FromStart { distance: 5.0 }), rev], ..Job::default() };
        let text = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
        job.roster.columns = vec![text("part"), text("variant")];
        job
    }

    #[test]
    fn it_is_laid_with_its_ties_and_the_columns_that_it_needs() {
        let ids = ["rev-1", "no-1"].map(str::to_owned);
        let pattern = Pattern::of(&kept(), &ids, " foot ").unwrap();
        assert_eq!((pattern.name.as_str(), pattern.columns.len()), ("foot", 1));
        let mut job = Job { marks: vec![mark("no-1", Tie::Middle)], ..Job::default() };
        job.roster.columns = vec![Column { name: "cavity".into(), kind: ColumnKind::Cavity }];
        job.roster.rows = vec![Row { id: 1, cells: vec!["A".into()] }];
        let seat = SeatRef { face: 7, with: Vec::new() };
        pattern.lay(&mut job, &seat);
        assert_eq!(job.roster.rows[0].cells, ["A", ""]);
        assert_eq!(job.marks.iter().map(|m| m.id.as_str()).collect::<Vec<_>>(), ["no-1", "no-2", "rev-1"]);
        assert!(job.marks[1..].iter().all(|m| m.seat == seat && m.manner.as_deref() == Some("small")));
        let tied = Tie::Mark { id: "no-2".into(), side: BoxSide::End, distance: 2.0 };
        assert_eq!(job.marks[2].place.along, tied);
        job.check().unwrap();

        // again, where the manner stands for something else
        job.marks.iter_mut().for_each(|m| m.lettering.cap_height = 9.0);
        pattern.lay(&mut job, &seat);
        assert!(job.marks[3..].iter().all(|m| m.manner.is_none() && m.lettering.cap_height < 9.0));
        job.check().unwrap();
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
