//! What is wished of a drawing.

use crate::{
    bounds::{FLAT, MOST_ON_THE_WAY, MOST_POINTS},
    error::ArtworkError,
};
use flat::thin;
use glam::DVec2;
use serde::{Deserialize, Serialize};

/// What is wished of a drawing.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
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
    pub fn draws(&self, layer: &str) -> Option<bool> {
        self.layers.as_ref().map(|layers| layers.iter().any(|l| l == layer))
    }

    /// Contours without points that say nothing, as long as there are not too many of them: putting outlines together
    /// takes long where very many edges lie beside one another. Where fewer points are wished, more are worked through.
    ///
    /// # Errors
    /// There are too many.
    pub fn bearable(&self, contours: &[Vec<DVec2>]) -> Result<Vec<Vec<DVec2>>, ArtworkError> {
        let most = if self.within.is_some() { MOST_ON_THE_WAY } else { MOST_POINTS };
        let fewer: Vec<_> = contours.iter().map(|c| thin::sparse(c, FLAT / 4.0)).collect();
        let points = fewer.iter().map(Vec::len).sum();
        if points > most { Err(ArtworkError::TooFine(points)) } else { Ok(fewer) }
    }

    pub fn check(&self) -> Result<(), ArtworkError> {
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
