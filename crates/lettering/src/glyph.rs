//! Glyphs of a line, and outlines moved out or in to the stroke that is required.

use crate::error::LetteringError;
use flat::{Region, offset};
use glam::DVec2;
use trade::Lettering;

/// A shaped character: where it starts in the line's bytes, its region, its start and its advance.
pub(crate) struct Glyph {
    pub byte: usize,
    pub region: Region,
    pub advance: f64,
}

/// Outlines moved out or in, so that upright stems are as wide as asked for and capitals still as high as set.
pub(crate) struct Stroked {
    /// mm.
    out: f64,
    /// How high capitals are drawn before, mm.
    pub drawn_high: f64,
}

impl Stroked {
    /// `stem` is the width of a stem as a share of the capitals' height, where the face has one.
    ///
    /// # Errors
    /// The strokes would leave nothing of the letters, or there is nothing to measure them on.
    pub fn new(lettering: &Lettering, stem: Option<f64>) -> Result<Self, LetteringError> {
        let Lettering { cap_height, stroke, width, ref face, .. } = *lettering;
        let Some(stroke) = stroke else { return Ok(Self { out: 0.0, drawn_high: cap_height }) };
        // drawn lower by twice what the outline is moved out by
        let own = stem.ok_or_else(|| LetteringError::NoStem(face.clone()))? * width;
        let out = (stroke - own * cap_height) / (2.0 * (1.0 - own));
        let drawn_high = cap_height - 2.0 * out;
        if drawn_high < 0.1 * cap_height { Err(LetteringError::TooBold) } else { Ok(Self { out, drawn_high }) }
    }

    /// Makes glyphs that are drawn [`Self::drawn_high`] as broad and bold as asked for, and lets them lean.
    ///
    /// # Errors
    /// Something of a letter is filled up or gone.
    pub fn finish(&self, glyphs: &mut [Glyph], lettering: &Lettering) -> Result<(), LetteringError> {
        let slope = lettering.slant.to_radians().tan();
        let out = self.out;
        for glyph in glyphs {
            let mut region = glyph.region.mapped(|p| DVec2::new(p.x * lettering.width, p.y));
            glyph.advance *= lettering.width;
            if out != 0.0 && !region.islands.is_empty() {
                let (islands, counters) = (region.islands.len(), region.counters());
                region = offset::grown(&region, out).mapped(|p| p + DVec2::splat(out));
                glyph.advance += 2.0 * out;
                if region.islands.len() != islands || region.counters() != counters {
                    return Err(if out < 0.0 { LetteringError::TooThin } else { LetteringError::TooBold });
                }
            }
            glyph.region = region.mapped(|p| DVec2::new(p.x + p.y * slope, p.y));
        }
        Ok(())
    }
}

/// Width of the leftmost stroke of a region at a height.
pub(crate) fn stem_at(region: &Region, level: f64) -> Option<f64> {
    let mut crossings: Vec<f64> = region
        .contours()
        .flat_map(|c| (0..c.len()).map(|k| (c[k], c[(k + 1) % c.len()])))
        .filter(|(a, b)| (a.y > level) != (b.y > level))
        .map(|(a, b)| a.x + (b.x - a.x) * (level - a.y) / (b.y - a.y))
        .collect();
    crossings.sort_by(f64::total_cmp);
    let [left, right, ..] = crossings[..] else { return None };
    Some(right - left)
}
