//! The roster: the table of parts, variants and cavities that recipes read, kept to the letter.

use crate::{date_code, revision};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::{HashMap, HashSet};

/// Far above any tool's; they keep a slip of the clipboard from becoming a job.
pub const MOST_COLUMNS: usize = 40;
pub const MOST_ROWS: usize = 10_000;
pub const LONGEST_CELL: usize = 200;
/// Widest whole number, digits.
pub const WIDEST: u32 = 12;

#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Roster {
    pub columns: Vec<Column>,
    pub rows: Vec<Row>,
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Column {
    pub name: String,
    pub kind: ColumnKind,
}

/// What the cells of a column are.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "kind", deny_unknown_fields)]
pub enum ColumnKind {
    /// Kept to the letter: 007 stays 007.
    Text,
    /// Digits only, so many at most.
    Number { width: u32 },
    /// In sequence after ASME Y14.35.
    Revision,
    /// As ISO 8601 writes it.
    Date,
    /// One of its own for each row.
    Cavity,
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Row {
    /// Stays with the row wherever it is moved.
    pub id: u32,
    /// One for each column.
    pub cells: Vec<String>,
}

/// A cell that doesn't fit its column.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CellFault {
    pub row: u32,
    pub column: u32,
    pub says: String,
}

impl ColumnKind {
    /// # Errors
    /// Why a cell doesn't fit. An empty one fits every kind: a recipe says what becomes of it.
    pub fn fits(self, cell: &str) -> Result<(), String> {
        if cell.is_empty() {
            return Ok(());
        }
        match self {
            Self::Text | Self::Cavity => Ok(()),
            Self::Number { width } => {
                if !cell.bytes().all(|b| b.is_ascii_digit()) {
                    return Err(format!("“{cell}” is not a whole number"));
                }
                if cell.len() > width as usize {
                    return Err(format!("“{cell}” has {} digits; the column is {width} wide", cell.len()));
                }
                Ok(())
            }
            Self::Revision => revision::rank(cell).map(|_| ()),
            Self::Date => date_code::read(cell).map(|_| ()),
        }
    }
}

/// Numbers that are not among `taken`: those after the greatest of them and of `given`, then those left out before it.
pub(crate) fn fresh(taken: HashSet<u32>, given: u32) -> impl Iterator<Item = u32> {
    let most = taken.iter().copied().fold(given, u32::max);
    let after = most.checked_add(1).map(|next| next..=u32::MAX);
    after.into_iter().flatten().chain(1..=most).filter(move |id| !taken.contains(id))
}

impl Roster {
    #[must_use]
    pub fn column(&self, name: &str) -> Option<usize> {
        self.columns.iter().position(|c| c.name == name)
    }

    #[must_use]
    pub fn row(&self, id: u32) -> Option<&Row> {
        self.rows.iter().find(|r| r.id == id)
    }

    /// Ids that no row has: those after the greatest, and after `given`, the greatest that one has had; then those that
    /// are left out before it.
    pub fn fresh(&self, given: u32) -> impl Iterator<Item = u32> + use<> {
        fresh(self.rows.iter().map(|r| r.id).collect(), given)
    }

    /// Is it a table?
    ///
    /// # Errors
    /// What is wrong with its columns, or where it is no table. Cells that don't fit their kind are no error: they
    /// are kept, and [`Roster::faults`] says so.
    pub fn check(&self) -> Result<(), String> {
        if self.columns.len() > MOST_COLUMNS || self.rows.len() > MOST_ROWS {
            return Err(format!("the roster has at most {MOST_COLUMNS} columns and {MOST_ROWS} rows"));
        }
        let mut names = HashSet::new();
        for column in &self.columns {
            let length = column.name.chars().count();
            if column.name.trim() != column.name || !(1..=60).contains(&length) || !names.insert(&column.name) {
                return Err(format!(
                    "a column is called “{}”; its name has 1 to 60 characters, no blank at its ends, and belongs to one column",
                    column.name
                ));
            }
            if let ColumnKind::Number { width } = column.kind
                && !(1..=WIDEST).contains(&width)
            {
                return Err(format!(
                    "column “{}” is {width} wide; whole numbers have 1 to {WIDEST} digits",
                    column.name
                ));
            }
        }
        let mut ids = HashSet::new();
        for (at, row) in self.rows.iter().enumerate() {
            if !ids.insert(row.id) {
                return Err(format!("two rows have the id {}", row.id));
            }
            if row.cells.len() != self.columns.len() {
                return Err(format!(
                    "row {} has {} cells and the roster {} columns",
                    at + 1,
                    row.cells.len(),
                    self.columns.len()
                ));
            }
            for (cell, column) in row.cells.iter().zip(&self.columns) {
                if cell.chars().count() > LONGEST_CELL || cell.chars().any(char::is_control) {
                    return Err(format!(
                        "row {}, “{}”: a cell has at most {LONGEST_CELL} characters and one line",
                        at + 1,
                        column.name
                    ));
                }
            }
        }
        Ok(())
    }

    /// Cells that don't fit the kind of their column, row by row.
    #[must_use]
    pub fn faults(&self) -> Vec<CellFault> {
        let mut faults = Vec::new();
        for (at, column) in self.columns.iter().enumerate() {
            let mut seen: HashMap<&str, usize> = HashMap::new();
            for (number, row) in self.rows.iter().enumerate() {
                let cell = row.cells[at].as_str();
                let twice = (column.kind == ColumnKind::Cavity && !cell.is_empty())
                    .then(|| seen.insert(cell, number))
                    .flatten()
                    .map(|first| format!("cavity “{cell}” is in row {} too", first + 1));
                if let Some(says) = column.kind.fits(cell).err().or(twice) {
                    faults.push(CellFault { row: row.id, column: at as u32, says });
                }
            }
        }
        let order: HashMap<u32, usize> = self.rows.iter().enumerate().map(|(at, r)| (r.id, at)).collect();
        faults.sort_by_key(|f| (order[&f.row], f.column));
        faults
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_new_row_has_an_id_of_its_own_whatever_the_others_are() {
        let with = |ids: &[u32]| Roster {
            rows: ids.iter().map(|id| Row { id: *id, cells: Vec::new() }).collect(),
            ..Roster::default()
        };
        let two = |ids: &[u32]| with(ids).fresh(0).take(2).collect::<Vec<_>>();
        assert_eq!(two(&[]), [1, 2]);
        assert_eq!(two(&[4, 2]), [5, 6]);
        assert_eq!(two(&[1, u32::MAX - 1, 2]), [u32::MAX, 3]);
    }

    fn roster() -> Roster {
        let column = |name: &str, kind| Column { name: name.into(), kind };
        let row = |id, cells: [&str; 4]| Row { id, cells: cells.map(Into::into).to_vec() };
        Roster {
            columns: vec![
                column("part", ColumnKind::Text),
                column("variant", ColumnKind::Number { width: 2 }),
                column("rev", ColumnKind::Revision),
                column("cavity", ColumnKind::Cavity),
            ],
            rows: vec![row(1, ["VB-20", "07", "D", "1"]), row(4, ["007", "", "", "2"])],
        }
    }

    #[test]
    fn cells_are_kept_to_the_letter_and_those_that_dont_fit_say_so_where_they_stand() {
        let mut roster = roster();
        roster.check().unwrap();
        assert_eq!(roster.faults(), []);
        assert_eq!((roster.rows[1].cells[0].as_str(), roster.fresh(0).next()), ("007", Some(5)));
        roster.rows[1].cells = ["007", "123", "I", "1"].map(Into::into).to_vec();
        roster.check().unwrap();
        let faults = roster.faults();
        assert!(faults.iter().all(|f| f.row == 4));
        let says: Vec<(u32, &str)> = faults.iter().map(|f| (f.column, f.says.as_str())).collect();
        assert!(says[0].0 == 1 && says[0].1.contains("3 digits; the column is 2 wide"), "{says:?}");
        assert!(says[1].0 == 2 && says[1].1.contains("“I” is not in the sequence"), "{says:?}");
        assert_eq!(says[2], (3, "cavity “1” is in row 1 too"));
        // nothing of it was changed
        assert_eq!(roster.rows[1].cells.join("|"), "007|123|I|1");
    }

    #[test]
    fn what_is_no_table_is_refused_in_words() {
        let wrong = |change: fn(&mut Roster), says: &str| {
            let mut roster = roster();
            change(&mut roster);
            let error = roster.check().unwrap_err();
            assert!(error.contains(says), "{error} should say {says}");
        };
        wrong(|r| r.columns[1].name = "part".into(), "called “part”");
        wrong(|r| r.columns[1].name = " ".into(), "called “ ”");
        wrong(|r| r.columns[1].kind = ColumnKind::Number { width: 0 }, "0 wide");
        wrong(|r| r.rows[1].id = 1, "two rows");
        wrong(|r| drop(r.rows[1].cells.pop()), "row 2 has 3 cells and the roster 4 columns");
        wrong(|r| r.rows[1].cells[0] = "a\nb".into(), "row 2, “part”");
        wrong(|r| r.rows[1].cells[0] = "x".repeat(201), "at most 200 characters");
    }
}
