//! DXF files written entity by entity.

use artwork::{ArtworkError, Drawing, Wish, read};
use std::fmt::Write;

/// A DXF out of group codes and values, each item `0 KIND` and its pairs.
pub(super) struct Dxf {
    pub(super) header: String,
    pub(super) tables: String,
    pub(super) blocks: String,
    pub(super) entities: String,
}

pub(super) fn item(kind: &str, pairs: &[(i32, &str)]) -> String {
    pairs.iter().fold(format!("0\n{kind}\n"), |mut all, (code, value)| {
        let _ = write!(all, "  {code}\n{value}\n");
        all
    })
}

pub(super) fn numbered(kind: &str, layer: &str, pairs: &[(i32, f64)]) -> String {
    let values: Vec<(i32, String)> = pairs.iter().map(|(c, v)| (*c, v.to_string())).collect();
    let mut all = vec![(8, layer)];
    all.extend(values.iter().map(|(c, v)| (*c, v.as_str())));
    item(kind, &all)
}

impl Dxf {
    pub(super) fn of(entities: impl Into<String>) -> Self {
        let header = "9\n$INSUNITS\n70\n4\n".into();
        Self { header, tables: String::new(), blocks: String::new(), entities: entities.into() }
    }

    pub(super) fn text(&self) -> String {
        let section = |name: &str, inside: &str| format!("0\nSECTION\n2\n{name}\n{inside}0\nENDSEC\n");
        ["HEADER", "TABLES", "BLOCKS", "ENTITIES"]
            .iter()
            .zip([&self.header, &self.tables, &self.blocks, &self.entities])
            .map(|(name, inside)| section(name, inside))
            .collect::<String>()
            + "0\nEOF\n"
    }

    pub(super) fn read(&self, wish: &Wish) -> Result<Drawing, ArtworkError> {
        read("mark.dxf", self.text().as_bytes(), wish)
    }

    pub(super) fn drawn(&self) -> Drawing {
        self.read(&Wish::default()).unwrap_or_else(|e| panic!("{}: {e}", self.entities))
    }
}

pub(super) fn line(layer: &str, a: (f64, f64), b: (f64, f64)) -> String {
    numbered("LINE", layer, &[(10, a.0), (20, a.1), (11, b.0), (21, b.1)])
}

pub(super) fn circle(layer: &str, (x, y): (f64, f64), radius: f64) -> String {
    numbered("CIRCLE", layer, &[(10, x), (20, y), (40, radius)])
}

/// A closed light polyline; corners with their bulges.
pub(super) fn polyline(layer: &str, width: f64, corners: &[(f64, f64, f64)]) -> String {
    let mut pairs = vec![(90, corners.len() as f64), (70, 1.0), (43, width)];
    pairs.extend(corners.iter().flat_map(|(x, y, bulge)| [(10, *x), (20, *y), (42, *bulge)]));
    numbered("LWPOLYLINE", layer, &pairs)
}

pub(super) fn square(layer: &str, (x, y): (f64, f64), side: f64) -> String {
    let (u, v) = (x + side, y + side);
    polyline(layer, 0.0, &[(x, y, 0.0), (u, y, 0.0), (u, v, 0.0), (x, v, 0.0)])
}

/// mm² of a drawing, at the height that its unit gives.
pub(super) fn area(drawing: &Drawing) -> f64 {
    drawing.region.area() * (drawing.height.unwrap() / 100.0).powi(2)
}
