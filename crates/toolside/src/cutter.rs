//! Which cutter makes a mark: how wide it may be, and whether one that tapers as the walls do makes it in one pass.

use flat::{
    Region,
    neck::{narrowest, narrowest_space},
};
use glam::DVec2;
use relief::BuiltMark;
use trade::{MeasuredAt, Sense};

/// What a mark asks of a cutter, mm in the steel.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Cutting {
    /// The widest that passes everywhere at its tip: along the strokes of what is cut, or between what stands.
    pub widest: f64,
    /// How deep it cuts.
    pub deep: f64,
    /// What stands in the steel at its narrowest, at its foot; nothing of what is cut.
    pub standing: Option<f64>,
}

/// Standing steel that is taller than this many times its width is told to be thin. Common practice.
pub const SLENDER: f64 = 1.0;

/// What the letters of a mark ask of a cutter; `None` where it has no relief, goes through the wall, or has no stroke that can be measured.
///
/// Outlines lie at the level that their sizes are those of. Walls of draft δ move by h · tan δ over a height h: the floor of what is
/// cut is narrower by twice that than its mouth, the gap at the foot of what stands than that at its top. (geometry)
#[must_use]
pub fn cutting(built: &BuiltMark, scale: f64) -> Option<Cutting> {
    let relief = &built.mark.relief;
    // how tall it stands where it goes through depends on the wall
    if !relief.sense.has_relief() || relief.through {
        return None;
    }
    let moved = 2.0 * relief.height * relief.draft.to_radians().tan();
    let letters = &built.placed.characters;
    let rings = |region: &Region| region.contours().cloned().collect::<Vec<Vec<DVec2>>>();
    let least = |all: &mut dyn Iterator<Item = f64>| all.fold(f64::INFINITY, f64::min);
    let stroke = least(&mut letters.iter().filter_map(|c| narrowest(&rings(&c.region))).map(|d| d.diameter));
    let (widest, standing) = if relief.sense == Sense::Raised {
        let floor = if relief.measured_at == MeasuredAt::Root { stroke - moved } else { stroke };
        (floor, None)
    } else {
        // between letters, too; at the foot, which is the rim of a sunken letter, it stands widest
        let all: Vec<Vec<DVec2>> = letters.iter().flat_map(|c| rings(&c.region)).collect();
        let space = narrowest_space(&all)?.diameter;
        let at_floor = relief.measured_at == MeasuredAt::Top;
        let (space, foot) = if at_floor { (space - moved, stroke + moved) } else { (space, stroke) };
        (space, Some(foot * scale))
    };
    let fits = widest.is_finite() && widest > 0.0;
    fits.then_some(Cutting { widest: widest * scale, deep: relief.height * scale, standing })
}
