//! Spreadsheets (Office Open XML): the first sheet's cells as they are shown, and a roster as a sheet of texts.

use crate::{Table, TableError};
use calamine::{DataRef, Reader, Xlsx};
use rust_xlsxwriter::{Format, Workbook};
use std::io::Cursor;
use trade::{
    Roster,
    roster::{MOST_COLUMNS, MOST_ROWS},
};

/// Unpacked, a spreadsheet of the largest roster is far smaller, MB.
const MOST_MB: u64 = 200;

/// # Errors
/// No spreadsheet, or too large for a roster.
pub fn read(bytes: &[u8]) -> Result<Table, TableError> {
    let workbook = |e: &dyn std::fmt::Display| TableError::Workbook(e.to_string());
    // before anything is unpacked: a small archive can hold more than there is memory for
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|e| workbook(&e))?;
    let mut size = 0_u64;
    for at in 0..archive.len() {
        size = size.saturating_add(archive.by_index_raw(at).map_err(|e| workbook(&e))?.size());
    }
    if size > MOST_MB << 20 {
        return Err(TableError::Large { mb: size >> 20, most: MOST_MB });
    }
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|e| workbook(&e))?;
    let sheet = book.sheet_names().first().cloned().ok_or(TableError::Empty)?;
    let mut cells = book.worksheet_cells_reader(&sheet).map_err(|e| workbook(&e))?;
    let mut rows: Vec<Vec<String>> = Vec::new();
    while let Some((cell, style)) = cells.next_cell_with_style_id().map_err(|e| workbook(&e))? {
        let (row, column) = cell.get_position();
        let (row, column) = (row as usize, column as usize);
        let format =
            cells.styles().get(style).and_then(|s| s.number_format.as_ref()).map(|f| f.format_code.to_string());
        let text = match cell.get_value() {
            DataRef::Empty => continue,
            DataRef::String(text) => text.clone(),
            DataRef::SharedString(text) => (*text).to_owned(),
            DataRef::Bool(true) => "TRUE".into(),
            DataRef::Bool(false) => "FALSE".into(),
            DataRef::Int(number) => shown(*number as f64, format.as_deref()),
            DataRef::Float(number) => shown(*number, format.as_deref()),
            DataRef::DateTime(date) if date.is_datetime() => {
                let (year, month, day, ..) = date.to_ymd_hms_milli();
                format!("{year:04}-{month:02}-{day:02}")
            }
            DataRef::DateTime(duration) => shown(duration.as_f64(), None),
            DataRef::DateTimeIso(text) | DataRef::DurationIso(text) => text.clone(),
            DataRef::Error(error) => {
                return Err(TableError::Formula { row: row + 1, column: column + 1, error: error.to_string() });
            }
        };
        // a cell far out would fill the memory with empty ones
        if row > MOST_ROWS {
            return Err(TableError::Rows);
        }
        if column >= MOST_COLUMNS {
            return Err(TableError::Columns(row + 1));
        }
        if rows.len() <= row {
            rows.resize(row + 1, Vec::new());
        }
        if rows[row].len() <= column {
            rows[row].resize(column + 1, String::new());
        }
        rows[row][column] = text;
    }
    let mut table = Table::default();
    for row in rows {
        table.push(row)?;
    }
    table.squared()
}

/// A number as the sheet shows it: whole ones without a point, with the zeros before it that its format asks for
/// (`000`); others with the digits that they have.
fn shown(number: f64, format: Option<&str>) -> String {
    if number.fract() != 0.0 || number.abs() >= 1e15 {
        return number.to_string();
    }
    let zeros = format.filter(|f| f.len() > 1 && f.bytes().all(|b| b == b'0')).map_or(0, str::len);
    format!("{number:0zeros$.0}")
}

/// The roster as a sheet: its columns' names in the first row, every cell a text.
///
/// # Errors
/// The spreadsheet can't be written.
pub fn write(roster: &Roster) -> Result<Vec<u8>, TableError> {
    let wrong = |e: rust_xlsxwriter::XlsxError| TableError::Workbook(e.to_string());
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    let (text, head) = (Format::new().set_num_format("@"), Format::new().set_bold().set_num_format("@"));
    for (at, column) in roster.columns.iter().enumerate() {
        sheet.write_string_with_format(0, at as u16, &column.name, &head).map_err(wrong)?;
        for (row, cells) in roster.rows.iter().enumerate() {
            sheet.write_string_with_format(row as u32 + 1, at as u16, &cells.cells[at], &text).map_err(wrong)?;
        }
    }
    sheet.set_freeze_panes(1, 0).map_err(wrong)?;
    book.save_to_buffer().map_err(wrong)
}
