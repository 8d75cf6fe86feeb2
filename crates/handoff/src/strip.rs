//! What a strip shows, written at true size: SVG and DXF, layer by layer.

use dxf::{
    Drawing, LwPolylineVertex,
    entities::{Entity, EntityType, LwPolyline},
    enums::{AcadVersion, Units},
    tables::Layer,
};
use flat::Region;
use glam::DVec2;
use quick_xml::escape::escape;

use std::fmt::Write;

/// Lines of the drawing, mm.
const LINE: f64 = 0.1;
/// Round what is drawn, mm.
const MARGIN: f64 = 2.0;

/// What a strip shows; strip coordinates, mm, y up.
#[derive(Clone, Debug, Default)]
pub struct Strip {
    pub title: String,
    pub layers: Vec<StripLayer>,
}

/// One kind of what it shows, or what one mark draws.
#[derive(Clone, Debug)]
pub struct StripLayer {
    pub name: String,
    /// Open lines.
    pub lines: Vec<Vec<DVec2>>,
    pub region: Region,
    /// The region is filled, not drawn as its outline.
    pub filled: bool,
    pub colour: &'static str,
}

/// What is drawn.
const INK: &str = "#22302d";
/// What a cutter leaves.
pub(crate) const LEFT: &str = "#b3321f";

impl Default for StripLayer {
    fn default() -> Self {
        Self { name: String::new(), lines: Vec::new(), region: Region::default(), filled: false, colour: INK }
    }
}

/// Seen from where?
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Side {
    /// As it is read on the part.
    Part,
    /// Mirrored, as it is cut into the tool.
    Tool,
}

impl Side {
    fn seen(self, p: DVec2) -> DVec2 {
        match self {
            Self::Part => p,
            Self::Tool => DVec2::new(-p.x, p.y),
        }
    }
}

impl StripLayer {
    #[must_use]
    pub fn of_lines(name: &str, lines: Vec<Vec<DVec2>>) -> Self {
        Self { name: name.into(), lines, ..Self::default() }
    }

    #[must_use]
    pub fn of_region(name: String, region: Region, filled: bool) -> Self {
        Self { name, region, filled, ..Self::default() }
    }

    fn points(&self) -> impl Iterator<Item = DVec2> + '_ {
        self.lines.iter().chain(self.region.contours()).flatten().copied()
    }
}

/// The strip as SVG in mm; each layer is a group of its name.
#[must_use]
pub fn svg(strip: &Strip, side: Side) -> Vec<u8> {
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for p in strip.layers.iter().flat_map(StripLayer::points).map(|p| side.seen(p)) {
        (low, high) = (low.min(p), high.max(p));
    }
    let (low, high) = if low.x <= high.x { (low - MARGIN, high + MARGIN) } else { (DVec2::ZERO, DVec2::ONE) };
    let size = high - low;
    // y runs down on the sheet
    let line = |ring: &[DVec2], end: &str| {
        let mut out = String::new();
        for (at, p) in ring.iter().map(|p| side.seen(*p)).enumerate() {
            // writing to a string does not fail
            let _ = write!(out, "{}{:.4} {:.4}", if at == 0 { 'M' } else { 'L' }, p.x, -p.y);
        }
        out + end
    };
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.3}mm\" height=\"{1:.3}mm\" viewBox=\"{2:.4} {3:.4} {0:.3} {1:.3}\">\
         <title>{4}</title>",
        size.x,
        size.y,
        low.x,
        -high.y,
        escape(&strip.title)
    );
    for layer in strip.layers.iter().filter(|l| l.points().next().is_some()) {
        let lines: String = layer.lines.iter().map(|l| line(l, "")).collect();
        let region: String = layer.region.contours().map(|c| line(c, "Z")).collect();
        let _ = write!(out, "<g id=\"{}\">", escape(&layer.name));
        let colour = layer.colour;
        let drawn = format!("fill=\"none\" stroke=\"{colour}\" stroke-width=\"{LINE}\"");
        if !lines.is_empty() {
            let _ = write!(out, "<path {drawn} d=\"{lines}\"/>");
        }
        if !region.is_empty() {
            let fill = format!("fill=\"{colour}\" fill-rule=\"evenodd\"");
            let look = if layer.filled { &fill } else { &drawn };
            let _ = write!(out, "<path {look} d=\"{region}\"/>");
        }
        out.push_str("</g>");
    }
    out.push_str("</svg>\n");
    out.into_bytes()
}

/// The strip as DXF in mm, of the year 2000, which knows light polylines; each layer by its name.
///
/// # Errors
/// The writer's own.
pub fn dxf(strip: &Strip, side: Side) -> Result<Vec<u8>, String> {
    let mut drawing = Drawing::new();
    drawing.header.version = AcadVersion::R2000;
    drawing.header.default_drawing_units = Units::Millimeters;
    for layer in strip.layers.iter().filter(|l| l.points().next().is_some()) {
        let name = layer_name(&layer.name);
        drawing.add_layer(Layer { name: name.clone(), ..Layer::default() });
        let lines = layer.lines.iter().map(|l| (l, false)).chain(layer.region.contours().map(|c| (c, true)));
        for (line, closed) in lines {
            let corner = |p: &DVec2| {
                let DVec2 { x, y } = side.seen(*p);
                LwPolylineVertex { x, y, ..LwPolylineVertex::default() }
            };
            let mut polyline = LwPolyline { vertices: line.iter().map(corner).collect(), ..LwPolyline::default() };
            polyline.set_is_closed(closed);
            let mut entity = Entity::new(EntityType::LwPolyline(polyline));
            entity.common.layer.clone_from(&name);
            drawing.add_entity(entity);
        }
    }
    let mut out = Vec::new();
    drawing.save(&mut out).map_err(|e| format!("the strip can't be written as DXF: {e}"))?;
    Ok(out)
}

/// A name without the characters that names of layers don't have there.
fn layer_name(name: &str) -> String {
    name.chars().map(|c| if "<>/\\\":;?*|=`".contains(c) || c.is_control() { '_' } else { c }).take(200).collect()
}
