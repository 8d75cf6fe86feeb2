//! One line of text in an outline face: shaped (kerning, composed characters), scaled so that the
//! face's own H is as high as the capitals are to be.

use crate::{FLATTENED_TO, centre_line, clean, faces, own, region::Region, set::LetteringError};
use glam::DVec2;
use harfrust::{Buffer, Direction, Feature, ShapeOptions, ShaperFont, Tag};
use kurbo::{BezPath, PathEl};
use skrifa::{
    FontRef, GlyphId, MetadataProvider,
    instance::{LocationRef, Size},
    outline::{DrawSettings, OutlinePen},
};
use trade::Lettering;

/// A shaped character: where it starts in the line's bytes, its region, its start and its advance.
pub(crate) struct Glyph {
    pub byte: usize,
    pub region: Region,
    pub advance: f64,
}

/// Ligatures are off: each character is inspected by itself.
const APART: [&[u8; 4]; 3] = [b"liga", b"clig", b"calt"];

/// The glyphs of `line`, each region placed relative to its own start on the baseline, mm; lines of
/// one text lean and are as broad and as bold as `lettering` says.
pub(crate) fn line(line: &str, lettering: &Lettering) -> Result<Vec<Glyph>, LetteringError> {
    let face = lettering.face.as_str();
    let (Some(font), Some(bytes)) = (faces::font(face), faces::file(face)) else {
        return Err(LetteringError::NoFace(face.to_owned()));
    };
    let unusable = || LetteringError::Unusable(face.to_owned());
    let outlines = FontRef::new(bytes).map_err(|_| unusable())?;
    let (high, stem) = height_and_stem(&outlines).ok_or_else(unusable)?;
    let stroked = Stroked::new(lettering, Some(stem / high))?;
    let scale = stroked.drawn_high / high;
    let features: Vec<Feature> = APART.iter().map(|tag| Feature::new(Tag::new(tag), 0, ..)).collect();
    let mut buffer = Buffer::new();
    buffer.push_str(line);
    buffer.set_direction(Direction::LeftToRight);
    buffer.guess_segment_properties();
    harfrust::shape(&ShaperFont::new(font), &mut buffer, ShapeOptions::new().features(&features))
        .map_err(|_| unusable())?;
    let mut glyphs: Vec<Glyph> = Vec::new();
    for (info, position) in buffer.glyph_infos().iter().zip(buffer.glyph_positions()) {
        let byte = info.cluster as usize;
        if info.glyph_id == 0 {
            let missing = line[byte..].chars().next().unwrap_or_default();
            let low = stroked.drawn_high;
            if let Some((region, advance)) = centre_line::sign(missing, low, stem / high * low) {
                glyphs.push(Glyph { byte, region, advance });
                continue;
            }
            return Err(LetteringError::MissingGlyph { character: missing, face: face.to_owned() });
        }
        let shift = DVec2::new(f64::from(position.x_offset), f64::from(position.y_offset)) * scale;
        let drawn = draw(&outlines, GlyphId::new(info.glyph_id), scale).ok_or_else(unusable)?;
        let advance = f64::from(position.x_advance) * scale;
        match glyphs.last_mut() {
            // a mark on the character before belongs to it
            Some(last) if last.byte == byte => {
                let start = last.advance;
                let mut contours: Vec<Vec<DVec2>> = last.region.contours().cloned().collect();
                contours.extend(drawn.contours().map(|c| c.iter().map(|p| *p + shift + DVec2::X * start).collect()));
                last.region = clean::joined(&contours);
                last.advance += advance;
            }
            _ => glyphs.push(Glyph { byte, region: drawn.mapped(|p| p + shift), advance }),
        }
    }
    stroked.finish(&mut glyphs, lettering)?;
    Ok(glyphs)
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
                region = clean::grown(&region, out).mapped(|p| p + DVec2::splat(out));
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

/// Width of an upright stem of a lettering's face at a cap height, mm; `None` for the centre-line alphabet, unknown
/// faces and own ones without a letter to measure it on.
#[must_use]
pub fn stem(lettering: &Lettering, cap_height: f64) -> Option<f64> {
    if let Some(own) = &lettering.own {
        return own::stem(&own.face).map(|share| share * cap_height);
    }
    let (high, stem) = height_and_stem(&FontRef::new(faces::file(&lettering.face)?).ok()?)?;
    Some(stem / high * cap_height)
}

/// Height of the face's H in font units, measured on its outline, and the width of its left stem a
/// quarter of the way up.
fn height_and_stem(font: &FontRef<'_>) -> Option<(f64, f64)> {
    let region = draw(font, font.charmap().map('H')?, 1.0)?;
    let high = region.bounds().map(|(low, high)| high.y - low.y.min(0.0)).filter(|h| *h > 0.0)?;
    Some((high, stem_at(&region, 0.25 * high)?))
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

fn draw(font: &FontRef<'_>, glyph: GlyphId, scale: f64) -> Option<Region> {
    let outline = font.outline_glyphs().get(glyph)?;
    let mut pen = Pen(BezPath::new());
    outline.draw(DrawSettings::unhinted(Size::unscaled(), LocationRef::default()), &mut pen).ok()?;
    let mut contours: Vec<Vec<DVec2>> = Vec::new();
    kurbo::flatten(&pen.0, FLATTENED_TO / scale, |el| match el {
        PathEl::MoveTo(p) => contours.push(vec![DVec2::new(p.x, p.y) * scale]),
        PathEl::LineTo(p) => {
            if let Some(last) = contours.last_mut() {
                last.push(DVec2::new(p.x, p.y) * scale);
            }
        }
        PathEl::ClosePath | PathEl::QuadTo(..) | PathEl::CurveTo(..) => {}
    });
    Some(clean::joined(&contours))
}

struct Pen(BezPath);

impl OutlinePen for Pen {
    fn move_to(&mut self, x: f32, y: f32) {
        self.0.move_to((f64::from(x), f64::from(y)));
    }
    fn line_to(&mut self, x: f32, y: f32) {
        self.0.line_to((f64::from(x), f64::from(y)));
    }
    fn quad_to(&mut self, cx: f32, cy: f32, x: f32, y: f32) {
        self.0.quad_to((f64::from(cx), f64::from(cy)), (f64::from(x), f64::from(y)));
    }
    fn curve_to(&mut self, ax: f32, ay: f32, bx: f32, by: f32, x: f32, y: f32) {
        self.0.curve_to((f64::from(ax), f64::from(ay)), (f64::from(bx), f64::from(by)), (f64::from(x), f64::from(y)));
    }
    fn close(&mut self) {
        self.0.close_path();
    }
}
