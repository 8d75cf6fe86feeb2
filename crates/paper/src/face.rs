//! The faces that the proof is set in, and how wide they run.

use skrifa::{FontRef, MetadataProvider, instance::LocationRef, prelude::Size};
use std::sync::LazyLock;

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Face {
    Text,
    /// For what is to be found first.
    Strong,
}

impl Face {
    /// The font file's bytes: Latin, Greek, Cyrillic and signs, since jobs hold what people write.
    #[must_use]
    pub fn file(self) -> &'static [u8] {
        match self {
            Self::Text => include_bytes!("../faces/dejavu-sans-condensed.ttf"),
            Self::Strong => include_bytes!("../faces/dejavu-sans-condensed-bold.ttf"),
        }
    }

    fn font(self) -> &'static FontRef<'static> {
        static TEXT: LazyLock<FontRef<'static>> = LazyLock::new(|| font(Face::Text));
        static STRONG: LazyLock<FontRef<'static>> = LazyLock::new(|| font(Face::Strong));
        match self {
            Self::Text => &TEXT,
            Self::Strong => &STRONG,
        }
    }

    /// The glyph of each character and how far it advances, in ems. What the face lacks is its sign for that.
    #[must_use]
    pub fn glyphs(self, text: &str) -> Vec<(usize, char, u32, f32)> {
        let font = self.font();
        let metrics = font.glyph_metrics(Size::unscaled(), LocationRef::default());
        let em = f32::from(font.metrics(Size::unscaled(), LocationRef::default()).units_per_em);
        let charmap = font.charmap();
        text.char_indices()
            .map(|(at, c)| {
                let glyph = charmap.map(c).unwrap_or_default();
                (at, c, glyph.to_u32(), metrics.advance_width(glyph).unwrap_or_default() / em)
            })
            .collect()
    }

    /// Points.
    #[must_use]
    pub fn width(self, text: &str, size: f32) -> f32 {
        self.glyphs(text).iter().map(|(.., advance)| advance * size).sum()
    }

    /// Lines no wider than `width` points: broken between words, and a longer word where it ends.
    #[must_use]
    pub fn lines(self, text: &str, size: f32, width: f32) -> Vec<String> {
        let mut lines = Vec::new();
        for paragraph in text.split('\n') {
            let mut line = String::new();
            for word in paragraph.split(' ') {
                let joined = if line.is_empty() { word.to_owned() } else { format!("{line} {word}") };
                if self.width(&joined, size) <= width {
                    line = joined;
                    continue;
                }
                if !line.is_empty() {
                    lines.push(std::mem::take(&mut line));
                }
                for c in word.chars() {
                    if !line.is_empty() && self.width(&format!("{line}{c}"), size) > width {
                        lines.push(std::mem::take(&mut line));
                    }
                    line.push(c);
                }
            }
            lines.push(line);
        }
        lines
    }
}

fn font(face: Face) -> FontRef<'static> {
    FontRef::new(face.file()).expect("a face that ships is a font")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_hold_all_words_and_none_is_wider_than_asked() {
        let text = "The walls of “R” have 1.5° of draft; at least 3.0° is asked for. Averyveryverylongwordwithoutanybreakatall ends.";
        let lines = Face::Text.lines(text, 9.0, 120.0);
        assert!(lines.len() > 3 && lines.iter().all(|l| Face::Text.width(l, 9.0) <= 120.0), "{lines:?}");
        let bare = |s: &str| s.replace(' ', "");
        assert_eq!(bare(&lines.concat()), bare(text));
        // figures are as wide as one another, so that they stand under one another
        let digits: Vec<f32> = ('0'..='9').map(|d| Face::Text.width(&d.to_string(), 10.0)).collect();
        assert!(digits.iter().all(|w| (w - digits[0]).abs() < 1e-3), "{digits:?}");
    }

    #[test]
    fn the_faces_have_every_sign_that_findings_use() {
        for face in [Face::Text, Face::Strong] {
            for (_, c, glyph, _) in face.glyphs("ABCXYZ abcxyz 0123456789 .,:;–−“”‘’°×≤≥²³Øäöüéß/()→○●△ŁЖΩ")
            {
                assert!(glyph != 0, "{face:?} lacks {c}");
            }
        }
    }
}
