//! DXF: outlines filled by even-odd layer by layer, hatches and wide lines as they are, blocks put in.
//!
//! Group codes are those of the published DXF reference. Read by ourselves, since the known reader leaves hatches out.

mod chain;
mod entities;
mod hatch;
mod pairs;

use crate::{
    bounds::FLAT,
    curve::Curve,
    drawing::{Drawn, Placed},
    error::ArtworkError,
    faults::{self, FaultKind, Faults},
    glyph_names::character,
    layer::Layer,
    letter_layers::{DrawnLetters, drawn_each},
    wish::Wish,
};
use entities::{Entity, Found, Shape};
use flat::{Region, offset, overlay, overlay::Rule};
use glam::{DAffine2, DVec2};
use kurbo::{BezPath, Cap, Join, Stroke, StrokeOpts};

use std::{
    collections::{BTreeMap, HashMap, HashSet},
    f64::consts::TAU,
    hash::{DefaultHasher, Hash, Hasher},
};
use trade::figure::DRAWN_HIGH;

/// From one angle on to the next, counter-clockwise; a full turn where they are the same.
fn sweep(from: f64, until: f64) -> f64 {
    let sweep = (until - from).rem_euclid(TAU);
    if sweep < 1e-9 { TAU } else { sweep }
}

/// Does a text begin like a DXF?
pub fn begins(bytes: &[u8]) -> bool {
    let start = String::from_utf8_lossy(&bytes[..bytes.len().min(4000)]).into_owned();
    let mut lines = start.trim_start_matches('\u{feff}').lines().map(str::trim);
    let mut code = lines.next();
    while code == Some("999") {
        lines.next();
        code = lines.next();
    }
    (code == Some("0") && lines.next() == Some("SECTION")) || start.contains("Binary DXF")
}

/// What lies on one layer, in the region's coordinates.
#[derive(Default)]
struct OnLayer {
    /// Closed by themselves.
    contours: Vec<Vec<DVec2>>,
    /// To be put together.
    lines: Vec<Vec<DVec2>>,
    /// Filled by themselves.
    filled: Vec<Region>,
}

/// # Errors
/// It can't be read, asks too much, or has nothing that closes.
pub fn read(bytes: &[u8], wish: &Wish) -> Result<Drawn, ArtworkError> {
    let text = pairs::text(bytes)?;
    let pairs = pairs::pairs(&text)?;
    draw(&entities::read(&pairs::items(&pairs))?, wish)
}

/// What lies on each layer that is named after a character, drawn by itself; and what the others are called.
///
/// # Errors
/// It can't be read.
pub fn letters(bytes: &[u8]) -> Result<DrawnLetters, ArtworkError> {
    let text = pairs::text(bytes)?;
    let pairs = pairs::pairs(&text)?;
    let items = pairs::items(&pairs);
    let mut found = entities::read(&items)?;
    // each letter from what lies on its layer, in the order of the layers' first entities
    let mut layers: Vec<&str> = Vec::new();
    let mut on: HashMap<&str, Vec<Entity<'_>>> = HashMap::new();
    for entity in std::mem::take(&mut found.entities) {
        let on_layer = on.entry(entity.layer).or_default();
        if on_layer.is_empty() {
            layers.push(entity.layer);
        }
        on_layer.push(entity);
    }
    let seen = |l: &str| character(l).is_some() && !found.hidden.contains(l);
    let (named, other): (Vec<&str>, Vec<&str>) = layers.into_iter().partition(|l| seen(l));
    let letters = drawn_each(named.into_iter(), |name, wish| {
        found.entities = on.remove(name).unwrap_or_default();
        draw(&found, wish)
    })?;
    Ok(DrawnLetters { letters, other: other.into_iter().map(str::to_owned).collect() })
}

fn draw(found: &Found<'_>, wish: &Wish) -> Result<Drawn, ArtworkError> {
    let mut layers: BTreeMap<&str, usize> = BTreeMap::new();
    found.entities.iter().for_each(|e| *layers.entry(e.layer).or_default() += 1);
    let drawn = |name: &str| wish.draws(name).unwrap_or(!found.hidden.contains(name));
    let shown: Vec<&Entity<'_>> = found.entities.iter().filter(|e| drawn(e.layer)).collect();
    let layers: Vec<Layer> =
        layers.into_iter().map(|(name, shapes)| Layer { name: name.into(), shapes, drawn: drawn(name) }).collect();

    let Some((low, high)) = bounds(&shown) else { return Err(ArtworkError::Nothing(layers)) };
    let unit = found.unit.or(wish.unit);
    let tall = high.y - low.y;
    // widened lines reach over the box of the lines by half their width on each side
    let stroke = wish.stroke.unwrap_or_default();
    let whole = wish.height.or(unit.map(|mm| tall * mm + stroke));
    let (scale, stroke) = match whole {
        _ if stroke == 0.0 => (DRAWN_HIGH / tall, 0.0),
        Some(whole) => (DRAWN_HIGH / whole * (whole - stroke) / tall, stroke * DRAWN_HIGH / whole),
        None => return Err(ArtworkError::Wish("a line width is in mm; set the drawing's height first".into())),
    };
    if !(scale.is_finite() && scale > 0.0) {
        return Err(ArtworkError::Nothing(layers));
    }
    let to = DAffine2::from_scale(DVec2::splat(scale)) * DAffine2::from_translation(-low);

    let mut faults = Faults::default();
    let on_layers = sorted(&shown, &to, &mut faults);
    let mut regions = Vec::new();
    for layer in on_layers.into_values() {
        let OnLayer { mut contours, lines, filled } = layer;
        regions.extend(filled);
        if stroke > 0.0 {
            // round for good: the last point is the first
            contours.iter_mut().for_each(|c| c.push(c[0]));
            contours.extend(lines);
            regions.push(offset::swept(&contours, stroke));
        } else {
            contours.extend(chain::chained(lines, &mut faults).0);
            let contours = wish.bearable(&contours)?;
            faults::crossings(&contours, FaultKind::Crossing, &mut faults)?;
            regions.push(overlay::filled(&contours, Rule::EvenOdd));
        }
    }
    let region = overlay::joined(&regions.iter().flat_map(Region::contours).cloned().collect::<Vec<_>>());
    let told = found.told();
    // what the file says, or what it was said to be: a length of what is drawn is so many mm of the finished mark
    let mm = unit.map(|mm| mm / scale);
    let sized = found.unit.is_some();
    let placed = Placed { low, scale };
    Ok(Drawn { region, placed, mm, sized, asks_unit: !sized, layers, faults, told, shapes: shown.len() })
}

fn bounds(shown: &[&Entity<'_>]) -> Option<(DVec2, DVec2)> {
    let mut bounds: Option<(DVec2, DVec2)> = None;
    for entity in shown {
        let by = DVec2::splat(entity.shape.width() / 2.0);
        for p in entity.shape.curves().flat_map(|c| c.flat(f64::INFINITY)) {
            let (low, high) = bounds.unwrap_or((p, p));
            bounds = Some((low.min(p - by), high.max(p + by)));
        }
    }
    bounds
}

/// Flattened, by layer, what is drawn twice left out.
fn sorted<'a>(shown: &[&Entity<'a>], to: &DAffine2, faults: &mut Faults) -> BTreeMap<&'a str, OnLayer> {
    let mut layers: BTreeMap<&str, OnLayer> = BTreeMap::new();
    let mut known: HashSet<u64> = HashSet::new();
    let scale = to.matrix2.x_axis.length();
    let flat = |curves: &[Curve]| joined(curves.iter().map(|c| c.mapped(to).flat(FLAT / 2.0)));
    for entity in shown {
        let layer = layers.entry(entity.layer).or_default();
        let mut new = |line: &[DVec2], kind: &str| {
            let new = known.insert(digest(line, entity.layer, kind));
            if !new {
                faults.add(FaultKind::Double, line[0]);
            }
            new
        };
        match &entity.shape {
            Shape::Path { curves, closed, width } if *width > 0.0 => {
                let mut line = flat(curves);
                if new(&line, "wide") {
                    if *closed {
                        line.push(line[0]);
                    }
                    layer.filled.push(widened(&line, *closed, width * scale));
                }
            }
            Shape::Path { curves, closed, .. } => {
                let mut line = flat(curves);
                let meets = line.len() > 3 && line[0].distance(line[line.len() - 1]) < faults::SAME;
                if line.len() < 2 || !new(&line, "line") {
                    continue;
                }
                if *closed || meets {
                    if meets {
                        line.pop();
                    }
                    layer.contours.push(line);
                } else {
                    layer.lines.push(line);
                }
            }
            Shape::Filled(loops) => {
                let mut contours = Vec::new();
                for curves in loops {
                    let edges = curves.iter().map(|c| c.mapped(to).flat(FLAT / 2.0)).collect();
                    contours.extend(chain::chained(edges, faults).0);
                }
                let Some(first) = contours.first() else { continue };
                let all: Vec<DVec2> = contours.iter().flatten().copied().collect();
                if known.insert(digest(&all, entity.layer, "filled")) {
                    layer.filled.push(overlay::filled(&contours, Rule::EvenOdd));
                } else {
                    faults.add(FaultKind::Double, first[0]);
                }
            }
            Shape::Text(at) => faults.add(FaultKind::Text, to.transform_point2(*at)),
        }
    }
    layers
}

/// Curves one after the other as one line.
fn joined(pieces: impl Iterator<Item = Vec<DVec2>>) -> Vec<DVec2> {
    let mut line: Vec<DVec2> = Vec::new();
    for piece in pieces {
        let meets = line.last().is_some_and(|end| end.distance(piece[0]) < faults::SAME);
        line.extend(piece.into_iter().skip(usize::from(meets)));
    }
    line
}

/// The same for lines through the same points, whichever of them comes first.
fn digest(line: &[DVec2], layer: &str, kind: &str) -> u64 {
    let mut points: Vec<[i64; 2]> = line.iter().map(|&p| faults::key(p)).collect();
    points.sort_unstable();
    points.dedup();
    let mut hasher = DefaultHasher::new();
    (layer, kind, points).hash(&mut hasher);
    hasher.finish()
}

/// A line of a width as it is drawn: flat ends, sharp corners.
fn widened(line: &[DVec2], closed: bool, width: f64) -> Region {
    let mut path = BezPath::new();
    path.move_to((line[0].x, line[0].y));
    line[1..].iter().for_each(|p| path.line_to((p.x, p.y)));
    if closed {
        path.close_path();
    }
    let pen = Stroke::new(width).with_caps(Cap::Butt).with_join(Join::Miter);
    let outline = kurbo::stroke(path, &pen, &StrokeOpts::default(), FLAT);
    overlay::filled(&crate::ink::contours(&outline).0, Rule::NonZero)
}
