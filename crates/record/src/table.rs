//! All figures of a record as a table for a spreadsheet.

use crate::Record;
use inspection::Finding;
use trade::limits::{Side, State};

const HEAD: [&str; 16] = [
    "record",
    "row",
    "mark",
    "text",
    "check",
    "letter",
    "state",
    "waived by",
    "figure",
    "unit",
    "error",
    "limit is at",
    "limit",
    "margin",
    "source",
    "finding",
];

/// CSV (RFC 4180): a line for each finding, and under it one for each of its letters; where all rows were recorded, then a
/// line for each of their findings that has a figure. Decimal points, as many digits as were measured.
///
/// # Panics
/// Never: it is written to memory.
#[must_use]
pub fn csv(record: &Record) -> Vec<u8> {
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    let mut line = |cells: [String; 16]| writer.write_record(cells).expect("memory takes what is written");
    line(HEAD.map(str::to_owned));
    let number = record.number.map_or(String::new(), |n| n.to_string());
    let row = record.row.as_ref().map_or(String::new(), |r| r.place.to_string());
    let side = |side: Side| if side == Side::AtLeast { "least" } else { "most" }.to_owned();
    let figure = |f: Option<f64>| f.map_or(String::new(), |f| f.to_string());
    for (mark, finding) in record.marks.iter().flat_map(|m| m.findings.iter().map(move |f| (m, f))) {
        let limit = finding.limit.as_ref();
        let cells = |letter: &str, state: State, measured: Option<f64>, error: f64, says: &str| {
            [
                number.clone(),
                row.clone(),
                mark.mark.clone(),
                mark.text.replace('\n', " / "),
                finding.check.name().to_owned(),
                letter.to_owned(),
                state.word().to_owned(),
                waived(finding),
                figure(measured),
                finding.unit.to_owned(),
                measured.map_or(String::new(), |_| error.to_string()),
                limit.map_or(String::new(), |l| side(l.side)),
                figure(limit.map(|l| l.value)),
                figure(limit.map(|l| l.margin)),
                limit.map_or(String::new(), |l| format!("{} ({})", l.source, l.sheet)),
                says.to_owned(),
            ]
        };
        line(cells("", finding.state, finding.measured, finding.error, &finding.sentence));
        for letter in &finding.letters {
            line(cells(&letter.text, letter.state, letter.measured, letter.error, ""));
        }
    }
    for recorded in &record.rows {
        let Some(found) = &recorded.found else { continue };
        for (mark, f) in found.marks.iter().flat_map(|m| m.figures.iter().map(move |f| (m, f))) {
            line([
                number.clone(),
                recorded.row.place.to_string(),
                mark.mark.clone(),
                mark.text.replace('\n', " / "),
                f.check.name().to_owned(),
                f.letter.as_ref().map_or(String::new(), |l| l.text.clone()),
                f.state.word().to_owned(),
                String::new(),
                f.measured.to_string(),
                f.unit.clone(),
                String::new(),
                f.limit.map_or(String::new(), |(s, _)| side(s)),
                figure(f.limit.map(|(_, value)| value)),
                String::new(),
                String::new(),
                String::new(),
            ]);
        }
    }
    writer.into_inner().expect("memory takes what is written")
}

fn waived(finding: &Finding) -> String {
    finding.waived.as_ref().filter(|w| w.lapsed.is_none()).map_or(String::new(), |w| w.by.clone())
}
