//! The colours that solids are handed off in.

use std::collections::BTreeMap;
use trade::Colour;

/// The part's colour, then the marks' in turn: apart for the colour-blind too (after Okabe and Ito
/// 2008).
pub(crate) const PART_COLOUR: &str = "#C9CFCB";
pub(crate) const COLOURS: [&str; 6] = ["#B3261E", "#0072B2", "#E69F00", "#009E73", "#CC79A7", "#56B4E9"];

/// Colours of single letters, by their marks' places in the job and their own in the mark.
pub(crate) type Colours = BTreeMap<(u32, u32), Colour>;
