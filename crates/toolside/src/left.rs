//! What a cutter that the toolmaker has leaves of a mark in the steel, letter by letter, and what would let it leave nothing.
//!
//! Its tip runs along the floor of what is cut, or along the surface beside what stands. A cutter whose flanks lean out further
//! than the walls touches them at their mouth: its middle then stays farther off by h · (tan τ − tan δ) over a height h, with the
//! flank's taper τ and the walls' draft δ. (geometry)

use crate::cutter::cutting;
use flat::{
    Region,
    cutter::{left_beside_by, left_in_by, touching},
    offset::grown,
    overlay::{common, joined},
};
use glam::DVec2;
use lettering::faces::CENTRE_LINE;
use relief::BuiltMark;
use trade::{Cutter, Lettering, MeasuredAt, Sense};

/// What is left of a mark.
#[derive(Clone, Debug, PartialEq)]
pub struct Left {
    /// As it lies on the strip at the part's size, mm.
    pub region: Region,
    /// In the steel, mm².
    pub area: f64,
    /// What must be cut at the level of its tip, mm² in the steel; `None` where the cutter goes round what stands.
    pub whole: Option<f64>,
    /// Letters at which something is left: which of the text, what it is and how much, mm² in the steel; most first.
    pub letters: Vec<(u32, String, f64)>,
    /// What must be cut, mm deep.
    pub deep: f64,
    /// The cutter is too short for that.
    pub short: bool,
    /// Its flanks lean out further than the walls, degrees.
    pub leans: Option<f64>,
    /// How deep it gives in one pass the stroke's width at the surface, mm: of a tapering cutter along a centre line.
    pub depth_of_stroke: Option<f64>,
}

impl Left {
    #[must_use]
    pub fn nothing(&self) -> bool {
        self.region.islands.is_empty() && !self.short
    }

    /// It is too wide for more than half of what must be cut.
    #[must_use]
    pub fn too_wide(&self) -> bool {
        self.whole.is_some_and(|whole| self.area > 0.5 * whole)
    }
}

/// Outlines of letters at the level on which a tip runs, mm of the part: all of them together, and each.
struct Level {
    all: Region,
    each: Vec<Region>,
}

impl Level {
    /// `None` for marks without relief, and those whose letters differ in sense.
    fn of(built: &BuiltMark) -> Option<Self> {
        let mark = &built.mark;
        let relief = &mark.relief;
        let letters = &built.placed.characters;
        let alike = letters.iter().all(|c| mark.relief_of(c.at, &c.text).sense == relief.sense);
        if !relief.sense.has_relief() || relief.through || !alike {
            return None;
        }
        let moved = relief.height * relief.draft.to_radians().tan();
        let by = match (relief.sense, relief.measured_at) {
            // the floor of a pocket is narrower than its mouth, the foot of what stands wider than its top
            (Sense::Raised, MeasuredAt::Root) => -moved,
            (Sense::Raised, MeasuredAt::Top) | (_, MeasuredAt::Root) => 0.0,
            (_, MeasuredAt::Top) => moved,
        };
        let each: Vec<Region> =
            letters.iter().map(|c| if by == 0.0 { c.region.clone() } else { grown(&c.region, by) }).collect();
        let rings: Vec<Vec<DVec2>> = each.iter().flat_map(|r| r.contours().cloned()).collect();
        let all = joined(&rings);
        (!all.islands.is_empty()).then_some(Self { all, each })
    }
}

/// What `cutter` leaves of a mark in steel that is `scale` times as large as the part; `None` where the mark has no relief, goes
/// through the wall, or has letters of both senses.
#[must_use]
pub fn left(built: &BuiltMark, cutter: &Cutter, scale: f64) -> Option<Left> {
    let level = Level::of(built)?;
    let relief = &built.mark.relief;
    let raised = relief.sense == Sense::Raised;
    let deep = relief.height * scale;
    let leans = cutter.taper - relief.draft;
    let wide = cutter.wide_at(deep) - 2.0 * deep * relief.draft.min(cutter.taper).to_radians().tan();
    let (tip, wide) = (cutter.diameter / scale, wide / scale);
    let region = if raised { left_in_by(&level.all, tip, wide) } else { left_beside_by(&level.all, tip, wide) };
    let own = |letter: &Region| if raised { common(&region, letter) } else { touching(&region, letter) };
    let text = built.placed.characters.iter();
    let mut letters: Vec<(u32, String, f64)> = text
        .zip(&level.each)
        .map(|(c, letter)| (c.at, c.text.clone(), own(letter).area() * scale * scale))
        .filter(|(.., area)| *area > 0.0)
        .collect();
    letters.sort_by(|a, b| b.2.total_cmp(&a.2));
    let mouth = along_a_line(built).map(|stroke| {
        let moved = 2.0 * relief.height * relief.draft.to_radians().tan();
        scale * if relief.measured_at == MeasuredAt::Top { stroke + moved } else { stroke }
    });
    Some(Left {
        // a sum of nothing is −0.0
        area: if region.islands.is_empty() { 0.0 } else { region.area() * scale * scale },
        whole: raised.then(|| level.all.area() * scale * scale),
        region,
        letters,
        deep,
        short: cutter.reach.is_some_and(|reach| reach < deep),
        leans: (leans > 1e-9).then_some(leans),
        depth_of_stroke: mouth.and_then(|wide| cutter.depth_for(wide)),
    })
}

/// The stroke, mm, of raised letters that are cut along their centre lines.
fn along_a_line(built: &BuiltMark) -> Option<f64> {
    let own = built.mark.lettering.face == CENTRE_LINE && built.mark.relief.sense == Sense::Raised;
    own.then(|| built.mark.lettering.cutter_width())
}

/// Lettering that the cutter makes in one pass: the centre-line face with a stroke as wide as the cutter is at the level that
/// sizes are measured at. `None` where a cutter makes it so already, where its flanks lean out further than the walls, where
/// it is wider than a quarter of the cap height (common practice: such letters fill), or for what stands in the steel.
#[must_use]
pub fn one_pass(built: &BuiltMark, cutter: &Cutter, scale: f64) -> Option<Lettering> {
    /// Of the cap height.
    const WIDEST: f64 = 0.25;
    let relief = &built.mark.relief;
    if relief.sense != Sense::Raised || built.mark.figure.is_some() || cutter.taper > relief.draft {
        return None;
    }
    if along_a_line(built).is_some() && cutting(built, scale).is_some_and(|now| now.widest + 5e-4 >= cutter.diameter) {
        return None;
    }
    let moved = 2.0 * relief.height * relief.draft.to_radians().tan();
    let tip = cutter.diameter / scale;
    let stroke = if relief.measured_at == MeasuredAt::Root { tip + moved } else { tip };
    // up to a hundredth, so that the cutter fits
    let stroke = (stroke * 100.0 - 1e-6).ceil() / 100.0;
    let fits = stroke > 0.0 && stroke <= WIDEST * built.placed.cap_height;
    let face = CENTRE_LINE.to_owned();
    fits.then(|| Lettering { face, own: None, stroke: Some(stroke), ..built.mark.lettering.clone() })
}
