//! Rosters against a spreadsheet library.

use super::python::python;
use serde_json::json;

const SPREADSHEET: &str = r##"
import base64, datetime, io, json, sys
import openpyxl
given = json.load(sys.stdin)
ours = openpyxl.load_workbook(io.BytesIO(bytes(given["ours"]))).active
book = openpyxl.Workbook()
sheet = book.active
sheet.append(["part", "variant", "date"])
sheet.append(["007", 7, datetime.date(2026, 11, 26)])
sheet["B2"].number_format = "000"
sheet.append(["ä \"b\"", 12, None])
sheet["E9"] = "far"
out = io.BytesIO()
book.save(out)
print(json.dumps({"cells": [[cell.value for cell in row] for row in ours.iter_rows()],
                  "types": sorted({cell.data_type for row in ours.iter_rows() for cell in row}),
                  "theirs": list(out.getvalue())}))
"##;

/// Against openpyxl, both ways.
#[test]
fn rosters_are_read_and_written_as_another_spreadsheet_library_does() {
    use trade::{Column, ColumnKind, Roster, Row};
    let column = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
    let row = |id, cells: [&str; 2]| Row { id, cells: cells.map(Into::into).to_vec() };
    let ours = Roster {
        columns: ["part", "no"].map(column).to_vec(),
        rows: vec![row(1, ["007", "=1+1"]), row(2, ["ä \"b\"", "1e5"])],
    };
    let found = python(SPREADSHEET, &json!({"ours": roster::xlsx::write(&ours).unwrap()}));
    assert_eq!(found["cells"], json!([["part", "no"], ["007", "=1+1"], ["ä \"b\"", "1e5"]]));
    // texts, none of them a number or a formula
    assert_eq!(found["types"], json!(["s"]));
    let theirs: Vec<u8> = serde_json::from_value(found["theirs"].clone()).unwrap();
    let table = roster::read("theirs.xlsx", &theirs).unwrap();
    assert_eq!(table.rows[0], ["part", "variant", "date", "", ""]);
    assert_eq!(table.rows[1], ["007", "007", "2026-11-26", "", ""]);
    assert_eq!(table.rows[2], ["ä \"b\"", "12", "", "", ""]);
    assert_eq!((table.rows.len(), table.rows[8][4].as_str()), (9, "far"));
}
