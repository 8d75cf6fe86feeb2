//! Pages filled from above: paragraphs, tables, blocks that stay together.

use paper::{
    face::Face,
    ink::{At, Colour, INK, LINE, Op, SAND, SOFT, corners},
};

/// A4, points.
pub const PAGE: At = [595.28, 841.89];
pub const LEFT: f32 = 50.0;
pub const TOP: f32 = 52.0;
pub const BOTTOM: f32 = 64.0;
/// Between the margins.
pub const WIDTH: f32 = PAGE[0] - 2.0 * LEFT;
/// Of the text, points, and from line to line.
pub const SIZE: f32 = 9.0;
pub const LEADING: f32 = 1.35;

pub struct Flow {
    pages: Vec<Vec<Op>>,
    /// From the upper edge of the page.
    y: f32,
}

/// A cell of a table.
pub struct Cell {
    pub text: String,
    pub colour: Colour,
    pub strong: bool,
}

impl Cell {
    #[must_use]
    pub fn of(text: impl Into<String>) -> Self {
        Self { text: text.into(), colour: INK, strong: false }
    }

    #[must_use]
    pub fn coloured(self, colour: Colour) -> Self {
        Self { colour, ..self }
    }
}

/// A column: how wide, points, and whether its cells stand to the right.
pub struct Column {
    pub head: &'static str,
    pub width: f32,
    pub right: bool,
}

impl Default for Flow {
    fn default() -> Self {
        Self { pages: vec![Vec::new()], y: TOP }
    }
}

impl Flow {
    #[must_use]
    pub fn pages(self) -> Vec<Vec<Op>> {
        self.pages
    }

    #[must_use]
    pub fn y(&self) -> f32 {
        self.y
    }

    pub fn put(&mut self, op: Op) {
        self.pages.last_mut().expect("there is always a page").push(op);
    }

    pub fn down(&mut self, by: f32) {
        self.y += by;
    }

    pub fn page(&mut self) {
        self.pages.push(Vec::new());
        self.y = TOP;
    }

    /// Begins a page where less than `height` points are left of this one.
    pub fn need(&mut self, height: f32) {
        if self.y + height > PAGE[1] - BOTTOM && self.y > TOP {
            self.page();
        }
    }

    /// One line, its baseline `size` below the upper edge of what is left.
    fn line(&mut self, text: &str, x: f32, size: f32, face: Face, colour: Colour) {
        self.put(Op::Text { at: [x, self.y + size], size, face, colour, text: text.to_owned() });
        self.y += size * LEADING;
    }

    pub fn heading(&mut self, text: &str, size: f32) {
        self.need(4.0 * size + 40.0);
        self.y += 0.7 * size;
        for line in Face::Strong.lines(text, size, WIDTH) {
            self.line(&line, LEFT, size, Face::Strong, INK);
        }
        self.y += 0.25 * size;
    }

    pub fn paragraph(&mut self, text: &str, colour: Colour) {
        self.paragraph_in(text, LEFT, WIDTH, SIZE, colour);
        self.y += 3.0;
    }

    pub fn paragraph_in(&mut self, text: &str, x: f32, width: f32, size: f32, colour: Colour) {
        for line in Face::Text.lines(text, size, width) {
            self.need(size * LEADING);
            self.line(&line, x, size, Face::Text, colour);
        }
    }

    /// Lines beside a drawing: from `y` on, without leaving the page. Gives where they end.
    pub fn beside(&mut self, text: &str, at: At, width: f32, face: Face, colour: Colour) -> f32 {
        let mut y = at[1];
        for line in face.lines(text, SIZE, width) {
            self.put(Op::Text { at: [at[0], y + SIZE], size: SIZE, face, colour, text: line });
            y += SIZE * LEADING;
        }
        y
    }

    /// Small words under a drawing.
    pub fn caption(&mut self, text: &str, at: At, width: f32) -> f32 {
        const SMALL: f32 = 7.5;
        let mut y = at[1];
        for line in Face::Text.lines(text, SMALL, width) {
            let op = Op::Text { at: [at[0], y + SMALL], size: SMALL, face: Face::Text, colour: SOFT, text: line };
            self.put(op);
            y += SMALL * LEADING;
        }
        y
    }

    pub fn rule(&mut self, y: f32, colour: Colour) {
        self.put(Op::Line { points: vec![[LEFT, y], [LEFT + WIDTH, y]], width: 0.5, colour });
    }

    /// A table whose head stands on every page that it runs over.
    pub fn table(&mut self, columns: &[Column], rows: Vec<Vec<Cell>>) {
        const SMALL: f32 = 8.0;
        const PAD: f32 = 5.0;
        let head = |flow: &mut Self| {
            let mut x = LEFT;
            flow.put(Op::Area { rings: vec![corners([LEFT, flow.y], [WIDTH, 14.0])], colour: SAND });
            for column in columns {
                let width = Face::Strong.width(column.head, SMALL);
                let at = if column.right { x + column.width - PAD - width } else { x + 2.0 };
                let text = column.head.to_owned();
                flow.put(Op::Text { at: [at, flow.y + 10.0], size: SMALL, face: Face::Strong, colour: SOFT, text });
                x += column.width;
            }
            flow.y += 15.0;
        };
        self.need(48.0);
        head(self);
        for row in rows {
            let face = |cell: &Cell| if cell.strong { Face::Strong } else { Face::Text };
            let lines: Vec<Vec<String>> = row
                .iter()
                .zip(columns)
                .map(|(cell, column)| face(cell).lines(&cell.text, SMALL, column.width - PAD))
                .collect();
            let tall = lines.iter().map(Vec::len).max().unwrap_or(1) as f32 * SMALL * LEADING + 3.0;
            if self.y + tall > PAGE[1] - BOTTOM {
                self.page();
                head(self);
            }
            let mut x = LEFT;
            for ((cell, column), lines) in row.iter().zip(columns).zip(&lines) {
                for (k, line) in lines.iter().enumerate() {
                    let width = face(cell).width(line, SMALL);
                    let at = if column.right { x + column.width - PAD - width } else { x + 2.0 };
                    let y = self.y + SMALL + 1.5 + k as f32 * SMALL * LEADING;
                    let (face, text) = (face(cell), line.clone());
                    self.put(Op::Text { at: [at, y], size: SMALL, face, colour: cell.colour, text });
                }
                x += column.width;
            }
            self.y += tall;
            self.rule(self.y, LINE);
        }
        self.y += 6.0;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_long_table_runs_over_pages_with_its_head_on_each_and_nothing_below_the_margin() {
        let mut flow = Flow::default();
        let columns = [
            Column { head: "check", width: 100.0, right: false },
            Column { head: "figure", width: WIDTH - 100.0, right: true },
        ];
        let rows = (0..200).map(|k| vec![Cell::of(format!("check {k}")), Cell::of(format!("{k}.00 mm"))]).collect();
        flow.table(&columns, rows);
        let pages = flow.pages();
        assert!(pages.len() > 3);
        let texts = |page: &Vec<Op>| {
            page.iter()
                .filter_map(|op| match op {
                    Op::Text { at, size, face, text, .. } => Some((*at, face.width(text, *size), text.clone())),
                    _ => None,
                })
                .collect::<Vec<_>>()
        };
        for page in &pages {
            let texts = texts(page);
            assert_eq!(texts[0].2, "check");
            for (at, width, text) in texts {
                assert!(
                    at[1] <= PAGE[1] - BOTTOM && at[0] >= LEFT && at[0] + width <= LEFT + WIDTH,
                    "{text} at {at:?}"
                );
            }
        }
        let said: Vec<String> = pages.iter().flat_map(texts).map(|(.., text)| text).collect();
        assert!((0..200).all(|k| said.contains(&format!("check {k}"))), "every row is there");
    }
}
