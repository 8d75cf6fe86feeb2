//! Sheets with their frame and title block, and what is written on them.

use crate::{Callouts, Manner, Projection};
use paper::{
    Page,
    face::Face,
    ink::{At, Colour, INK, Op, SOFT, corners},
};

/// Points to the millimetre.
pub const MM: f32 = 72.0 / 25.4;
/// From the edge of the sheet to its frame: on the left, where it is bound, and elsewhere. ISO 5457, from memory.
const BOUND: f32 = 20.0 * MM;
const EDGE: f32 = 10.0 * MM;
/// Of the title block.
const TITLE: At = [180.0 * MM, 92.0];
/// From what is drawn to the frame.
const PAD: f32 = 10.0;
/// Heights of what is written, points: ISO 3098's 2.5 and 3.5 mm capitals, from memory, by the face's 0.73 em.
pub const SMALL: f32 = 7.0;
pub const SIZE: f32 = 8.6;

/// Sheets as they are filled.
pub struct Sheets<'a> {
    pub of: &'a Callouts<'a>,
    pub manner: Manner,
    /// What each shows, at which scale, and what is drawn on it.
    sheets: Vec<(String, String, Vec<Op>)>,
}

impl<'a> Sheets<'a> {
    pub fn new(of: &'a Callouts<'a>, manner: Manner) -> Self {
        Self { of, manner, sheets: Vec::new() }
    }

    /// Begins a sheet.
    pub fn begin(&mut self, shows: &str, scale: &str) {
        self.sheets.push((shows.to_owned(), scale.to_owned(), Vec::new()));
    }

    pub fn put(&mut self, op: Op) {
        self.sheets.last_mut().expect("a sheet was begun").2.push(op);
    }

    pub fn put_all(&mut self, ops: Vec<Op>) {
        ops.into_iter().for_each(|op| self.put(op));
    }

    /// Where may be drawn: upper left corner and size, over the title block.
    pub fn field(&self) -> [At; 2] {
        let [wide, tall] = self.manner.paper.size();
        let at = [BOUND + PAD, EDGE + PAD];
        [at, [wide - BOUND - EDGE - 2.0 * PAD, tall - 2.0 * EDGE - TITLE[1] - 2.0 * PAD]]
    }

    /// Words, their upper left corner at a place, no wider than this; where they end.
    pub fn words(&mut self, text: &str, at: At, width: f32, size: f32, (face, colour): (Face, Colour)) -> f32 {
        let mut y = at[1];
        for text in face.lines(text, size, width) {
            self.put(Op::Text { at: [at[0], y + size], size, face, colour, text });
            y += size * 1.35;
        }
        y
    }

    /// All sheets with what stands on each.
    pub fn pages(self) -> Vec<Page> {
        let count = self.sheets.len();
        let size = self.manner.paper.size();
        let mut pages = Vec::new();
        for (k, (shows, scale, ops)) in self.sheets.into_iter().enumerate() {
            let mut all = ops;
            all.extend(frame(size));
            all.extend(title(self.of, self.manner, size, [&shows, &scale], [k + 1, count]));
            pages.push(Page { size, ops: all });
        }
        pages
    }
}

fn boxed(at: At, size: At, width: f32) -> Op {
    let mut points = corners(at, size);
    points.push(at);
    Op::Line { points, width, colour: INK }
}

fn frame([wide, tall]: At) -> Vec<Op> {
    vec![boxed([BOUND, EDGE], [wide - BOUND - EDGE, tall - 2.0 * EDGE], 1.0)]
}

/// A cell of the title block: what it holds, and that, cut short where it is too long.
struct Cell {
    head: &'static str,
    says: String,
    /// Column and how many of six it takes, and the row.
    at: [f32; 2],
    wide: f32,
    strong: bool,
}

fn title(
    of: &Callouts<'_>,
    manner: Manner,
    [wide, tall]: At,
    [shows, scale]: [&str; 2],
    [page, pages]: [usize; 2],
) -> Vec<Op> {
    const ROW: f32 = 23.0;
    let corner = [wide - EDGE - TITLE[0], tall - EDGE - TITLE[1]];
    let column = TITLE[0] / 6.0;
    let cell = |head, says: String, at: [f32; 2], wide: f32| Cell { head, says, at, wide, strong: false };
    let cells = row_of(of);
    let limits = of.job.limit_set();
    let kept = match (of.record, of.state) {
        (Some(record), _) => format!("record {record}"),
        (None, Some(state)) => format!("state {state}"),
        (None, None) => "by the command line".into(),
    };
    let mut all = vec![
        Cell { strong: true, ..cell("job", of.job.name.clone(), [0.0, 0.0], 3.0) },
        cell("sheet shows", shows.to_owned(), [3.0, 0.0], 3.0),
        cell("part file", of.job.part.file.clone(), [0.0, 1.0], 2.0),
        cell("row", if cells.is_empty() { "–".into() } else { cells }, [2.0, 1.0], 2.0),
        cell("limits", limits.name.to_string(), [4.0, 1.0], 2.0),
        cell("material", of.job.process.material().map_or("–", |m| m.name).to_owned(), [0.0, 2.0], 2.0),
        cell("drawn for", of.by.to_owned(), [2.0, 2.0], 1.0),
        cell("date", of.day.to_owned(), [3.0, 2.0], 1.0),
        cell("kept as", kept, [4.0, 2.0], 2.0),
        cell("revision", of.job.revision.clone().unwrap_or_else(|| "–".into()), [0.0, 3.0], 1.0),
        cell("scale", scale.to_owned(), [1.0, 3.0], 1.0),
        cell("dimensions", format!("{}, at the part’s size", manner.unit()), [2.0, 3.0], 1.6),
    ];
    all.push(Cell { strong: true, ..cell("sheet", format!("{page} of {pages}"), [5.2, 3.0], 0.8) });
    let mut ops = vec![boxed(corner, TITLE, 1.0)];
    for Cell { head, says, at, wide, strong } in all {
        let place = [corner[0] + at[0] * column, corner[1] + at[1] * ROW];
        ops.push(boxed(place, [wide * column, ROW], 0.4));
        let text = |y: f32, size: f32, face, colour, text: String| Op::Text {
            at: [place[0] + 3.0, place[1] + y],
            size,
            face,
            colour,
            text,
        };
        ops.push(text(6.8, 5.0, Face::Text, SOFT, head.to_owned()));
        let face = if strong { Face::Strong } else { Face::Text };
        ops.push(text(17.5, SIZE, face, INK, short(face, &says, SIZE, wide * column - 6.0)));
    }
    let place = [corner[0] + 3.6 * column, corner[1] + 3.0 * ROW];
    ops.push(boxed(place, [1.6 * column, ROW], 0.4));
    ops.extend(symbol(manner.projection, [place[0] + 0.8 * column, place[1] + ROW / 2.0]));
    ops
}

/// A text cut short where it is wider.
pub fn short(face: Face, text: &str, size: f32, width: f32) -> String {
    if face.width(text, size) <= width {
        return text.to_owned();
    }
    let mut kept = text.to_owned();
    while !kept.is_empty() && face.width(&format!("{kept}…"), size) > width {
        kept.pop();
    }
    format!("{kept}…")
}

fn row_of(of: &Callouts<'_>) -> String {
    let row = of.row.and_then(|row| of.job.roster.row(row));
    let cells = row.map(|row| row.cells.iter().filter(|c| !c.is_empty()).cloned().collect::<Vec<_>>());
    cells.unwrap_or_default().join(" · ")
}

/// A frustum in two views, as it lies in first or in third angle: ISO 5456-2, from memory.
fn symbol(projection: Projection, [x, y]: At) -> Vec<Op> {
    const RADII: [f32; 2] = [3.5, 7.0];
    let first = projection == Projection::FirstAngle;
    let (side, end) = if first { (x - 20.0, x + 8.0) } else { (x + 4.0, x - 12.0) };
    let circle = |radius: f32| {
        let at = |k: u8| {
            let a = std::f32::consts::TAU * f32::from(k) / 36.0;
            [end + radius * a.cos(), y + radius * a.sin()]
        };
        Op::Line { points: (0..=36).map(at).collect(), width: 0.6, colour: INK }
    };
    let [small, large] = RADII;
    let points = vec![
        [side, y - small],
        [side + 14.0, y - large],
        [side + 14.0, y + large],
        [side, y + small],
        [side, y - small],
    ];
    let axis = |from: f32, to: f32| Op::Line { points: vec![[from, y], [to, y]], width: 0.3, colour: SOFT };
    vec![
        Op::Line { points, width: 0.6, colour: INK },
        circle(small),
        circle(large),
        axis(side - 3.0, side + 17.0),
        axis(end - 10.0, end + 10.0),
    ]
}
