//! The tool plate drawn to be printed: each cavity where it lies, turned as it lies, with its ID.

use glam::DVec2;
use quick_xml::escape::escape;
use solid::Mesh;
use std::fmt::Write;
use trade::{Job, roster::ColumnKind, tool_plate::footprint};

/// Round the outermost parts, mm.
const MARGIN: f64 = 12.0;
/// The drawing is no wider than a sheet of A4 leaves, mm.
const WIDEST: f64 = 180.0;

/// The plate as SVG in mm, each cavity as large as the part; `None` without cavities.
#[must_use]
pub fn svg(job: &Job, part: &Mesh) -> Option<Vec<u8>> {
    let cavities = &job.tool_plate.cavities;
    if cavities.is_empty() {
        return None;
    }
    let (low, high) = part.bounds();
    let part = DVec2::from(footprint((high - low).to_array(), job.tool.pull));
    let half = |turn: f64| {
        let (sin, cos) = turn.to_radians().sin_cos();
        DVec2::new(part.x * cos.abs() + part.y * sin.abs(), part.x * sin.abs() + part.y * cos.abs()) / 2.0
    };
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for cavity in cavities {
        let at = DVec2::from(cavity.at);
        low = low.min(at - half(cavity.turn));
        high = high.max(at + half(cavity.turn));
    }
    let (low, high) = (low - MARGIN, high + MARGIN);
    let size = high - low;
    let head = size.x / 22.0;
    let column = job.roster.columns.iter().position(|c| c.kind == ColumnKind::Cavity);
    let id = |row: u32| column.and_then(|c| Some(job.roster.row(row)?.cells[c].as_str())).unwrap_or_default();
    let laid = cavities.iter().filter(|c| c.row.is_some()).count();
    let (left, top, tall) = (low.x, -high.y - 1.8 * head, size.y + 1.8 * head);
    let wide = size.x.min(WIDEST);
    let mut out = String::new();
    // writing to a string does not fail
    let _ = write!(
        out,
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{wide:.2}mm\" height=\"{:.2}mm\" viewBox=\"{left:.3} {top:.3} {:.3} {tall:.3}\" \
         font-family=\"B612,Verdana,sans-serif\"><title>{}: tool plate</title>\
         <text x=\"{left:.3}\" y=\"{:.3}\" font-size=\"{head:.3}\">{}: {laid} cavities, seen from the parting face</text>\
         <rect x=\"{:.3}\" y=\"{:.3}\" width=\"{:.3}\" height=\"{:.3}\" fill=\"none\" stroke=\"#22302d\" stroke-width=\"{:.3}\"/>",
        wide * tall / size.x,
        size.x,
        escape(&job.name),
        top + head,
        escape(&job.name),
        low.x,
        -high.y,
        size.x,
        size.y,
        size.x / 400.0,
    );
    let letter = (0.45 * part.min_element()).max(size.x / 120.0);
    for cavity in cavities {
        // y runs down on the sheet
        let _ = write!(
            out,
            "<g transform=\"translate({:.3} {:.3}) rotate({:.3})\"><rect x=\"{:.3}\" y=\"{:.3}\" width=\"{:.3}\" height=\"{:.3}\" \
             fill=\"none\" stroke=\"#22302d\" stroke-width=\"{:.3}\"{}/>",
            cavity.at[0],
            -cavity.at[1],
            -cavity.turn,
            -part.x / 2.0,
            -part.y / 2.0,
            part.x,
            part.y,
            size.x / 600.0,
            if cavity.row.is_some() { "" } else { " stroke-dasharray=\"2 2\"" },
        );
        match cavity.row {
            Some(row) => {
                let id = id(row);
                let fits = 1.5 * part.x / (id.chars().count().max(1) as f64);
                let tall = letter.min(fits);
                let _ = write!(
                    out,
                    "<text text-anchor=\"middle\" y=\"{:.3}\" font-size=\"{tall:.3}\">{}</text>",
                    0.36 * tall,
                    escape(id)
                );
            }
            None => out.push_str("<title>left out</title>"),
        }
        out.push_str("</g>");
    }
    out.push_str("</svg>\n");
    Some(out.into_bytes())
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec3;
    use trade::{
        Column, Roster, Row,
        tool_plate::{Cavity, ToolPlate},
    };

    #[test]
    fn every_cavity_is_drawn_where_it_lies_with_its_id() {
        let columns = vec![Column { name: "cavity".into(), kind: ColumnKind::Cavity }];
        let row = |id: u32, cell: &str| Row { id, cells: vec![cell.into()] };
        let cavity = |at, turn, row| Cavity { id: 0, at, turn, row };
        let mut job = Job {
            name: "A & B".into(),
            roster: Roster { columns, rows: vec![row(1, "01"), row(2, "<2")] }.into(),
            ..Job::default()
        };
        let part = Mesh { vertices: vec![DVec3::ZERO, DVec3::new(10.0, 6.0, 3.0)], triangles: Vec::new() };
        assert!(svg(&job, &part).is_none());
        let cavities = vec![
            cavity([-20.0, 5.0], 0.0, Some(1)),
            cavity([20.0, 5.0], 90.0, Some(2)),
            cavity([0.0, -15.0], 0.0, None),
        ];
        job.tool_plate = ToolPlate { cavities };
        let drawn = String::from_utf8(svg(&job, &part).unwrap()).unwrap();
        assert!(drawn.contains("A &amp; B: 2 cavities"), "{drawn}");
        assert!(drawn.contains("translate(-20.000 -5.000) rotate(-0.000)") && drawn.contains(">01</text>"), "{drawn}");
        assert!(
            drawn.contains("translate(20.000 -5.000) rotate(-90.000)") && drawn.contains(">&lt;2</text>"),
            "{drawn}"
        );
        assert!(drawn.contains("<title>left out</title>"));
        // the plate holds all parts: 25 + 12 to the left, 23 + 12 to the right
        assert!(drawn.contains("viewBox=\"-37.000"), "{drawn}");
        assert!(drawn.contains("width=\"72.000\""), "{drawn}");
    }
}
