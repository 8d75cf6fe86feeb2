//! What a DXF draws: its entities with their layers, those of its blocks put where they are inserted.

use super::pairs::{Item, Pair};
use crate::{
    ArtworkError,
    curve::{Curve, Spline, bulged},
    drawing::Told,
    faults::count,
};
use glam::{DAffine2, DVec2};
use std::{
    collections::{BTreeMap, HashMap, HashSet},
    f64::consts::TAU,
};

/// Most entities, those of inserted blocks counted as often as they are inserted.
const MOST: usize = 1_000_000;
/// What stands on a drawing without being part of what is drawn.
const BESIDES: [&str; 9] =
    ["ATTDEF", "DIMENSION", "LEADER", "MULTILEADER", "POINT", "RAY", "TOLERANCE", "VIEWPORT", "XLINE"];
/// Deepest that blocks may lie in one another.
const DEEPEST: usize = 32;

pub struct Entity<'a> {
    pub layer: &'a str,
    pub shape: Shape,
}

pub enum Shape {
    Path {
        curves: Vec<Curve>,
        closed: bool,
        /// In the drawing's units; 0 for a line that bounds something.
        width: f64,
    },
    /// What loops enclose by even-odd.
    Filled(Vec<Vec<Curve>>),
    /// A text, which isn't drawn, and where it begins.
    Text(DVec2),
}

impl Shape {
    pub fn curves(&self) -> Box<dyn Iterator<Item = &Curve> + '_> {
        match self {
            Self::Path { curves, .. } => Box::new(curves.iter()),
            Self::Filled(loops) => Box::new(loops.iter().flatten()),
            Self::Text(_) => Box::new(std::iter::empty()),
        }
    }

    pub fn width(&self) -> f64 {
        if let Self::Path { width, .. } = self { *width } else { 0.0 }
    }

    fn mapped(self, to: &DAffine2) -> Self {
        let map = |curves: Vec<Curve>| curves.iter().map(|c| c.mapped(to)).collect();
        match self {
            Self::Path { curves, closed, width } => {
                let width = width * to.matrix2.determinant().abs().sqrt();
                Self::Path { curves: map(curves), closed, width }
            }
            Self::Filled(loops) => Self::Filled(loops.into_iter().map(map).collect()),
            Self::Text(at) => Self::Text(to.transform_point2(at)),
        }
    }
}

#[derive(Default)]
pub struct Found<'a> {
    pub entities: Vec<Entity<'a>>,
    /// Layers that are switched off or frozen.
    pub hidden: HashSet<&'a str>,
    /// mm that a unit of the drawing is long, where it says so.
    pub unit: Option<f64>,
    /// Kinds of entities that are left out, with their number.
    unread: BTreeMap<&'a str, usize>,
    /// Entities that don't lie in the drawing's plane.
    tilted: usize,
    /// Lines whose width changes along them.
    tapered: usize,
    /// Hatches of lines, not of a colour.
    patterned: usize,
    put: usize,
}

struct Block<'a> {
    base: DVec2,
    items: &'a [Item<'a>],
}

/// mm of a unit, by the number that the header gives for it.
fn unit(number: i64) -> Option<f64> {
    Some(match number {
        1 => 25.4,
        2 => 304.8,
        4 => 1.0,
        5 => 10.0,
        6 => 1000.0,
        8 => 25.4e-6,
        9 => 25.4e-3,
        10 => 914.4,
        13 => 1e-3,
        14 => 100.0,
        _ => return None,
    })
}

/// # Errors
/// A number is none, a block lies in itself, or there is too much of it all.
pub fn read<'a>(items: &'a [Item<'a>]) -> Result<Found<'a>, ArtworkError> {
    let mut found = Found::default();
    let mut blocks: HashMap<&str, Block<'_>> = HashMap::new();
    let mut drawn: &[Item<'_>] = &[];
    let mut at = 0;
    while at < items.len() {
        let from = at + 1;
        if items[at].kind != "SECTION" {
            at = from;
            continue;
        }
        let name = items[at].text(2);
        at = (from..items.len()).find(|&k| items[k].kind == "ENDSEC").unwrap_or(items.len()).max(from);
        match name {
            Some("HEADER") => found.unit = header(&items[from - 1])?,
            Some("TABLES") => {
                for layer in items[from..at].iter().filter(|i| i.kind == "LAYER") {
                    if layer.flag(70, 1)? || layer.number_or(62, 1.0)? < 0.0 {
                        found.hidden.extend(layer.text(2));
                    }
                }
            }
            Some("BLOCKS") => {
                let mut begin = None;
                for k in from..at {
                    match (items[k].kind, begin) {
                        ("BLOCK", _) => begin = Some(k),
                        ("ENDBLK", Some(first)) => {
                            let block = &items[first];
                            if let Some(name) = block.text(2) {
                                blocks.insert(name, Block { base: block.point(10)?, items: &items[first + 1..k] });
                            }
                            begin = None;
                        }
                        _ => {}
                    }
                }
            }
            Some("ENTITIES") => drawn = &items[from..at],
            _ => {}
        }
    }
    found.put(drawn, &blocks, &DAffine2::IDENTITY, &mut Vec::new(), "0")?;
    Ok(found)
}

/// What the header says of the unit.
fn header(section: &Item<'_>) -> Result<Option<f64>, ArtworkError> {
    let name = section.pairs.iter().position(|p| p.code == 9 && p.value == "$INSUNITS");
    let value = name.and_then(|k| section.pairs.get(k + 1)).map(Pair::number).transpose()?;
    Ok(value.and_then(|n| unit(n as i64)))
}

impl<'a> Found<'a> {
    /// What was left out or changed, in sentences.
    pub fn told(&self) -> Vec<Told> {
        const MOST_KINDS: usize = 5;
        let mut told = Vec::new();
        if !self.unread.is_empty() {
            let kinds = self.unread.iter().take(MOST_KINDS);
            let mut names: Vec<String> = kinds.map(|(kind, n)| format!("{n} {kind:.30}")).collect();
            if self.unread.len() > MOST_KINDS {
                names.push("others".into());
            }
            let says = format!("Left out, since they bound nothing: {}.", names.join(", "));
            let left_out = self.unread.keys().any(|kind| !BESIDES.contains(kind));
            told.push(Told { says, left_out });
        }
        let mut tell = |n: usize, left_out: bool, one: &str, many: &str, says: &str| {
            if n > 0 {
                told.push(Told { says: format!("{} {says}", count(n, one, many)), left_out });
            }
        };
        tell(self.tilted, true, "entity", "entities", "outside of the drawing's plane left out.");
        tell(self.tapered, false, "line", "lines", "of changing width drawn at the mean width.");
        tell(self.patterned, false, "hatch", "hatches", "of lines filled as a whole.");
        told
    }

    /// One more is drawn, or a block put once more, with something in it or not.
    fn count(&mut self) -> Result<(), ArtworkError> {
        self.put += 1;
        if self.put > MOST { Err(ArtworkError::TooMany) } else { Ok(()) }
    }

    fn put(
        &mut self,
        items: &'a [Item<'a>],
        blocks: &HashMap<&'a str, Block<'a>>,
        to: &DAffine2,
        inside: &mut Vec<&'a str>,
        layer_of_block: &'a str,
    ) -> Result<(), ArtworkError> {
        let mut at = 0;
        while at < items.len() {
            let item = &items[at];
            at += 1;
            let mut corners: &[Item<'_>] = &[];
            if item.kind == "POLYLINE" {
                let end = (at..items.len()).find(|&k| items[k].kind != "VERTEX").unwrap_or(items.len());
                corners = &items[at..end];
                at = end;
            }
            self.count()?;
            // on paper, or not to be seen
            if item.flag(67, 1)? || item.flag(60, 1)? {
                continue;
            }
            // what lies on layer 0 of a block lies on the layer that the block is put on
            let layer = if item.layer() == "0" { layer_of_block } else { item.layer() };
            let Some(plane) = plane(item)? else {
                self.tilted += 1;
                continue;
            };
            if item.kind == "INSERT" {
                self.insert(item, blocks, &(*to * plane), inside, layer)?;
            } else if let Some(shape) = self.shape(item, corners, plane.matrix2.determinant())? {
                let there = if in_plane(item.kind) { *to * plane } else { *to };
                self.entities.push(Entity { layer, shape: shape.mapped(&there) });
            }
        }
        Ok(())
    }

    fn insert(
        &mut self,
        item: &Item<'a>,
        blocks: &HashMap<&'a str, Block<'a>>,
        to: &DAffine2,
        inside: &mut Vec<&'a str>,
        layer: &'a str,
    ) -> Result<(), ArtworkError> {
        let name = item.text(2).unwrap_or_default();
        let Some(block) = blocks.get(name) else {
            return Err(ArtworkError::Unreadable(format!("it inserts the block “{name:.40}”, which it doesn't have")));
        };
        if inside.contains(&name) {
            return Err(ArtworkError::Unreadable(format!("the block “{name:.40}” contains itself; explode it")));
        }
        if inside.len() >= DEEPEST {
            return Err(ArtworkError::TooDeep(inside.len()));
        }
        inside.push(name);
        let scale = DVec2::new(item.number_or(41, 1.0)?, item.number_or(42, 1.0)?);
        let turn = DAffine2::from_angle(item.number_or(50, 0.0)?.to_radians());
        let many = |code| item.number_or(code, 1.0).map(|n| (n.max(1.0) as usize).min(MOST));
        let (columns, rows) = (many(70)?, many(71)?);
        let apart = DVec2::new(item.number_or(44, 0.0)?, item.number_or(45, 0.0)?);
        for row in 0..rows {
            for column in 0..columns {
                self.count()?;
                let step = DAffine2::from_translation(apart * DVec2::new(column as f64, row as f64));
                let there = DAffine2::from_translation(item.point(10)?)
                    * turn
                    * step
                    * DAffine2::from_scale(scale)
                    * DAffine2::from_translation(-block.base);
                self.put(block.items, blocks, &(*to * there), inside, layer)?;
            }
        }
        inside.pop();
        Ok(())
    }

    fn shape(&mut self, item: &Item<'a>, corners: &[Item<'a>], facing: f64) -> Result<Option<Shape>, ArtworkError> {
        let path = |curves: Vec<Curve>| Some(Shape::Path { curves, closed: false, width: 0.0 });
        Ok(match item.kind {
            "LINE" => path(vec![Curve::Line(item.point(10)?, item.point(11)?)]),
            "CIRCLE" | "ARC" => {
                let (centre, radius) = (item.point(10)?, item.number_or(40, 0.0)?);
                let (from, until) = if item.kind == "CIRCLE" {
                    (0.0, TAU)
                } else {
                    (item.number_or(50, 0.0)?.to_radians(), item.number_or(51, 360.0)?.to_radians())
                };
                let (u, v) = (DVec2::X * radius, DVec2::Y * radius);
                path(vec![Curve::Arc { centre, u, v, from, sweep: super::sweep(from, until) }])
            }
            "ELLIPSE" => {
                let (centre, u) = (item.point(10)?, item.point(11)?);
                let v = u.perp() * item.number_or(40, 1.0)? * facing;
                let (from, until) = (item.number_or(41, 0.0)?, item.number_or(42, TAU)?);
                path(vec![Curve::Arc { centre, u, v, from, sweep: super::sweep(from, until) }])
            }
            "SPLINE" => {
                let degree = item.number_or(71, 3.0)?.max(0.0) as usize;
                let spline = Spline::new(degree, item.numbers(40)?, item.points(10)?, item.numbers(41)?);
                if spline.is_none() {
                    *self.unread.entry("SPLINE without control points").or_default() += 1;
                }
                spline.and_then(|s| path(vec![Curve::Spline(s)]))
            }
            "LWPOLYLINE" => self.polyline(&light_corners(item)?, item.flag(70, 1)?, item.number_or(43, 0.0)?),
            "POLYLINE" => {
                const MESHES: i64 = 8 | 16 | 64;
                // control points of a smoothed line
                const FRAME: i64 = 16;
                if item.flag(70, MESHES)? {
                    *self.unread.entry("POLYLINE in space").or_default() += 1;
                    return Ok(None);
                }
                let usual = (item.number_or(40, 0.0)?, item.number_or(41, 0.0)?);
                let mut found = Vec::new();
                for corner in corners {
                    if !corner.flag(70, FRAME)? {
                        found.push(Corner {
                            at: corner.point(10)?,
                            bulge: corner.number_or(42, 0.0)?,
                            width: (corner.number_or(40, usual.0)?, corner.number_or(41, usual.1)?),
                        });
                    }
                }
                self.polyline(&found, item.flag(70, 1)?, 0.0)
            }
            "SOLID" | "TRACE" => {
                let [a, b, c, d] = [item.point(10)?, item.point(11)?, item.point(12)?, item.point(13)?];
                // the third corner lies across from the second
                let around = [a, b, d, c];
                Some(Shape::Filled(vec![(0..4).map(|k| Curve::Line(around[k], around[(k + 1) % 4])).collect()]))
            }
            "HATCH" => {
                self.patterned += usize::from(!item.flag(70, 1)?);
                Some(Shape::Filled(super::hatch::loops(item)?))
            }
            "TEXT" | "MTEXT" => Some(Shape::Text(item.point(10)?)),
            "ATTRIB" if !item.flag(70, 1)? => Some(Shape::Text(item.point(10)?)),
            // nothing that is seen
            "ATTRIB" | "ATTDEF" | "SEQEND" | "VERTEX" | "VIEWPORT" | "POINT" => None,
            kind => {
                *self.unread.entry(kind).or_default() += 1;
                None
            }
        })
    }

    fn polyline(&mut self, corners: &[Corner], closed: bool, width: f64) -> Option<Shape> {
        let last = if closed { corners.len() } else { corners.len().saturating_sub(1) };
        let curve = |k: usize| bulged(corners[k].at, corners[(k + 1) % corners.len()].at, corners[k].bulge);
        let widths = corners[..last.min(corners.len())].iter().flat_map(|c| [c.width.0, c.width.1]);
        let (sum, least, most, n) = widths.fold((0.0, f64::INFINITY, 0.0_f64, 0.0), |(sum, least, most, n), w| {
            (sum + w, w.min(least), w.max(most), n + 1.0)
        });
        let width = if most > 0.0 { sum / n } else { width };
        self.tapered += usize::from(most > 0.0 && most - least > 1e-9);
        (last > 0).then(|| Shape::Path { curves: (0..last).map(curve).collect(), closed, width })
    }
}

struct Corner {
    at: DVec2,
    bulge: f64,
    /// Where it begins and where it ends.
    width: (f64, f64),
}

/// The corners of a light polyline, which stand in one item.
fn light_corners(item: &Item<'_>) -> Result<Vec<Corner>, ArtworkError> {
    let mut corners: Vec<Corner> = Vec::new();
    for pair in item.pairs {
        let value = match pair.code {
            10 | 20 | 40 | 41 | 42 => pair.number()?,
            _ => continue,
        };
        if pair.code == 10 {
            corners.push(Corner { at: DVec2::new(value, 0.0), bulge: 0.0, width: (0.0, 0.0) });
        }
        let Some(corner) = corners.last_mut() else { continue };
        match pair.code {
            20 => corner.at.y = value,
            40 => corner.width.0 = value,
            41 => corner.width.1 = value,
            42 => corner.bulge = value,
            _ => {}
        }
    }
    Ok(corners)
}

/// Is what is drawn of that kind given in a plane of its own?
fn in_plane(kind: &str) -> bool {
    !matches!(kind, "LINE" | "ELLIPSE" | "SPLINE" | "MTEXT")
}

/// From the plane that an entity lies in to the drawing's: as it is, or seen from behind. `None` where it is tilted.
fn plane(item: &Item<'_>) -> Result<Option<DAffine2>, ArtworkError> {
    let (x, y, z) = (item.number_or(210, 0.0)?, item.number_or(220, 0.0)?, item.number_or(230, 1.0)?);
    let level = x.abs().max(y.abs()) < 1e-6 * z.abs();
    let behind = DAffine2::from_scale(DVec2::new(-1.0, 1.0));
    Ok(level.then_some(if z < 0.0 { behind } else { DAffine2::IDENTITY }))
}
