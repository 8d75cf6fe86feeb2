//! Layers of a DXF, or outermost named groups of an SVG.

use serde::{Deserialize, Serialize};

/// A layer of a DXF, or an outermost named group of an SVG; without a name what lies in none.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Layer {
    pub name: String,
    pub shapes: usize,
    pub drawn: bool,
}
