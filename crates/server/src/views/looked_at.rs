//! A map over the finished solid, and a character laid flat, in the shapes that the front end draws.

use glam::DVec2;
use inspection::{
    LimitShown,
    letter_flat::{FlatDisc, LetterFlat},
    map::Map,
    uncut::Uncut,
};
use serde::Serialize;
use trade::Check;
use utoipa::ToSchema;

/// Numbers in flat lists, a piece of a facet after the other.
#[derive(Serialize, ToSchema)]
pub struct MarkedMapView {
    pub state: i64,
    pub row: Option<u32>,
    pub mark: String,
    pub check: Check,
    pub unit: String,
    /// Of what most of the mark's letters are. Where it is a most, values may be negative: their amount counts.
    pub limit: LimitShown,
    /// How far a value may be off, in the unit: it breaks a limit by no less.
    pub error: f64,
    /// The worst value on the mark itself.
    pub worst: Option<f64>,
    /// mm² of the mark on which the limit is not kept, and all that has figures.
    pub beyond: f64,
    pub area: f64,
    /// Nine numbers a piece, mm.
    pub corners: Vec<f32>,
    /// Three a piece, at its corners, in the unit.
    pub values: Vec<f32>,
    /// What is asked of each piece.
    pub limits: Vec<f32>,
    /// Pieces, by their places in these lists, that fail whatever their values are.
    pub failing: Vec<u32>,
    /// The letter's place in the mark for each piece; −1 on the part beside it, −2 on its pad.
    pub letters: Vec<i32>,
}

impl MarkedMapView {
    #[must_use]
    pub fn new(state: i64, row: Option<u32>, mark: String, map: &Map) -> Self {
        // a ten-thousandth says all that is known
        let short = |v: f64| (v * 1e4).round() as f32 / 1e4;
        let [beyond, area] = map.beyond();
        let pieces = &map.pieces;
        let letter = |character: Option<u32>| match character {
            None => -1,
            Some(relief::body::PAD) => -2,
            Some(at) => at as i32,
        };
        Self {
            state,
            row,
            mark,
            check: map.check,
            unit: map.unit.into(),
            limit: map.limit.clone(),
            error: map.error,
            worst: map.worst().map(|(value, _)| value),
            beyond,
            area,
            corners: pieces.iter().flat_map(|p| p.corners).flat_map(|c| c.to_array()).map(short).collect(),
            values: pieces.iter().flat_map(|p| p.values).map(short).collect(),
            limits: pieces.iter().map(|p| short(p.limit)).collect(),
            failing: pieces.iter().enumerate().filter(|(_, p)| p.fails).map(|(k, _)| k as u32).collect(),
            letters: pieces.iter().map(|p| letter(p.character)).collect(),
        }
    }
}

/// A character laid flat: mm along the reading direction and up from its middle.
#[derive(Serialize, ToSchema)]
pub struct LetterFlatView {
    pub state: i64,
    pub row: Option<u32>,
    pub character: u32,
    pub text: String,
    /// Closed rings, material to the left; none where it goes through.
    pub top: Vec<Vec<[f64; 2]>>,
    pub root: Vec<Vec<[f64; 2]>>,
    /// In its top or floor; in its rim where it goes through.
    pub stroke: Option<FlatDiscView>,
    /// Its counters, and its narrowest space between arms or pieces, at the root.
    pub spaces: Vec<FlatDiscView>,
    /// To the characters beside it, the nearest first.
    pub gaps: Vec<FlatGapView>,
    /// Roots of the characters beside it.
    pub beside: Vec<Vec<Vec<[f64; 2]>>>,
    /// Of its top or floor over the seat, mm: least, mean and greatest.
    pub heights: Option<[f64; 3]>,
    /// By how much of itself a length of the drawing may be off.
    pub stretch: f64,
    /// What the cutter leaves that was asked about.
    pub uncut: Option<UncutView>,
}

/// What a round cutter leaves of a letter in the steel.
#[derive(Serialize, ToSchema)]
pub struct UncutView {
    /// Of the cutter, mm.
    pub diameter: f64,
    /// How many times as large as the part the steel is.
    pub scale: f64,
    /// Closed rings of what is left, as the letter is drawn.
    pub rings: Vec<Vec<[f64; 2]>>,
    /// mm² in the steel.
    pub area: f64,
    pub places: usize,
    /// The largest cutter that leaves nothing, mm in the steel.
    pub largest: Option<f64>,
}

#[derive(Serialize, ToSchema)]
pub struct FlatDiscView {
    pub middle: [f64; 2],
    /// As it is drawn, and as it was measured in space, mm.
    pub diameter: f64,
    pub width: f64,
}

#[derive(Serialize, ToSchema)]
pub struct FlatGapView {
    /// The character that it is to.
    pub to: u32,
    pub text: String,
    /// Straight through space, mm.
    pub width: f64,
    pub from_to: [[f64; 2]; 2],
}

fn disc(disc: FlatDisc) -> FlatDiscView {
    FlatDiscView { middle: point(disc.middle), diameter: disc.diameter, width: disc.width }
}

fn point(p: DVec2) -> [f64; 2] {
    p.to_array().map(|v| (v * 1e4).round() / 1e4)
}

fn rings(rings: Vec<Vec<DVec2>>) -> Vec<Vec<[f64; 2]>> {
    rings.into_iter().map(|ring| ring.into_iter().map(point).collect()).collect()
}

impl LetterFlatView {
    #[must_use]
    pub fn new(state: i64, row: Option<u32>, flat: LetterFlat, uncut: Option<Uncut>) -> Self {
        let gaps = flat.gaps.into_iter().map(|gap| FlatGapView {
            to: gap.to,
            text: gap.text,
            width: gap.width,
            from_to: gap.ends.map(point),
        });
        Self {
            state,
            row,
            character: flat.character,
            text: flat.text,
            top: rings(flat.top),
            root: rings(flat.root),
            stroke: flat.stroke.map(disc),
            spaces: flat.spaces.into_iter().map(disc).collect(),
            gaps: gaps.collect(),
            beside: flat.beside.into_iter().map(rings).collect(),
            heights: flat.heights.map(|h| [h.least.0, h.mean, h.greatest.0]),
            stretch: flat.stretch,
            uncut: uncut.map(|u| UncutView {
                diameter: u.diameter,
                scale: u.scale,
                rings: rings(u.rings),
                area: u.area,
                places: u.places,
                largest: u.largest,
            }),
        }
    }
}
