//! What changes from row to row.

use crate::{
    line,
    sheet::{SMALL, Sheets, short},
};
use paper::{
    face::Face,
    ink::{INK, LINE, Op, SAND, SOFT, corners},
};

const TALL: f32 = 12.0;

/// The texts of the marks that are not the same in all rows, row by row; nothing where all are.
pub fn rows(sheets: &mut Sheets<'_>, built: &[usize]) {
    let of = sheets.of;
    let rows = &of.job.roster.rows;
    let differ: Vec<(usize, usize)> = built
        .iter()
        .enumerate()
        .map(|(number, &at)| (number + 1, at))
        .filter(|&(_, at)| of.texts.get(at).is_some_and(|texts| texts.windows(2).any(|two| two[0] != two[1])))
        .collect();
    if rows.len() < 2 || differ.is_empty() {
        return;
    }
    let [corner, field] = sheets.field();
    let columns = differ.len() as f32 + 1.0;
    const NUMBER: f32 = 34.0;
    let wide = (field[0] - NUMBER) / columns;
    let most = ((field[1] - TALL) / TALL) as usize;
    for (page, chunk) in rows.chunks(most).enumerate() {
        sheets.begin("what changes from row to row", "–");
        sheets.put(Op::Area { rings: vec![corners(corner, [field[0], TALL])], colour: SAND });
        let mut head = vec![(corner[0] + 2.0, "row".to_owned()), (corner[0] + NUMBER, "roster".to_owned())];
        for (k, (number, at)) in differ.iter().enumerate() {
            let x = corner[0] + NUMBER + (k as f32 + 1.0) * wide;
            head.push((x, format!("{number}: {}", of.job.marks[*at].called())));
        }
        let put = |sheets: &mut Sheets<'_>, x: f32, y: f32, text: &str, face, colour, width: f32| {
            let text = short(face, text, SMALL, width - 4.0);
            sheets.put(Op::Text { at: [x, y + 8.6], size: SMALL, face, colour, text });
        };
        for (x, text) in &head {
            put(sheets, *x, corner[1], text, Face::Strong, SOFT, wide);
        }
        for (k, row) in chunk.iter().enumerate() {
            let y = corner[1] + (k as f32 + 1.0) * TALL;
            let place = page * most + k;
            put(sheets, corner[0] + 2.0, y, &(place + 1).to_string(), Face::Text, INK, NUMBER);
            put(sheets, corner[0] + NUMBER, y, &row.cells.join(" · "), Face::Text, INK, wide);
            for (column, (_, at)) in differ.iter().enumerate() {
                let text = of.texts[*at].get(place).and_then(|said| said.as_deref().ok());
                let x = corner[0] + NUMBER + (column as f32 + 1.0) * wide;
                put(sheets, x, y, &text.map_or("can’t be said".into(), line), Face::Text, INK, wide);
            }
            let points = vec![[corner[0], y + TALL], [corner[0] + field[0], y + TALL]];
            sheets.put(Op::Line { points, width: 0.3, colour: LINE });
        }
    }
}
