//! Pages written as PDF: text that can be searched and copied, what the document is in its metadata, and nothing in it that was
//! not asked for. The same pages give the same bytes.

use crate::{
    PaperError,
    face::Face,
    ink::{At, Colour, Op, Pixels},
};
use krilla::{
    Document, SerializeSettings,
    color::rgb,
    geom::{Path, PathBuilder, Point, Size, Transform},
    image::Image,
    metadata::{DateTime, Metadata},
    page::PageSettings,
    paint::{Fill, FillRule, Stroke},
    surface::Surface,
    text::{Font, GlyphId, KrillaGlyph},
};
use std::{collections::HashMap, sync::Arc};
use time::OffsetDateTime;

/// What a document says of itself.
#[derive(Clone, Debug)]
pub struct About {
    pub title: String,
    pub author: Option<String>,
    /// The program with its version.
    pub program: String,
    /// What tells it from every other.
    pub id: String,
    pub at: Option<OffsetDateTime>,
}

/// A page, as large as it is, points.
#[derive(Clone, Debug)]
pub struct Page {
    pub size: At,
    pub ops: Vec<Op>,
}

struct Fonts {
    text: Font,
    strong: Font,
}

/// Pictures that stand on several pages are written once.
type Images = HashMap<*const Pixels, Image>;

/// # Errors
/// The PDF could not be put together.
pub fn pdf(about: &About, pages: &[Page]) -> Result<Vec<u8>, PaperError> {
    let font = |face: Face| {
        Font::new(face.file().into(), 0).ok_or_else(|| PaperError::Pdf("a face of its own can't be read".into()))
    };
    let fonts = Fonts { text: font(Face::Text)?, strong: font(Face::Strong)? };
    let mut document = Document::new_with(SerializeSettings::default());
    document.set_metadata(metadata(about));
    let mut images = Images::new();
    for Page { size, ops } in pages {
        let settings = PageSettings::from_wh(size[0], size[1])
            .ok_or_else(|| PaperError::Pdf(format!("a page of {} × {} points is none", size[0], size[1])))?;
        let mut page = document.start_page_with(settings);
        let mut surface = page.surface();
        draw(&mut surface, ops, &fonts, &mut images);
        surface.finish();
        page.finish();
    }
    document.finish().map_err(|e| PaperError::Pdf(format!("{e:?}")))
}

fn metadata(about: &About) -> Metadata {
    let metadata = Metadata::new()
        .title(about.title.clone())
        .authors(about.author.iter().cloned().collect())
        .creator(about.program.clone())
        .document_id(about.id.clone())
        .language("en".into());
    match about.at {
        Some(at) => metadata.creation_date(
            DateTime::new(at.year().unsigned_abs() as u16)
                .month(at.month().into())
                .day(at.day())
                .hour(at.hour())
                .minute(at.minute())
                .second(at.second())
                .utc_offset_hour(0)
                .utc_offset_minute(0),
        ),
        None => metadata,
    }
}

fn colour([r, g, b]: Colour) -> krilla::paint::Paint {
    rgb::Color::new(r, g, b).into()
}

fn filled(of: Colour) -> Fill {
    Fill { paint: colour(of), ..Fill::default() }
}

fn path(rings: &[Vec<At>], closed: bool) -> Option<Path> {
    let mut builder = PathBuilder::new();
    for ring in rings {
        let Some(([x, y], rest)) = ring.split_first() else { continue };
        builder.move_to(*x, *y);
        rest.iter().for_each(|[x, y]| builder.line_to(*x, *y));
        if closed {
            builder.close();
        }
    }
    builder.finish()
}

fn draw(surface: &mut Surface<'_>, ops: &[Op], fonts: &Fonts, images: &mut Images) {
    for op in ops {
        match op {
            Op::Text { at, size, face, colour, text } => {
                let glyphs: Vec<KrillaGlyph> = face
                    .glyphs(text)
                    .into_iter()
                    .map(|(from, c, glyph, advance)| {
                        let range = from..from + c.len_utf8();
                        KrillaGlyph::new(GlyphId::new(glyph), advance, 0.0, 0.0, 0.0, range, None)
                    })
                    .collect();
                let font = match face {
                    Face::Text => &fonts.text,
                    Face::Strong => &fonts.strong,
                };
                surface.set_fill(Some(filled(*colour)));
                surface.set_stroke(None);
                surface.draw_glyphs(Point::from_xy(at[0], at[1]), &glyphs, font.clone(), text, *size, false);
            }
            Op::Line { points, width, colour: of } => {
                let Some(path) = path(std::slice::from_ref(points), false) else { continue };
                surface.set_fill(None);
                surface.set_stroke(Some(Stroke { paint: colour(*of), width: *width, ..Stroke::default() }));
                surface.draw_path(&path);
                surface.set_stroke(None);
            }
            Op::Area { rings, colour } => {
                let Some(path) = path(rings, true) else { continue };
                surface.set_stroke(None);
                surface.set_fill(Some(filled(*colour)));
                surface.draw_path(&path);
            }
            Op::Within { rings, ops } => {
                let Some(path) = path(rings, true) else { continue };
                surface.push_clip_path(&path, &FillRule::NonZero);
                draw(surface, ops, fonts, images);
                surface.pop();
            }
            Op::Image { pixels, at, size } => {
                let image = images.entry(Arc::as_ptr(pixels)).or_insert_with(|| {
                    Image::from_rgba8(pixels.rgba.clone(), pixels.width as u32, pixels.height as u32)
                });
                let Some(size) = Size::from_wh(size[0], size[1]) else { continue };
                surface.push_transform(&Transform::from_translate(at[0], at[1]));
                surface.draw_image(image.clone(), size);
                surface.pop();
            }
        }
    }
}
