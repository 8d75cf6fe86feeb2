//! SVG: fills by their rule, strokes widened, clips kept, white taken out.

use crate::{
    ArtworkError, Drawing, MOST_POINTS,
    ink::{FLAT, Ink, contours},
    scan::{Scanned, scan},
};
use glam::DVec2;
use kurbo::{Affine, BezPath, Cap, Join, Stroke, StrokeOpts};
use lettering::{Region, clean, clean::Rule};
use trade::figure::DRAWN_HIGH;
use usvg::{Group, ImageHrefResolver, Node, Options, Paint, Tree, tiny_skia_path::PathSegment};

/// Pixels of an inch.
const PER_INCH: f64 = 96.0;
/// Colours from this on are white: nothing is drawn where they lie.
const WHITE: u8 = 250;

struct Canvas {
    ink: Ink,
    /// From the drawing's coordinates, y down, to the region's, y up.
    to: Affine,
    masks: usize,
}

pub fn read(text: &str) -> Result<Drawing, ArtworkError> {
    let text = text.trim_start_matches('\u{feff}');
    let scanned = scan(text)?;
    let nothing = ImageHrefResolver { resolve_data: Box::new(|_, _, _| None), resolve_string: Box::new(|_, _| None) };
    let options = Options { image_href_resolver: nothing, dpi: PER_INCH as f32, ..Options::default() };
    let tree = Tree::from_str(text, &options).map_err(|e| match e {
        usvg::Error::ElementsLimitReached | usvg::Error::ParsingFailed(usvg::roxmltree::Error::NodesLimitReached) => {
            ArtworkError::TooMany
        }
        e => ArtworkError::Unreadable(e.to_string()),
    })?;
    let bounds = tree.root().abs_stroke_bounding_box();
    let (low, high) = (f64::from(bounds.top()), f64::from(bounds.bottom()));
    let scale = DRAWN_HIGH / (high - low);
    if !(scale.is_finite() && scale > 0.0) {
        return Err(ArtworkError::Nothing);
    }
    let to = Affine::new([scale, 0.0, 0.0, -scale, -scale * f64::from(bounds.left()), scale * high]);
    let mut canvas = Canvas { ink: Ink::default(), to, masks: 0 };
    canvas.group(tree.root());
    let ink = canvas.ink.region();
    if let Some(points) = canvas.ink.too_fine {
        return Err(ArtworkError::TooFine(points));
    }
    let region = clean::thinned(&ink, FLAT);
    let (low, high) = region.bounds().ok_or(ArtworkError::Nothing)?;
    let points = region.contours().map(Vec::len).sum();
    if points > MOST_POINTS {
        return Err(ArtworkError::TooFine(points));
    }
    // white and clips may have taken something of the height
    let tall = high.y - low.y;
    let region = region.mapped(|p| (p - low) * (DRAWN_HIGH / tall));
    let height = scanned.to_size.then(|| tall / scale * 25.4 / PER_INCH);
    let told = told(&scanned, &canvas, &region);
    Ok(Drawing { region, height, told })
}

fn told(scanned: &Scanned, canvas: &Canvas, region: &Region) -> Vec<String> {
    let count = |n: usize, one: &str, many: &str| match n {
        1 => format!("1 {one}"),
        n => format!("{n} {many}"),
    };
    let (islands, counters) = (region.islands.len(), region.counters());
    let mut told = vec![format!(
        "{} make {} with {}.",
        count(canvas.ink.shapes, "shape", "shapes"),
        count(islands, "closed region", "closed regions"),
        count(counters, "hole", "holes")
    )];
    let mut tell = |n: usize, says: &dyn Fn(String) -> String, one: &str, many: &str| {
        if n > 0 {
            told.push(says(count(n, one, many)));
        }
    };
    tell(canvas.ink.cut_out, &|n| format!("{n} cut out of what lies below."), "white shape", "white shapes");
    tell(canvas.ink.doubles, &|n| format!("{n} left out."), "shape drawn twice", "shapes drawn more than once");
    tell(canvas.ink.closed, &|n| format!("{n} closed straight, to be filled."), "open outline", "open outlines");
    tell(canvas.masks, &|n| format!("{n} left out."), "mask or filter", "masks and filters");
    tell(scanned.pictures, &|n| format!("{n} left out: only outlines can be cut."), "picture", "pictures");
    tell(scanned.scripts, &|n| format!("{n} left out and not run."), "script", "scripts");
    let outside = scanned.outside;
    tell(outside, &|n| format!("{n} to something outside left out and not fetched."), "reference", "references");
    told
}

impl Canvas {
    fn group(&mut self, group: &Group) {
        if group.opacity().get() <= 0.0 {
            return;
        }
        self.masks += usize::from(group.mask().is_some()) + group.filters().len();
        let Some(clip) = group.clip_path() else {
            group.children().iter().for_each(|node| self.node(node));
            return;
        };
        let mut inside = Canvas { ink: Ink::default(), to: self.to, masks: 0 };
        group.children().iter().for_each(|node| inside.node(node));
        let mut kept = inside.ink.region();
        // a clip that is clipped itself
        let mut clip = Some(clip);
        while let Some(path) = clip {
            let there = self.to * affine(group.abs_transform()) * affine(path.transform());
            kept = clean::common(&kept, &self.clip(path.root(), there));
            clip = path.clip_path();
        }
        self.ink.shapes += inside.ink.shapes.saturating_sub(1);
        self.ink.doubles += inside.ink.doubles;
        self.ink.too_fine = self.ink.too_fine.or(inside.ink.too_fine);
        self.ink.cut_out += inside.ink.cut_out;
        self.ink.closed += inside.ink.closed;
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
                    clean::filled(&contours(&(there * bezier(path.data()))).0, rule)
                }
                Node::Image(_) | Node::Text(_) => Region::default(),
            };
            all = clean::with(&all, &region);
        }
        all
    }

    fn node(&mut self, node: &Node) {
        match node {
            Node::Group(group) => self.group(group),
            Node::Path(path) if path.is_visible() => self.path(path),
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
            self.ink.closed += open;
            self.ink.fill(&outline, rule(fill.rule()), white(fill.paint()));
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
            self.ink.fill(&contours(&(there * outline)).0, Rule::NonZero, white(stroke.paint()));
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

/// A region as the path that a job keeps: SVG path data, its outer contours counter-clockwise.
#[must_use]
pub fn path(region: &Region) -> String {
    let mut out = String::new();
    for contour in region.contours() {
        for (at, DVec2 { x, y }) in contour.iter().enumerate() {
            out.push(if at == 0 { 'M' } else { 'L' });
            out.push_str(&format!("{} {}", rounded(*x), rounded(*y)));
        }
        out.push('Z');
    }
    out
}

fn rounded(v: f64) -> f64 {
    (v * 1e4).round() / 1e4
}
