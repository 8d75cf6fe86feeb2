//! Artwork files as closed regions: brand marks and other drawings that a mark draws in place of a text.
//!
//! A drawing is untrusted. Nothing that it refers to is fetched, nothing in it is run, and what it asks too much of is
//! refused before it is drawn.

mod curve;
mod dxf;
mod faults;
mod ink;
mod letters;
mod scan;
mod svg;

use faults::Faults;
use glam::DVec2;
use lettering::{Region, clean};
use trade::figure::DRAWN_HIGH;

pub use faults::{Fault, FaultKind};
pub use letters::{Letter, Letters, character, letters};

/// Largest file that is read, bytes.
pub const LARGEST: usize = 20 << 20;
/// Most points of the outlines that are left of it.
pub const MOST_POINTS: usize = 50_000;
/// Points that are worked through.
const MOST_ON_THE_WAY: usize = 5 * MOST_POINTS;

/// What is wished of a drawing.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Wish {
    /// Layers of a DXF or outermost named groups of an SVG that are drawn; those that are seen where none are named.
    pub layers: Option<Vec<String>>,
    /// mm that a unit of the drawing is long, where the file doesn't say.
    pub unit: Option<f64>,
    /// Height of what is drawn, mm; the drawing's own where none is wished.
    pub height: Option<f64>,
    /// Outlines may lie this far off, mm at that height, and have fewer points.
    pub within: Option<f64>,
    /// Lines of a DXF are drawn this wide, mm at that height, instead of bounding what lies between them.
    pub stroke: Option<f64>,
    /// Least width that the process makes, mm: what is narrower is told.
    pub least: Option<f64>,
}

impl Wish {
    /// Is a layer drawn? `None` where that isn't wished either way.
    fn draws(&self, layer: &str) -> Option<bool> {
        self.layers.as_ref().map(|layers| layers.iter().any(|l| l == layer))
    }

    /// Contours without points that say nothing, as long as there are not too many of them: putting outlines together
    /// takes long where very many edges lie beside one another. Where fewer points are wished, more are worked through.
    ///
    /// # Errors
    /// There are too many.
    fn bearable(&self, contours: &[Vec<DVec2>]) -> Result<Vec<Vec<DVec2>>, ArtworkError> {
        let most = if self.within.is_some() { MOST_ON_THE_WAY } else { MOST_POINTS };
        let fewer: Vec<_> = contours.iter().map(|c| clean::sparse(c, ink::FLAT / 4.0)).collect();
        let points = fewer.iter().map(Vec::len).sum();
        if points > most { Err(ArtworkError::TooFine(points)) } else { Ok(fewer) }
    }

    fn check(&self) -> Result<(), ArtworkError> {
        for (what, value, most) in [
            ("length of a unit", self.unit, 1e5),
            ("height of the drawing", self.height, 500.0),
            ("tolerance", self.within, 10.0),
            ("width of lines", self.stroke, 100.0),
            ("least width", self.least, 100.0),
        ] {
            if value.is_some_and(|v| !(v > 0.0 && v <= most)) {
                return Err(ArtworkError::Wish(format!("the {what} must be more than 0 and at most {most} mm")));
            }
        }
        Ok(())
    }
}

/// A layer of a DXF, or an outermost named group of an SVG; without a name what lies in none.
#[derive(Clone, Debug, PartialEq)]
pub struct Layer {
    pub name: String,
    pub shapes: usize,
    pub drawn: bool,
}

/// Fewer points than were drawn.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Simplified {
    /// Points before and after.
    pub points: (usize, usize),
    /// What became of the area, percent of it.
    pub area: f64,
}

/// A drawing as a region.
#[derive(Clone, Debug, PartialEq)]
pub struct Drawing {
    /// Lower left corner at the origin, [`DRAWN_HIGH`] high.
    pub region: Region,
    /// Height of what is drawn, mm, where the file or the wish says what its lengths are.
    pub height: Option<f64>,
    /// The file says what its lengths are.
    pub sized: bool,
    pub layers: Vec<Layer>,
    pub faults: Vec<Fault>,
    pub simplified: Option<Simplified>,
    /// What was joined, changed or left out, in sentences.
    pub told: Vec<String>,
    /// Somebody should look before it is drawn: there is something to choose, or a fault that isn't mended.
    pub asks: bool,
}

/// A drawing as its file has it, about [`DRAWN_HIGH`] high.
struct Drawn {
    region: Region,
    placed: Placed,
    /// mm of a unit of the region, where the file or the wish says it.
    mm: Option<f64>,
    /// The file says it.
    sized: bool,
    /// Its lengths must be asked for: they are not those of a screen.
    asks_unit: bool,
    layers: Vec<Layer>,
    faults: Faults,
    told: Vec<String>,
    shapes: usize,
}

/// Where a region came from: its origin in the drawing's coordinates, y up, and how much it is enlarged.
#[derive(Clone, Copy, Debug)]
struct Placed {
    low: DVec2,
    scale: f64,
}

impl Placed {
    /// A point of the region in the drawing's coordinates.
    fn back(self, p: DVec2) -> DVec2 {
        p / self.scale + self.low
    }
}

impl Drawn {
    fn finished(self, wish: &Wish) -> Result<Drawing, ArtworkError> {
        let Self { region, mm, sized, asks_unit, layers, mut faults, told: more, shapes, .. } = self;
        let region = clean::thinned(&region, ink::FLAT / 2.0);
        let region = faults::mended(region, &mut faults);
        let nothing = || ArtworkError::Nothing(layers.clone());
        let high = tall(&region).ok_or_else(nothing)?;
        let height = wish.height.or(mm.map(|mm| mm * high));
        // units of the region that a length takes
        let units = |length: Option<f64>, what: &str| match (length, height) {
            (None, _) => Ok(None),
            (Some(mm), Some(height)) => Ok(Some(mm / height * high)),
            (Some(_), None) => Err(ArtworkError::Wish(format!("a {what} is in mm; say how high the drawing is to be"))),
        };
        let (region, simplified) = match units(wish.within, "tolerance")? {
            None => (region, None),
            Some(within) => {
                let fewer = clean::thinned(&region, within);
                let points = (points(&region), points(&fewer));
                let area = (fewer.area() / region.area() - 1.0) * 100.0;
                (fewer, Some(Simplified { points, area }))
            }
        };
        if points(&region) > MOST_POINTS {
            return Err(ArtworkError::TooFine(points(&region)));
        }
        if let Some(least) = units(wish.least.filter(|_| height.is_some()), "least width")? {
            faults::narrow(&region, least, &mut faults);
        }
        let (low, _) = region.bounds().ok_or_else(nothing)?;
        // white, clips and what is left out may have taken something of the height
        let left = tall(&region).ok_or_else(nothing)?;
        let height = wish.height.or(mm.map(|mm| mm * left));
        let to = DRAWN_HIGH / left;
        let there = |p| (p - low) * to;
        let region = region.mapped(there);
        let faults = faults.told(wish.least, there);
        let mut told = vec![format!(
            "{} make {} with {}.",
            faults::count(shapes, "shape", "shapes"),
            faults::count(region.islands.len(), "closed region", "closed regions"),
            faults::count(region.counters(), "hole", "holes")
        )];
        told.extend(more);
        told.extend(faults.iter().map(|f| f.says.clone()));
        if let (Some(Simplified { points: (before, after), area }), Some(within)) = (simplified, wish.within) {
            told.push(format!("Within {within} mm {after} points instead of {before}; the area is {area:+.3} %."));
        }
        let asks = (asks_unit && wish.unit.is_none()) || layers.len() > 1 || faults.iter().any(|f| !f.mended);
        Ok(Drawing { region, height, sized, layers, faults, simplified, told, asks })
    }
}

/// A region as the outline that a job keeps.
#[must_use]
pub fn outline(region: &Region) -> String {
    region.path_data(4)
}

/// Height of what is drawn; `None` where that is nothing.
fn tall(region: &Region) -> Option<f64> {
    region.bounds().map(|(low, high)| high.y - low.y).filter(|t| *t > 0.0)
}

fn points(region: &Region) -> usize {
    region.contours().map(Vec::len).sum()
}

#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum ArtworkError {
    #[error("“{0}” is no SVG or DXF drawing; write it as one of them")]
    Format(String),
    #[error("the drawing has {0} MB; at most {most} MB are read", most = LARGEST >> 20)]
    TooLarge(usize),
    #[error("the drawing can't be read: {0}")]
    Unreadable(String),
    #[error("groups or blocks of the drawing lie {0} deep in one another; take them apart")]
    TooDeep(usize),
    #[error("the drawing defines an entity, “{0}”, that is more than a short text; write it without entities")]
    Entity(String),
    #[error("the drawing holds text (“{0}”); turn it into outlines in the program that drew it")]
    Text(String),
    #[error("the drawing draws more than a million elements; simplify it in the program that drew it")]
    TooMany,
    /// What it has could be drawn by another wish.
    #[error("the drawing has nothing that is filled or stroked, or no outline that closes")]
    Nothing(Vec<Layer>),
    #[error("the drawing's outlines cross in more than {most} places; draw what is seen of them only", most = faults::MOST_CROSSINGS)]
    Tangled,
    #[error("{0}")]
    Wish(String),
    #[error("{0}")]
    Letters(String),
    #[error(
        "the drawing's outlines have {0} points; at most {MOST_POINTS} are kept. Simplify it to a larger tolerance, or in the program that drew it"
    )]
    TooFine(usize),
}

impl ArtworkError {
    /// The layers that there are, where the drawing could be drawn by another wish.
    #[must_use]
    pub fn by_wish(&self) -> Option<&[Layer]> {
        match self {
            Self::Nothing(layers) if !layers.is_empty() => Some(layers),
            Self::TooFine(_) | Self::Tangled | Self::Wish(_) => Some(&[]),
            _ => None,
        }
    }
}

/// Are a file's lines bounds, to which a width can be given?
#[must_use]
pub fn has_lines(bytes: &[u8]) -> bool {
    dxf::begins(bytes)
}

/// The drawing in a file, by its contents.
///
/// # Errors
/// It can't be read or drawn, and why; see [`ArtworkError`].
pub fn read(file: &str, bytes: &[u8], wish: &Wish) -> Result<Drawing, ArtworkError> {
    wish.check()?;
    if bytes.len() > LARGEST {
        return Err(ArtworkError::TooLarge(bytes.len() >> 20));
    }
    // a reader that stumbles over a file takes nothing else down
    std::panic::catch_unwind(|| {
        let drawn = if dxf::begins(bytes) { dxf::read(bytes, wish)? } else { svg::read(svg_text(file, bytes)?, wish)? };
        drawn.finished(wish)
    })
    .unwrap_or_else(|_| Err(ArtworkError::Unreadable("the reader stumbled over it".into())))
}

/// # Errors
/// It is no SVG, or not in UTF-8.
fn svg_text<'a>(file: &str, bytes: &'a [u8]) -> Result<&'a str, ArtworkError> {
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
