//! The charts, each a file of its own and a line in this list.

mod coarse;
pub mod cone;
mod cut;
pub mod cylinder;
pub mod extrusion;
pub mod freeform;
pub mod offset;
pub mod plane;
pub mod revolution;
mod rises;
pub mod sphere;
pub mod torus;

use crate::chart::{Chart, Facet, Upright};
use solid::Surface;

/// Makes the chart of a face; `None` for surfaces that it is not for.
type Maker = fn(&Surface, &[Facet], Upright) -> Option<Box<dyn Chart>>;

const CHARTS: [Maker; 7] = [plane::of, cylinder::of, cone::of, sphere::of, torus::of, revolution::of, extrusion::of];

/// The chart of an analytic surface over the facets of its face; `None` for freeform ones, which are
/// laid out by their mesh ([`freeform`]).
#[must_use]
pub fn chart(surface: &Surface, facets: &[Facet], upright: Upright) -> Option<Box<dyn Chart>> {
    CHARTS.iter().find_map(|make| make(surface, facets, upright))
}
