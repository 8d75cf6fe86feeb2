//! Pages written as PDF: text that can be searched and copied, what the document is in its metadata, and nothing in it that
//! does not follow from the record.

use crate::{
    ProofError,
    face::Face,
    flow::{LEFT, PAGE, WIDTH},
    ink::{At, Colour, LINE, Op, Pixels, SOFT},
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
use record::Record;
use std::{collections::HashMap, sync::Arc};
use time::{OffsetDateTime, format_description::well_known::Rfc3339};

struct Fonts {
    text: Font,
    strong: Font,
}

/// Pictures that stand on several pages are written once.
type Images = HashMap<*const Pixels, Image>;

/// # Errors
/// The PDF could not be put together.
pub fn pdf(record: &Record, pages: Vec<Vec<Op>>) -> Result<Vec<u8>, ProofError> {
    let font = |face: Face| {
        Font::new(face.file().into(), 0).ok_or_else(|| ProofError::Pdf("a face of its own can't be read".into()))
    };
    let fonts = Fonts { text: font(Face::Text)?, strong: font(Face::Strong)? };
    let mut document = Document::new_with(SerializeSettings::default());
    document.set_metadata(metadata(record));
    let (count, mut images) = (pages.len(), Images::new());
    for (k, ops) in pages.iter().enumerate() {
        let settings = PageSettings::from_wh(PAGE[0], PAGE[1]).expect("A4 is a size");
        let mut page = document.start_page_with(settings);
        let mut surface = page.surface();
        draw(&mut surface, ops, &fonts, &mut images);
        draw(&mut surface, &foot(record, k + 1, count), &fonts, &mut images);
        surface.finish();
        page.finish();
    }
    document.finish().map_err(|e| ProofError::Pdf(format!("{e:?}")))
}

fn metadata(record: &Record) -> Metadata {
    let title = format!("{}: proof of inspection, {}", record.job.name, record.name());
    let metadata = Metadata::new()
        .title(title)
        .authors(vec![record.by.clone()])
        .creator(format!("Tin Badge {}", record.program))
        .document_id(record::sha256(&record.to_json()))
        .language("en".into());
    match OffsetDateTime::parse(&record.at, &Rfc3339) {
        Ok(at) => metadata.creation_date(
            DateTime::new(at.year().unsigned_abs() as u16)
                .month(at.month().into())
                .day(at.day())
                .hour(at.hour())
                .minute(at.minute())
                .second(at.second())
                .utc_offset_hour(0)
                .utc_offset_minute(0),
        ),
        Err(_) => metadata,
    }
}

/// What stands under every page.
fn foot(record: &Record, page: usize, of: usize) -> Vec<Op> {
    let y = PAGE[1] - 40.0;
    let text = |x: f32, text: String| Op::Text { at: [x, y + 12.0], size: 7.5, face: Face::Text, colour: SOFT, text };
    let pages = format!("page {page} of {of}");
    let right = LEFT + WIDTH - Face::Text.width(&pages, 7.5);
    vec![
        Op::Line { points: vec![[LEFT, y], [LEFT + WIDTH, y]], width: 0.5, colour: LINE },
        text(LEFT, format!("{} · {} · {}", record.job.name, record.name(), record.day)),
        text(right, pages),
    ]
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
