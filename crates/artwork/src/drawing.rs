//! A drawing as a region: as its file has it, and as a mark draws it.

use crate::{
    bounds::{FLAT, MOST_POINTS},
    error::ArtworkError,
    faults::{self, Fault, Faults},
    layer::Layer,
    wish::Wish,
};
use flat::{Region, thin};
use glam::DVec2;
use serde::{Deserialize, Serialize};
use trade::figure::DRAWN_HIGH;

/// Fewer points than were drawn.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Simplified {
    /// Points before and after.
    pub points: (usize, usize),
    /// What became of the area, percent of it.
    pub area: f64,
}

/// A drawing as a region.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
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
    /// Those of them that say what of the drawing is lacking.
    pub left_out: Vec<String>,
    /// Somebody should look before it is drawn: there is something to choose, or a fault that isn't mended.
    pub asks: bool,
}

/// A drawing as its file has it, about [`DRAWN_HIGH`] high.
pub struct Drawn {
    pub region: Region,
    pub placed: Placed,
    /// mm of a unit of the region, where the file or the wish says it.
    pub mm: Option<f64>,
    /// The file says it.
    pub sized: bool,
    /// Its lengths must be asked for: they are not those of a screen.
    pub asks_unit: bool,
    pub layers: Vec<Layer>,
    pub faults: Faults,
    pub told: Vec<Told>,
    pub shapes: usize,
}

/// What was done with something of a drawing.
pub struct Told {
    pub says: String,
    /// It is lacking in what is drawn.
    pub left_out: bool,
}

/// Where a region came from: its origin in the drawing's coordinates, y up, and how much it is enlarged.
#[derive(Clone, Copy, Debug)]
pub struct Placed {
    pub low: DVec2,
    pub scale: f64,
}

impl Placed {
    /// A point of the region in the drawing's coordinates.
    pub fn back(self, p: DVec2) -> DVec2 {
        p / self.scale + self.low
    }
}

impl Drawn {
    pub fn finished(self, wish: &Wish) -> Result<Drawing, ArtworkError> {
        let Self { region, mm, sized, asks_unit, layers, mut faults, told: more, shapes, .. } = self;
        let region = thin::thinned(&region, FLAT / 2.0);
        let region = faults::mended(region, &mut faults);
        let nothing = || ArtworkError::Nothing(layers.clone());
        let high = tall(&region).ok_or_else(nothing)?;
        let height = wish.height.or(mm.map(|mm| mm * high));
        // units of the region that a length takes
        let units = |length: Option<f64>, what: &str| match (length, height) {
            (None, _) => Ok(None),
            (Some(mm), Some(height)) => Ok(Some(mm / height * high)),
            (Some(_), None) => Err(ArtworkError::Wish(format!("a {what} is in mm; set the drawing's height first"))),
        };
        let (region, simplified) = match units(wish.within, "tolerance")? {
            None => (region, None),
            Some(within) => {
                let fewer = thin::thinned(&region, within);
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
        let lacking = more.iter().filter(|t| t.left_out).map(|t| t.says.clone());
        let left_out = lacking.chain(faults.iter().filter(|f| f.kind.leaves_out()).map(|f| f.says.clone())).collect();
        told.extend(more.into_iter().map(|t| t.says));
        told.extend(faults.iter().map(|f| f.says.clone()));
        if let (Some(Simplified { points: (before, after), area }), Some(within)) = (simplified, wish.within) {
            told.push(format!("Within {within} mm {after} points instead of {before}; the area is {area:+.3} %."));
        }
        let asks = (asks_unit && wish.unit.is_none()) || layers.len() > 1 || faults.iter().any(|f| !f.mended);
        Ok(Drawing { region, height, sized, layers, faults, simplified, told, left_out, asks })
    }
}

/// A region as the outline that a job keeps.
#[must_use]
pub fn outline(region: &Region) -> String {
    region.path_data(4)
}

/// Height of what is drawn; `None` where that is nothing.
pub fn tall(region: &Region) -> Option<f64> {
    region.bounds().map(|(low, high)| high.y - low.y).filter(|t| *t > 0.0)
}

pub fn points(region: &Region) -> usize {
    region.contours().map(Vec::len).sum()
}
