//! Changes of the tool plate. A cavity is named by its id.

use super::Change;
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use trade::{
    Column, ColumnKind, Job, Roster, Row,
    cavity_id::CavityNaming,
    tool_plate::{self, Cavity, Layout, ToolPlate},
};
use utoipa::ToSchema;

#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "change", deny_unknown_fields)]
pub enum PlateEdit {
    /// All cavities anew, numbered from `start` on.
    Arrange { layout: Layout, naming: CavityNaming, start: u32 },
    /// A cavity lies elsewhere, mm from the plate's middle, or turned otherwise, degrees.
    Move { cavity: u32, at: [f64; 2], turn: f64 },
    /// One more, with a row of its own.
    Add { at: [f64; 2] },
    /// A cavity is left out of the tool: its row goes, its place stays.
    LeaveOut { cavity: u32 },
    /// A place that was left out gets a row.
    PutBack { cavity: u32 },
    /// A place goes, with its row.
    Remove { cavity: u32 },
    /// No plate any more; the roster stays.
    Forget,
}

/// A change of the tool plate.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ToolPlateChange {
    pub edit: PlateEdit,
}

impl Change for ToolPlateChange {
    fn label(&self, _: &Job) -> String {
        self.edit.label()
    }

    fn apply(&self, job: &mut Job, _: &workbench::Bench) -> Result<(), Problem> {
        self.edit.apply(job)
    }
}

impl PlateEdit {
    pub(super) fn label(&self) -> String {
        match self {
            Self::Arrange { layout, .. } => format!("{} cavities arranged", layout.count()),
            Self::Move { .. } => "place of a cavity".into(),
            Self::Add { .. } => "cavity added".into(),
            Self::LeaveOut { .. } => "a cavity left out".into(),
            Self::PutBack { .. } => "a cavity put back".into(),
            Self::Remove { .. } => "a cavity removed".into(),
            Self::Forget => "tool plate removed".into(),
        }
    }

    pub(super) fn apply(&self, job: &mut Job) -> Result<(), Problem> {
        let Job { roster, tool_plate: plate, given, .. } = job;
        let roster = Arc::make_mut(roster);
        match self {
            Self::Arrange { layout, naming, start } => {
                let column = cavity_column(roster);
                *plate = tool_plate::arranged(layout, *naming, *start, roster, column, given)
                    .map_err(|e| Problem::Wrong(sentence(&e)))?;
            }
            Self::Move { cavity, at, turn } => {
                let cavity = cavity_of(plate, *cavity)?;
                cavity.at = *at;
                cavity.turn = *turn;
            }
            Self::Add { at } => {
                let row = Some(add_row(roster, given.row()));
                let id = plate.fresh(given).next().unwrap_or_default();
                plate.cavities.push(Cavity { id, at: *at, turn: 0.0, row });
            }
            Self::LeaveOut { cavity } => {
                if let Some(row) = cavity_of(plate, *cavity)?.row.take() {
                    roster.rows.retain(|r| r.id != row);
                }
            }
            Self::PutBack { cavity } => {
                let cavity = cavity_of(plate, *cavity)?;
                if cavity.row.is_none() {
                    cavity.row = Some(add_row(roster, given.row()));
                }
            }
            Self::Remove { cavity } => {
                if let Some(row) = cavity_of(plate, *cavity)?.row {
                    roster.rows.retain(|r| r.id != row);
                }
                plate.cavities.retain(|c| c.id != *cavity);
            }
            Self::Forget => *plate = ToolPlate::default(),
        }
        Ok(())
    }
}

fn cavity_of(plate: &mut ToolPlate, id: u32) -> Result<&mut Cavity, Problem> {
    plate.cavities.iter_mut().find(|c| c.id == id).ok_or_else(|| {
        Problem::Missing("That cavity is gone; somebody else may have arranged the plate again or removed it.".into())
    })
}

/// The column of cavity IDs; where there is none, one is made.
fn cavity_column(roster: &mut Roster) -> usize {
    let found = roster.columns.iter().position(|c| c.kind == ColumnKind::Cavity);
    if let Some(at) = found.or_else(|| roster.column("cavity")) {
        return at;
    }
    roster.columns.push(Column { name: "cavity".into(), kind: ColumnKind::Cavity });
    roster.rows.iter_mut().for_each(|r| r.cells.push(String::new()));
    roster.columns.len() - 1
}

/// A row like the last one, without a cavity ID yet.
fn add_row(roster: &mut Roster, given: u32) -> u32 {
    let column = cavity_column(roster);
    let id = roster.fresh(given).next().unwrap_or_default();
    let mut cells = roster.rows.last().map_or_else(|| vec![String::new(); roster.columns.len()], |r| r.cells.clone());
    cells[column].clear();
    roster.rows.push(Row { id, cells });
    id
}

/// Cavities whose rows are gone are left out.
pub(super) fn without(rows: &[u32], plate: &mut ToolPlate) {
    for cavity in &mut plate.cavities {
        cavity.row = cavity.row.filter(|row| !rows.contains(row));
    }
}

/// Ids of rows mean nothing between two rosters: a cavity is that of the row that has its ID in the new one.
pub(super) fn follow(before: &Roster, after: &Roster, plate: &mut ToolPlate) {
    let column = |roster: &Roster| roster.columns.iter().position(|c| c.kind == ColumnKind::Cavity);
    let found = |row: u32| {
        let id = &before.row(row)?.cells[column(before)?];
        let column = column(after)?;
        Some(after.rows.iter().find(|r| !id.is_empty() && r.cells[column] == *id)?.id)
    };
    for cavity in &mut plate.cavities {
        cavity.row = cavity.row.and_then(found);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn circle(count: u32) -> PlateEdit {
        let layout = Layout::Circle { count, radius: 60.0, first: 90.0, clockwise: true, turned: true };
        PlateEdit::Arrange { layout, naming: CavityNaming::Numbers, start: 1 }
    }

    fn ids(job: &Job) -> Vec<String> {
        let id = |c: &Cavity| c.row.map_or_else(|| "-".into(), |r| job.roster.row(r).unwrap().cells[0].clone());
        job.tool_plate.cavities.iter().map(id).collect()
    }

    #[test]
    fn cavities_are_arranged_left_out_restored_added_and_removed() {
        let mut job = Job::default();
        circle(4).apply(&mut job).unwrap();
        assert_eq!(job.roster.columns[0].kind, ColumnKind::Cavity);
        assert_eq!(ids(&job), ["1", "2", "3", "4"]);
        PlateEdit::LeaveOut { cavity: 2 }.apply(&mut job).unwrap();
        assert_eq!((ids(&job), job.roster.rows.len()), (vec!["1".into(), "-".into(), "3".into(), "4".into()], 3));
        PlateEdit::PutBack { cavity: 2 }.apply(&mut job).unwrap();
        assert_eq!(ids(&job)[1], "");
        PlateEdit::Add { at: [0.0, 0.0] }.apply(&mut job).unwrap();
        PlateEdit::Move { cavity: 5, at: [1.0, 2.0], turn: 45.0 }.apply(&mut job).unwrap();
        assert_eq!(job.tool_plate.cavities[4], Cavity { id: 5, at: [1.0, 2.0], turn: 45.0, row: Some(6) });
        PlateEdit::Remove { cavity: 1 }.apply(&mut job).unwrap();
        assert_eq!(ids(&job), ["", "3", "4", ""]);
        job.check().unwrap();
        let gone = PlateEdit::LeaveOut { cavity: 1 }.apply(&mut job);
        assert!(matches!(gone, Err(Problem::Missing(_))));
        PlateEdit::Forget.apply(&mut job).unwrap();
        assert_eq!((job.tool_plate.cavities.len(), job.roster.rows.len()), (0, 4));
    }

    #[test]
    fn cavities_follow_their_rows_and_a_roster_that_is_read_anew_by_their_ids() {
        let mut job = Job::default();
        circle(3).apply(&mut job).unwrap();
        let gone = Arc::make_mut(&mut job.roster).rows.remove(1).id;
        without(&[gone], &mut job.tool_plate);
        assert_eq!(ids(&job), ["1", "-", "3"]);
        let before = job.roster.clone();
        let rows = vec![Row { id: 1, cells: vec!["3".into()] }, Row { id: 2, cells: vec!["9".into()] }];
        Arc::make_mut(&mut job.roster).rows = rows;
        follow(&before, &job.roster, &mut job.tool_plate);
        assert_eq!(ids(&job), ["-", "-", "3"]);
    }
}
