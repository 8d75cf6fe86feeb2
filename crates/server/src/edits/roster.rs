//! Changes of the roster and of the revision. Rows are named by their ids and columns by their names, so that two
//! people who change different cells keep both.

use super::{Change, plate};
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use std::{collections::HashMap, sync::Arc};
use trade::{Column, ColumnKind, Job, Roster, Row, RowFiles, revision};
use utoipa::ToSchema;

#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "change", deny_unknown_fields)]
pub enum RosterEdit {
    SetCell {
        row: u32,
        column: String,
        text: String,
    },
    /// Cells of a rectangle are emptied.
    Clear {
        rows: Vec<u32>,
        columns: Vec<String>,
    },
    /// Cells as a spreadsheet puts them on the clipboard, from a cell on to the right and down; where there are no
    /// more rows, they are added. Without a row they all are.
    Paste {
        row: Option<u32>,
        column: String,
        text: String,
    },
    /// Empty rows below one, or at the end.
    AddRows {
        count: u32,
        below: Option<u32>,
    },
    RemoveRows {
        rows: Vec<u32>,
    },
    AddColumn {
        name: String,
        column: ColumnKind,
    },
    /// Renames a column, recipes follow, or changes what its cells are.
    SetColumn {
        name: String,
        to: String,
        column: ColumnKind,
    },
    RemoveColumn {
        name: String,
    },
    /// A whole roster instead, as it was read from a file.
    Take {
        roster: Roster,
    },
    /// The revision that recipes write; none takes it away.
    SetRevision {
        revision: Option<String>,
    },
    NextRevision,
    /// What is made for every row, and how it is called.
    SetFiles {
        files: RowFiles,
    },
}

/// A change of the roster.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RosterChange {
    pub edit: RosterEdit,
}

impl Change for RosterChange {
    fn label(&self, _: &Job) -> String {
        self.edit.label()
    }

    fn apply(&self, job: &mut Job, _: &workbench::Bench) -> Result<(), Problem> {
        self.edit.apply(job)
    }
}

impl RosterEdit {
    pub(super) fn label(&self) -> String {
        match self {
            Self::SetCell { column, text, .. } => format!("roster: {column} “{text}”"),
            Self::Clear { .. } => "roster: cells emptied".into(),
            Self::Paste { .. } => "roster: cells pasted".into(),
            Self::AddRows { count, .. } => format!("roster: {count} rows added"),
            Self::RemoveRows { rows } => format!("roster: {} rows removed", rows.len()),
            Self::AddColumn { name, .. } => format!("roster: column “{name}” added"),
            Self::SetColumn { name, to, .. } if name == to => format!("roster: kind of “{name}”"),
            Self::SetColumn { name, to, .. } => format!("roster: “{name}” named “{to}”"),
            Self::RemoveColumn { name } => format!("roster: column “{name}” removed"),
            Self::Take { roster } => format!("roster of {} rows read", roster.rows.len()),
            Self::SetRevision { revision: Some(revision) } => format!("revision {revision}"),
            Self::SetRevision { revision: None } => "no revision".into(),
            Self::NextRevision => "next revision".into(),
            Self::SetFiles { .. } => "files of each row".into(),
        }
    }

    pub(super) fn apply(&self, job: &mut Job) -> Result<(), Problem> {
        let given = job.given.row();
        let roster = Arc::make_mut(&mut job.roster);
        match self {
            Self::SetCell { row, column, text } => {
                let at = column_at(roster, column)?;
                row_of(roster, *row)?.cells[at].clone_from(text);
            }
            Self::Clear { rows, columns } => {
                let columns = columns.iter().map(|c| column_at(roster, c)).collect::<Result<Vec<_>, _>>()?;
                for row in rows {
                    let row = row_of(roster, *row)?;
                    for &at in &columns {
                        row.cells[at].clear();
                    }
                }
            }
            Self::Paste { row, column, text } => paste(roster, *row, column, text, given)?,
            Self::AddRows { count, below } => {
                let at = match below {
                    Some(id) => row_at(roster, *id)? + 1,
                    None => roster.rows.len(),
                };
                if *count as usize > trade::roster::MOST_ROWS {
                    return Err(Problem::Wrong(format!("The roster has at most {} rows.", trade::roster::MOST_ROWS)));
                }
                let (fresh, width) = (roster.fresh(given), roster.columns.len());
                let new = fresh.take(*count as usize).map(|id| Row { id, cells: vec![String::new(); width] });
                roster.rows.splice(at..at, new);
            }
            Self::RemoveRows { rows } => {
                for id in rows {
                    row_at(roster, *id)?;
                }
                roster.rows.retain(|r| !rows.contains(&r.id));
                plate::without(rows, &mut job.tool_plate);
            }
            Self::AddColumn { name, column } => {
                roster.columns.push(Column { name: name.trim().into(), kind: *column });
                roster.rows.iter_mut().for_each(|r| r.cells.push(String::new()));
            }
            Self::SetColumn { name, to, column } => {
                let at = column_at(roster, name)?;
                roster.columns[at] = Column { name: to.trim().into(), kind: *column };
                rename(job, name, to.trim());
            }
            Self::RemoveColumn { name } => {
                let at = column_at(roster, name)?;
                if job.row_files.name.iter().any(|p| p.of.column() == Some(name)) {
                    return Err(Problem::Wrong(format!(
                        "The names of the rows' files use the column “{name}”; change them first, in Hand off."
                    )));
                }
                if let Some(mark) = job.marks.iter().find(|m| m.columns().any(|c| c == name)) {
                    let recipe = mark.recipe.iter().any(|p| p.of.column() == Some(name));
                    let id = &mark.id;
                    return Err(Problem::Wrong(match recipe {
                        true => format!("The recipe of {id} reads the column “{name}”; change the recipe first."),
                        false => format!("The date that {id} shows comes from the column “{name}”; change that first."),
                    }));
                }
                roster.columns.remove(at);
                for row in &mut roster.rows {
                    row.cells.remove(at);
                }
            }
            Self::Take { roster: taken } => {
                let taken = numbered(taken, roster, given);
                plate::follow(roster, &taken, &mut job.tool_plate);
                *roster = taken;
            }
            Self::SetRevision { revision } => {
                job.revision = revision.as_deref().map(str::trim).filter(|r| !r.is_empty()).map(str::to_owned);
            }
            Self::SetFiles { files } => job.row_files.clone_from(files),
            Self::NextRevision => {
                let now = job.revision.as_deref().unwrap_or(revision::FIRST_ISSUE);
                job.revision = Some(revision::next(now).map_err(|e| Problem::Wrong(sentence(&e)))?);
            }
        }
        Ok(())
    }
}

fn column_at(roster: &Roster, name: &str) -> Result<usize, Problem> {
    roster.column(name).ok_or_else(|| {
        Problem::Missing(format!("The roster has no column “{name}”; somebody else may have renamed it."))
    })
}

fn row_at(roster: &Roster, id: u32) -> Result<usize, Problem> {
    let at = roster.rows.iter().position(|r| r.id == id);
    at.ok_or_else(|| Problem::Missing("That row is gone; somebody else may have removed it.".into()))
}

fn row_of(roster: &mut Roster, id: u32) -> Result<&mut Row, Problem> {
    let at = row_at(roster, id)?;
    Ok(&mut roster.rows[at])
}

/// A roster that was read, under ids of this job: rows that say what one said before keep its id, the others get new ones.
fn numbered(taken: &Roster, before: &Roster, given: u32) -> Roster {
    let mut said: HashMap<&[String], Vec<u32>> = HashMap::new();
    if taken.columns == before.columns {
        for row in before.rows.iter().rev() {
            said.entry(&row.cells).or_default().push(row.id);
        }
    }
    let mut fresh = before.fresh(given);
    let rows = taken.rows.iter().map(|row| {
        let kept = said.get_mut(row.cells.as_slice()).and_then(Vec::pop);
        Row { id: kept.or_else(|| fresh.next()).unwrap_or_default(), cells: row.cells.clone() }
    });
    Roster { columns: taken.columns.clone(), rows: rows.collect() }
}

fn paste(roster: &mut Roster, row: Option<u32>, column: &str, text: &str, given: u32) -> Result<(), Problem> {
    let table = roster::csv::pasted(text).map_err(|e| Problem::Wrong(sentence(&e.to_string())))?;
    let left = column_at(roster, column)?;
    let top = row.map_or(Ok(roster.rows.len()), |id| row_at(roster, id))?;
    let (width, room) = (table.rows[0].len(), roster.columns.len() - left);
    if width > room {
        return Err(Problem::Wrong(format!(
            "{width} columns were pasted and the roster has {room} from “{column}” on; add {} first.",
            if width - room == 1 { "one".into() } else { (width - room).to_string() }
        )));
    }
    let mut fresh = roster.fresh(given);
    for (k, cells) in table.rows.into_iter().enumerate() {
        if top + k == roster.rows.len() {
            let id = fresh.next().unwrap_or_default();
            roster.rows.push(Row { id, cells: vec![String::new(); roster.columns.len()] });
        }
        for (cell, text) in roster.rows[top + k].cells[left..].iter_mut().zip(cells) {
            *cell = text;
        }
    }
    Ok(())
}

/// What is made from a column follows it to its new name.
fn rename(job: &mut Job, name: &str, to: &str) {
    let files = job.row_files.name.iter_mut().filter_map(|piece| piece.of.column_mut());
    for column in job.marks.iter_mut().flat_map(trade::Mark::columns_mut).chain(files).filter(|c| *c == name) {
        *column = to.into();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use trade::{Mark, Piece, recipe::PieceOf};

    fn job() -> Job {
        let mut job = Job::default();
        let column = |name: &str| RosterEdit::AddColumn { name: name.into(), column: ColumnKind::Text };
        for edit in [column("part"), column("variant"), RosterEdit::AddRows { count: 2, below: None }] {
            edit.apply(&mut job).unwrap();
        }
        let recipe = vec![Piece::plain(PieceOf::cell("variant"))];
        job.marks.push(Mark { id: "a".into(), recipe, ..Mark::default() });
        job
    }

    fn cells(job: &Job) -> Vec<String> {
        job.roster.rows.iter().map(|r| format!("{}:{}", r.id, r.cells.join(","))).collect()
    }

    fn paste(row: Option<u32>, column: &str, text: &str) -> RosterEdit {
        RosterEdit::Paste { row, column: column.into(), text: text.into() }
    }

    #[test]
    fn what_is_pasted_fills_cells_and_adds_rows_and_never_more_columns() {
        let mut job = job();
        paste(Some(2), "part", "VB\t007\nVB\t008\n").apply(&mut job).unwrap();
        assert_eq!(cells(&job), ["1:,", "2:VB,007", "3:VB,008"]);
        paste(None, "variant", "9").apply(&mut job).unwrap();
        assert_eq!(cells(&job)[3], "4:,9");
        let said = paste(Some(1), "variant", "a\tb").apply(&mut job).unwrap_err().to_string();
        assert!(said.contains("2 columns were pasted and the roster has 1 from “variant” on; add one first"), "{said}");
    }

    #[test]
    fn rows_and_columns_come_and_go_and_recipes_follow_a_new_name() {
        let mut job = job();
        RosterEdit::SetCell { row: 1, column: "variant".into(), text: "07".into() }.apply(&mut job).unwrap();
        RosterEdit::AddRows { count: 1, below: Some(1) }.apply(&mut job).unwrap();
        assert_eq!(cells(&job), ["1:,07", "3:,", "2:,"]);
        RosterEdit::RemoveRows { rows: vec![2, 3] }.apply(&mut job).unwrap();
        assert_eq!(cells(&job), ["1:,07"]);
        let kind = ColumnKind::Number { width: 2 };
        RosterEdit::SetColumn { name: "variant".into(), to: "no.".into(), column: kind }.apply(&mut job).unwrap();
        job.check().unwrap();
        assert_eq!(job.marks[0].recipe[0].of.column(), Some("no."));
        let said = RosterEdit::RemoveColumn { name: "no.".into() }.apply(&mut job).unwrap_err().to_string();
        assert!(said.contains("recipe of a reads"), "{said}");
        let files = RowFiles { name: vec![Piece::plain(PieceOf::cell("part"))], ..Default::default() };
        RosterEdit::SetFiles { files }.apply(&mut job).unwrap();
        RosterEdit::SetColumn { name: "part".into(), to: "item".into(), column: ColumnKind::Text }
            .apply(&mut job)
            .unwrap();
        job.check().unwrap();
        let said = RosterEdit::RemoveColumn { name: "item".into() }.apply(&mut job).unwrap_err().to_string();
        assert!(said.contains("names of the rows' files"), "{said}");
        RosterEdit::SetFiles { files: RowFiles::default() }.apply(&mut job).unwrap();
        RosterEdit::RemoveColumn { name: "item".into() }.apply(&mut job).unwrap();
        assert_eq!(cells(&job), ["1:07"]);
        RosterEdit::Clear { rows: vec![1], columns: vec!["no.".into()] }.apply(&mut job).unwrap();
        assert_eq!(cells(&job), ["1:"]);
        let gone = RosterEdit::SetCell { row: 9, column: "no.".into(), text: String::new() }.apply(&mut job);
        assert!(matches!(gone, Err(Problem::Missing(_))));
    }

    #[test]
    fn a_roster_that_is_read_brings_no_ids_of_its_own() {
        let mut job = job();
        paste(Some(1), "part", "VB\t007\nVB\t008\n").apply(&mut job).unwrap();
        job.given = job.given.clone().with(&job);
        RosterEdit::RemoveRows { rows: vec![2] }.apply(&mut job).unwrap();
        let mut read = (*job.roster).clone();
        let row = |variant: &str| Row { id: 1, cells: vec!["VB".into(), variant.into()] };
        read.rows = vec![row("008"), row("007"), row("007")];
        RosterEdit::Take { roster: read }.apply(&mut job).unwrap();
        // the row of 008 is gone, and its id with it
        assert_eq!(cells(&job), ["3:VB,008", "1:VB,007", "4:VB,007"]);
    }

    #[test]
    fn the_next_revision_is_one_press() {
        let mut job = job();
        for revision in ["A", "B"] {
            RosterEdit::NextRevision.apply(&mut job).unwrap();
            assert_eq!(job.revision.as_deref(), Some(revision));
        }
        RosterEdit::SetRevision { revision: Some("H".into()) }.apply(&mut job).unwrap();
        RosterEdit::NextRevision.apply(&mut job).unwrap();
        assert_eq!(job.revision.as_deref(), Some("J"));
        RosterEdit::SetRevision { revision: Some("I".into()) }.apply(&mut job).unwrap();
        assert!(job.check().unwrap_err().to_string().contains("“I” is not in the sequence"));
    }
}
