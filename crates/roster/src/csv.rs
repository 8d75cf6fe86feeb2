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
        table.push(record.iter().map(str::to_owned).collect())?;
    }
    table.squared()
}

/// The roster with its columns' names first, commas between, in UTF-8 with the mark that spreadsheets know it by.
#[must_use]
pub fn write(roster: &Roster) -> Vec<u8> {
    let mut writer =
        ::csv::WriterBuilder::new().terminator(::csv::Terminator::CRLF).from_writer(b"\xEF\xBB\xBF".to_vec());
    let heads = roster.columns.iter().map(|c| c.name.as_str());
    let expect = "writing to memory doesn't fail, and rows are equally long";
    writer.write_record(heads).expect(expect);
    for row in &roster.rows {
        writer.write_record(&row.cells).expect(expect);
    }
    writer.into_inner().expect(expect)
}
