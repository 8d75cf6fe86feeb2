//! SVG: fills by their rule, strokes widened, clips kept, white taken out.

use crate::{
    bounds::FLAT,
    drawing::{Drawn, Placed, Told},
    error::ArtworkError,
    faults::{FaultKind, count},
    glyph_names::character,
    ink::{Ink, contours},
    layer::Layer,
    letter_layers::{DrawnLetters, drawn_each},
    scan::{Scanned, scan},
    wish::Wish,
};
use flat::{Region, overlay, overlay::Rule};
use glam::DVec2;
use kurbo::{Affine, BezPath, Cap, Join, Stroke, StrokeOpts};

use trade::figure::DRAWN_HIGH;
use usvg::{Group, ImageHrefResolver, Node, Options, Paint, Tree, tiny_skia_path::PathSegment};

/// Pixels of an inch.
const PER_INCH: f64 = 96.0;
/// Colours from this on are white: nothing is drawn where they lie.
const WHITE: u8 = 250;

struct Canvas<'a> {
    ink: Ink,
    /// From the drawing's coordinates, y down, to the region's, y up.
    to: Affine,
    masks: usize,
    wish: &'a Wish,
    is_layer: IsLayer,
    /// Inside of a group that is drawn as a whole.
    inside: bool,
}

/// # Errors
/// It can't be read, asks too much, or has nothing that closes.
pub fn read(text: &str, wish: &Wish) -> Result<Drawn, ArtworkError> {
    let scanned = scan(text)?;
    draw(&parsed(text)?, &scanned, wish, |id| !id.is_empty())
}

/// What lies in each group that is named after a character, drawn by itself; and what other outermost groups are
/// called.
///
/// # Errors
/// It can't be read.
pub fn letters(text: &str) -> Result<DrawnLetters, ArtworkError> {
    let scanned = scan(text)?;
    let tree = parsed(text)?;
    let named = |id: &str| character(id).is_some();
    let all = Wish::default();
    let names = |is_layer| -> Vec<String> {
        let mut layers = Layers { found: Vec::new(), wish: &all, bounds: None, is_layer };
        layers.look(tree.root(), None);
        layers.found.into_iter().filter(|l| l.shapes > 0).map(|l| l.name).collect()
    };
    let found = names(named);
    let letters = drawn_each(found.iter().map(String::as_str).filter(|n| named(n)), |_, wish| {
        draw(&tree, &scanned, wish, named)
    })?;
    // what lies in no letter, by the outermost group that it may lie in
    let stray = found.iter().any(String::is_empty);
    let other = if stray { names(|id| !id.is_empty()) } else { Vec::new() };
    Ok(DrawnLetters { letters, other: other.into_iter().filter(|n| !named(n)).collect() })
}

fn parsed(text: &str) -> Result<Tree, ArtworkError> {
    let nothing = ImageHrefResolver { resolve_data: Box::new(|_, _, _| None), resolve_string: Box::new(|_, _| None) };
    let options = Options { image_href_resolver: nothing, dpi: PER_INCH as f32, ..Options::default() };
    Tree::from_str(text, &options).map_err(|e| match e {
        usvg::Error::ElementsLimitReached | usvg::Error::ParsingFailed(usvg::roxmltree::Error::NodesLimitReached) => {
            ArtworkError::TooMany
        }
        e => ArtworkError::Unreadable(e.to_string()),
    })
}

/// Is a group of that name a layer?
type IsLayer = fn(&str) -> bool;

fn draw(tree: &Tree, scanned: &Scanned, wish: &Wish, is_layer: IsLayer) -> Result<Drawn, ArtworkError> {
    let mut layers = Layers { found: Vec::new(), wish, bounds: None, is_layer };
    layers.look(tree.root(), None);
    let Layers { found: layers, bounds: Some((low, high)), .. } = layers else {
        return Err(ArtworkError::Nothing(layers.found));
    };
    let scale = DRAWN_HIGH / (high.y - low.y);
    if !(scale.is_finite() && scale > 0.0) {
        return Err(ArtworkError::Nothing(layers));
    }
    let to = Affine::new([scale, 0.0, 0.0, -scale, -scale * low.x, scale * high.y]);
    let mut canvas = Canvas { ink: Ink::default(), to, masks: 0, wish, is_layer, inside: false };
    canvas.group(tree.root());
    let region = canvas.ink.region();
    if let Some(refused) = canvas.ink.refused {
        return Err(refused);
    }
    let told = told(scanned, &canvas.ink, canvas.masks);
    let pixel = if scanned.to_size { Some(25.4 / PER_INCH) } else { wish.unit };
    Ok(Drawn {
        region,
        placed: Placed { low: DVec2::new(low.x, -high.y), scale },
        mm: pixel.map(|mm| mm / scale),
        sized: scanned.to_size,
        asks_unit: false,
        layers,
        shapes: canvas.ink.shapes,
        faults: canvas.ink.faults,
        told,
    })
}

/// The outermost named groups, and the box of those that are drawn.
struct Layers<'a> {
    found: Vec<Layer>,
    wish: &'a Wish,
    bounds: Option<(DVec2, DVec2)>,
    is_layer: IsLayer,
}

impl Layers<'_> {
    fn look(&mut self, group: &Group, within: Option<usize>) {
        for node in group.children() {
            match node {
                Node::Group(inner) => {
                    let within = within.or_else(|| (self.is_layer)(inner.id()).then(|| self.named(inner.id())));
                    self.look(inner, within);
                }
                Node::Path(path) => {
                    let at = within.unwrap_or_else(|| self.named(""));
                    self.found[at].shapes += 1;
                    if self.found[at].drawn {
                        let r = path.abs_stroke_bounding_box();
                        let low = DVec2::new(r.left().into(), r.top().into());
                        let high = DVec2::new(r.right().into(), r.bottom().into());
                        let (least, most) = self.bounds.unwrap_or((low, high));
                        self.bounds = Some((least.min(low), most.max(high)));
                    }
                }
                Node::Image(_) | Node::Text(_) => {}
            }
        }
    }

    fn named(&mut self, name: &str) -> usize {
        self.found.iter().position(|l| l.name == name).unwrap_or_else(|| {
            let drawn = self.wish.draws(name).unwrap_or(true);
            self.found.push(Layer { name: name.into(), shapes: 0, drawn });
            self.found.len() - 1
        })
    }
}

fn told(scanned: &Scanned, ink: &Ink, masks: usize) -> Vec<Told> {
    let mut told = Vec::new();
    let mut tell = |n: usize, left_out: bool, says: &str, one: &str, many: &str| {
        if n > 0 {
            told.push(Told { says: format!("{} {says}", count(n, one, many)), left_out });
        }
    };
    tell(ink.cut_out, false, "cut out of what lies below.", "white shape", "white shapes");
    tell(masks, true, "left out.", "mask or filter", "masks and filters");
    tell(scanned.pictures, true, "left out: only outlines can be cut.", "picture", "pictures");
    tell(scanned.scripts, false, "left out and not run.", "script", "scripts");
    let outside = scanned.outside;
    tell(outside, true, "to something outside left out and not fetched.", "reference", "references");
    told
}

impl Canvas<'_> {
    fn group(&mut self, group: &Group) {
        if group.opacity().get() <= 0.0 {
            return;
        }
        let named = !self.inside && (self.is_layer)(group.id());
        if named && self.wish.draws(group.id()) == Some(false) {
            return;
        }
        self.masks += usize::from(group.mask().is_some()) + group.filters().len();
        let around = self.inside;
        self.inside |= named;
        self.painted(group);
        self.inside = around;
    }

    fn painted(&mut self, group: &Group) {
        let Some(clip) = group.clip_path() else {
            group.children().iter().for_each(|node| self.node(node));
            return;
        };
        let mut inside = Canvas { ink: Ink::default(), masks: 0, ..*self };
        group.children().iter().for_each(|node| inside.node(node));
        let mut kept = inside.ink.region();
        // a clip that is clipped itself
        let mut clip = Some(clip);
        while let Some(path) = clip {
            let there = self.to * affine(group.abs_transform()) * affine(path.transform());
            kept = overlay::common(&kept, &self.clip(path.root(), there));
            clip = path.clip_path();
        }
        self.ink.shapes += inside.ink.shapes.saturating_sub(1);
        self.ink.faults.take(inside.ink.faults);
        self.ink.refused = self.ink.refused.take().or(inside.ink.refused);
        self.ink.cut_out += inside.ink.cut_out;
        self.masks += inside.masks;
        self.ink.paint(kept, false);
    }

    /// All shapes of a clip, filled whatever they look like; `there` carries its own coordinates.
    fn clip(&self, group: &Group, there: Affine) -> Region {
        let mut all = Region::default();
        for node in group.children() {
            let region = match node {
                Node::Group(inner) => self.clip(inner, there * affine(inner.transform())),
                Node::Path(path) => {
                    let rule = path.fill().map_or(Rule::NonZero, |f| rule(f.rule()));
                    overlay::filled(&contours(&(there * bezier(path.data()))).0, rule)
                }
                Node::Image(_) | Node::Text(_) => Region::default(),
            };
            all = overlay::with(&all, &region);
        }
        all
    }

    fn node(&mut self, node: &Node) {
        match node {
            Node::Group(group) => self.group(group),
            Node::Path(path) if path.is_visible() && (self.inside || self.wish.draws("") != Some(false)) => {
                self.path(path);
            }
            Node::Path(_) | Node::Image(_) | Node::Text(_) => {}
        }
    }

    fn path(&mut self, path: &usvg::Path) {
        let there = self.to * affine(path.abs_transform());
        let drawn = bezier(path.data());
        if let Some(fill) = path.fill()
            && fill.opacity().get() > 0.0
        {
            let (outline, open) = contours(&(there * drawn.clone()));
            open.into_iter().for_each(|at| self.ink.faults.add(FaultKind::Closed, at));
            self.ink.fill(&outline, rule(fill.rule()), white(fill.paint()), self.wish);
        }
        if let Some(stroke) = path.stroke()
            && stroke.opacity().get() > 0.0
        {
            let size = there.determinant().abs().sqrt().max(f64::MIN_POSITIVE);
            let mut wide = Stroke::new(f64::from(stroke.width().get()))
                .with_caps(match stroke.linecap() {
                    usvg::LineCap::Butt => Cap::Butt,
                    usvg::LineCap::Round => Cap::Round,
                    usvg::LineCap::Square => Cap::Square,
                })
                .with_join(match stroke.linejoin() {
                    usvg::LineJoin::Miter | usvg::LineJoin::MiterClip => Join::Miter,
                    usvg::LineJoin::Round => Join::Round,
                    usvg::LineJoin::Bevel => Join::Bevel,
                })
                .with_miter_limit(f64::from(stroke.miterlimit().get()));
            if let Some(dashes) = stroke.dasharray() {
                wide = wide.with_dashes(f64::from(stroke.dashoffset()), dashes.iter().map(|d| f64::from(*d)));
            }
            let outline = kurbo::stroke(drawn, &wide, &StrokeOpts::default(), FLAT / size);
            let outline = contours(&(there * outline)).0;
            self.ink.paint(overlay::filled(&outline, Rule::NonZero), white(stroke.paint()));
        }
    }
}

fn rule(rule: usvg::FillRule) -> Rule {
    match rule {
        usvg::FillRule::NonZero => Rule::NonZero,
        usvg::FillRule::EvenOdd => Rule::EvenOdd,
    }
}

fn white(paint: &Paint) -> bool {
    matches!(paint, Paint::Color(c) if c.red >= WHITE && c.green >= WHITE && c.blue >= WHITE)
}

fn affine(t: usvg::Transform) -> Affine {
    Affine::new([t.sx, t.ky, t.kx, t.sy, t.tx, t.ty].map(f64::from))
}

fn bezier(data: &usvg::tiny_skia_path::Path) -> BezPath {
    let at = |p: usvg::tiny_skia_path::Point| (f64::from(p.x), f64::from(p.y));
    let mut path = BezPath::new();
    for segment in data.segments() {
        match segment {
            PathSegment::MoveTo(p) => path.move_to(at(p)),
            PathSegment::LineTo(p) => path.line_to(at(p)),
            PathSegment::QuadTo(a, p) => path.quad_to(at(a), at(p)),
            PathSegment::CubicTo(a, b, p) => path.curve_to(at(a), at(b), at(p)),
            PathSegment::Close => path.close_path(),
        }
    }
    path
}

/// The text of a file.
///
/// # Errors
/// It is no SVG, or not in UTF-8.
pub fn text<'a>(file: &str, bytes: &'a [u8]) -> Result<&'a str, ArtworkError> {
    let text = std::str::from_utf8(bytes).map_err(|e| {
        let known = file.to_lowercase().ends_with(".svg");
        if known {
            ArtworkError::Unreadable(format!("it is not written in UTF-8 (byte {})", e.valid_up_to()))
        } else {
            ArtworkError::Format(file.into())
        }
    })?;
    let text = text.trim_start_matches('\u{feff}');
    if !text.trim_start().starts_with('<') {
        return Err(ArtworkError::Format(file.into()));
    }
    Ok(text)
}
