//! Comma-separated files (RFC 4180), with semicolons or tabs too, and what spreadsheets put on the clipboard.

use crate::{Table, TableError};
use std::borrow::Cow;
use trade::Roster;

/// # Errors
/// Not in UTF-8 or UTF-16, or too large for a roster.
pub fn read(bytes: &[u8]) -> Result<Table, TableError> {
    let text = decoded(bytes)?;
    separated(&text, separator(&text))
}

/// Cells pasted from a spreadsheet, as it puts them on the clipboard: tabs between cells, quotes where a cell has
/// tabs or line ends of its own.
///
/// # Errors
/// Too large for a roster.
pub fn pasted(text: &str) -> Result<Table, TableError> {
    separated(text, b'\t')
}

fn decoded(bytes: &[u8]) -> Result<Cow<'_, str>, TableError> {
    let wide = |from: fn([u8; 2]) -> u16| {
        let units: Vec<u16> = bytes[2..].chunks_exact(2).map(|b| from([b[0], b[1]])).collect();
        String::from_utf16(&units).map_err(|_| TableError::Encoding { line: 1, byte: bytes[0] })
    };
    match bytes {
        [0xFF, 0xFE, ..] => return wide(u16::from_le_bytes).map(Cow::Owned),
        [0xFE, 0xFF, ..] => return wide(u16::from_be_bytes).map(Cow::Owned),
        _ => {}
    }
    let bytes = bytes.strip_prefix(b"\xEF\xBB\xBF").unwrap_or(bytes);
    std::str::from_utf8(bytes).map(Cow::Borrowed).map_err(|e| {
        let before = &bytes[..e.valid_up_to()];
        TableError::Encoding { line: before.iter().filter(|b| **b == b'\n').count() + 1, byte: bytes[e.valid_up_to()] }
    })
}

/// What separates the cells: that of `, ; tab` which the first line has most of, outside of quotes.
fn separator(text: &str) -> u8 {
    let mut quoted = false;
    let mut counts = [(b';', 0), (b'\t', 0), (b',', 0)];
    for byte in text.bytes() {
        match byte {
            b'"' => quoted = !quoted,
            b'\n' if !quoted => break,
            _ if !quoted => {
                if let Some(count) = counts.iter_mut().find(|(s, _)| *s == byte) {
                    count.1 += 1;
                }
            }
            _ => {}
        }
    }
    counts.into_iter().max_by_key(|(_, n)| *n).map_or(b',', |(s, _)| s)
}

fn separated(text: &str, separator: u8) -> Result<Table, TableError> {
    let mut reader =
        ::csv::ReaderBuilder::new().delimiter(separator).has_headers(false).flexible(true).from_reader(text.as_bytes());
    let mut table = Table::default();
    for record in reader.records() {
        let record = record.map_err(|e| TableError::Line {
            line: e.position().map_or(0, ::csv::Position::line),
            what: "its quotes don't close".into(),
        })?;
        table.push(record.iter().map(|cell| plain(cell).to_owned()).collect())?;
    }
    table.squared()
}

/// Does a spreadsheet take a cell that begins like this for a formula? Numbers with a sign it takes for numbers.
fn is_formula(cell: &str) -> bool {
    cell.starts_with(['=', '+', '-', '@']) && cell.parse::<f64>().is_err()
}

/// A cell as it is written: before what a spreadsheet would run stands an apostrophe, which it takes as “this is text”
/// (common practice; OWASP, CSV Injection).
fn guarded(cell: &str) -> String {
    let is_guarded = cell.strip_prefix('\'').is_some_and(|rest| is_formula(rest.trim_start_matches('\'')));
    if is_formula(cell) || is_guarded { format!("'{cell}") } else { cell.into() }
}

/// A cell as it was before [`guarded`].
fn plain(cell: &str) -> &str {
    let rest = cell.strip_prefix('\'');
    rest.filter(|rest| is_formula(rest.trim_start_matches('\''))).unwrap_or(cell)
}

/// The roster with its columns' names first, commas between, in UTF-8 with the mark that spreadsheets know it by.
#[must_use]
pub fn write(roster: &Roster) -> Vec<u8> {
    let mut writer =
        ::csv::WriterBuilder::new().terminator(::csv::Terminator::CRLF).from_writer(b"\xEF\xBB\xBF".to_vec());
    let heads = roster.columns.iter().map(|c| guarded(&c.name));
    let expect = "writing to memory doesn't fail, and rows are equally long";
    writer.write_record(heads).expect(expect);
    for row in &roster.rows {
        writer.write_record(row.cells.iter().map(|cell| guarded(cell))).expect(expect);
    }
    writer.into_inner().expect(expect)
}

#[cfg(test)]
mod tests {
    use super::*;
    use trade::{Column, ColumnKind, Row};

    #[test]
    fn what_a_spreadsheet_would_run_is_written_as_text_and_read_as_it_was() {
        let cells = ["=1+1", "+SUM(A1)", "-2", "-2.5e3", "@cmd", "'=1", "''@x", "'plain", "-", "A=1"];
        let row = Row { id: 1, cells: cells.map(str::to_owned).to_vec() };
        let columns = (0..cells.len()).map(|k| Column { name: format!("=c{k}"), kind: ColumnKind::Text }).collect();
        let written = write(&Roster { columns, rows: vec![row] });
        let text = String::from_utf8(written.clone()).unwrap();
        let line = text.lines().nth(1).unwrap();
        assert_eq!(line, "'=1+1,'+SUM(A1),-2,-2.5e3,'@cmd,''=1,'''@x,'plain,'-,A=1");
        let again = read(&written).unwrap().into_roster();
        assert_eq!(again.rows[0].cells, cells);
        assert_eq!(again.columns[3].name, "=c3");
    }
}
