//! What the files of each row of the roster are called.

use crate::{
    job::Job,
    recipe::{self, Source},
    roster::{ColumnKind, Row},
};
use std::collections::HashMap;
use time::Date;

/// Longest name, characters: room for what is put behind it.
pub const LONGEST_NAME: usize = 120;

/// Without what file systems don't take; a name that some of them keep for themselves gets a line before it.
fn safe(name: &str) -> String {
    let plain: String =
        name.chars().map(|c| if c.is_control() || r#"/\:*?"<>|"#.contains(c) { '-' } else { c }).collect();
    let plain = plain.trim().trim_end_matches(|c: char| c == '.' || c.is_whitespace());
    let stem = plain.split('.').next().unwrap_or_default().trim_end().to_ascii_uppercase();
    let numbered = |port: &str| {
        stem.strip_prefix(port).is_some_and(|n| n.len() == 1 && n.bytes().all(|b| (b'1'..=b'9').contains(&b)))
    };
    let kept = matches!(stem.as_str(), "CON" | "PRN" | "AUX" | "NUL") || numbered("COM") || numbered("LPT");
    if kept || plain.starts_with('.') { format!("_{plain}") } else { plain.to_owned() }
}

impl Job {
    /// The name that the files of each row get, in the roster's order, or why there is none. No two are alike, in
    /// capitals or small letters: not every file system tells these apart.
    #[must_use]
    pub fn file_names(&self, today: Date) -> Vec<Result<String, String>> {
        let rows = &self.roster.rows;
        let digits = rows.len().to_string().len();
        let cavity = self.roster.columns.iter().position(|c| c.kind == ColumnKind::Cavity);
        let plainly = |at: usize, row: &Row| {
            let own = cavity.map(|column| row.cells[column].trim()).filter(|cell| !cell.is_empty());
            Ok(match own {
                Some(cell) => format!("{} {cell}", self.name),
                None => format!("{} row {:0digits$}", self.name, at + 1),
            })
        };
        let named = |(at, row): (usize, &Row)| {
            let source = Source { roster: &self.roster, row: Some(row), revision: self.revision.as_deref(), today };
            let written = if self.row_files.name.is_empty() {
                plainly(at, row)
            } else {
                recipe::write(&self.row_files.name, source)
            };
            let name = safe(&written?);
            match name.chars().count() {
                0 => Err("its recipe gives no name".to_owned()),
                long if long > LONGEST_NAME => Err(format!("“{name}” has {long} characters; at most {LONGEST_NAME}")),
                _ => Ok(name),
            }
        };
        let mut names: Vec<Result<String, String>> = rows.iter().enumerate().map(named).collect();
        let mut bearers: HashMap<String, Vec<usize>> = HashMap::new();
        for (at, name) in names.iter().enumerate() {
            if let Ok(name) = name {
                bearers.entry(name.to_lowercase()).or_default().push(at);
            }
        }
        for rows in bearers.into_values().filter(|rows| rows.len() > 1) {
            for &at in &rows {
                let other = if at == rows[0] { rows[1] } else { rows[0] };
                if let Ok(name) = &names[at] {
                    names[at] = Err(format!("row {} would be called “{name}” too", other + 1));
                }
            }
        }
        names
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{
        RowFiles,
        recipe::{LineEnd, Piece, PieceOf},
        roster::{Column, Roster},
    };
    use proptest::prelude::*;

    const TODAY: Date = time::macros::date!(2026 - 11 - 26);

    fn job(kind: ColumnKind, cells: &[&str]) -> Job {
        let column = Column { name: "id".into(), kind };
        let row = |(at, cell): (usize, &&str)| Row { id: 10 + at as u32, cells: vec![(*cell).to_owned()] };
        let roster = Roster { columns: vec![column], rows: cells.iter().enumerate().map(row).collect() };
        Job { name: "VB-20".into(), roster: roster.into(), ..Job::default() }
    }

    fn by_column(job: &mut Job) {
        job.row_files.name = vec![Piece::plain(PieceOf::text("VB-")), Piece::plain(PieceOf::cell("id"))];
    }

    #[test]
    fn without_a_recipe_the_cavity_or_the_rows_number_tells_files_apart() {
        let names = |job: &Job| job.file_names(TODAY).into_iter().map(Result::unwrap).collect::<Vec<_>>();
        assert_eq!(names(&job(ColumnKind::Cavity, &["1A", "", "3"])), ["VB-20 1A", "VB-20 row 2", "VB-20 3"]);
        let many: Vec<&str> = vec!["x"; 12];
        assert_eq!(names(&job(ColumnKind::Text, &many))[8], "VB-20 row 09");
    }

    #[test]
    fn two_rows_with_one_name_are_told_of_each_other() {
        let mut job = job(ColumnKind::Text, &["a", "b", "A", "c/d", "c:d"]);
        by_column(&mut job);
        let names = job.file_names(TODAY);
        assert_eq!(names[1], Ok("VB-b".into()));
        assert_eq!(names[0], Err("row 3 would be called “VB-a” too".into()));
        assert_eq!(names[2], Err("row 1 would be called “VB-A” too".into()));
        assert_eq!(names[4], Err("row 4 would be called “VB-c-d” too".into()));
    }

    #[test]
    fn an_empty_cell_leaves_its_row_without_a_name_and_says_so() {
        let mut job = job(ColumnKind::Text, &["a", ""]);
        by_column(&mut job);
        assert_eq!(job.file_names(TODAY)[1], Err("“id” is empty".into()));
        job.row_files.name.push(Piece::plain(PieceOf::LineEnd(LineEnd {})));
        assert!(job.row_files.check(&job.roster).unwrap_err().contains("one line"));
        job.row_files = RowFiles { name: Vec::new(), kinds: Vec::new() };
        assert!(job.row_files.check(&job.roster).unwrap_err().contains("at least one"));
    }

    proptest! {
        #[test]
        fn names_are_such_as_file_systems_take(cell in "\\PC{1,40}") {
            let mut job = job(ColumnKind::Text, &[&cell]);
            job.row_files.name = vec![Piece::plain(PieceOf::cell("id"))];
            if let Ok(name) = &job.file_names(TODAY)[0] {
                let forbidden = |c: char| c.is_control() || "/\\:*?\"<>|".contains(c);
                prop_assert!(!name.contains(forbidden) && !name.starts_with(['.', ' ']) && !name.ends_with(['.', ' ']));
            }
        }
    }

    #[test]
    fn names_that_systems_keep_for_themselves_are_changed() {
        for (name, made) in [("nul", "_nul"), ("COM1.x", "_COM1.x"), ("..", ""), (".git", "_.git"), ("COM10", "COM10")]
        {
            assert_eq!(safe(name), made);
        }
    }
}
