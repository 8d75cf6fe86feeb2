//! Rosters as files: comma-separated and spreadsheet files read into a table and written back, and what is pasted
//! from a spreadsheet. Cells are text, kept to the letter; formulas are read as the values that the spreadsheet
//! kept, and nothing is run.

pub mod csv;
pub mod xlsx;

use trade::roster::{Column, ColumnKind, LONGEST_CELL, MOST_COLUMNS, MOST_ROWS, Roster, Row};

/// A file's cells, every row equally long.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Table {
    pub rows: Vec<Vec<String>>,
}

#[derive(Debug, PartialEq, Eq, thiserror::Error)]
pub enum TableError {
    #[error("{0}: a roster is read from .csv, .tsv, .txt or .xlsx")]
    Kind(String),
    #[error("line {line} is not in UTF-8 (byte {byte:#04X}); save the file as “CSV UTF-8” and read it again")]
    Encoding { line: usize, byte: u8 },
    #[error("it has no cells")]
    Empty,
    #[error("it has more than {MOST_ROWS} rows")]
    Rows,
    #[error("row {0} has more than {MOST_COLUMNS} columns")]
    Columns(usize),
    #[error("row {row}, column {column}: a cell has at most {LONGEST_CELL} characters, and one line")]
    Cell { row: usize, column: usize },
    #[error("row {row}, column {column} holds the spreadsheet's error {error}")]
    Formula { row: usize, column: usize, error: String },
    #[error("line {line}: {what}")]
    Line { line: u64, what: String },
    #[error("the spreadsheet can't be read: {0}")]
    Workbook(String),
    #[error("the spreadsheet would take {mb} MB unpacked; at most {most} MB are read")]
    Large { mb: u64, most: u64 },
}

impl Table {
    /// Takes a row in, checked against what a roster holds.
    fn push(&mut self, cells: Vec<String>) -> Result<(), TableError> {
        let row = self.rows.len() + 1;
        // one more for the heads
        if row > MOST_ROWS + 1 {
            return Err(TableError::Rows);
        }
        if cells.len() > MOST_COLUMNS {
            return Err(TableError::Columns(row));
        }
        let wrong = |cell: &String| cell.chars().count() > LONGEST_CELL || cell.chars().any(char::is_control);
        if let Some(at) = cells.iter().position(wrong) {
            return Err(TableError::Cell { row, column: at + 1 });
        }
        self.rows.push(cells);
        Ok(())
    }

    /// Without empty rows at its end, every row equally long.
    fn squared(mut self) -> Result<Self, TableError> {
        while self.rows.last().is_some_and(|r| r.iter().all(String::is_empty)) {
            self.rows.pop();
        }
        let filled = |row: &Vec<String>| row.iter().rposition(|c| !c.is_empty()).map_or(0, |at| at + 1);
        let width = self.rows.iter().map(filled).max().unwrap_or(0);
        if width == 0 {
            return Err(TableError::Empty);
        }
        for row in &mut self.rows {
            row.resize(width, String::new());
        }
        Ok(self)
    }

    /// The table as a roster: its first row names the columns, whose kinds are what all their cells fit. Names that
    /// are missing or come twice get a number.
    #[must_use]
    pub fn into_roster(self) -> Roster {
        let mut rows = self.rows.into_iter();
        let heads = rows.next().unwrap_or_default();
        let rows: Vec<Row> = rows.enumerate().map(|(at, cells)| Row { id: at as u32 + 1, cells }).collect();
        let mut columns: Vec<Column> = Vec::with_capacity(heads.len());
        for (at, head) in heads.iter().enumerate() {
            let mut name: String = head.trim().chars().take(50).collect();
            if name.is_empty() {
                name = format!("column {}", at + 1);
            }
            let plain = name.trim().to_owned();
            let mut number = 2;
            name.clone_from(&plain);
            while columns.iter().any(|c| c.name == name) {
                name = format!("{plain} {number}");
                number += 1;
            }
            let cells: Vec<&str> = rows.iter().map(|r| r.cells[at].as_str()).collect();
            columns.push(Column { kind: kind(&name, &cells), name });
        }
        Roster { columns, rows }
    }
}

/// The kind of a column by its name and cells. Only what its name says is more than text, so that nothing is taken
/// for a number that is none.
fn kind(name: &str, cells: &[&str]) -> ColumnKind {
    let name = name.to_lowercase();
    let all = |kind: ColumnKind| cells.iter().any(|c| !c.is_empty()) && cells.iter().all(|c| kind.fits(c).is_ok());
    let unique = || {
        let mut sorted: Vec<&&str> = cells.iter().filter(|c| !c.is_empty()).collect();
        sorted.sort_unstable();
        sorted.windows(2).all(|w| w[0] != w[1])
    };
    if name.starts_with("cav") && unique() {
        ColumnKind::Cavity
    } else if name.starts_with("rev") && all(ColumnKind::Revision) {
        ColumnKind::Revision
    } else if name.contains("date") && all(ColumnKind::Date) {
        ColumnKind::Date
    } else {
        ColumnKind::Text
    }
}

/// The table in a file, by the ending of its name.
///
/// # Errors
/// See [`TableError`].
pub fn read(name: &str, bytes: &[u8]) -> Result<Table, TableError> {
    match name.rsplit_once('.').map(|(_, ending)| ending.to_ascii_lowercase()).as_deref() {
        Some("csv" | "tsv" | "txt") => csv::read(bytes),
        Some("xlsx") => xlsx::read(bytes),
        _ => Err(TableError::Kind(name.to_owned())),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn table(rows: &[&[&str]]) -> Table {
        Table { rows: rows.iter().map(|r| r.iter().map(|c| (*c).to_owned()).collect()).collect() }
    }

    #[test]
    fn a_table_is_read_with_its_zeros_whatever_separates_its_cells() {
        let wanted = table(&[&["part", "variant"], &["007", "1,5"], &["a \"b\"", ""]]);
        for text in [
            "part,variant\r\n007,\"1,5\"\r\n\"a \"\"b\"\"\",\r\n",
            "part;variant\n007;1,5\n\"a \"\"b\"\"\";\n",
            "\u{FEFF}part\tvariant\n007\t1,5\n\"a \"\"b\"\"\"\n\n,",
        ] {
            if text.ends_with(',') {
                // a last line of separators only is no row
                assert_eq!(read("a.txt", text.trim_end_matches(',').as_bytes()).unwrap(), wanted);
            } else {
                assert_eq!(read("a.CSV", text.as_bytes()).unwrap(), wanted);
            }
        }
        let wide: Vec<u8> = [0xFF, 0xFE]
            .into_iter()
            .chain("part\tvariant\n007\t1,5\n\"a \"\"b\"\"\"\t".encode_utf16().flat_map(u16::to_le_bytes))
            .collect();
        assert_eq!(read("a.csv", &wide).unwrap(), wanted);
        assert_eq!(csv::pasted("007\t1\n008\t2\n").unwrap(), table(&[&["007", "1"], &["008", "2"]]));
        // a formula is text
        assert_eq!(read("a.csv", b"=1+1,@SUM(A1)").unwrap(), table(&[&["=1+1", "@SUM(A1)"]]));
    }

    #[test]
    fn columns_are_named_once_and_of_the_kind_that_their_name_and_cells_say() {
        let roster = table(&[
            &["part", "part", "", "Rev.", "cavity", "date"],
            &["VB", "007", "", "D", "1", "2026-11-26"],
            &["VB", "8", "", "E", "2", ""],
        ])
        .into_roster();
        roster.check().unwrap();
        let columns: Vec<(&str, ColumnKind)> = roster.columns.iter().map(|c| (c.name.as_str(), c.kind)).collect();
        assert_eq!(
            columns,
            [
                ("part", ColumnKind::Text),
                ("part 2", ColumnKind::Text),
                ("column 3", ColumnKind::Text),
                ("Rev.", ColumnKind::Revision),
                ("cavity", ColumnKind::Cavity),
                ("date", ColumnKind::Date)
            ]
        );
        assert_eq!(roster.rows[0].cells[1], "007");
        // what doesn't fit keeps the column text
        let roster = table(&[&["rev", "cav"], &["I", "1"], &["B", "1"]]).into_roster();
        assert!(roster.columns.iter().all(|c| c.kind == ColumnKind::Text));
    }

    #[test]
    fn what_is_no_roster_is_refused_in_words() {
        let says = |name: &str, bytes: &[u8], sentence: &str| {
            let error = read(name, bytes).unwrap_err().to_string();
            assert!(error.contains(sentence), "{error} should say {sentence}");
        };
        says("roster.doc", b"", "is read from .csv");
        says("a.csv", b"", "no cells");
        says("a.csv", b",,\n,,\n", "no cells");
        says("a.csv", b"part\nV\xe4b\n", "line 2 is not in UTF-8 (byte 0xE4)");
        says("a.csv", &[0xFF, 0xFE, 0x00, 0xD8], "UTF-8");
        says("a.csv", "x".repeat(1 << 20).as_bytes(), "row 1, column 1: a cell has at most 200");
        says("a.csv", "1\n".repeat(1_000_000).as_bytes(), "more than 10000 rows");
        says("a.csv", ",".repeat(100).as_bytes(), "row 1 has more than 40 columns");
        says("a.csv", b"\"a\nb\",c", "row 1, column 1");
        says("a.xlsx", b"part,variant", "can't be read");
    }

    #[test]
    fn a_spreadsheet_shows_its_cells_as_they_are_shown_and_runs_nothing() {
        use rust_xlsxwriter::{ExcelDateTime, Format, Formula, Workbook};
        let mut book = Workbook::new();
        let sheet = book.add_worksheet();
        sheet.write_string(0, 0, "part").unwrap().write_string(0, 1, "n").unwrap();
        sheet.write_number_with_format(1, 0, 7, &Format::new().set_num_format("000")).unwrap();
        sheet.write_number(1, 1, 2.5).unwrap();
        sheet.write_formula(2, 0, Formula::new("=1+1").set_result("2")).unwrap();
        let day = ExcelDateTime::from_ymd(2026, 11, 26).unwrap();
        sheet.write_datetime_with_format(2, 1, &day, &Format::new().set_num_format("yyyy-mm-dd")).unwrap();
        sheet.write_number(3, 0, 12).unwrap();
        let bytes = book.save_to_buffer().unwrap();
        assert_eq!(
            read("a.xlsx", &bytes).unwrap(),
            table(&[&["part", "n"], &["007", "2.5"], &["2", "2026-11-26"], &["12", ""]])
        );
        // a cell far out is no reason to fill the memory with empty ones
        let mut book = Workbook::new();
        book.add_worksheet().write_string(1_000_000, 0, "x").unwrap();
        assert_eq!(read("a.xlsx", &book.save_to_buffer().unwrap()), Err(TableError::Rows));
        let mut book = Workbook::new();
        book.add_worksheet().write_string(0, 16_000, "x").unwrap();
        assert_eq!(read("a.xlsx", &book.save_to_buffer().unwrap()), Err(TableError::Columns(1)));
        let mut book = Workbook::new();
        book.add_worksheet().write_formula(0, 0, Formula::new("=1/0").set_result("#DIV/0!")).unwrap();
        let error = read("a.xlsx", &book.save_to_buffer().unwrap());
        assert!(error.is_err() || error.unwrap().rows[0][0] == "#DIV/0!");
    }

    proptest! {
        #[test]
        fn a_roster_written_and_read_again_is_the_same(
            heads in proptest::collection::hash_set("[a-z]{1,5}", 1..5),
            seed in proptest::collection::vec(proptest::collection::vec("[ -~äΩ]{0,12}", 5), 1..8),
        ) {
            let columns: Vec<Column> =
                heads.into_iter().map(|name| Column { name, kind: ColumnKind::Text }).collect();
            let mut rows: Vec<Row> = seed
                .iter()
                .enumerate()
                .map(|(at, cells)| Row { id: at as u32 + 1, cells: cells[..columns.len()].to_vec() })
                .collect();
            // rows without any cell at the end are none
            while rows.last().is_some_and(|r| r.cells.iter().all(String::is_empty)) {
                rows.pop();
            }
            let roster = Roster { columns, rows };
            for (name, bytes) in [("a.csv", csv::write(&roster)), ("a.xlsx", xlsx::write(&roster).unwrap())] {
                let again = read(name, &bytes).unwrap();
                let cells: Vec<Vec<String>> = roster.rows.iter().map(|r| r.cells.clone()).collect();
                prop_assert_eq!(&again.rows[1..], &cells[..], "{}", name);
                let names: Vec<&String> = roster.columns.iter().map(|c| &c.name).collect();
                prop_assert_eq!(again.rows[0].iter().collect::<Vec<_>>(), names);
            }
        }
    }
}
