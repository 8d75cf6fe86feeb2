//! One line of text in an outline face: shaped (kerning, composed characters), scaled so that the
//! face's own H is as high as the capitals are to be.

use crate::glyph::{Glyph, Stroked, stem_at};
use crate::{centre_line, error::LetteringError, faces};
use flat::{FLATTENED_TO, Region, overlay};
use glam::DVec2;
use harfrust::{Buffer, Direction, Feature, ShapeOptions, ShaperFont, Tag};
use kurbo::{BezPath, PathEl};
use skrifa::{
    FontRef, GlyphId, MetadataProvider,
    instance::{LocationRef, Size},
    outline::{DrawSettings, OutlinePen},
};
use trade::Lettering;

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
                last.region = overlay::joined(&contours);
                last.advance += advance;
            }
            _ => glyphs.push(Glyph { byte, region: drawn.mapped(|p| p + shift), advance }),
        }
    }
    stroked.finish(&mut glyphs, lettering)?;
    Ok(glyphs)
}

/// Height of the face's H in font units, measured on its outline, and the width of its left stem a
/// quarter of the way up.
pub(crate) fn height_and_stem(font: &FontRef<'_>) -> Option<(f64, f64)> {
    let region = draw(font, font.charmap().map('H')?, 1.0)?;
    let high = region.bounds().map(|(low, high)| high.y - low.y.min(0.0)).filter(|h| *h > 0.0)?;
    Some((high, stem_at(&region, 0.25 * high)?))
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
    Some(overlay::joined(&contours))
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
